using System.Net;
using System.Reflection;
using System.Text;
using System.Text.Json.Nodes;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;

namespace Fralto.Web.Tests;

/// <summary>Every page, every handler and every address of the interface with values nobody has thought of: never a failure of ours, never
/// a cut connection, and below /api always a problem in words.</summary>
/// <remarks>The values are drawn from a fixed seed; what is found is found again.</remarks>
public sealed class FuzzTests(DemoPlant demo) : IClassFixture<DemoPlant>
{
    private const int EachHandler = 5;

    private static readonly string[] Odd =
    [
        "",
        " ",
        "0",
        "1",
        "-1",
        "7",
        "12",
        "459.12",
        "572.459",
        "1.2.3",
        "999999999999999999999",
        "-9223372036854775808",
        "NaN",
        "1e308",
        "0x10",
        "null",
        "true",
        "yes",
        "Modbus",
        "Number",
        "Measured",
        "HighHigh",
        "'; DROP TABLE equipment; --",
        "<script>alert(1)</script>",
        "..",
        "../../etc/passwd",
        "a/b#c | d",
        "\"",
        "a\tb\nc",
        "\u0000",
        "\u202e",
        "é水😀",
        "KLN1_TT11",
        "{code}_{x",
        "[5]",
        ".4-6",
        "[-1].99-1",
    ];

    private readonly Random _random = new(20261128);
    private readonly List<string> _failures = [];
    private readonly Dictionary<string, HashSet<int>> _answers = [];
    private readonly RunningFralto _fralto = demo.Fralto;

    [Fact]
    public async Task No_page_fails_whatever_it_is_asked_or_sent()
    {
        var ids = (await _fralto.ListAsync("/api/v1/equipment"))
            .Concat(await _fralto.ListAsync("/api/v1/templates"))
            .Concat(await _fralto.ListAsync("/api/v1/tags"))
            .Select(e => $"{e!["id"]}")
            .ToArray();
        var token = await _fralto.TokenOfAsync("/controllers");
        foreach (var page in Pages())
        {
            var address = AddressOf(page);
            var bound = page.GetProperties()
                .Where(p => p.GetCustomAttribute<BindPropertyAttribute>() is not null)
                // What is bound without a name of its own is bound property by property.
                .SelectMany(p =>
                    p.GetCustomAttribute<BindPropertyAttribute>()!.Name?.Length == 0
                        ? p.PropertyType.GetProperties().Select(q => q.Name)
                        : [p.Name]
                )
                .ToArray();
            foreach (
                var method in page.GetMethods()
                    .Where(m =>
                        m.DeclaringType!.Assembly == page.Assembly
                        && (m.Name.StartsWith("OnGet", StringComparison.Ordinal) || m.Name.StartsWith("OnPost", StringComparison.Ordinal))
                    )
            )
            {
                var isPost = method.Name.StartsWith("OnPost", StringComparison.Ordinal);
                var handler = method.Name[(isPost ? 6 : 5)..].Replace("Async", "", StringComparison.Ordinal);
                if (handler is "Test" or "Read")
                    continue; // they go out to other hosts, or take files, which have tests of their own
                var names = bound
                    .Concat(method.GetParameters().Select(p => p.Name!))
                    .Concat(Fields(page, isPost))
                    .Concat(isPost || !page.IsSubclassOf(typeof(Fralto.Web.Pages.ListingPage)) ? [] : OfLists)
                    .Distinct()
                    .ToArray();
                for (var i = 0; i < EachHandler; i++)
                {
                    var values = names
                        .Where(_ => _random.Next(4) > 0)
                        .Select(n => (Name: n, Value: _random.Next(3) == 0 ? ids[_random.Next(ids.Length)] : Odd[_random.Next(Odd.Length)]))
                        .ToArray();
                    var query = string.Join(
                        '&',
                        values
                            .Where(v => !isPost || bound.Contains(v.Name))
                            .Select(v => $"{Uri.EscapeDataString(v.Name)}={Escaped(v.Value)}")
                            .Prepend($"handler={handler}")
                    );
                    using var request = new HttpRequestMessage(isPost ? HttpMethod.Post : HttpMethod.Get, $"{address}?{query}");
                    if (isPost)
                        request.Content = new FormUrlEncodedContent(
                            values.Append(("__RequestVerificationToken", token)).Select(v => KeyValuePair.Create(v.Item1, v.Item2))
                        );
                    await Send(
                        request,
                        $"{(isPost ? "POST" : "GET")} {address} {handler}: {string.Join(", ", values.Select(v => $"{v.Name}={v.Value}"))}"
                    );
                }
            }
        }
        // Texts that no page has made: half a character pair, bytes that are no UTF-8, forms by halves, character sets nobody knows.
        foreach (
            var address in new[]
            {
                "/plant?at=%ED%A0%80",
                "/find?q=%ED%A0%80%ff",
                "/bindings?cell=%00&filter=%ff",
                "/live?at=%2500",
                "/journal?entry=%F0%9F",
                "/%ff",
                "/bindings?cell=1.1&cell=2.2",
            }
        )
            await Send(new(HttpMethod.Get, address), address);
        foreach (
            var (type, body) in new[]
            {
                ("application/x-www-form-urlencoded; charset=klingon", "a=b"),
                ("multipart/form-data; boundary=x", "--x\r\nbroken"),
                ("multipart/form-data", "--"),
                ("text/plain", "a=b"),
                ("application/x-www-form-urlencoded", "%=%&&=&%ff=%ff"),
                ("application/json", "{}"),
            }
        )
        foreach (var address in new[] { "/plant?handler=Save", "/exchange?handler=Read", "/stand-ins", "/checks?cells=" })
            await Send(new(HttpMethod.Post, address) { Content = Body(type, body) }, $"{address} as {type}");
        _failures.ShouldBeEmpty(string.Join('\n', _failures.Take(20)));
        // A page that was never reached has not been tried.
        foreach (
            var (place, codes) in _answers.Where(a =>
                Pages().Any(p => a.Key.EndsWith($" {AddressOf(p)}", StringComparison.Ordinal) && p.Name != "ErrorModel")
            )
        )
            codes.ShouldContain(c => c == 200 || c == 302 || c == 422, $"{place}: {string.Join(' ', codes)}");
    }

