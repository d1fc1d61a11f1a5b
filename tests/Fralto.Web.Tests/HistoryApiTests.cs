using System.Globalization;
using System.Net;
using System.Net.Http.Json;
using System.Text.Json.Nodes;
using DuckDB.NET.Data;

namespace Fralto.Web.Tests;

/// <summary>What was recorded, out of a running plant.</summary>
public sealed class HistoryApiTests(DemoPlant demo) : IClassFixture<DemoPlant>, IAsyncDisposable
{
    private const string AirOn = "Corvane/TarnQuay/Kilning/KilnHouse/KLN1/AirOn";
    private const string Phase = "Corvane/TarnQuay/Kilning/KilnHouse/KLN1/Phase";

    private readonly string _directory = Directory.CreateTempSubdirectory("fralto-history-").FullName;
    private RunningFralto _fralto = demo.Fralto;

    public async ValueTask DisposeAsync()
    {
        if (_fralto != demo.Fralto)
            await _fralto.DisposeAsync();
        Directory.Delete(_directory, recursive: true);
    }

    [Fact]
    [Trait("source", "DuckDB as an independent reader of Parquet")]
    public async Task The_same_values_come_as_JSON_CSV_and_Parquet()
    {
        await UntilRecordedAsync(AirOn, 5);
        var to = DateTime.UtcNow;
        await UntilRecordedAsync(AirOn, 1, to);
        var range = $"path={AirOn}&path={Phase}&from={to.AddMinutes(-10):O}&to={to:O}";
        var rows = await AllAsync(range);
        rows.Count.ShouldBeGreaterThan(5);
        rows.Select(r => (string)r!["path"]!).Distinct().ShouldBe([AirOn, Phase]);
        // A machine with other work may leave a value stale for a moment: then there is neither a number nor its name.
        var phases = rows.Where(r => (string)r!["path"]! == Phase && r["value"] != null).ToList();
        phases.ShouldNotBeEmpty();
        phases.ShouldAllBe(r => r!["text"] != null);

        var csv = (await _fralto.Http.GetStringAsync($"/api/v1/history?{range}&format=csv")).Split(
            "\r\n",
            StringSplitOptions.RemoveEmptyEntries
        );
        csv[0].ShouldBe("path,time,value,text,status,statusCode,reason");
        csv.Length.ShouldBe(rows.Count + 1);

        var file = Path.Combine(_directory, "history.parquet");
        await File.WriteAllBytesAsync(
            file,
            await _fralto.Http.GetByteArrayAsync($"/api/v1/history?{range}&format=parquet"),
            TestContext.Current.CancellationToken
        );
        await using var duck = new DuckDBConnection("DataSource=:memory:");
        await duck.OpenAsync(TestContext.Current.CancellationToken);
        await using var command = duck.CreateCommand();
        command.CommandText = $"SELECT path, epoch_us(time), value, text, status FROM read_parquet('{file}')";
        await using var reader = await command.ExecuteReaderAsync(TestContext.Current.CancellationToken);
        var at = 0;
        while (await reader.ReadAsync(TestContext.Current.CancellationToken))
        {
            var row = rows[at++]!;
            reader.GetString(0).ShouldBe((string)row["path"]!);
            var time = DateTime.Parse((string)row["time"]!, CultureInfo.InvariantCulture, DateTimeStyles.AdjustToUniversal);
            reader.GetInt64(1).ShouldBe((time.Ticks - DateTime.UnixEpoch.Ticks) / 10);
            (reader.IsDBNull(2) ? (double?)null : reader.GetDouble(2)).ShouldBe((double?)row["value"]);
            (reader.IsDBNull(3) ? null : reader.GetString(3)).ShouldBe((string?)row["text"]);
            reader.GetString(4).ShouldBe((string)row["status"]!["name"]!);
        }
        at.ShouldBe(rows.Count);
    }

    [Fact]
    public async Task Pages_put_together_are_the_whole_and_aggregates_are_those_of_the_values()
    {
        await UntilRecordedAsync(AirOn, 8);
        var to = DateTime.UtcNow;
        // Values come in their order: with a later one there, none comes into the time that is asked for while it is read in pages.
        await UntilRecordedAsync(AirOn, 1, to);
        var range = $"path={AirOn}&from={to.AddMinutes(-5):O}&to={to:O}";
        var whole = await AllAsync(range);
        var (paged, cursor) = (new List<string>(), "");
        do
        {
            var page = (await _fralto.Http.GetFromJsonAsync<JsonObject>($"/api/v1/history?{range}&limit=3&cursor={cursor}"))!;
            page["items"]!.AsArray().Count.ShouldBeLessThanOrEqualTo(3);
            paged.AddRange(page["items"]!.AsArray().Select(i => i!.ToJsonString()));
            cursor = (string?)page["next"] ?? "";
        } while (cursor.Length > 0);
        paged.ShouldBe(whole.Select(w => w!.ToJsonString()));

        var good = whole.Where(w => (string)w!["status"]!["name"]! == "Good").Select(w => (double)w!["value"]!).ToArray();
        foreach (
            var (name, wanted) in new[]
            {
                ("Maximum", good.Max()),
                ("Minimum", good.Min()),
                ("Count", good.Length),
                ("Average", good.Average()),
            }
        )
        {
            var answer = (await _fralto.Http.GetFromJsonAsync<JsonObject>($"/api/v1/history?{range}&aggregate={name}"))![
                "items"
            ]!.AsArray();
            ((double)answer.ShouldHaveSingleItem()!["value"]!).ShouldBe(wanted, 1e-6, name);
        }
        (await _fralto.Http.GetFromJsonAsync<JsonObject>($"/api/v1/history?{range}&aggregate=TimeAverage&interval=60"))!["items"]!
            .AsArray()
            .Count.ShouldBe(5);
    }

