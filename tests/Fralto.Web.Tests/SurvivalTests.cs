using System.Diagnostics;
using System.Net;
using System.Net.Http.Json;
using System.Text;
using System.Text.Json.Nodes;

namespace Fralto.Web.Tests;

/// <summary>What was acknowledged, raised, returned or said to be kept is there after any stop; what cannot be kept is said not to
/// be.</summary>
public sealed class SurvivalTests : IDisposable
{
    private const int Ovens = 4;
    private readonly string _directory = Directory.CreateTempSubdirectory("fralto-survival-").FullName;

    public void Dispose() => Directory.Delete(_directory, recursive: true);

    /// <summary>Values over and under their limits, acknowledgements, limits taken away, and stops of both kinds in no order: every alarm
    /// is afterwards where it was last seen, or the log says what became of it.</summary>
    [Fact]
    public async Task Alarms_and_what_happened_to_them_survive_random_stops()
    {
        var random = new Random(11);
        var fralto = await RunningFralto.ServeAsync(_directory);
        try
        {
            (await fralto.Http.PutAsync("/api/v1/model", Json(Model()))).EnsureSuccessStatusCode();
            for (var round = 0; round < 6; round++)
            {
                for (var step = 0; step < 8; step++)
                {
                    var oven = random.Next(Ovens);
                    if (random.Next(5) == 0)
                    {
                        var alarms = await Alarms(fralto);
                        if (alarms.Count > 0)
                            await AcknowledgeAsync(fralto, alarms.ElementAt(random.Next(alarms.Count)).Key);
                    }
                    else
                        await Write(fralto, $"T{oven}", random.Next(2) == 0 ? 90 : 20);
                }
                // Everything that was written has come to the engine when a last value has.
                var mark = 30 + round;
                await Write(fralto, "mark", mark);
                await Until(async () => (await Value(fralto, "W/Mark/Now")) == mark);
                var (before, told) = (await Alarms(fralto), await Told(fralto));
                var kind = random.Next(3);
                if (kind == 0)
                    await fralto.KillAsync();
                else
                    (await fralto.StopAsync()).ShouldBe(0);
                await fralto.DisposeAsync();
                fralto = await RunningFralto.ServeAsync(_directory);
                var after = await Alarms(fralto);
                // Memory begins anew with its start values, which are normal: what was active has returned, if it was not acknowledged.
                foreach (var (path, state) in before)
                    if (state == "ReturnedUnacknowledged" || state == "Unacknowledged")
                        after.GetValueOrDefault(path).ShouldNotBeNull($"round {round}, kind {kind}: {path} was {state} and is gone");
                // Each event that was told of is told of again, behind what the restart itself has brought.
                var again = await Told(fralto);
                again.Count.ShouldBeGreaterThanOrEqualTo(Math.Min(told.Count, 100));
                again[(again.Count >= 100 ? 0 : again.Count - told.Count)..].ShouldContain(told[0], $"round {round}");
            }
            (await Told(fralto)).Count.ShouldBeGreaterThan(10);
        }
        finally
        {
            await fralto.DisposeAsync();
        }
    }

    [Fact]
    public async Task An_alarm_whose_limit_is_taken_away_is_said_to_be_no_longer_watched()
    {
        await using var fralto = await RunningFralto.ServeAsync(_directory);
        (await fralto.Http.PutAsync("/api/v1/model", Json(Model()))).EnsureSuccessStatusCode();
        await Write(fralto, "T0", 90);
        await Until(async () => (await Alarms(fralto)).Count == 1);
        (
            await fralto.Http.PostAsync("/api/v1/bindings", Json("""{"bindings":[{"path":"W/Oven0/Now","tag":null}]}"""))
        ).EnsureSuccessStatusCode();
        await Until(async () => (await Alarms(fralto)).Count == 0);
        (await Told(fralto))[0].ShouldContain("no longer watched");
    }

