using Fralto.Core.Alarms;
using Fralto.Core.Basics;
using Fralto.Core.Controllers;
using Fralto.Core.Edits;
using Fralto.Core.Engine;
using Fralto.Core.Hierarchy;
using Fralto.Core.Limits;
using Fralto.Core.Memory;
using Fralto.Core.Planning;
using Fralto.Core.Plant;
using Fralto.Core.Properties;
using Fralto.Core.Quality;
using Fralto.Core.Scaling;

namespace Fralto.Core.Tests;

/// <summary>Limits that are more than a level with a number, run by the engine.</summary>
public sealed class LimitEngineTests
{
    private const long Second = TimeSpan.TicksPerSecond;
    private static readonly long Begin = new DateTime(2026, 6, 1, 6, 0, 0, DateTimeKind.Utc).Ticks;

    private PlantModel _model = PlantModel.Empty;
    private PlantEngine? _engine;
    private long _now = Begin;

    /// <summary>A kiln with a temperature, its set point, a phase and whether it runs.</summary>
    public LimitEngineTests()
    {
        Do(new SaveController(null, "mem", new MemoryConnection(), 0));
        Do(new SaveStateList(null, "Phases", "Phases", [new(0, "Idle"), new(1, "Air rest"), new(2, "Curing")]));
        Do(new SaveTemplate(null, "Kiln", "Kiln", null, ""));
        Do(new SaveEquipment(null, "Site", "Site", EquipmentLevel.Enterprise, null, null));
        Do(new SaveEquipment(null, "Quay", "Quay", EquipmentLevel.Site, At("Site").Id, null));
        Do(new SaveEquipment(null, "K1", "Kiln 1", EquipmentLevel.Unit, At("Quay").Id, Template));
        Say("Run", PropertyType.Boolean, new());
        Say("Phase", PropertyType.State, new() { StateListId = _model.StateLists.Keys.Single() });
        Say("SetPoint", PropertyType.Number, new() { Unit = "FAH" });
        Say("AirOn", PropertyType.Number, new() { Unit = "CEL", Range = new(0, 120) });
        foreach (var code in new[] { "Run", "Phase", "SetPoint", "AirOn" })
        {
            Do(new SaveTag(null, _model.Controllers.Keys.Single(), code, new MemoryAddress(), TypeOf(code), WordOrder.HighFirst, ""));
            Do(new Bind(At("K1").Id, IdOf(code), _model.Tags.Values.Single(t => t.Name == code).Id));
        }
    }

    private static RawType TypeOf(string code) =>
        code switch
        {
            "Run" => RawType.Bool,
            "Phase" => RawType.Int16,
            _ => RawType.Float64,
        };

    private long Template => _model.Templates.Keys.Single();

    private PlantEngine Engine => _engine ??= new(Planner.Compile(_model).Plan);

    [Theory]
    [InlineData("CEL", 5, 25, 29.5, 30.01)]
    [InlineData("FAH", 9, 77, 85.1, 86.01)]
    public void A_deviation_is_measured_in_the_unit_of_its_property(string unit, double setpoint, double at, double near, double far)
    {
        // 25 °C is 77 °F; 5 K are 9 °F. Source: definition of the degree Fahrenheit.
        Limit("AirOn", new() { Unit = unit }, "Off", new(setpoint, 0.5) { Kind = LimitKind.Deviation, From = "SetPoint" });
        Set("SetPoint", 77);
        Set("AirOn", at);
        States("AirOn", "Off").ShouldBe(AlarmState.Normal);
        Set("AirOn", near);
        States("AirOn", "Off").ShouldBe(AlarmState.Normal);
        Set("AirOn", far);
        States("AirOn", "Off").ShouldBe(AlarmState.Unacknowledged);
        Set("AirOn", at + setpoint - 0.4);
        States("AirOn", "Off").ShouldBe(AlarmState.Unacknowledged);
        Set("AirOn", at + setpoint - 0.6);
        States("AirOn", "Off").ShouldBe(AlarmState.ReturnedUnacknowledged);
    }

