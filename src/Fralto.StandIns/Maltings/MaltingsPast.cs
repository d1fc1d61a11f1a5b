using Fralto.Core.Controllers;
using Fralto.Core.Engine;
using Fralto.Core.Modbus;
using Fralto.Core.Plant;
using Fralto.Core.Quality;
using Fralto.Core.Scaling;
using Fralto.StandIns.Modbus;

namespace Fralto.StandIns.Maltings;

/// <summary>What the Modbus controllers of the maltings would have told before they were started: the same simulation, run through a
/// stretch of
/// the past.</summary>
public static class MaltingsPast
{
    /// <summary>What has been for longer than this is told once a minute, and since then every ten seconds.</summary>
    private static readonly TimeSpan Recent = TimeSpan.FromDays(1);

    /// <summary>What was told, step by step.</summary>
    /// <param name="model">The model, for its tags.</param>
    /// <param name="seed">Seed of the simulation.</param>
    /// <param name="from">When it begins.</param>
    /// <param name="to">When it ends.</param>
    public static IEnumerable<SampleBatch> Of(PlantModel model, ulong seed, DateTimeOffset from, DateTimeOffset to)
    {
        var kilns = new KilnPlc(StandInPlant.KilnsOf(seed));
        var steeps = new SteepPlc(StandInPlant.SteepsOf(seed));
        var pilotKiln = new KilnPlc(StandInPlant.PilotKilnOf(seed));
        var pilotSteeps = new SteepPlc(StandInPlant.PilotSteepsOf(seed), brokenSensor: null);
        var readers = new List<Func<Sample[]>>();
        foreach (var tag in model.Tags.Values.OrderBy(t => t.Id))
            if (
                tag.Address is ModbusAddress address
                && tag.Type != RawType.Text
                && BankOf(model.Controllers.GetValueOrDefault(tag.ControllerId)?.Name, address) is { } bank
            )
                readers.Add(() => Read(tag, address, bank));
        for (var at = from; at < to; at += to - at > Recent ? TimeSpan.FromMinutes(1) : TimeSpan.FromSeconds(10))
        {
            var simulated = (at - from) * StandInPlant.Speed;
            kilns.AdvanceTo(simulated);
            steeps.AdvanceTo(simulated);
            pilotKiln.AdvanceTo(simulated);
            pilotSteeps.AdvanceTo(simulated);
            yield return new([.. readers.SelectMany(r => r()).Select(s => s with { TimeTicks = at.UtcTicks })], Moment.At(at));
        }

        RegisterBank? BankOf(string? controller, ModbusAddress address) =>
            controller switch
            {
                StandInPlant.KilnPlcName => kilns.Bank,
                StandInPlant.SteepPlcName => steeps.Bank,
                StandInPlant.TrialPlcName => address.UnitId == StandInPlant.PilotSteepsUnit ? pilotSteeps.Bank : pilotKiln.Bank,
                _ => null,
            };
    }

    /// <summary>What a tag holds, element by element; nothing where the table does not reach so far.</summary>
    private static Sample[] Read(Tag tag, ModbusAddress address, RegisterBank bank)
    {
        try
        {
            return
            [
                .. Enumerable
                    .Range(0, tag.Count)
                    .Select(i =>
                        address.Area is RegisterArea.Coil or RegisterArea.DiscreteInput ? Bit(bank.Bit(address.Area, address.Offset + i))
                        : address.Bit is { } bit
                            ? Bit((((int)bank.Read(address.Area, address.Offset, RawType.UInt16, tag.WordOrder) >> bit) & 1) != 0)
                        : tag.Type == RawType.Bool ? Bit(bank.PackedBool(address.Offset, i, tag.WordOrder))
                        : bank.Read(address.Area, address.Offset + i * RawCodec.WordsOf(tag.Type), tag.Type, tag.WordOrder)
                    )
                    .Select(
                        (raw, i) =>
                            double.IsNaN(raw)
                                ? new Sample(tag.Id, raw, StatusCode.BadSensorFailure, 0, "not a number", i)
                                : new Sample(tag.Id, raw, StatusCode.Good, 0, null, i)
                    ),
            ];
        }
        catch (Exception e) when (e is ArgumentOutOfRangeException or IndexOutOfRangeException)
        {
            return [];
        }
    }

    private static double Bit(bool on) => on ? 1 : 0;
}
