using System.Diagnostics;
using System.Globalization;
using System.Text.Json.Nodes;
using Fralto.Core.Engine;
using Fralto.Core.OpcUa;
using Fralto.Core.Scaling;
using Fralto.Links;
using Fralto.Links.OpcUa;
using Fralto.StandIns.OpcUa;

namespace Fralto.Bench;

/// <summary>What OPC UA takes of a machine: changes through the child, the pipe, scale and limits, how late they are, and browsing a
/// large server.</summary>
/// <remarks>The server runs in a process of its own, so that only the client's share is measured.</remarks>
internal static class UaBench
{
    private const int Items = 2000;
    private const int ChangesASecond = 20_000;
    private const int Large = 100_000;

    /// <summary>Changes a second that are followed while a large server is browsed.</summary>
    private const int FollowedChanges = 1000;

    public static async Task RunAsync(int seconds)
    {
        await ChangesAsync(seconds);
        await BrowseAsync();
    }

    /// <summary>A server with so many variables and changes a second; ends when standard input does.</summary>
    public static async Task ServeAsync(int nodes, int changes)
    {
        var directory = Directory.CreateTempSubdirectory("fralto-bench-").FullName;
        await using var server = new UaServer(0, directory, nodes);
        server.Start();
        await server.Ready;
        Console.WriteLine(server.Port);
        var ended = Task.Run(Console.In.ReadToEnd);
        using var timer = new PeriodicTimer(TimeSpan.FromMilliseconds(100));
        for (var round = 0; changes > 0 && !ended.IsCompleted && await timer.WaitForNextTickAsync(); round++)
        {
            var values = new JsonObject();
            for (var i = 0; i < changes / 10; i++)
                values[$"F.{i % nodes}"] = round * 7 % 32_000 + i % 100;
            await server.SayAsync(values);
        }
        await ended;
    }

    private static async Task ChangesAsync(int seconds)
    {
        using var child = LinksBench.Child("links-ua", $"{Items}", $"{ChangesASecond}");
        var port = int.Parse((await child.StandardOutput.ReadLineAsync())!, CultureInfo.InvariantCulture);
        var (plan, tags) = LinksBench.Plant(Items, i => new NodeAddress("urn:corvane:utilities", $"s=F.{i}"), RawType.Float64);
        using var stop = new CancellationTokenSource();
        var mailbox = new SampleMailbox();
        var identity = new UaIdentity(Directory.CreateTempSubdirectory("fralto-bench-").FullName);
        var link = new OpcUaDriver(identity, TimeProvider.System).Create(
            new(
                new(
                    1,
                    "ua",
                    new OpcUaConnection($"opc.tcp://127.0.0.1:{port}") { Security = UaSecurity.None },
                    TimeSpan.FromMilliseconds(50)
                ),
                tags,
                mailbox,
                TimeProvider.System
            )
        );
        var running = link.RunAsync(stop.Token);
        var (engine, batches, late) = (new PlantEngine(plan), new List<SampleBatch>(), new List<double>());
        using var timer = new PeriodicTimer(TimeSpan.FromMilliseconds(20));
        var (warm, watch) = (Stopwatch.StartNew(), (Stopwatch?)null);
        var (own, its) = (TimeSpan.Zero, TimeSpan.Zero);
        while (await timer.WaitForNextTickAsync())
        {
            batches.Clear();
            mailbox.Take(int.MaxValue, batches);
            foreach (var batch in batches)
            {
                engine.Step(batch.Samples, batch.Arrived);
                if (watch is not null)
                    foreach (var sample in batch.Samples)
                        if (sample.Status.IsGood)
                            late.Add((batch.Arrived.UtcTicks - sample.TimeTicks) / (double)TimeSpan.TicksPerMillisecond);
            }
            engine.Advance(TimeProvider.System.Moment());
            engine.Output.Events.Clear();
            engine.Output.ClearChanges();
            if (watch is null && warm.Elapsed.TotalSeconds > 8)
                (watch, own, its) = (Stopwatch.StartNew(), Environment.CpuUsage.TotalTime, ChildCpu());
            if (watch?.Elapsed.TotalSeconds >= seconds)
                break;
        }
        var elapsed = watch!.Elapsed;
        if (late.Count == 0)
        {
            Console.WriteLine($"No value came: {link.Status}");
            return;
        }
        var (cores, childCores) = ((Environment.CpuUsage.TotalTime - own) / elapsed, (ChildCpu() - its) / elapsed);
        late.Sort();
        Figure("OPC UA changes through child, pipe, scale and limits", late.Count / elapsed.TotalSeconds, "changes/s", $"{ChangesASecond}");
        Figure("OPC UA, of a core in the child", childCores, "cores", "0.25 in all");
        Figure("OPC UA, of a core in this process", cores, "cores", "0.25 in all");
        Figure("OPC UA latency, median", late[late.Count / 2], "ms", "none");
        Figure("OPC UA latency, p99", late[late.Count * 99 / 100], "ms", "200");
        Figure("OPC UA values overtaken", link.Status.Dropped, "values", "0");
        await stop.CancelAsync();
        await running;
        child.StandardInput.Close();
        await child.WaitForExitAsync();
    }

