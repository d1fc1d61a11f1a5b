using Fralto.Core.Controllers;
using Fralto.Core.Engine;
using Fralto.Core.Modbus;
using Fralto.Core.Mqtt;
using Fralto.Core.Plant;
using Fralto.Core.Quality;
using Fralto.Core.Scaling;
using Fralto.Core.Sparkplug;
using Fralto.StandIns.Modbus;

namespace Fralto.StandIns.Maltings;

/// <summary>What the controllers of the maltings would have told before they were started: the same simulation, run through a stretch of
/// the past.</summary>
public sealed class MaltingsPast
{
    /// <summary>What has been for longer than this is told once a minute, and since then every ten seconds; silos, which are slow, at every
    /// sixth of those times.</summary>
    private static readonly TimeSpan Recent = TimeSpan.FromHours(6);

    private const int Slow = 6;

    /// <summary>A kiln goes in longer steps than while it lives: what is told once a minute is an hour of its life.</summary>
    private static readonly TimeSpan Step = TimeSpan.FromSeconds(20);

    private readonly KilnPlc _kilns;
    private readonly SteepPlc _steeps;
    private readonly KilnPlc _pilotKiln;
    private readonly SteepPlc _pilotSteeps;
    private readonly Box[] _boxes;
    private readonly GrainSilo[] _silos;
    private readonly (long TagId, int Element, Func<double> Read)[] _readings;
    private readonly int _quick;

    /// <param name="model">The model, for its tags.</param>
    /// <param name="seed">Seed of the simulation.</param>
    public MaltingsPast(PlantModel model, ulong seed)
    {
        _kilns = new(StandInPlant.KilnsOf(seed, Step));
        _steeps = new(StandInPlant.SteepsOf(seed));
        _pilotKiln = new(StandInPlant.PilotKilnOf(seed, Step));
        _pilotSteeps = new(StandInPlant.PilotSteepsOf(seed), brokenSensor: null);
        (_boxes, _silos) = (StandInPlant.BoxesOf(seed), StandInPlant.SilosOf(seed));
        _readings =
        [
            .. model
                .Tags.Values.OrderBy(t => t.Id)
                .Where(t => t.Type != RawType.Text)
                .SelectMany(t =>
                    Enumerable
                        .Range(0, t.Count)
                        .Select(i => (t.Id, Element: i, Read: ReaderOf(model.Controllers[t.ControllerId].Name, t, i)))
                )
                .Where(r => r.Read is not null)
                .OrderBy(r => model.Tags[r.Id].Address is TopicAddress)
                // A door is shut when its kiln says that it runs: contacts are told first.
                .ThenBy(r => model.Tags[r.Id].Type != RawType.Bool)
                .Select(r => (r.Id, r.Element, r.Read!)),
        ];
        _quick = _readings.Count(r => model.Tags[r.TagId].Address is not TopicAddress);
    }

    /// <summary>What was told, step by step; once only.</summary>
    /// <param name="from">When it begins.</param>
    /// <param name="to">When it ends.</param>
    public IEnumerable<SampleBatch> Between(DateTimeOffset from, DateTimeOffset to)
    {
        var step = 0;
        for (var at = from; at < to; at += to - at > Recent ? TimeSpan.FromMinutes(1) : TimeSpan.FromSeconds(10))
        {
            var simulated = (at - from) * StandInPlant.Speed;
            _kilns.AdvanceTo(simulated);
            _steeps.AdvanceTo(simulated);
            _pilotKiln.AdvanceTo(simulated);
            _pilotSteeps.AdvanceTo(simulated);
            foreach (var box in _boxes)
                box.AdvanceTo(simulated);
            foreach (var silo in _silos)
                silo.AdvanceTo(simulated);
            var samples = new Sample[step++ % Slow == 0 ? _readings.Length : _quick];
            for (var i = 0; i < samples.Length; i++)
            {
                var (tag, element, read) = _readings[i];
                var raw = read();
                samples[i] = double.IsNaN(raw)
                    ? new(tag, raw, StatusCode.BadSensorFailure, at.UtcTicks, "not a number", element)
                    : new(tag, raw, StatusCode.Good, at.UtcTicks, null, element);
            }
            yield return new(samples, Moment.At(at));
        }
    }

    /// <summary>What reads an element of a tag; null where nobody told it.</summary>
    private Func<double>? ReaderOf(string controller, Tag tag, int element) =>
        tag.Address switch
        {
            ModbusAddress address when BankOf(controller, address) is { } bank => ReaderOf(bank, address, tag, element),
            MetricAddress { Group: BoxEdge.Group, Node: BoxEdge.Node, Device: ['b', 'o', 'x', '-', .. var number] } address
                when int.TryParse(number, out var box)
                    && box >= 1
                    && box <= _boxes.Length
                    && BoxEdge.ReaderOf(box - 1, address.Metric, address.Element ?? element) is { } read => () => read(_boxes[box - 1]),
            TopicAddress { Pointer: { } pointer } address
                when SiloHub.SiloOf(address.Topic) is { } silo && silo < _silos.Length && SiloHub.ReaderOf(silo, pointer) is { } read =>
                () => read(_silos[silo]),
            TopicAddress { Pointer: null } address
                when SiloHub.SiloOf(address.Topic) is { } silo
                    && silo < _silos.Length
                    && address.Topic.EndsWith("/aeration", StringComparison.Ordinal) => () => Bit(_silos[silo].IsAired),
            _ => null,
        };

    private RegisterBank? BankOf(string controller, ModbusAddress address) =>
        controller switch
        {
            StandInPlant.KilnPlcName => _kilns.Bank,
            StandInPlant.SteepPlcName => _steeps.Bank,
            StandInPlant.TrialPlcName => address.UnitId == StandInPlant.PilotSteepsUnit ? _pilotSteeps.Bank : _pilotKiln.Bank,
            _ => null,
        };

    /// <summary>What reads registers; null where the table does not reach so far.</summary>
    private static Func<double>? ReaderOf(RegisterBank bank, ModbusAddress address, Tag tag, int element)
    {
        Func<double> read =
            address.Area is RegisterArea.Coil or RegisterArea.DiscreteInput ? () => Bit(bank.Bit(address.Area, address.Offset + element))
            : address.Bit is { } bit
                ? () => Bit((((int)bank.Read(address.Area, address.Offset, RawType.UInt16, tag.WordOrder) >> bit) & 1) != 0)
            : tag.Type == RawType.Bool ? () => Bit(bank.PackedBool(address.Offset, element, tag.WordOrder))
            : () => bank.Read(address.Area, address.Offset + element * RawCodec.WordsOf(tag.Type), tag.Type, tag.WordOrder);
        try
        {
            read();
            return read;
        }
        catch (Exception e) when (e is ArgumentOutOfRangeException or IndexOutOfRangeException)
        {
            return null;
        }
    }

    private static double Bit(bool on) => on ? 1 : 0;
}