    [Fact]
    public async Task What_cannot_be_asked_or_handed_in_is_answered_with_what_can_and_what_is_handed_in_is_there()
    {
        await HandInAsync();
        foreach (
            var (query, status, words) in new[]
            {
                ("", HttpStatusCode.BadRequest, "Give path"),
                ("path=No/Where", HttpStatusCode.NotFound, "No/Where"),
                ($"path={AirOn}&from=yesterday", HttpStatusCode.BadRequest, "2026-06-01T12:00:00Z"),
                ($"path={AirOn}&from=2026-01-02&to=2026-01-01", HttpStatusCode.BadRequest, "before"),
                ($"path={AirOn}&aggregate=Median", HttpStatusCode.BadRequest, "/aggregates"),
                (
                    $"path={AirOn}&from=2020-01-01&to=2026-01-01&aggregate=Average&interval=1",
                    HttpStatusCode.BadRequest,
                    "100000 is the most"
                ),
                ($"path={AirOn}&format=xml", HttpStatusCode.BadRequest, "parquet"),
                ($"path={AirOn}&cursor=7", HttpStatusCode.BadRequest, "no cursor"),
                ($"path={AirOn}&limit=0", HttpStatusCode.BadRequest, "10000"),
            }
        )
        {
            var answer = await _fralto.Http.GetAsync($"/api/v1/history?{query}", TestContext.Current.CancellationToken);
            answer.StatusCode.ShouldBe(status, query);
            (await answer.Content.ReadAsStringAsync(TestContext.Current.CancellationToken)).ShouldContain(words, customMessage: query);
        }
    }

    private async Task HandInAsync()
    {
        const string Values =
            "[{\"time\":\"2020-03-01T10:00:00Z\",\"value\":70.5},{\"time\":\"2020-03-01T11:00:00+01:00\",\"value\":71},"
            + "{\"time\":\"2020-03-01T10:30:00Z\",\"value\":null}]";
        async Task<(HttpStatusCode Status, string Body)> PostAsync(string body, string type = "application/json", string query = "")
        {
            using var content = new StringContent(body, System.Text.Encoding.UTF8, type);
            var answer = await _fralto.Http.PostAsync($"/api/v1/history{query}", content, TestContext.Current.CancellationToken);
            var said = await answer.Content.ReadAsStringAsync(TestContext.Current.CancellationToken);
            return (answer.StatusCode, said.Length > 0 ? $"{JsonNode.Parse(said)!["detail"]}{said}" : "");
        }
        async Task<string[]> ThereAsync() =>
            [.. (await AllAsync($"path={AirOn}&from=2020-03-01&to=2020-03-02")).Select(r => $"{r!["value"]} {r["status"]!["name"]}")];

        foreach (
            var (body, status, words) in new[]
            {
                ("{", HttpStatusCode.BadRequest, "body"),
                ("null", HttpStatusCode.BadRequest, "Give path"),
                ("{\"path\":\"No/Where\",\"values\":[]}", HttpStatusCode.NotFound, "No/Where"),
                ($"{{\"path\":\"{AirOn}\"}}", HttpStatusCode.UnprocessableEntity, "no value"),
                ($"{{\"path\":\"{AirOn}\",\"values\":[null]}}", HttpStatusCode.UnprocessableEntity, "Value 1 has no time"),
                (
                    $"{{\"path\":\"{AirOn}\",\"values\":[{{\"time\":\"2020-03-01\",\"value\":\"hot\"}}]}}",
                    HttpStatusCode.UnprocessableEntity,
                    "'hot' is no number"
                ),
                (
                    $"{{\"path\":\"{AirOn}\",\"values\":[{{\"time\":\"2020-03-01\",\"value\":[1]}}]}}",
                    HttpStatusCode.UnprocessableEntity,
                    "no number, text"
                ),
                (
                    $"{{\"path\":\"{AirOn}\",\"values\":[{{\"time\":\"2120-03-01\",\"value\":1}}]}}",
                    HttpStatusCode.UnprocessableEntity,
                    "still to come"
                ),
            }
        )
        {
            var (answered, said) = await PostAsync(body);
            answered.ShouldBe(status, body);
            said.ShouldContain(words);
        }
        foreach (var when in new[] { "\"03.04.2020\"", "\"\"", "\"2020-13-01\"" })
            (await PostAsync($"{{\"path\":\"{AirOn}\",\"values\":[{{\"time\":{when},\"value\":1}}]}}")).Body.ShouldContain("is no time");
        (await PostAsync("x", "text/plain")).Status.ShouldBe(HttpStatusCode.UnsupportedMediaType);
        (await PostAsync($"{{\"path\":\"{AirOn}\",\"values\":{Values}}}", query: "?dry=true")).Body.ShouldContain("\"isTakenIn\":false");
        (await ThereAsync()).ShouldNotContain("70.5 Good");
        // Two at one time: the later one counts.
        (await PostAsync($"{{\"path\":\"{AirOn}\",\"values\":{Values}}}")).Body.ShouldContain("\"count\":3");
        (await ThereAsync()).Take(2).ShouldBe(["71 Good", " BadNoData"]);
        var lines = "time,value\n2020-03-01T11:00:00Z,72\n2020-03-01T12:00:00Z,73\n";
        (await PostAsync(lines, "text/csv", $"?path={AirOn}")).Status.ShouldBe(HttpStatusCode.OK);
        (await ThereAsync()).Take(4).ShouldBe(["71 Good", " BadNoData", "72 Good", "73 Good"]);
        // No zone is UTC, as in a file and as in from and to.
        (await PostAsync($"{{\"path\":\"{AirOn}\",\"values\":[{{\"time\":\"2020-03-01T13:00:00\",\"value\":74}}]}}")).Body.ShouldContain(
            "2020-03-01T13:00:00Z"
        );
        using (var bogus = new StringContent("{}"))
        {
            bogus.Headers.ContentType = new("application/json") { CharSet = "bogus" };
            (await _fralto.Http.PostAsync("/api/v1/history", bogus, TestContext.Current.CancellationToken)).StatusCode.ShouldBe(
                HttpStatusCode.UnsupportedMediaType
            );
        }
        (await PostAsync("2020-03-01T11:00:00Z,x\nnever,1\n", "text/csv", $"?path={AirOn}")).Body.ShouldContain(
            "Line 2: 'never' is no time"
        );
    }

