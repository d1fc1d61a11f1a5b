using System.Net.Http.Json;
using System.Text.Json.Nodes;

namespace Fralto.Web.Tests;

/// <summary>A process that is killed in the middle of a release: the old or the new release is whole, and runs.</summary>
public sealed class ReleaseSurvivalTests : IDisposable
{
    private readonly string _directory = Directory.CreateTempSubdirectory("fralto-release-").FullName;

    public void Dispose() => Directory.Delete(_directory, recursive: true);

    [Fact]
    public Task A_release_is_whole_or_not_there_whenever_the_process_is_killed() => KillAsync(6);

    /// <summary>The same two hundred times; a quarter of an hour.</summary>
    [Fact(Explicit = true)]
    public Task A_release_is_whole_or_not_there_two_hundred_times() => KillAsync(200);

    private async Task KillAsync(int times)
    {
        var random = new Random(16);
        var fralto = await RunningFralto.ServeAsync(_directory);
        try
        {
            await PutAsync(fralto, Model(0));
            (await fralto.Http.PostAsJsonAsync("/api/v1/releases", new { note = "round 0" })).EnsureSuccessStatusCode();
            for (var round = 1; round <= times; round++)
            {
                var before = await ReleasesAsync(fralto);
                await PutAsync(fralto, Model(round));
                var release = fralto.Http.PostAsJsonAsync("/api/v1/releases", new { note = $"round {round}" });
                await Task.Delay(random.Next(0, 260), TestContext.Current.CancellationToken);
                await fralto.KillAsync();
                await release.ContinueWith(_ => { }, TaskScheduler.Default);
                await fralto.DisposeAsync();
                fralto = await RunningFralto.ServeAsync(_directory);
                var after = await ReleasesAsync(fralto);
                (after.Count - before.Count).ShouldBeInRange(0, 1, $"round {round}");
                var isMade = after.Count > before.Count;
                ((string)after[0]!["note"]!).ShouldBe($"round {(isMade ? round : (int)Round(before[0]!))}");
                ((bool)after[0]!["running"]!).ShouldBeTrue();
                // What it holds can be read, and is what was edited then.
                var held = await fralto.Http.GetFromJsonAsync<JsonObject>($"/api/v1/releases/{(int)after[0]!["number"]!}/model");
                HighOf(held!).ShouldBe(80 + Round(after[0]!));
                // What was edited is there in any case: in the release, or still unreleased.
                HighOf((await fralto.Http.GetFromJsonAsync<JsonObject>("/api/v1/model"))!).ShouldBe(80 + round);
                var unreleased = await fralto.Http.GetFromJsonAsync<JsonObject>("/api/v1/releases/unreleased");
                ((int)unreleased!["changes"]!).ShouldBe(isMade ? 0 : 1);
            }
        }
        finally
        {
            await fralto.DisposeAsync();
        }
    }

    private static long Round(JsonNode release) => long.Parse(((string)release["note"]!).Split(' ')[1]);

    private static double HighOf(JsonObject model) => (double)model["templates"]![0]!["properties"]![0]!["limits"]!["High"]!["setpoint"]!;

    private static async Task<JsonArray> ReleasesAsync(RunningFralto fralto) =>
        (await fralto.Http.GetFromJsonAsync<JsonObject>("/api/v1/releases"))!["items"]!.AsArray();

    private static async Task PutAsync(RunningFralto fralto, JsonObject model) =>
        (await fralto.Http.PutAsJsonAsync("/api/v1/model", model)).EnsureSuccessStatusCode();

    private static JsonObject Model(int round) =>
        JsonNode
            .Parse(
                $$"""
                {
                  "format": "fralto-model",
                  "version": 1,
                  "templates": [{ "code": "Oven", "properties": [{ "code": "Temp", "kind": "Measured", "type": "Number", "unit": "CEL",
                    "range": [0, 1000], "limits": { "High": { "setpoint": {{80 + round}} } } }] }],
                  "equipment": [{ "path": "W", "level": "Enterprise" }, { "path": "W/S", "level": "Site" },
                    { "path": "W/S/O1", "level": "Unit", "template": "Oven" }],
                  "controllers": [{ "name": "mem", "protocol": "Memory",
                    "tags": [{ "name": "T1", "type": "Float64", "address": "retained" }] }],
                  "bindings": [{ "equipment": "W/S/O1", "property": "Temp", "controller": "mem", "tag": "T1" }]
                }
                """
            )!
            .AsObject();
}