    [Fact]
    public async Task The_interface_answers_every_error_with_a_problem()
    {
        var model = await _fralto.Http.GetStringAsync("/api/v1/model");
        var bodies = new List<(HttpMethod Method, string Address, string Type, string Body)>();
        // null in the place of anything, anywhere in a model, one at a time.
        var count = 0;
        Walk(JsonNode.Parse(model)!, _ => count++);
        for (var i = 0; i < 60; i++)
        {
            var (at, wanted, document) = (0, _random.Next(count), JsonNode.Parse(model)!);
            Walk(document, put =>
            {
                if (at++ == wanted)
                    put(_random.Next(4) == 0 ? (JsonNode?)JsonValue.Create("odd") : null);
            });
            bodies.Add((HttpMethod.Put, "/api/v1/model", "application/json", document.ToJsonString()));
        }
        foreach (
            var odd in new[]
            {
                "",
                "null",
                "[]",
                "{}",
                "[null]",
                "{\"bindings\":[null]}",
                "{\"bindings\":[{}]}",
                "{\"bindings\":[{\"path\":null,\"controller\":null,\"tag\":\"x\"}]}",
                "{\"path\":\"\\ud800\",\"value\":\"\\ud800\"}",
                "{\"value\":\"\\udc00\"}",
                "{\"value\":{}}",
                "{\"path\":5}",
                "{\"template\":\"\\ud800\"}",
                "{\"threshold\":1e999}",
                "{\"format\":\"fralto-model\",\"version\":1,\"templates\":[{\"code\":\"\\ud800\"}]}",
                new string('[', 5000),
                "{",
                "\u0000",
            }
        )
        foreach (
            var (method, address) in new[]
            {
                (HttpMethod.Put, "/api/v1/model"),
                (HttpMethod.Post, "/api/v1/bindings"),
                (HttpMethod.Post, "/api/v1/bindings/proposals"),
                (HttpMethod.Post, "/api/v1/commands"),
                (HttpMethod.Put, "/api/v1/controllers/kiln-plc/tags/KLN1_TT11/value"),
                (HttpMethod.Put, "/api/v1/controllers/%ED%A0%80/tags/x/value"),
            }
        )
        foreach (var type in new[] { "application/json", "application/json; charset=klingon", "text/plain" })
            bodies.Add((method, address, type, odd));
        foreach (var (method, address, type, body) in bodies)
            await Send(
                new(method, address) { Content = Body(type, body) },
                $"{method} {address} as {type}: {body[..Math.Min(body.Length, 200)]}"
            );
        foreach (
            var (method, address) in new[]
            {
                (HttpMethod.Get, "/api"),
                (HttpMethod.Get, "/api/v1/nothing"),
                (HttpMethod.Delete, "/api/v1/model"),
                (HttpMethod.Patch, "/api/v1/equipment"),
                (HttpMethod.Get, "/api/v1/bulk/x.csv"),
                (HttpMethod.Get, "/api/v1/bulk/1.csv"),
                (HttpMethod.Get, "/api/v1/bulk/equipment.pdf"),
                (HttpMethod.Get, "/api/v1/controllers/%00/tags.csv"),
                (HttpMethod.Get, "/api/v1/values?path=%ff"),
                (HttpMethod.Get, "/api/v1/values?path=a%20b"),
                (HttpMethod.Get, "/api/v1/values?path=nowhere"),
                (HttpMethod.Get, "/api/v2/openapi.json"),
                (HttpMethod.Get, "/api/v1/tags?limit=many"),
                (HttpMethod.Get, "/api/v1/tags?limit=-1&cursor=x"),
                (HttpMethod.Get, "/api/v1/equipment?cursor=%ff"),
                (HttpMethod.Post, "/api/v1/bindings"),
                (HttpMethod.Put, "/api/v1/model"),
            }
        )
            await Send(new(method, address), $"{method} {address}");
        _failures.ShouldBeEmpty(string.Join('\n', _failures.Take(20)));
    }