    /// <summary>A file that cannot grow any more: the limit on the size of files is the nearest thing to a full disk that a test may have
    /// (setrlimit, RLIMIT_FSIZE).</summary>
    [Fact]
    public async Task On_a_full_disk_nothing_is_done_unsaid_and_all_is_well_when_there_is_room_again()
    {
        await using (var first = await RunningFralto.ServeAsync(_directory))
            (await first.Http.PutAsync("/api/v1/model", Json(Model()))).EnsureSuccessStatusCode();
        var size = new DirectoryInfo(_directory).GetFiles("*.db*").Max(f => f.Length) / 1024;
        // The runtime maps its code twice by way of a file that would be too large; it need not.
        await using var fralto = await RunningFralto.ServeAfterAsync(
            _directory,
            $"export DOTNET_EnableWriteXorExecute=0; trap '' XFSZ; ulimit -S -f {size + 3000}"
        );
        HttpResponseMessage? refused = null;
        double? accepted = null;
        for (var i = 0; i < 400 && refused is null; i++)
        {
            var answer = await fralto.Http.PutAsync("/api/v1/controllers/notes/tags/kept/value", Json($$"""{"value":{{i}}}"""));
            if (answer.IsSuccessStatusCode)
                accepted = i;
            // Whatever is written first when it is full is refused first: the value itself, or the note of it.
            else if ((await answer.Content.ReadAsStringAsync()).Contains("nothing was sent", StringComparison.Ordinal))
                refused = answer;
        }
        refused.ShouldNotBeNull();
        (await refused.Content.ReadAsStringAsync()).ShouldContain("nothing was sent, since it could not be noted");
        accepted.ShouldNotBeNull();
        await Until(async () => await Raw(fralto, "kept") == accepted);
        // It is named on every page, by /healthz, and in the log, once.
        (await fralto.Http.GetFromJsonAsync<JsonObject>("/healthz"))!["status"]!.GetValue<string>().ShouldBe("degraded");
        foreach (var page in new[] { "/plant", "/alarms", "/journal", "/units" })
            (await fralto.Http.GetStringAsync(page)).ShouldContain("Nothing can be kept since");
        // The model has a file of its own, which goes on growing until it meets the limit too.
        HttpResponseMessage? edit = null;
        for (var i = 0; i < 400 && edit is not { IsSuccessStatusCode: false }; i++)
            edit = await fralto.Http.PostAsync(
                "/api/v1/bindings",
                Json($$"""{"bindings":[{"path":"W/Oven0/Now","controller":"notes","tag":{{(i % 2 == 0 ? "null" : "\"T0\"")}}}]}""")
            );
        edit!.StatusCode.ShouldBe(HttpStatusCode.UnprocessableEntity);
        (await edit.Content.ReadAsStringAsync()).ShouldContain("Nothing was changed");
        await Write(fralto, "T1", 90, mayFail: true);
        for (var i = 0; i < 20; i++)
            await fralto.Http.GetAsync("/alarms");
        fralto.Log.Count(l => l.Contains("Nothing can be kept", StringComparison.Ordinal)).ShouldBe(1);
        // Room again: the limit is lifted, and the next that is written shows it.
        using (var lift = Process.Start("prlimit", ["--pid", $"{fralto.ProcessId}", "--fsize=unlimited"]))
            await lift.WaitForExitAsync();
        await Until(async () =>
            (await fralto.Http.PutAsync("/api/v1/controllers/notes/tags/kept/value", Json("""{"value":7777}"""))).IsSuccessStatusCode
        );
        await Until(async () => (await fralto.Http.GetFromJsonAsync<JsonObject>("/healthz"))!["status"]!.GetValue<string>() == "healthy");
        (await fralto.Http.GetStringAsync("/plant")).ShouldNotContain("Nothing can be kept since");
        await fralto.KillAsync();
        await using var again = await RunningFralto.ServeAsync(_directory);
        await Until(async () => await Raw(again, "kept") == 7777);
        (await again.ListAsync("/api/v1/commands")).ShouldNotContain(c => c!["outcome"]!.GetValue<string>() == "sending");
    }

    /// <summary>A directory that is deleted under a running process: what is written to it then is written nowhere.</summary>
    [Fact]
    public async Task An_edit_of_a_plant_whose_file_is_gone_is_refused()
    {
        var directory = Path.Combine(_directory, "gone");
        await using var fralto = await RunningFralto.ServeAsync(directory);
        (await fralto.Http.PutAsync("/api/v1/model", Json(Model()))).EnsureSuccessStatusCode();
        Directory.Delete(directory, recursive: true);
        var edit = await fralto.Http.PostAsync("/api/v1/bindings", Json("""{"bindings":[{"path":"W/Oven0/Now","tag":null}]}"""));
        edit.StatusCode.ShouldBe(HttpStatusCode.UnprocessableEntity);
        (await edit.Content.ReadAsStringAsync()).ShouldContain("is gone");
    }

