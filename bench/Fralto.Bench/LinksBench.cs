using System.Collections.Immutable;
using System.Diagnostics;
using System.Globalization;
using Fralto.Core.Basics;
using Fralto.Core.Bindings;
using Fralto.Core.Controllers;
using Fralto.Core.Engine;
using Fralto.Core.Exchange;
using Fralto.Core.Hierarchy;
using Fralto.Core.Limits;
using Fralto.Core.Modbus;
using Fralto.Core.Mqtt;
using Fralto.Core.Planning;
using Fralto.Core.Plant;
using Fralto.Core.Properties;
using Fralto.Core.Scaling;
using Fralto.Core.Templates;
using Fralto.Links;
using Fralto.Links.Modbus;
using Fralto.Links.Mqtt;
using Fralto.StandIns.Modbus;

namespace Fralto.Bench;

/// <summary>How much the links take of a machine: twenty Modbus devices, a broker that sends as fast as is asked for, a long tag
/// list.</summary>
/// <remarks>Devices and broker run in a process of their own, so that only the client's share is measured.</remarks>
internal static class LinksBench
{
    private const int Devices = 20;
    private const int RegistersADevice = 1000;
    private const int Topics = 1000;
    private const int Rows = 100_000;

    public static async Task RunAsync()
    {
        await ModbusAsync(seconds: 20);
        await MqttAsync(50_000, seconds: 15);
        await MqttAsync(0, seconds: 10);
        await UaBench.RunAsync(seconds: 15);
        Import();
    }

    /// <summary>The twenty devices; ends when standard input does.</summary>
    public static async Task ServeDevicesAsync()
    {
        var servers = Enumerable
            .Range(0, Devices)
            .Select(_ => new ModbusServer(0, 1, new RegisterBank(8, 8, 8, RegistersADevice)))
            .ToArray();
        foreach (var server in servers)
            await server.OpenAsync();
        Console.WriteLine(string.Join(' ', servers.Select(s => s.Port)));
        await Console.In.ReadToEndAsync();
    }

    private static async Task ModbusAsync(int seconds)
    {
        using var child = Child("links-devices");
        var ports = (await child.StandardOutput.ReadLineAsync())!
            .Split(' ')
            .Select(p => int.Parse(p, CultureInfo.InvariantCulture))
            .ToArray();
        var (plan, tags) = Plant(
            Devices * RegistersADevice,
            i => new ModbusAddress(RegisterArea.HoldingRegister, i % RegistersADevice),
            RawType.Int16
        );
        using var stop = new CancellationTokenSource();
        var links = ports
            .Select(
                (port, i) =>
                    (
                        Mailbox: new SampleMailbox(),
                        Controller: new Controller(1 + i, $"plc-{i}", new ModbusConnection("127.0.0.1", port, 1), TimeSpan.FromSeconds(1)),
                        Tags: tags.Skip(i * RegistersADevice).Take(RegistersADevice).ToArray()
                    )
            )
            .Select(l => (l.Mailbox, Link: (ILink)new ModbusTcpLink(l.Controller, l.Tags, l.Mailbox, TimeProvider.System)))
            .ToArray();
        var running = links.Select(l => l.Link.RunAsync(stop.Token)).ToArray();
        var (samples, cores) = await MeasureAsync(plan, [.. links.Select(l => l.Mailbox)], seconds);
        Console.WriteLine(
            string.Create(
                CultureInfo.InvariantCulture,
                $"Modbus: {Devices} devices, {tags.Length} registers at 1 s: {samples:0} samples/s through the engine, "
                    + $"{links.Sum(l => l.Link.Status.RequestsPerPoll)} requests a round, {links.Sum(l => l.Link.Status.LatePolls)} "
                    + $"late polls, {links.Sum(l => l.Mailbox.Dropped)} dropped; {cores:0.00} of a core (aim: under 0.5)"
            )
        );
        await stop.CancelAsync();
        await Task.WhenAll(running);
        child.StandardInput.Close();
        await child.WaitForExitAsync();
    }

    private static async Task MqttAsync(int rate, int seconds)
    {
        using var child = Child("links-flood", rate.ToString(CultureInfo.InvariantCulture));
        var port = int.Parse((await child.StandardOutput.ReadLineAsync())!, CultureInfo.InvariantCulture);
        var (plan, tags) = Plant(Topics, i => new TopicAddress(FloodBroker.Topic(i), "/v"), RawType.Float64);
        using var stop = new CancellationTokenSource();
        var mailbox = new SampleMailbox();
        var link = new MqttLink(
            new Controller(1, "hub", new MqttConnection("127.0.0.1", port), TimeSpan.Zero),
            tags,
            mailbox,
            TimeProvider.System,
            null
        );
        var running = link.RunAsync(stop.Token);
        var (samples, cores) = await MeasureAsync(plan, [mailbox], seconds);
        Console.WriteLine(
            string.Create(
                CultureInfo.InvariantCulture,
                $"MQTT, {(rate > 0 ? $"{rate} messages/s sent" : "as fast as it goes")}: {samples:0} messages/s through JSON, scale "
                    + $"and limits, {mailbox.Dropped} dropped, {link.Status.Errors} errors; {cores:0.00} of a "
                    + $"core{(rate > 0 ? " (aim: at most 1, nothing dropped)" : $", {samples / cores:0} messages/s a core")}"
            )
        );
        await stop.CancelAsync();
        await running;
        child.StandardInput.Close();
        await child.WaitForExitAsync();
    }

