using Fralto.Sparkplug.Wire;
using Fralto.StandIns.Mqtt;
using Google.Protobuf;

namespace Fralto.StandIns.Maltings;

/// <summary>The edge node of the box house: Sparkplug B with aliases, units and ranges; each box is a device.</summary>
/// <remarks>Its honest mistakes: box 4 has the top and the bottom of its bed swapped, box 2 says degC for its humidity, box 6 has no carbon
/// dioxide.</remarks>
public sealed class BoxEdge : IAsyncDisposable
{
    public const string Group = "Corvane";

    public const string Node = "box-edge";

    /// <summary>The box whose bed has top and bottom swapped.</summary>
    public const int SwappedBed = 4;

    /// <summary>The box whose humidity says a wrong unit.</summary>
    public const int WrongUnit = 2;

    /// <summary>The box without carbon dioxide.</summary>
    public const int WithoutCarbonDioxide = 6;

    private const uint Int32 = 3,
        Float = 9,
        Boolean = 11,
        BooleanArray = 32,
        Template = 19,
        Int64 = 4;
    private const int AliasesPerBox = 100;
    private static readonly TimeSpan Every = TimeSpan.FromSeconds(1);
    private readonly IReadOnlyList<Box> _boxes;
    private readonly Point[][] _points;
    private readonly Publisher _publisher;
    private readonly Dictionary<(int Box, string Name), double> _said = [];
    private readonly Lock _lock = new();
    private readonly TimeProvider _clock;
    private ulong _bdSeq;
    private ulong _seq;
    private bool _isAsked;
    private TimeSpan _next;

    public BoxEdge(IReadOnlyList<Box> boxes, Func<int> port, TimeProvider clock)
    {
        (_boxes, _clock) = (boxes, clock);
        _points = [.. Enumerable.Range(0, boxes.Count).Select(PointsOf)];
        _publisher = new(port, "box-edge")
        {
            Will = () => ($"spBv1.0/{Group}/NDEATH/{Node}", Death(), false),
            Listens = [$"spBv1.0/{Group}/NCMD/{Node}/#", $"spBv1.0/{Group}/DCMD/{Node}/#"],
            Heard = Command,
        };
    }

    /// <summary>True while it is switched off.</summary>
    public bool IsGone => _publisher.IsOff;

    /// <summary>The box, from 1, whose values stand still; 0 for none.</summary>
    public int Stuck { get; set; }

    /// <summary>Breaks its connection without leave, or lets it come back.</summary>
    public void Switch(bool gone) => _publisher.Switch(gone);

    /// <summary>Publishes births when connected and data as it changes.</summary>
    public async Task AdvanceToAsync(TimeSpan simulated, TimeSpan real, CancellationToken stop)
    {
        var connected = await _publisher.ConnectAsync(stop);
        for (var i = 0; i < _boxes.Count; i++)
            if (i + 1 != Stuck)
                _boxes[i].AdvanceTo(simulated);
        if (connected)
            _next = real;
        if (connected || _isAsked)
            await BearAsync();
        if (real < _next)
            return;
        _next = real + Every;
        for (var i = 0; i < _boxes.Count; i++)
        {
            var data = new Payload { Timestamp = Now };
            foreach (var point in _points[i])
            {
                var value = point.Read(_boxes[i]);
                if (_said.TryGetValue((i, point.Name), out var was) && was == value)
                    continue;
                _said[(i, point.Name)] = value;
                data.Metrics.Add(Metric(point, value, i, false));
            }
            if (data.Metrics.Count > 0)
                await SendAsync("DDATA", i, data);
        }
    }

    public ValueTask DisposeAsync() => _publisher.DisposeAsync();

    private ulong Now => (ulong)_clock.GetUtcNow().ToUnixTimeMilliseconds();

    private static string Device(int index) => $"box-{index + 1}";

    private byte[] Death()
    {
        _bdSeq = (_bdSeq + 1) % 256;
        return new Payload
        {
            Timestamp = Now,
            Metrics =
            {
                new Metric
                {
                    Name = "bdSeq",
                    Datatype = Int64,
                    LongValue = _bdSeq,
                },
            },
        }.ToByteArray();
    }

