using System.Globalization;
using System.Net;
using System.Net.Http.Json;
using System.Text;
using System.Text.Json.Nodes;
using System.Text.RegularExpressions;

namespace Fralto.Web.Tests;

/// <summary>Faults that come and go, windows that open and close, edits, commands and acknowledgements, all at once and for long: nothing
/// fails, nothing grows, and all is well when the faults are over.</summary>
public sealed partial class SoakTests : IDisposable
{
    private readonly string _directory = Directory.CreateTempSubdirectory("fralto-soak-").FullName;
    private readonly List<string> _failures = [];

    public void Dispose() => Directory.Delete(_directory, recursive: true);

    /// <summary>The same, short enough for every run.</summary>
    [Fact]
    public Task A_quarter_of_a_minute_of_everything_at_once() => SoakAsync(TimeSpan.FromSeconds(15));

    /// <summary>Runs from ./fralto test --soak; FRALTO_SOAK_MINUTES says how long, 15 when it does not.</summary>
    [Fact(Explicit = true)]
    public Task A_quarter_of_an_hour_of_everything_at_once() =>
        SoakAsync(
            TimeSpan.FromMinutes(
                double.Parse(Environment.GetEnvironmentVariable("FRALTO_SOAK_MINUTES") ?? "15", CultureInfo.InvariantCulture)
            )
        );

    private async Task SoakAsync(TimeSpan length)
    {
        await using var fralto = await RunningFralto.DemoAsync(_directory);
        var faults = FaultKeys()
            .Matches(await fralto.Http.GetStringAsync("/stand-ins"))
            .Select(m => m.Groups[1].Value)
            .Distinct()
            .ToArray();
        faults.Length.ShouldBeGreaterThan(5);
        var nodes = (await fralto.ListAsync("/api/v1/equipment")).Select(e => e!["id"]!.GetValue<long>()).ToArray();
        using var stop = new CancellationTokenSource(length);
        var begin = DateTime.UtcNow;
        var sizes = new List<(TimeSpan At, long Memory, int Files, int Threads)>();
        var work = new List<Task>
        {
            Repeat(
                1,
                async random =>
                    await fralto.PostAsync(
                        "/stand-ins",
                        "",
                        ("key", faults[random.Next(faults.Length)]),
                        ("on", random.Next(2) == 0 ? "true" : "false")
                    ),
                stop.Token
            ),
            Repeat(2, async random => await Edit(fralto, random), stop.Token),
            Repeat(3, async random => await Look(fralto, random, nodes), stop.Token),
            Repeat(
                4,
                async random =>
                    await fralto.Http.PostAsync(
                        "/api/v1/commands",
                        Json(
                            $$"""{"path":"Corvane/TarnQuay/GrainHandling/SiloPark/S0{{random.Next(1, 9)}}/Aeration","""
                                + $"\"value\":\"{(random.Next(2) == 0 ? "Running" : "Stopped")}\"}}"
                        )
                    ),
                stop.Token
            ),
            Measure(fralto, begin, sizes, stop.Token),
        };
        for (var window = 0; window < 12; window++)
            work.Add(Windows(fralto, 100 + window, nodes, stop.Token));
        await Task.WhenAll(work);
        _failures.ShouldBeEmpty(string.Join('\n', _failures.Distinct().Take(10)));

        // All faults over: every controller is there again, and its values are good.
        foreach (var fault in faults)
            await fralto.PostAsync("/stand-ins", "", ("key", fault), ("on", "false"));
        for (var tries = 0; ; tries++)
        {
            var states = (await fralto.ListAsync("/api/v1/controllers")).Select(c => $"{c!["name"]} {c["state"]} {c["reason"]}").ToArray();
            if (states.All(s => s.Contains(" Up ", StringComparison.Ordinal)))
                break;
            tries.ShouldBeLessThan(120, string.Join("; ", states));
            await Task.Delay(500);
        }
        (await fralto.Http.GetFromJsonAsync<JsonObject>("/healthz"))!["status"]!.GetValue<string>().ShouldBe("healthy");
        fralto
            .Log.Where(l => l.Contains(" ERR ", StringComparison.Ordinal) || l.Contains(" FTL ", StringComparison.Ordinal))
            .ShouldBeEmpty();
        // Nothing grows: what there is at the end is what there was after the first third, give or take.
        var (early, late) = (sizes[sizes.Count / 3], sizes[^1]);
        Console.WriteLine(
            string.Create(
                CultureInfo.InvariantCulture,
                $"soak of {length.TotalMinutes:0.##} min: memory {early.Memory >> 20} to {late.Memory >> 20} MB, open files "
                    + $"{early.Files} to {late.Files}, threads {early.Threads} to {late.Threads}"
            )
        );
        late.Memory.ShouldBeLessThan(early.Memory + (early.Memory / 2) + (200L << 20));
        late.Files.ShouldBeLessThan(early.Files + 150);
        late.Threads.ShouldBeLessThan(early.Threads + 60);
    }