    private static void Import()
    {
        var model = PlantModel.Empty with
        {
            Controllers = ImmutableDictionary<long, Controller>.Empty.Add(
                1,
                new(1, "plc", new ModbusConnection("127.0.0.1", 502, 1), TimeSpan.FromSeconds(1))
            ),
            NextId = 2,
        };
        var table = new Table(
            ["Name", "Address", "Type", "Unit", "Low", "High", "Description"],
            [
                .. Enumerable
                    .Range(0, Rows)
                    .Select(i =>
                        new[]
                        {
                            string.Create(CultureInfo.InvariantCulture, $"TT{i:D6}"),
                            string.Create(CultureInfo.InvariantCulture, $"unit {i / 50_000 + 1} holding {i % 50_000}"),
                            "float32",
                            "degC",
                            "0",
                            "120",
                            "temperature somewhere in the plant",
                        }
                    ),
            ]
        );
        var plc = model.Controllers[1];
        for (var run = 0; run < 3; run++)
        {
            var watch = Stopwatch.StartNew();
            var result = TagTable.Import(model, plc, table, TagTable.Recognise(table, plc, model.Units));
            Console.WriteLine(
                string.Create(
                    CultureInfo.InvariantCulture,
                    $"Tag list: dry run of {Rows} rows {(run == 0 ? "from cold " : "")}in {watch.Elapsed.TotalSeconds:0.00} s, "
                        + $"{result.Added} would be added, {result.Refused} refused (aim: under 5 s)"
                )
            );
        }
    }

    /// <summary>Steps the engine as the application does, and says how many samples came a second and how much of a core all of it
    /// took.</summary>
    private static async Task<(double Samples, double Cores)> MeasureAsync(Plan plan, SampleMailbox[] mailboxes, int seconds)
    {
        var (engine, batches, count) = (new PlantEngine(plan), new List<SampleBatch>(), 0L);
        using var timer = new PeriodicTimer(TimeSpan.FromMilliseconds(50));
        var warm = Stopwatch.StartNew();
        Stopwatch? watch = null;
        var cpu = TimeSpan.Zero;
        while (await timer.WaitForNextTickAsync())
        {
            foreach (var mailbox in mailboxes)
            {
                batches.Clear();
                mailbox.Take(int.MaxValue, batches);
                foreach (var batch in batches)
                {
                    engine.Step(batch.Samples, batch.Arrived);
                    if (watch is not null)
                        count += batch.Samples.Length;
                }
            }
            engine.Advance(TimeProvider.System.Moment());
            engine.Output.Events.Clear();
            engine.Output.ClearChanges();
            if (watch is null && warm.Elapsed.TotalSeconds > 4)
                (watch, cpu) = (Stopwatch.StartNew(), Environment.CpuUsage.TotalTime);
            if (watch?.Elapsed.TotalSeconds >= seconds)
                break;
        }
        return (count / watch!.Elapsed.TotalSeconds, (Environment.CpuUsage.TotalTime - cpu) / watch.Elapsed);
    }

    /// <summary>As many points as tags, each with a scale and two limits.</summary>
    internal static (Plan Plan, Tag[] Tags) Plant(int count, Func<int, TagAddress> address, RawType type)
    {
        const long Template = 10,
            Property = 11,
            First = 100;
        var controllers = Enumerable
            .Range(1, Devices)
            .Select(i => new Controller(
                i,
                $"plc-{i}",
                address(0) switch
                {
                    TopicAddress => new MqttConnection("h", 1883),
                    Core.OpcUa.NodeAddress => new Core.OpcUa.OpcUaConnection("opc.tcp://h"),
                    _ => new ModbusConnection("h", 502, 1),
                },
                TimeSpan.FromSeconds(1)
            ));
        var tags = Enumerable
            .Range(0, count)
            .Select(i => new Tag(First + i, 1 + i / RegistersADevice % Devices, $"T{i}", address(i), type, WordOrder.HighFirst, ""))
            .ToArray();
        var patch = new PropertyPatch
        {
            Unit = "CEL",
            Range = new(0, 120),
            Scale = new LinearScale(new Core.Scaling.Span(0, 32767), new(0, 120)),
            Limits = ImmutableSortedDictionary<LimitCondition, LimitPatch>
                .Empty.Add(LimitCondition.High, new(90, 1, 2))
                .Add(LimitCondition.Low, new(10, 1, 3)),
        };
        var nodes = Enumerable
            .Range(0, count)
            .Select(i => new Equipment(First + count + i, $"E{i}", $"E{i}", EquipmentLevel.Unit, null, Template, i))
            .ToArray();
        var model = new PlantModel
        {
            NextId = First + 2 * count + 1,
            Controllers = controllers.ToImmutableDictionary(c => c.Id),
            Tags = tags.ToImmutableDictionary(t => t.Id),
            Templates = ImmutableDictionary<long, Template>.Empty.Add(
                Template,
                new(Template, "T", "T", null, "")
                {
                    Properties = [new(Property, "V", "Value", PropertyKind.Measured, PropertyType.Number)],
                    Patches = ImmutableDictionary<long, PropertyPatch>.Empty.Add(Property, patch),
                }
            ),
            Equipment = nodes.ToImmutableDictionary(e => e.Id),
            Bindings = nodes
                .Select((e, i) => new PropertyBinding(e.Id, Property, tags[i].Id))
                .ToImmutableDictionary(b => (b.EquipmentId, b.PropertyId)),
        };
        return (Planner.Compile(model).Plan, tags);
    }

    internal static Process Child(params string[] args) =>
        Process.Start(
            new ProcessStartInfo(Environment.ProcessPath!, [typeof(LinksBench).Assembly.Location, .. args])
            {
                RedirectStandardInput = true,
                RedirectStandardOutput = true,
            }
        )!;
}
