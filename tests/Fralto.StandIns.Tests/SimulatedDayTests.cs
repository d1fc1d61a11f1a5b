using Fralto.Core.Alarms;
using Fralto.Core.Controllers;
using Fralto.Core.Diagnosis;
using Fralto.Core.Edits;
using Fralto.Core.Engine;
using Fralto.Core.Limits;
using Fralto.Core.Modbus;
using Fralto.Core.Planning;
using Fralto.Core.Plant;
using Fralto.Core.Quality;
using Fralto.Core.Scaling;
using Fralto.StandIns.Maltings;

namespace Fralto.StandIns.Tests;

/// <summary>The kiln house of the demo for a day, in seconds: which alarms its limits raise, and which they do not.</summary>
public class SimulatedDayTests
{
    private static readonly TimeSpan Step = TimeSpan.FromSeconds(5);
    private static readonly DateTimeOffset Begin = new(2026, 6, 1, 0, 0, 0, TimeSpan.Zero);
    private static readonly PlantModel Model = ShippedModel.Build();

    /// <summary>A day of the kilns as the demo has them.</summary>
    /// <param name="fault">What breaks, and mends, at which hour.</param>
    /// <param name="changed">The model, where it is not the shipped one.</param>
    private static List<AlarmEvent> Day(Action<KilnPlc, double>? fault = null, PlantModel? changed = null)
    {
        const ulong Seed = 20260601;
        var plc = new KilnPlc([
            new Kiln(Seed, 2.5) { TripsEveryHours = 4.5 },
            new Kiln(Seed + 1, 15.2) { Swing = 6 },
            new Kiln(Seed + 2, 7.4),
            new Kiln(Seed + 3, 11.1),
        ]);
        var model = changed ?? Model;
        var controller = model.Controllers.Values.Single(c => c.Name == StandInPlant.KilnPlcName).Id;
        var plan = Planner.Compile(model).Plan;
        var tags = plan
            .Tags.Where(t =>
                t.ControllerId == controller
                && t.Tag?.Address is ModbusAddress { Area: RegisterArea.InputRegister or RegisterArea.HoldingRegister }
            )
            .ToArray();
        var (engine, events) = (new PlantEngine(plan), new List<AlarmEvent>());
        var samples = new Sample[tags.Length];
        for (var time = TimeSpan.Zero; time < TimeSpan.FromDays(1); time += Step)
        {
            fault?.Invoke(plc, time.TotalHours);
            plc.AdvanceTo(time);
            var now = Begin + time;
            for (var i = 0; i < tags.Length; i++)
            {
                var raw = Read(plc, tags[i]);
                samples[i] = new(
                    tags[i].TagId,
                    raw,
                    double.IsFinite(raw) ? StatusCode.Good : StatusCode.BadSensorFailure,
                    now.UtcTicks,
                    Element: tags[i].Element
                );
            }
            engine.Step(samples, Moment.At(now));
            engine.Advance(Moment.At(now));
            events.AddRange(engine.Output.Events);
            engine.Output.Events.Clear();
            engine.Output.ClearChanges();
        }
        return events;
    }

    private static double Read(KilnPlc plc, PlanTag tag)
    {
        var address = (ModbusAddress)tag.Tag!.Address;
        if (tag.Tag.Type != RawType.Bool)
            return plc.Bank.Read(address.Area, address.Offset, tag.Tag.Type, tag.Tag.WordOrder);
        var words = new ushort[KilnPlc.Contacts / 16];
        for (var w = 0; w < words.Length; w++)
            words[w] = (ushort)plc.Bank.Read(address.Area, address.Offset + w, RawType.UInt16, WordOrder.HighFirst);
        return RawCodec.ReadPackedBool(words, tag.Element, tag.Tag.WordOrder) ? 1 : 0;
    }

    private static string Name(AlarmEvent e) => $"{e.Path.Split('/')[^2]}/{e.Path.Split('/')[^1]} {e.Limit}";

    private static IEnumerable<string> Raised(IEnumerable<AlarmEvent> events) =>
        events.Where(e => e.Cause == AlarmCause.ConditionRaised && e.State.IsStanding()).Select(Name);

    [Fact]
    public void A_day_is_quiet_but_for_the_kiln_that_swings()
    {
        var events = Day();
        Raised(events).Distinct().ShouldBe(["KLN2/AirOn H"]);
        Raised(events).Count().ShouldBeInRange(4, 40);
        events
            .Where(e => e.Cause == AlarmCause.ConditionRaised)
            .ShouldAllBe(e => e.Message.StartsWith("Air-on 8", StringComparison.Ordinal));
        // Kilns that stand or load are cold, and nobody is told.
        events.ShouldContain(e => e.Cause == AlarmCause.SuppressionBegan && Name(e) == "KLN1/AirOn L");
        var load = AlarmLoad.Of(events, [], Begin, Begin.AddDays(1));
        (load.Floods.Length, load.Frequent[0].Path.EndsWith("KLN2/AirOn", StringComparison.Ordinal)).ShouldBe((0, true));
        load.Measures.First(m => m.Name == "In a day, average").Verdict.ShouldBe(LoadVerdict.Met);
    }

    [Fact]
    public void A_burner_that_is_off_while_it_dries_is_told_and_nothing_else()
    {
        // Ambient air is warmer than the demo's limit of 12 °C: a maltster who wants to be told sets it to 40.
        var kiln = Model.Templates.Values.Single(t => t.Code == "Kiln").Id;
        var airOn = Model.Index.PropertiesOf(kiln).Single(p => p.Code == "AirOn");
        var outcome = new SaveLimit(kiln, airOn.Id, "L", airOn.Own.Limits[LimitCondition.Low] with { Setpoint = 40 }).On(Model);
        outcome.Problems.ShouldBeEmpty();
        var changed = Model.Apply(outcome.Changes);
        var events = Day((plc, hour) => plc.Bank.SetBit(RegisterArea.Coil, 0, hour is not (> 4 and < 9)), changed);
        var raised = Raised(events).Where(n => !n.StartsWith("KLN2", StringComparison.Ordinal)).Distinct().ToArray();
        raised.ShouldBe(["KLN1/AirOn L"]);
        // Beside the times at which its burner trips by itself.
        events.ShouldContain(e =>
            e.Cause == AlarmCause.ConditionRaised
            && Name(e) == "KLN1/AirOn L"
            && (e.Time - Begin).TotalHours > 4
            && (e.Time - Begin).TotalHours < 9
        );
    }
}