    [Fact]
    public Task What_was_recorded_a_second_before_a_kill_is_there_after_it() => KillAsync(3);

    /// <summary>The same fifty times; some minutes.</summary>
    [Fact(Explicit = true)]
    public Task What_was_recorded_a_second_before_a_kill_is_there_after_it_fifty_times() => KillAsync(50);

    private async Task KillAsync(int times)
    {
        var random = new Random(17);
        var kept = new List<string>();
        _fralto = await RunningFralto.DemoAsync(_directory);
        for (var round = 0; round < times; round++)
        {
            await UntilRecordedAsync(AirOn, kept.Count + 4);
            // At any moment: nothing is waited for.
            await Task.Delay(random.Next(0, 1500), TestContext.Current.CancellationToken);
            var rows = await AllAsync($"path={AirOn}&from={DateTime.UtcNow.AddHours(-1):O}&to={DateTime.UtcNow.AddSeconds(-3):O}");
            var held = rows.Select(r => $"{r!["time"]} {r["value"]} {r["status"]!["name"]}").ToList();
            // A value that was passed over is recorded with the next one that is not: half a second later here.
            // What was read after an earlier restart is read the same again.
            held.Take(kept.Count).ShouldBe(kept, $"round {round}");
            await _fralto.KillAsync();
            await _fralto.DisposeAsync();
            _fralto = await RunningFralto.DemoAsync(_directory);
            var after = await AllAsync($"path={AirOn}&from={DateTime.UtcNow.AddHours(-1):O}");
            kept = [.. after.Select(r => $"{r!["time"]} {r["value"]} {r["status"]!["name"]}").Take(held.Count)];
            kept.ShouldBe(held, $"round {round}");
        }
    }

    private async Task UntilRecordedAsync(string path, int count, DateTime? since = null)
    {
        for (var tries = 0; ; tries++)
        {
            if ((await AllAsync($"path={path}&from={since ?? DateTime.UtcNow.AddHours(-1):O}")).Count >= count)
                return;
            tries.ShouldBeLessThan(600, "nothing is recorded");
            await Task.Delay(100, TestContext.Current.CancellationToken);
        }
    }

    private async Task<JsonArray> AllAsync(string query)
    {
        var answer = await _fralto.Http.GetAsync($"/api/v1/history?{query}&limit=10000");
        answer.StatusCode.ShouldBe(HttpStatusCode.OK, await answer.Content.ReadAsStringAsync());
        return (await answer.Content.ReadFromJsonAsync<JsonObject>())!["items"]!.AsArray();
    }
}