    /// <summary>Opens a window's stream, listens a while, and leaves without a word, again and again.</summary>
    private async Task Windows(RunningFralto fralto, int seed, long[] nodes, CancellationToken stop)
    {
        var random = new Random(seed);
        while (!stop.IsCancellationRequested)
        {
            using var leave = CancellationTokenSource.CreateLinkedTokenSource(stop);
            leave.CancelAfter(random.Next(50, 3000));
            try
            {
                var scope = random.Next(3) == 0 ? "header" : $"place:{nodes[random.Next(nodes.Length)]}";
                using var answer = await fralto.Http.GetAsync(
                    $"/live/events?scope={scope}",
                    HttpCompletionOption.ResponseHeadersRead,
                    leave.Token
                );
                if (answer.StatusCode != HttpStatusCode.OK)
                    lock (_failures)
                        _failures.Add($"{answer.StatusCode} {scope}");
                using var reader = new StreamReader(await answer.Content.ReadAsStreamAsync(leave.Token));
                while (await reader.ReadLineAsync(leave.Token) is { } line)
                    if (line.StartsWith("data: ", StringComparison.Ordinal))
                        JsonNode.Parse(line[6..]).ShouldNotBeNull();
            }
            catch (OperationCanceledException)
            {
                // It has left.
            }
        }
    }

    private static async Task<HttpResponseMessage> Edit(RunningFralto fralto, Random random) =>
        random.Next(3) switch
        {
            0 => await fralto.PostAsync("/journal", "Undo"),
            1 => await fralto.PostAsync("/journal", "Redo"),
            _ => await fralto.Http.PostAsync(
                "/api/v1/bindings",
                Json($$"""{"bindings":[{"path":"Corvane/TarnQuay/Kilning/KilnHouse/KLN{{random.Next(1, 5)}}/AirOn","tag":null}]}""")
            ),
        };

    private static async Task<HttpResponseMessage> Look(RunningFralto fralto, Random random, long[] nodes) =>
        await fralto.Http.GetAsync(
            random.Next(7) switch
            {
                0 => "/alarms",
                1 => $"/live?at={nodes[random.Next(nodes.Length)]}",
                2 => "/checks",
                3 => "/api/v1/values?limit=50",
                4 => $"/plant?at={nodes[random.Next(nodes.Length)]}",
                5 => "/controllers",
                _ => "/api/v1/model",
            }
        );

    private async Task Repeat(int seed, Func<Random, Task<HttpResponseMessage>> once, CancellationToken stop)
    {
        var random = new Random(seed);
        while (!stop.IsCancellationRequested)
        {
            try
            {
                using var answer = await once(random);
                if ((int)answer.StatusCode >= 500)
                    lock (_failures)
                        _failures.Add($"{(int)answer.StatusCode} {answer.RequestMessage?.RequestUri}");
            }
            catch (HttpRequestException e)
            {
                lock (_failures)
                    _failures.Add(e.Message);
            }
            await Task.Delay(random.Next(20, 300), CancellationToken.None);
        }
    }

    private static async Task Measure(RunningFralto fralto, DateTime begin, List<(TimeSpan, long, int, int)> sizes, CancellationToken stop)
    {
        while (!stop.IsCancellationRequested)
        {
            var status = await File.ReadAllLinesAsync($"/proc/{fralto.ProcessId}/status", CancellationToken.None);
            long Of(string name) =>
                long.Parse(
                    status
                        .First(l => l.StartsWith(name, StringComparison.Ordinal))
                        .Split([' ', '\t'], StringSplitOptions.RemoveEmptyEntries)[1],
                    CultureInfo.InvariantCulture
                );
            sizes.Add(
                (
                    DateTime.UtcNow - begin,
                    Of("VmRSS:") * 1024,
                    Directory.GetFileSystemEntries($"/proc/{fralto.ProcessId}/fd").Length,
                    (int)Of("Threads:")
                )
            );
            await Task.Delay(1000, stop).ConfigureAwait(ConfigureAwaitOptions.SuppressThrowing);
        }
    }

    private static StringContent Json(string text) => new(text, Encoding.UTF8, "application/json");

    [GeneratedRegex("name=\"key\"[^>]* value=\"([^\"]+)\"")]
    private static partial Regex FaultKeys();
}