    [Fact]
    public async Task What_is_too_large_is_told_so_and_nobody_is_cut_off()
    {
        var token = await _fralto.TokenOfAsync("/exchange");
        using var form = new MultipartFormDataContent
        {
            { new StringContent(token), "__RequestVerificationToken" },
            { new ByteArrayContent(new byte[40 * 1024 * 1024]), "file", "large.csv" },
        };
        var answer = await _fralto.Http.PostAsync("/exchange?handler=Read", form);
        answer.StatusCode.ShouldBe(HttpStatusCode.RequestEntityTooLarge);
        (await answer.Content.ReadAsStringAsync()).ShouldContain("larger than 33 MB");
        var api = await _fralto.Http.PostAsync(
            "/api/v1/commands",
            new StringContent(new string(' ', 2 * 1024 * 1024), Encoding.UTF8, "application/json")
        );
        api.StatusCode.ShouldBe(HttpStatusCode.RequestEntityTooLarge);
        api.Content.Headers.ContentType!.MediaType.ShouldBe("application/problem+json");
    }

    [Theory]
    [InlineData("Sec-Fetch-Site", "cross-site")]
    [InlineData("Origin", "http://elsewhere.example")]
    [InlineData("Origin", "http://127.0.0.1:1")]
    public async Task A_page_of_somewhere_else_has_nothing_done_here(string header, string value)
    {
        using var request = new HttpRequestMessage(HttpMethod.Post, "/api/v1/bindings/proposals")
        {
            Content = Body("application/json", "{}"),
        };
        request.Headers.TryAddWithoutValidation(header, value);
        (await _fralto.Http.SendAsync(request)).StatusCode.ShouldBe(HttpStatusCode.Forbidden);
        using var own = new HttpRequestMessage(HttpMethod.Post, "/api/v1/bindings/proposals") { Content = Body("application/json", "{}") };
        own.Headers.TryAddWithoutValidation("Origin", $"http://127.0.0.1:{_fralto.Port}");
        own.Headers.TryAddWithoutValidation("Sec-Fetch-Site", "same-origin");
        (await _fralto.Http.SendAsync(own)).StatusCode.ShouldBe(HttpStatusCode.OK);
    }

    /// <summary>What addresses say of the list on a page.</summary>
    private static readonly string[] OfLists = ["filter", "sort", "from", "rows", "list", "f-type", "f-quality", "picked", "format"];

    private static IEnumerable<Type> Pages() =>
        typeof(Fralto.Web.Pages.FraltoPage)
            .Assembly.GetTypes()
            .Where(t => t.IsSubclassOf(typeof(PageModel)) && !t.IsAbstract)
            .OrderBy(t => t.Name, StringComparer.Ordinal);

    private static string AddressOf(Type page) =>
        "/"
        + page.Name switch
        {
            "LivePageModel" => "live",
            "PlantPageModel" => "plant",
            "StandInsModel" => "stand-ins",
            "IndexModel" => "",
            "FindingKindsModel" => "findings/kinds",
            "CheckSheetModel" => "checks/sheet",
            ['A', 'l', 'a', 'r', 'm', 's', .. { Length: > 5 } which] => $"alarms/{which[..^"Model".Length].ToLowerInvariant()}",
            var name => name[..^"Model".Length].ToLowerInvariant(),
        };