    private static string Model()
    {
        var ovens = Enumerable.Range(0, Ovens).ToArray();
        return $$"""
            { "format": "fralto-model", "version": 1,
              "templates": [ { "code": "Oven", "properties": [ { "code": "Now", "kind": "Measured", "type": "Number", "unit": "CEL",
                "range": [0, 100], "limits": { "High": { "setpoint": 80, "priority": 2 } } } ] },
                             { "code": "Mark", "properties": [ { "code": "Now", "kind": "Measured", "type": "Number",
                               "range": [0, 100] } ] } ],
              "equipment": [ { "path": "W", "level": "Enterprise" }, { "path": "W/Mark", "level": "Unit", "template": "Mark" },
                {{string.Join(
                ", ",
                ovens.Select(i => $$"""{ "path": "W/Oven{{i}}", "level": "Unit", "template": "Oven" }""")
            )}} ],
              "controllers": [ { "name": "notes", "protocol": "Memory", "tags": [ { "name": "mark", "type": "Float64" }, { "name": "kept",
                "type": "Float64", "address": "retained" }, {{string.Join(
                ", ",
                ovens.Select(i => $$"""{ "name": "T{{i}}", "type": "Float64", "address": "start 20" }""")
            )}} ] } ],
              "bindings": [ { "equipment": "W/Mark", "property": "Now", "controller": "notes", "tag": "mark" }, {{string.Join(
                ", ",
                ovens.Select(i => $$"""{ "equipment": "W/Oven{{i}}", "property": "Now", "controller": "notes", "tag": "T{{i}}" }""")
            )}} ] }
            """;
    }

    private static async Task Write(RunningFralto fralto, string tag, double value, bool mayFail = false)
    {
        // The link of a controller that has just come may need a moment.
        for (var tries = 0; ; tries++)
        {
            var answer = await fralto.Http.PutAsync($"/api/v1/controllers/notes/tags/{tag}/value", Json($$"""{"value":{{value}}}"""));
            if (answer.IsSuccessStatusCode || mayFail)
                return;
            if (tries == 50)
                answer.EnsureSuccessStatusCode();
            await Task.Delay(50);
        }
    }

    private static async Task<Dictionary<string, string>> Alarms(RunningFralto fralto) =>
        (await fralto.ListAsync("/api/v1/alarms")).ToDictionary(a => a!["path"]!.GetValue<string>(), a => a!["state"]!.GetValue<string>());

    /// <summary>What a property holds; null for nothing, and as long as the plant that was handed in does not run yet.</summary>
    private static async Task<double?> Value(RunningFralto fralto, string path)
    {
        try
        {
            return (await fralto.ListAsync($"/api/v1/values?path={path}")).SingleOrDefault()?["value"]?.GetValue<double>();
        }
        catch (HttpRequestException e) when (e.StatusCode == System.Net.HttpStatusCode.NotFound)
        {
            return null;
        }
    }

    private static async Task<double?> Raw(RunningFralto fralto, string tag) =>
        (await fralto.ListAsync("/api/v1/tags")).Single(t => t!["name"]!.GetValue<string>() == tag)!["raw"]?.GetValue<double>();

    /// <summary>What the page tells of what happened, newest first: time, property and what it was.</summary>
    private static async Task<List<string>> Told(RunningFralto fralto)
    {
        // What happened, newest first, as the list gives it out: a line an event after the headings.
        var text = await fralto.Http.GetStringAsync("/alarms/log?handler=Rows&format=text");
        return [.. text.Split("\r\n", StringSplitOptions.RemoveEmptyEntries).Skip(1)];
    }

    private static async Task AcknowledgeAsync(RunningFralto fralto, string path)
    {
        var html = await fralto.Http.GetStringAsync("/alarms");
        var keys = System.Text.RegularExpressions.Regex.Matches(html, "name=\"key\" value=\"(\\d+\\.\\d+\\.High)\"");
        if (keys.Count == 0)
            return;
        await fralto.PostAsync(
            "/alarms",
            "Act",
            RunningFralto.TokenIn(html),
            ("key", keys[path.Length % keys.Count].Groups[1].Value),
            ("act", "AcknowledgedByOperator")
        );
    }

    private static async Task Until(Func<Task<bool>> holds)
    {
        for (var tries = 0; !await holds(); tries++)
        {
            tries.ShouldBeLessThan(200);
            await Task.Delay(50);
        }
    }

    private static StringContent Json(string text) => new(text, Encoding.UTF8, "application/json");
}