    [Fact]
    public void A_deviation_agrees_with_what_is_worked_out_by_hand_on_random_signals()
    {
        Limit("AirOn", new() { Unit = "CEL" }, "Off", new(5, 1) { Kind = LimitKind.Deviation, From = "SetPoint" });
        var random = new Random(4);
        var (value, setPoint, isBad, isRaised) = (20.0, 20.0, false, false);
        Set("SetPoint", 68);
        Set("AirOn", 20);
        for (var i = 0; i < 3000; i++)
        {
            switch (random.Next(5))
            {
                case 0:
                    setPoint = 15 + random.Next(20);
                    Set("SetPoint", setPoint * 9 / 5 + 32);
                    break;
                case 1:
                    isBad = !isBad;
                    Set("AirOn", value, isBad ? StatusCode.BadSensorFailure : StatusCode.Good);
                    break;
                default:
                    value = 10 + random.Next(30) + 0.25;
                    isBad = false;
                    Set("AirOn", value);
                    break;
            }
            // What is Bad says nothing; the alarm stays as it is.
            if (!isBad)
                isRaised = isRaised ? Math.Abs(value - setPoint) >= 4 : Math.Abs(value - setPoint) >= 5;
            (Alarm("AirOn", "Off")?.IsTrue ?? false).ShouldBe(isRaised, $"step {i}: {value} against {setPoint}");
        }
    }

    [Fact]
    public void A_rate_is_counted_a_minute_and_its_sign_says_which_way()
    {
        Limit("AirOn", new() { Unit = "CEL" }, "Rises", new(3) { Kind = LimitKind.Rate, WindowSeconds = 60 });
        Limit("AirOn", new() { Unit = "CEL" }, "Falls", new(-3) { Kind = LimitKind.Rate, WindowSeconds = 60 }, keep: true);
        var value = 20.0;
        void Go(double perMinute, int seconds)
        {
            for (var i = 0; i < seconds; i++)
            {
                value += perMinute / 60;
                Set("AirOn", value);
                Pass(1);
            }
        }
        Go(2.5, 150);
        (States("AirOn", "Rises"), States("AirOn", "Falls")).ShouldBe((AlarmState.Normal, AlarmState.Normal));
        Go(4, 90);
        (States("AirOn", "Rises"), States("AirOn", "Falls")).ShouldBe((AlarmState.Unacknowledged, AlarmState.Normal));
        Go(-4, 150);
        (States("AirOn", "Rises"), States("AirOn", "Falls")).ShouldBe((AlarmState.ReturnedUnacknowledged, AlarmState.Unacknowledged));
    }

    [Fact]
    public void States_and_formulas_are_conditions_of_their_own()
    {
        Limit("Phase", Phases, "Cures", new() { Kind = LimitKind.StateIs, From = "Curing" });
        Limit("Phase", Phases, "NoRest", new() { Kind = LimitKind.StateIsNot, From = "Air rest" }, keep: true);
        Limit("Run", new(), "Stopped", new() { Kind = LimitKind.StateIs, From = "false" });
        Limit("AirOn", new() { Unit = "CEL" }, "Hot", new(OnDelay: 10) { Kind = LimitKind.Formula, From = "AirOn > SetPoint and Run" });
        Set("Run", 1);
        Set("Phase", 1);
        Set("SetPoint", 100);
        Set("AirOn", 20);
        Engine.Alarms.ShouldBeEmpty();
        Set("Phase", 2);
        (States("Phase", "Cures"), States("Phase", "NoRest")).ShouldBe((AlarmState.Unacknowledged, AlarmState.Unacknowledged));
        Set("AirOn", 60);
        Pass(9);
        States("AirOn", "Hot").ShouldBe(AlarmState.Normal);
        Pass(2);
        States("AirOn", "Hot").ShouldBe(AlarmState.Unacknowledged);
        Set("Run", 0);
        (States("Run", "Stopped"), States("AirOn", "Hot")).ShouldBe((AlarmState.Unacknowledged, AlarmState.ReturnedUnacknowledged));
    }

    [Fact]
    public void What_is_Bad_or_stands_still_for_too_long_is_an_alarm()
    {
        Limit("AirOn", new() { Unit = "CEL" }, "Lost", new(OnDelay: 20) { Kind = LimitKind.BadQuality });
        Limit("AirOn", new() { Unit = "CEL" }, "Stuck", new(60) { Kind = LimitKind.NoChange }, keep: true);
        Set("AirOn", 20);
        Pass(30);
        Set("AirOn", 20, StatusCode.BadSensorFailure);
        Pass(19);
        States("AirOn", "Lost").ShouldBe(AlarmState.Normal);
        Pass(2);
        States("AirOn", "Lost").ShouldBe(AlarmState.Unacknowledged);
        Set("AirOn", 21);
        States("AirOn", "Lost").ShouldBe(AlarmState.ReturnedUnacknowledged);
        Pass(58);
        States("AirOn", "Stuck").ShouldBe(AlarmState.Normal);
        Pass(4);
        States("AirOn", "Stuck").ShouldBe(AlarmState.Unacknowledged);
        Set("AirOn", 21.5);
        States("AirOn", "Stuck").ShouldBe(AlarmState.ReturnedUnacknowledged);
    }

