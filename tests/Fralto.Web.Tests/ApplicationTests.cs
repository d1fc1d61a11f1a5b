using System.Net;
using System.Text.Json;
using System.Text.RegularExpressions;

namespace Fralto.Web.Tests;

/// <summary>The running application over HTTP: forms, errors, security and the REST interface.</summary>
public sealed class ApplicationTests(EmptyPlant plant) : IClassFixture<EmptyPlant>, IAsyncLifetime
{
    private RunningFralto _fralto = null!;

    public async ValueTask InitializeAsync() => _fralto = await plant.EmptiedAsync();

    public ValueTask DisposeAsync() => ValueTask.CompletedTask;

    [Fact]
    public async Task What_is_wrong_stands_beside_its_field_and_nothing_typed_is_lost()
    {
        var response = await _fralto.PostAsync(
            "/controllers",
            "Save",
            ("Protocol", "Modbus"),
            ("Name", "<script>alert(1)</script>"),
            ("Host", "kiln plc"),
            ("Port", "abc"),
            ("UnitId", "999"),
            ("UpdateIntervalMs", "500")
        );
        response.StatusCode.ShouldBe(HttpStatusCode.UnprocessableEntity);
        var page = await response.Content.ReadAsStringAsync();
        page.ShouldNotContain("<script>alert");
        page.ShouldContain("&lt;script&gt;alert(1)&lt;/script&gt;");
        var text = WebUtility.HtmlDecode(page);
        text.ShouldContain("A name cannot hold < or >.");
        text.ShouldContain("'kiln plc' is neither a host name nor an IP address.");
        text.ShouldContain("'abc' is no whole number.");
        text.ShouldContain("A unit id is 0 to 255, not 999.");
        Regex.IsMatch(page, "id=\"f-Port\"[^>]*aria-invalid=\"true\"[^>]*value=\"abc\"").ShouldBeTrue();
        (await Json("/api/v1/controllers")).GetArrayLength().ShouldBe(0);
    }

    /// <summary>Nothing comes from elsewhere: what a page asks for, and what that asks for in turn, is served by Fralto itself.</summary>
    [Fact]
    public async Task Styles_scripts_and_fonts_ship_with_it()
    {
        var here = _fralto.Http.BaseAddress!;
        var seen = new HashSet<Uri>();
        var open = new Queue<Uri>([new(here, "/controllers")]);
        var fonts = 0;
        while (open.TryDequeue(out var address))
        {
            if (!seen.Add(address))
                continue;
            address.Authority.ShouldBe(here.Authority, $"{address} is not Fralto's");
            using var answer = await _fralto.Http.GetAsync(address);
            answer.StatusCode.ShouldBe(HttpStatusCode.OK, $"{address}");
            var bytes = await answer.Content.ReadAsByteArrayAsync();
            bytes.Length.ShouldBeGreaterThan(0, $"{address}");
            var text = System.Text.Encoding.UTF8.GetString(bytes);
            var kind = Path.GetExtension(address.AbsolutePath);
            // WOFF2 begins with its signature, wOF2 (W3C, WOFF File Format 2.0, the header; value from memory).
            if (kind == ".woff2")
            {
                bytes.AsSpan(0, 4).SequenceEqual("wOF2"u8).ShouldBeTrue($"{address}");
                fonts++;
            }
            var asked = kind switch
            {
                "" => Regex.Matches(text, "<(?:link|script|img)\\b[^>]*?(?:href|src)=\"([^\"]+)\""),
                ".css" => Regex.Matches(text, "url\\([\"']?([^)\"']+)[\"']?\\)|@import\\s+[\"']([^\"']+)"),
                ".mjs" => Regex.Matches(text, "(?:from|import)\\s*\\(?\\s*['\"](\\.[^'\"]+)['\"]"),
                _ => Enumerable.Empty<Match>(),
            };
            foreach (var match in asked)
                if (
                    match.Groups.Values.Skip(1).First(g => g.Success).Value is var its
                    && !its.StartsWith("data:", StringComparison.Ordinal)
                )
                    open.Enqueue(new(address, WebUtility.HtmlDecode(its)));
        }
        // A face for words and one for figures, each in two sets of letters.
        fonts.ShouldBeGreaterThanOrEqualTo(4);
        seen.Count(a => a.AbsolutePath.EndsWith(".mjs", StringComparison.Ordinal)).ShouldBeGreaterThan(5);
    }