    private static async Task BrowseAsync()
    {
        using var child = LinksBench.Child("links-ua", $"{Large}", $"{FollowedChanges}");
        var port = int.Parse((await child.StandardOutput.ReadLineAsync())!, CultureInfo.InvariantCulture);
        using var stop = new CancellationTokenSource();
        var identity = new UaIdentity(Directory.CreateTempSubdirectory("fralto-bench-").FullName);
        var mailbox = new SampleMailbox();
        var (_, tags) = LinksBench.Plant(FollowedChanges / 10, i => new NodeAddress("urn:corvane:utilities", $"s=F.{i}"), RawType.Float64);
        var link = new OpcUaDriver(identity, TimeProvider.System).Create(
            new(
                new(
                    1,
                    "ua",
                    new OpcUaConnection($"opc.tcp://127.0.0.1:{port}") { Security = UaSecurity.None },
                    TimeSpan.FromMilliseconds(100)
                ),
                tags,
                mailbox,
                TimeProvider.System
            )
        );
        var running = link.RunAsync(stop.Token);
        while (link.Status.State != LinkState.Up)
            await Task.Delay(50);
        await Task.Delay(TimeSpan.FromSeconds(2));
        var before = await LateAsync(Task.Delay(TimeSpan.FromSeconds(5)));
        var watch = Stopwatch.StartNew();
        var first = 0.0;
        var browsing = link.BrowseAsync(new("") { Found = _ => first = first == 0 ? watch.Elapsed.TotalSeconds : first }, stop.Token);
        var meanwhile = await LateAsync(browsing);
        var all = await browsing;
        Figure($"OPC UA browse of {all.Items.Count} variables", watch.Elapsed.TotalSeconds, "s", "60");
        Figure("OPC UA browse, until it says how many were found", first, "s", "none");
        Figure("OPC UA latency p99 before browsing, published every 100 ms", before, "ms", "none");
        Figure("OPC UA latency p99 while browsing", meanwhile, "ms", "none");
        if (all.Problem is not null)
            Console.WriteLine(all.Problem);
        await stop.CancelAsync();
        await running;
        child.StandardInput.Close();
        await child.WaitForExitAsync();

        // How late 99 of 100 values are, from the server's time to here, until something has ended.
        async Task<double> LateAsync(Task ends)
        {
            var (late, batches) = (new List<double>(), new List<SampleBatch>());
            mailbox.Take(int.MaxValue, batches);
            batches.Clear();
            while (!ends.IsCompleted)
            {
                mailbox.Take(int.MaxValue, batches);
                var now = DateTime.UtcNow.Ticks;
                late.AddRange(batches.SelectMany(b => b.Samples).Select(s => (now - s.TimeTicks) / (double)TimeSpan.TicksPerMillisecond));
                batches.Clear();
                await Task.Delay(5);
            }
            late.Sort();
            return late.Count == 0 ? double.NaN : late[late.Count * 99 / 100];
        }
    }

    /// <summary>What the children of this process that speak OPC UA have used.</summary>
    private static TimeSpan ChildCpu() =>
        Process
            .GetProcessesByName("node")
            .Where(p => File.ReadAllText($"/proc/{p.Id}/cmdline").Contains("ua-client", StringComparison.Ordinal))
            .Aggregate(TimeSpan.Zero, (sum, p) => sum + p.TotalProcessorTime);

    private static void Figure(string name, double value, string unit, string aim) =>
        Console.WriteLine(string.Create(CultureInfo.InvariantCulture, $"figure: {name} = {value:0.###} {unit} (aim {aim})"));
}