    [Fact]
    public void A_level_may_take_its_setpoint_from_another_property()
    {
        Level("AirOn", LimitCondition.High, new(Deadband: 2) { From = "SetPoint" });
        Set("SetPoint", 140);
        Set("AirOn", 59);
        States("AirOn", "H").ShouldBe(AlarmState.Normal);
        Set("AirOn", 60.01);
        States("AirOn", "H").ShouldBe(AlarmState.Unacknowledged);
        Set("AirOn", 58.5);
        States("AirOn", "H").ShouldBe(AlarmState.Unacknowledged);
        Set("SetPoint", 158);
        States("AirOn", "H").ShouldBe(AlarmState.ReturnedUnacknowledged);
        var raised = Engine.Output.Events.First(e => e.Cause == AlarmCause.ConditionRaised);
        // The event tells the value of the property, not of the comparison.
        (raised.Value, raised.Limit, raised.Path).ShouldBe((60.01, "H", "Site/Quay/K1/AirOn"));
    }

    [Fact]
    public void A_limit_counts_only_while_and_some_time_after_its_condition_holds()
    {
        Level("AirOn", LimitCondition.Low, new(40) { CountsWhile = "Run", CountsAfter = 30 });
        Set("Run", 0);
        Set("AirOn", 20);
        Pass(1);
        States("AirOn", "L").ShouldBe(AlarmState.SuppressedByDesign);
        Engine.Output.Events.ShouldAllBe(e => e.Cause == AlarmCause.SuppressionBegan);
        Set("Run", 1);
        Pass(29);
        States("AirOn", "L").ShouldBe(AlarmState.SuppressedByDesign);
        Pass(2);
        States("AirOn", "L").ShouldBe(AlarmState.Unacknowledged);
        Set("Run", 0);
        States("AirOn", "L").ShouldBe(AlarmState.SuppressedByDesign);
        Set("AirOn", 50);
        Set("Run", 1);
        Pass(31);
        States("AirOn", "L").ShouldBe(AlarmState.Normal);
    }

    [Fact]
    public void What_is_suppressed_is_so_after_a_restart_until_it_counts_again()
    {
        Level("AirOn", LimitCondition.Low, new(40) { CountsWhile = "Run" });
        Set("Run", 0);
        Set("AirOn", 20);
        var kept = Engine.Alarms.ToArray();
        kept.Single().State.ShouldBe(AlarmState.SuppressedByDesign);
        _engine = null;
        Engine.Restore(kept, new Moment(_now, _now));
        States("AirOn", "L").ShouldBe(AlarmState.SuppressedByDesign);
        Set("AirOn", 20);
        Set("Run", 1);
        States("AirOn", "L").ShouldBe(AlarmState.Unacknowledged);
        // A limit that always counts keeps nothing away.
        Level("AirOn", LimitCondition.Low, new(40));
        Engine.Swap(Planner.Compile(_model).Plan, new Moment(_now, _now));
        States("AirOn", "L").ShouldBe(AlarmState.Unacknowledged);
    }

    [Fact]
    public void A_limit_behind_a_more_urgent_one_is_no_news_unless_it_always_is()
    {
        Level("AirOn", LimitCondition.HighHigh, new(90));
        Level("AirOn", LimitCondition.High, new(80), keep: true);
        Set("AirOn", 95);
        (States("AirOn", "HH"), States("AirOn", "H")).ShouldBe((AlarmState.Unacknowledged, AlarmState.Acknowledged));
        Level("AirOn", LimitCondition.High, new(80) { AlwaysNews = true }, keep: true);
        _engine = null;
        Set("AirOn", 95);
        (States("AirOn", "HH"), States("AirOn", "H")).ShouldBe((AlarmState.Unacknowledged, AlarmState.Unacknowledged));
    }