    private async Task BearAsync()
    {
        _isAsked = false;
        _seq = 255;
        _said.Clear();
        await SendAsync(
            "NBIRTH",
            null,
            new Payload
            {
                Timestamp = Now,
                Metrics =
                {
                    new Metric
                    {
                        Name = "bdSeq",
                        Datatype = Int64,
                        LongValue = _bdSeq,
                    },
                    new Metric
                    {
                        Name = "Node Control/Rebirth",
                        Datatype = Boolean,
                        BooleanValue = false,
                    },
                    new Metric
                    {
                        Name = "Properties/Firmware",
                        Datatype = 12,
                        StringValue = "box-edge 1.7",
                    },
                },
            }
        );
        for (var i = 0; i < _boxes.Count; i++)
        {
            var birth = new Payload { Timestamp = Now };
            var box = _boxes[i];
            foreach (var point in _points[i])
                birth.Metrics.Add(Metric(point, point.Read(box), i, true));
            // The carriage is a template: its members are flattened by whoever reads it.
            birth.Metrics.Add(
                new Metric
                {
                    Name = "carriage",
                    Datatype = Template,
                    TemplateValue = new()
                    {
                        TemplateRef = "Carriage",
                        Metrics =
                        {
                            Float32("position", box.Carriage, "m", 0, 42),
                            new Metric
                            {
                                Name = "moving",
                                Datatype = Boolean,
                                BooleanValue = box.Phase == BoxPhase.Turn,
                            },
                        },
                    },
                }
            );
            birth.Metrics.Add(
                new Metric
                {
                    Name = "contacts",
                    Datatype = BooleanArray,
                    BytesValue = Contacts(box),
                }
            );
            await SendAsync("DBIRTH", i, birth);
        }
    }

    private async Task SendAsync(string message, int? box, Payload payload)
    {
        _seq = (_seq + 1) % 256;
        payload.Seq = _seq;
        if (box is { } i && message == "DDATA")
        {
            var state = _boxes[i];
            payload.Metrics.Add(
                new Metric
                {
                    Name = "carriage",
                    Datatype = Template,
                    TemplateValue = new()
                    {
                        TemplateRef = "Carriage",
                        Metrics =
                        {
                            Float32("position", state.Carriage, null, 0, 0),
                            new Metric
                            {
                                Name = "moving",
                                Datatype = Boolean,
                                BooleanValue = state.Phase == BoxPhase.Turn,
                            },
                        },
                    },
                }
            );
            payload.Metrics.Add(
                new Metric
                {
                    Name = "contacts",
                    Datatype = BooleanArray,
                    BytesValue = Contacts(state),
                }
            );
        }
        await _publisher.SayAsync($"spBv1.0/{Group}/{message}/{Node}{(box is { } b ? "/" + Device(b) : "")}", payload.ToByteArray());
    }

    /// <summary>What the node tells of a box, and what it reads for it.</summary>
    private static Point[] PointsOf(int index)
    {
        var (top, low) = index + 1 == SwappedBed ? (2, 0) : (0, 2);
        var points = new List<Point>
        {
            new(1, "bed/top", Float, b => Round(b.Bed[top]), "degC", 0, 40, "bed temperature, top"),
            new(2, "bed/mid", Float, b => Round(b.Bed[1]), "degC", 0, 40, "bed temperature, middle"),
            new(3, "bed/low", Float, b => Round(b.Bed[low]), "degC", 0, 40, "bed temperature, bottom"),
            new(4, "air/on", Float, b => Round(b.AirOn), "degC", 0, 40, "air below the bed"),
            new(5, "air/off", Float, b => Round(b.AirOff), "degC", 0, 40, "air above the bed"),
            new(
                6,
                "air/humidity",
                Float,
                b => Round(b.Humidity),
                index + 1 == WrongUnit ? "degC" : "%",
                0,
                100,
                "relative humidity of the air"
            ),
            new(7, "air/co2", Float, b => Round(b.CarbonDioxide), "%", 0, 10, "carbon dioxide in the air"),
            new(8, "air/setpoint", Float, b => Round(b.Setpoint), "degC", 0, 40, "setpoint of the air below the bed"),
            new(9, "air/damper", Float, b => Round(b.Damper), "%", 0, 100, "fresh air damper"),
            new(10, "fan/speed", Int32, b => Math.Round(b.Fan / 100 * KilnPlc.FullScale), null, 0, 0, "fan speed, counts of 32767"),
            new(11, "fan/run", Boolean, b => b.Fan > 5 ? 1 : 0, null, 0, 0, "fan running"),
            new(12, "phase", Int32, b => (int)b.Phase, null, 0, 0, "0 idle, 1 load, 2 germinate, 3 turn, 4 unload"),
        };
        if (index + 1 == WithoutCarbonDioxide)
            points.RemoveAll(p => p.Name == "air/co2");
        return [.. points];
    }