    /// <summary>Fields that forms read by name; a page that reads others is driven by its own tests.</summary>
    private static string[] Fields(Type page, bool isPost) =>
        !isPost
            ? []
            : page.Name switch
            {
                "PlantPageModel" =>
                [
                    "Id",
                    "Code",
                    "Name",
                    "Level",
                    "ParentId",
                    "TemplateId",
                    "Labels",
                    "From",
                    "Count",
                    "Step",
                    "Digits",
                    "Value",
                    "Unit",
                    "RangeLow",
                    "RangeHigh",
                    "HighSetpoint",
                    "HighPriority",
                    "StateListId",
                    "ScaleChoice",
                    "WithBindings",
                    "Seen",
                ],
                "TemplatesModel" =>
                [
                    "Id",
                    "Code",
                    "Name",
                    "ParentId",
                    "Description",
                    "Levels",
                    "Labels",
                    "PartTemplateId",
                    "Level",
                    "HowMany",
                    "WithInstances",
                    "PropertyId",
                    "Kind",
                    "Type",
                    "Unit",
                    "RangeLow",
                    "RangeHigh",
                    "ScaleChoice",
                    "RawLow",
                    "RawHigh",
                    "HighHighSetpoint",
                    "HighHighOnDelay",
                    "StateListId",
                    "Value",
                    "Required",
                ],
                "ControllersModel" =>
                [
                    "Id",
                    "Name",
                    "Protocol",
                    "Host",
                    "Port",
                    "UnitId",
                    "UpdateIntervalMs",
                    "UpdateClasses",
                    "Password",
                    "Authority",
                    "TagId",
                    "Area",
                    "Address",
                    "Bit",
                    "Type",
                    "WordOrder",
                    "Count",
                    "Unit",
                    "RangeLow",
                    "Names",
                    "Value",
                ],
                "ScalesModel" =>
                [
                    "Id",
                    "Code",
                    "Name",
                    "Description",
                    "Kind",
                    "RawLow",
                    "RawHigh",
                    "EngineeringLow",
                    "EngineeringHigh",
                    "Gain",
                    "Offset",
                    "Points",
                    "Signal",
                    "ScaleUnit",
                ],
                "UnitsModel" => ["Id", "Code", "Symbol", "Name", "Factor", "Of", "Value", "From", "To"],
                "LayoutsModel" =>
                [
                    "Id",
                    "Code",
                    "Name",
                    "Separator",
                    "Points",
                    "LayoutId",
                    "ControllerId",
                    "Base",
                    "BitBase",
                    "UnitId",
                    "Devices",
                ],
                "StatesModel" => ["Id", "Code", "Name", "States"],
                "RulerModel" => ["Limit", "Setpoint", "Deadband", "Layer"],
                _ => ["Low", "High", "Value", "Id"],
            };

    private async Task Send(HttpRequestMessage request, string what)
    {
        try
        {
            using var answer = await _fralto.Http.SendAsync(request);
            var body = await answer.Content.ReadAsStringAsync();
            var place = $"{request.Method} {request.RequestUri!.ToString().Split('?')[0]}";
            (_answers.TryGetValue(place, out var known) ? known : _answers[place] = []).Add((int)answer.StatusCode);
            if ((int)answer.StatusCode >= 500)
                _failures.Add($"{(int)answer.StatusCode} {what}");
            if (
                (int)answer.StatusCode >= 400
                && request.RequestUri!.ToString().StartsWith("/api", StringComparison.Ordinal)
                && (
                    answer.Content.Headers.ContentType?.MediaType != "application/problem+json"
                    || JsonNode.Parse(body)?["detail"]?.GetValue<string>() is not { Length: > 0 }
                )
            )
                _failures.Add($"no problem ({(int)answer.StatusCode} {answer.Content.Headers.ContentType}) {what}");
        }
        catch (HttpRequestException e)
        {
            _failures.Add($"{e.Message} ({e.InnerException?.Message}) {what}");
        }
    }

    private static string Escaped(string text) => Uri.EscapeDataString(text);

    private static ByteArrayContent Body(string type, string text)
    {
        var content = new ByteArrayContent(Encoding.UTF8.GetBytes(text));
        content.Headers.TryAddWithoutValidation("Content-Type", type);
        return content;
    }

    /// <summary>Visits every value in a document, with what puts another in its place.</summary>
    private static void Walk(JsonNode node, Action<Action<JsonNode?>> visit)
    {
        if (node is JsonObject members)
            foreach (var (name, value) in members.ToArray())
            {
                if (value is not null)
                    Walk(value, visit);
                visit(other => members[name] = other);
            }
        else if (node is JsonArray list)
            for (var i = 0; i < list.Count; i++)
            {
                var at = i;
                if (list[i] is { } item)
                    Walk(item, visit);
                visit(other => list[at] = other);
            }
    }
}