    [Fact]
    public void A_message_and_what_is_captured_are_those_of_the_moment()
    {
        Level(
            "AirOn",
            LimitCondition.High,
            new(80)
            {
                Message = "{property} of {place} is {value} {unit}, limit {limit} {setpoint}, in {Phase}",
                Capture = "area = kilning\nphase = {Phase}\nSetPoint",
            }
        );
        Set("Phase", 2);
        Set("SetPoint", 100);
        Set("AirOn", 81.31);
        Set("Phase", 0);
        var alarm = Alarm("AirOn", "H")!;
        alarm.Message.ShouldBe("AirOn of Site/Quay/K1 is 81.3 °C, limit H 80.0, in Curing");
        alarm.Captured.Select(c => $"{c.Key}: {c.Value}").ShouldBe(["area: kilning", "phase: Curing", "SetPoint: 100.00 °F"]);
        Engine.Output.Events.Single().Message.ShouldBe(alarm.Message);
    }

    [Fact]
    public void What_an_operator_has_put_away_stays_so_when_the_model_changes()
    {
        Level("AirOn", LimitCondition.High, new(80));
        Set("AirOn", 90);
        Engine
            .Do(new(Key("AirOn", "H"), AlarmCause.ShelvedByOperator, "ann", "test", TimeSpan.FromHours(1), "One shift"), Now)
            .ShouldBeNull();
        Level("AirOn", LimitCondition.High, new(85));
        Engine.Swap(Planner.Compile(_model).Plan, Now);
        Engine.Output.Events.Clear();
        Set("AirOn", 70);
        Set("AirOn", 95);
        Engine.Output.Events.ShouldBeEmpty();
        States("AirOn", "H").ShouldBe(AlarmState.Shelved);
        Pass(3600);
        States("AirOn", "H").ShouldBe(AlarmState.Unacknowledged);
    }

    [Theory]
    [InlineData(LimitKind.Deviation, "SetPont", 5.0, "SetPont")]
    [InlineData(LimitKind.Deviation, "Phase", 5.0, "")]
    [InlineData(LimitKind.Deviation, null, 5.0, "from which property")]
    [InlineData(LimitKind.Deviation, "SetPoint", 200.0, "wider than the whole range")]
    [InlineData(LimitKind.Deviation, "SetPoint", null, "setpoint")]
    [InlineData(LimitKind.Formula, "AirOn + 1 K", null, "not true or false")]
    [InlineData(LimitKind.Formula, "AirOn > 3 m", null, "")]
    [InlineData(LimitKind.Rate, null, 0.0, "above 0 for rising")]
    [InlineData(LimitKind.NoChange, null, 0.5, "1 s to a week")]
    [InlineData(LimitKind.StateIs, "Curing", null, "no states")]
    public void A_limit_that_cannot_be_is_refused_with_its_reason(LimitKind kind, string? from, double? setpoint, string words)
    {
        var problems = Save("AirOn", new() { Unit = "CEL", Range = new(0, 120) }, "Bad", new(setpoint) { Kind = kind, From = from })
            .On(_model)
            .Problems;
        problems.ShouldNotBeEmpty();
        problems[0].Field.ShouldStartWith("Others.Bad.");
        problems.ShouldContain(p => p.Message.Contains(words, StringComparison.Ordinal));
    }

    [Theory]
    [InlineData("{Vlue} too high", "{Vlue} names nothing")]
    [InlineData("{value", null)]
    [InlineData("<b>{value}</b> & more", null)]
    public void A_placeholder_that_names_nothing_is_refused(string message, string? problem)
    {
        var facts = new PropertyPatch
        {
            Unit = "CEL",
            Limits = PropertyPatch.Empty.Limits.Add(LimitCondition.High, new(80) { Message = message }),
        };
        var problems = Save("AirOn", facts).On(_model).Problems;
        if (problem is null)
            problems.ShouldBeEmpty();
        else
            problems.Single().Message.ShouldContain(problem);
    }

    [Fact]
    public void A_limit_refined_at_an_instance_runs_as_it_says_there()
    {
        Limit("AirOn", new() { Unit = "CEL" }, "Off", new(5) { Kind = LimitKind.Deviation, From = "SetPoint" });
        var own = new PropertyPatch { Others = PropertyPatch.Empty.Others.Add("off", new(20)) };
        Do(new PatchProperty([At("K1").Id], IdOf("AirOn"), own, []));
        Set("SetPoint", 77);
        Set("AirOn", 35);
        States("AirOn", "Off").ShouldBe(AlarmState.Normal);
        Set("AirOn", 45.01);
        States("AirOn", "Off").ShouldBe(AlarmState.Unacknowledged);
    }