    /// <summary>What is read for a metric of a box; null where there is none.</summary>
    /// <param name="index">The box, from 0.</param>
    /// <param name="metric">The metric, members of templates by their path.</param>
    /// <param name="element">The element of an array; 0 for what is none.</param>
    internal static Func<Box, double>? ReaderOf(int index, string metric, int element) =>
        metric switch
        {
            "carriage/position" => b => (float)Round(b.Carriage),
            "carriage/moving" => b => b.Phase == BoxPhase.Turn ? 1 : 0,
            "contacts" => b => (ContactsOf(b) >> (7 - element)) & 1,
            _ => Array.Find(PointsOf(index), p => p.Name == metric) is { } point ? b => (float)point.Read(b) : null,
        };

    private static double Round(double value) => Math.Round(value, 2);

    private static Metric Metric(Point point, double value, int box, bool birth)
    {
        var metric = new Metric { Alias = (ulong)(box * AliasesPerBox + point.Alias) };
        if (birth)
        {
            metric.Name = point.Name;
            metric.Datatype = point.Datatype;
            Describe(metric, point.Unit, point.Low, point.High, point.Text);
        }
        switch (point.Datatype)
        {
            case Float:
                metric.FloatValue = (float)value;
                break;
            case Boolean:
                metric.BooleanValue = value != 0;
                break;
            default:
                metric.IntValue = (uint)(int)value;
                break;
        }
        return metric;
    }

    private static Metric Float32(string name, double value, string? unit, double low, double high)
    {
        var metric = new Metric
        {
            Name = name,
            Datatype = Float,
            FloatValue = (float)Math.Round(value, 2),
        };
        if (unit is not null)
            Describe(metric, unit, low, high, "");
        return metric;
    }

    private static void Describe(Metric metric, string? unit, double low, double high, string text)
    {
        var set = new PropertySet();
        void Add(string key, PropertyValue value)
        {
            set.Keys.Add(key);
            set.Values.Add(value);
        }
        if (unit is not null)
            Add("engUnit", new() { Type = 12, StringValue = unit });
        if (high > low)
        {
            Add("engLow", new() { Type = 10, DoubleValue = low });
            Add("engHigh", new() { Type = 10, DoubleValue = high });
        }
        if (text.Length > 0)
            Add("documentation", new() { Type = 12, StringValue = text });
        if (set.Keys.Count > 0)
            metric.Properties = set;
    }

    /// <summary>Eight contacts: fan, carriage, two doors, spray, three spare; their number first, then a bit each from the
    /// highest.</summary>
    private static ByteString Contacts(Box box) => ByteString.CopyFrom(8, 0, 0, 0, ContactsOf(box));

    private static byte ContactsOf(Box box) => (byte)((box.Fan > 5 ? 0x80 : 0) | (box.Phase == BoxPhase.Turn ? 0x40 : 0) | 0x30);

    private void Command(string topic, byte[] bytes)
    {
        lock (_lock)
        {
            Payload payload;
            try
            {
                payload = Payload.Parser.ParseFrom(bytes);
            }
            catch (InvalidProtocolBufferException)
            {
                return;
            }
            foreach (var metric in payload.Metrics)
            {
                if (metric.Name == "Node Control/Rebirth" && metric.BooleanValue)
                    _isAsked = true;
                var box = (int)(metric.Alias / AliasesPerBox);
                if (metric.HasAlias && metric.Alias % AliasesPerBox == 8 && box < _boxes.Count && metric.FloatValue is >= 8 and <= 25)
                    _boxes[box].Setpoint = metric.FloatValue;
            }
        }
    }

    private sealed record Point(
        uint Alias,
        string Name,
        uint Datatype,
        Func<Box, double> Read,
        string? Unit,
        double Low,
        double High,
        string Text
    );
}