    [Fact]
    public async Task A_property_form_names_every_field_that_is_wrong()
    {
        await _fralto.PostAsync("/templates", "Save", ("Name", "Kiln"));
        var template = (await Json("/api/v1/templates"))[0].GetProperty("id").GetInt64();
        var response = await _fralto.PostAsync(
            $"/templates?at={template}&open=property",
            "Property",
            ("Name", "Air-on"),
            ("Kind", "Measured"),
            ("Type", "Number"),
            ("Unit", "furlong"),
            ("RangeLow", "0"),
            ("RangeHigh", "120"),
            ("RawLow", "4"),
            ("RawHigh", "4"),
            ("HighHighSetpoint", "80"),
            ("HighSetpoint", "90,5"),
            ("LowSetpoint", "500"),
            ("LowDeadband", "-1")
        );
        response.StatusCode.ShouldBe(HttpStatusCode.UnprocessableEntity);
        var text = WebUtility.HtmlDecode(await response.Content.ReadAsStringAsync());
        text.ShouldContain("'furlong' names no unit");
        text.ShouldContain("Raw low and raw high are both 4; they must differ.");
        text.ShouldContain("write decimals with a point");
        text.ShouldContain("L 500 lies outside the range 0 … 120.");
        text.ShouldContain("The deadband of L is 0 or more, not -1.");
        (await Json("/api/v1/templates"))[0].GetProperty("properties").GetArrayLength().ShouldBe(0);
    }

    [Fact]
    public async Task A_post_without_the_pages_token_is_refused()
    {
        var response = await _fralto.Http.PostAsync(
            "/controllers?handler=Save",
            new FormUrlEncodedContent([KeyValuePair.Create("Name", "plc")])
        );
        response.StatusCode.ShouldBe(HttpStatusCode.BadRequest);
        (await Json("/api/v1/controllers")).GetArrayLength().ShouldBe(0);
    }

    [Fact]
    public async Task Every_answer_forbids_foreign_content_and_inline_script()
    {
        foreach (var address in new[] { "/plant", "/api/v1/values", "/css/fralto.css", "/nowhere" })
        {
            var policy = (await _fralto.Http.GetAsync(address)).Headers.GetValues("Content-Security-Policy").Single();
            policy.ShouldContain("default-src 'none'");
            policy.ShouldNotContain("unsafe");
        }
    }

    [Fact]
    public async Task A_foreign_host_name_is_not_answered()
    {
        using var request = new HttpRequestMessage(HttpMethod.Get, "/api/v1/equipment");
        request.Headers.Host = "plant.example";
        (await _fralto.Http.SendAsync(request)).StatusCode.ShouldBe(HttpStatusCode.BadRequest);
    }

    [Fact]
    public async Task The_interface_describes_itself()
    {
        var paths = (await Json("/api/v1/openapi.json")).GetProperty("paths").EnumerateObject().Select(p => p.Name).ToArray();
        foreach (
            var path in new[]
            {
                "/healthz",
                "/api/v1/equipment",
                "/api/v1/templates",
                "/api/v1/controllers",
                "/api/v1/tags",
                "/api/v1/alarms",
                "/api/v1/values",
            }
        )
            paths.ShouldContain(path);
        paths.ShouldNotContain("/live/events");
    }

    [Fact]
    public async Task Kill_minus_nine_during_edits_loses_no_acknowledged_edit()
    {
        await _fralto.PostAsync("/plant", "Save", ("Name", "Corvane"), ("Code", "Corvane"), ("Level", "Enterprise"));
        var root = (await Json("/api/v1/equipment"))[0].GetProperty("id").GetInt64();
        var token = await _fralto.TokenOfAsync($"/plant?at={root}&open=add");
        var acknowledged = new List<string>();
        using var enough = new CancellationTokenSource();
        var editing = Task.Run(async () =>
        {
            for (var i = 0; i < 100_000; i++)
            {
                var response = await _fralto.PostAsync(
                    "/plant",
                    "Save",
                    token,
                    ("Name", $"Site {i}"),
                    ("Code", $"S{i}"),
                    ("Level", "Site"),
                    ("ParentId", $"{root}")
                );
                if (response.StatusCode != HttpStatusCode.Redirect)
                    throw new InvalidOperationException($"edit {i} was answered {response.StatusCode}");
                lock (acknowledged)
                    acknowledged.Add($"S{i}");
                if (acknowledged.Count == 60)
                    await enough.CancelAsync();
            }
        });
        while (!enough.IsCancellationRequested && !editing.IsCompleted)
            await Task.Delay(5);
        await _fralto.KillAsync();
        await Should.ThrowAsync<HttpRequestException>(editing);
        acknowledged.Count.ShouldBeGreaterThanOrEqualTo(60);

        _fralto = await plant.RestartedAsync();
        var codes = (await Json("/api/v1/equipment")).EnumerateArray().Select(e => e.GetProperty("code").GetString()).ToHashSet();
        acknowledged.ShouldAllBe(code => codes.Contains(code));
        // The enterprise, and perhaps one edit whose answer was cut off.
        codes.Count.ShouldBeInRange(acknowledged.Count + 1, acknowledged.Count + 2);
        WebUtility.HtmlDecode(await _fralto.Http.GetStringAsync("/journal")).ShouldContain($"Add Site {acknowledged.Count - 1}");
    }

    private async Task<JsonElement> Json(string address) =>
        JsonDocument.Parse(await _fralto.Http.GetStringAsync(address)).RootElement is var answer
        && answer.TryGetProperty("items", out var items)
            ? items
            : answer;
}