    [Fact]
    public void Limits_follow_a_property_that_gets_another_code()
    {
        Limit(
            "AirOn",
            new() { Unit = "CEL" },
            "Off",
            new(5)
            {
                Kind = LimitKind.Deviation,
                From = "SetPoint",
                CountsWhile = "Run and SetPoint > 50 °F",
                Message = "{value} against {SetPoint}",
                Capture = "set = {SetPoint}\nSetPoint\nnote = SetPoint",
            }
        );
        var known = _model.Templates.Values.Single().Properties.Single(p => p.Code == "SetPoint");
        Do(new SaveProperty(Template, known.Id, "Wanted", "Wanted", known.Kind, known.Type, new() { Unit = "FAH" }));
        var says = Facts("AirOn").Others["Off"];
        (says.From, says.CountsWhile).ShouldBe(("Wanted", "Run and Wanted > 50 °F"));
        (says.Message, says.Capture).ShouldBe(("{value} against {Wanted}", "set = {Wanted}\nWanted\nnote = SetPoint"));
        Planner.Compile(_model).Findings.ShouldNotContain(f => f.Code == Planner.BrokenLimit);
    }

    [Fact]
    public void A_value_that_is_Bad_for_a_moment_at_a_start_is_no_alarm()
    {
        Limit("AirOn", new() { Unit = "CEL" }, "Lost", new() { Kind = LimitKind.BadQuality, CountsWhile = "Run" });
        Set("Run", 1);
        Pass(5);
        Set("AirOn", 20);
        Pass(30);
        Engine.Output.Events.ShouldBeEmpty();
        // What tells whether it counts is no limit of its own.
        LimitWatch.Of(Engine.Plan, _ => false).Total.ShouldBe(1);
        Set("AirOn", 20, StatusCode.BadSensorFailure);
        Pass(11);
        States("AirOn", "Lost").ShouldBe(AlarmState.Unacknowledged);
    }

    private static PropertyPatch Phases => new() { StateListId = 2 };

    private Moment Now => new(_now, _now);

    private Equipment At(string code) => _model.Equipment.Values.Single(e => e.Code == code);

    private long IdOf(string property) => _model.Templates.Values.Single().Properties.Single(p => p.Code == property).Id;

    private void Do(Edit edit)
    {
        var outcome = edit.On(_model);
        outcome.Problems.ShouldBeEmpty(edit.ToString());
        _model = _model.Apply(outcome.Changes);
    }

    private void Say(string code, PropertyType type, PropertyPatch facts) =>
        Do(new SaveProperty(Template, null, code, code, PropertyKind.Measured, type, facts));

    private SaveProperty Save(string property, PropertyPatch facts, string? code = null, LimitPatch? limit = null)
    {
        var known = _model.Templates.Values.Single().Properties.Single(p => p.Code == property);
        if (facts == Phases)
            facts = facts with { StateListId = _model.StateLists.Keys.Single() };
        return new(
            Template,
            known.Id,
            property,
            property,
            known.Kind,
            known.Type,
            code is null ? facts : facts with { Others = facts.Others.SetItem(code, limit!) }
        );
    }

    private PropertyPatch Facts(string property) => _model.Templates.Values.Single().Patches.GetValueOrDefault(IdOf(property)) ?? new();

    private void Limit(string property, PropertyPatch facts, string code, LimitPatch limit, bool keep = false) =>
        Do(Save(property, keep ? Facts(property) : facts, code, limit));

    private void Level(string property, LimitCondition condition, LimitPatch limit, bool keep = false) =>
        Do(
            Save(
                property,
                new()
                {
                    Unit = "CEL",
                    Range = new(0, 120),
                    Limits = (keep ? Facts(property).Limits : PropertyPatch.Empty.Limits).SetItem(condition, limit),
                }
            )
        );

    private void Set(string property, double value, StatusCode? status = null)
    {
        _now += Second / 10;
        var tag = _model.Tags.Values.Single(t => t.Name == property).Id;
        Engine.Step([new Sample(tag, value, status ?? StatusCode.Good, _now)], Now);
        Engine.Advance(Now);
    }

    private void Pass(int seconds)
    {
        for (var i = 0; i < seconds * 2; i++)
        {
            _now += Second / 2;
            Engine.Advance(Now);
        }
    }

    private AlarmKey Key(string property, string limit) => Engine.Plan.KeyOf(At("K1").Id, IdOf(property), limit)!.Value;

    private Alarm? Alarm(string property, string limit) => Engine.AlarmOf(Key(property, limit));

    private AlarmState States(string property, string limit) => Alarm(property, limit)?.State ?? AlarmState.Normal;
}
