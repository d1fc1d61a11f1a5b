using System.Net;
using System.Net.Http.Json;
using System.Text.Json.Nodes;
using Microsoft.Data.Sqlite;

namespace Fralto.Web.Tests;

/// <summary>The demo opens with days behind it, whatever happened while they were made.</summary>
public sealed class DemoPastTests : IAsyncLifetime
{
    private const int Days = 1;
    private static readonly string[] Told =
    [
        "Corvane/TarnQuay/Kilning/KilnHouse/KLN1/AirOn",
        "Corvane/TarnQuay/Germination/BoxHouse/BOX3/CarbonDioxide",
        "Corvane/TarnQuay/GrainHandling/SiloPark/S03/Level",
        "Corvane/TarnQuay/GrainHandling/SiloPark/Stock",
    ];

    private readonly string _directory = Directory.CreateTempSubdirectory("fralto-past-").FullName;
    private RunningFralto _fralto = null!;

    public async ValueTask InitializeAsync() => _fralto = await RunningFralto.DemoAsync(_directory, pastDays: Days);

    public async ValueTask DisposeAsync()
    {
        await _fralto.DisposeAsync();
        Directory.Delete(_directory, recursive: true);
    }

    [Fact]
    public async Task A_demo_that_is_killed_while_its_past_is_made_makes_it_once_and_whole()
    {
        // Some of it is kept by now, and not all.
        await UntilAsync(() => Task.FromResult(Directory.GetFiles(_directory, "history.db*").Sum(f => new FileInfo(f).Length) > 4_000_000));
        (await IsMakingAsync()).ShouldBeTrue();
        await _fralto.KillAsync();
        await _fralto.DisposeAsync();
        _fralto = await RunningFralto.DemoAsync(_directory, pastDays: Days);
        // Pages are answered before the plant has begun, and say nothing of its past then.
        await UntilAsync(async () => IsMade() && !await IsMakingAsync());
        var (from, to) = (DateTime.UtcNow.AddDays(-Days).AddMinutes(10), DateTime.UtcNow.AddHours(-7));
        foreach (var path in Told)
        {
            var rows = (await ItemsAsync($"/api/v1/history?path={path}&from={from:O}&to={to:O}")).Items;
            rows.Count.ShouldBeGreaterThan(60, path);
            // It is told at the same second of each minute: another would be of what the first run made.
            rows.Select(r => ((DateTime)r!["time"]!).Second).Distinct().ShouldHaveSingleItem(path);
        }
        await LogAsync(from);
        await LivesAsync();
    }

    /// <summary>A past that broke off and was lived on after is not made again: what was recorded since is worth more.</summary>
    private async Task LivesAsync()
    {
        var (from, to) = (DateTime.UtcNow.AddDays(-Days), DateTime.UtcNow.AddMinutes(-1));
        async Task<string[]> KeptAsync() =>
            [
                .. (await ItemsAsync($"/api/v1/history?path={Told[0]}&from={from:O}&to={to:O}&limit=10000")).Items.Select(r =>
                    $"{r!["time"]}"
                ),
            ];
        var kept = await KeptAsync();
        await _fralto.KillAsync();
        await _fralto.DisposeAsync();
        using (var file = new SqliteConnection($"Data Source={Path.Combine(_directory, "history.db")};Pooling=False"))
        {
            file.Open();
            using var command = file.CreateCommand();
            command.CommandText =
                $"DELETE FROM note WHERE key = 'past-made'; UPDATE note SET value = '{from.Ticks}' WHERE key = 'past-begun'";
            command.ExecuteNonQuery().ShouldBe(2);
        }
        _fralto = await RunningFralto.DemoAsync(_directory, pastDays: Days);
        (await IsMakingAsync()).ShouldBeFalse();
        (await KeptAsync()).ShouldBe(kept);
    }

    /// <summary>The log reaches back as far, page by page, the newest first, and is acknowledged by somebody.</summary>
    private async Task LogAsync(DateTime from)
    {
        var (cursor, events) = ("", new List<JsonNode>());
        do
        {
            var (items, next) = await ItemsAsync($"/api/v1/alarms/log?limit=1000{cursor}");
            events.AddRange(items!);
            cursor = next is null ? "" : $"&cursor={next}";
        } while (cursor.Length > 0);
        events.Select(e => $"{e["path"]} {e["limit"]} {e["time"]} {e["cause"]} {e["state"]}").ShouldBeUnique();
        ((DateTime)events[^1]["time"]!).ShouldBeLessThan(from.AddHours(1));
        ((DateTime)events[0]["time"]!).ShouldBeGreaterThan(DateTime.UtcNow.AddHours(-1));
        foreach (var shift in new[] { "day shift", "night shift" })
            events.ShouldContain(e => (string?)e["who"] == shift);
        // What somebody acknowledged had been raised; what still stood when the past ended is not told of.
        foreach (
            var (raised, acknowledged) in events
                .GroupBy(e => $"{e["path"]} {e["limit"]}")
                .Select(g => (Of(g, "ConditionRaised"), Of(g, "AcknowledgedByOperator")))
        )
            acknowledged.ShouldBeLessThanOrEqualTo(raised);

        static int Of(IEnumerable<JsonNode> some, string cause) => some.Count(e => (string?)e["cause"] == cause);
    }

    private bool IsMade()
    {
        using var file = new SqliteConnection($"Data Source={Path.Combine(_directory, "history.db")};Mode=ReadOnly;Pooling=False");
        file.Open();
        using var command = file.CreateCommand();
        command.CommandText = "SELECT count(*) FROM note WHERE key = 'past-made'";
        return (long)command.ExecuteScalar()! > 0;
    }

    private async Task<bool> IsMakingAsync() =>
        (await _fralto.Http.GetStringAsync("/trends")).Contains("<progress", StringComparison.Ordinal);

    private async Task<(JsonArray Items, string? Next)> ItemsAsync(string address)
    {
        var answer = await _fralto.Http.GetAsync(address);
        answer.StatusCode.ShouldBe(HttpStatusCode.OK, await answer.Content.ReadAsStringAsync());
        var page = (await answer.Content.ReadFromJsonAsync<JsonObject>())!;
        return (page["items"]!.AsArray(), (string?)page["next"]);
    }

    private static async Task UntilAsync(Func<Task<bool>> holds)
    {
        for (var tries = 0; !await holds(); tries++)
        {
            tries.ShouldBeLessThan(400);
            await Task.Delay(300, TestContext.Current.CancellationToken);
        }
    }
}
