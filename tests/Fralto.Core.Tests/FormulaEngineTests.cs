using Fralto.Core.Basics;
using Fralto.Core.Controllers;
using Fralto.Core.Edits;
using Fralto.Core.Engine;
using Fralto.Core.Hierarchy;
using Fralto.Core.Memory;
using Fralto.Core.Planning;
using Fralto.Core.Plant;
using Fralto.Core.Properties;
using Fralto.Core.Quality;
using Fralto.Core.Rules;
using Fralto.Core.Scaling;

namespace Fralto.Core.Tests;

/// <summary>Formulas of a whole model in the running engine: order, sets, circles, and what stays when the model changes.</summary>
public class FormulaEngineTests
{
    private const long Second = TimeSpan.TicksPerSecond;
    private static readonly long Begin = new DateTime(2026, 6, 1, 6, 0, 0, DateTimeKind.Utc).Ticks;

    private PlantModel _model = PlantModel.Empty;
    private PlantEngine? _engine;
    private long _now = Begin;

    private EditOutcome Try(Edit edit) => edit.On(_model);

    private PlantModel Do(Edit edit)
    {
        var outcome = edit.On(_model);
        outcome.Problems.ShouldBeEmpty(edit.ToString());
        return _model = _model.Apply(outcome.Changes);
    }

    private long TemplateId(string code) => _model.Templates.Values.Single(t => t.Code == code).Id;

    private void Template(string code, string? parent = null) =>
        Do(new SaveTemplate(null, code, code, parent is null ? null : TemplateId(parent), ""));

    private SaveProperty Property(
        string template,
        string code,
        PropertyKind kind,
        string? unit = null,
        string? formula = null,
        PropertyType type = PropertyType.Number
    ) =>
        new(
            TemplateId(template),
            _model
                .Templates.Values.SelectMany(t => t.Properties)
                .FirstOrDefault(p => p.Code == code && _model.Templates[TemplateId(template)].Properties.Contains(p))
                ?.Id,
            code,
            code,
            kind,
            type,
            new() { Unit = unit, Formula = formula }
        );

    private void Node(string? parent, string code, EquipmentLevel level, string? template = null) =>
        Do(
            new SaveEquipment(
                null,
                code,
                code,
                level,
                parent is null ? null : At(parent).Id,
                template is null ? null : TemplateId(template)
            )
        );

    private Equipment At(string code) => _model.Equipment.Values.Single(e => e.Code == code);

    private void Bind(string node, string property)
    {
        var name = $"{node}.{property}";
        Do(new SaveTag(null, _model.Controllers.Keys.Single(), name, new MemoryAddress(), RawType.Float64, WordOrder.HighFirst, ""));
        Do(new Bind(At(node).Id, IdOf(node, property), _model.Tags.Values.Single(t => t.Name == name).Id));
    }

    private long IdOf(string node, string property) =>
        _model.Index.PropertiesOf(At(node).TemplateId!.Value).Single(p => p.Code == property).Id;

    /// <summary>A site with three tanks in two areas: level measured, volume and fill worked out of it.</summary>
    private void Tanks()
    {
        Do(new SaveController(null, "mem", new MemoryConnection(), 0));
        Template("Tank");
        Do(Property("Tank", "Level", PropertyKind.Measured, "MTR"));
        Do(
            Property("Tank", "Area", PropertyKind.Fixed, "MTK") with
            {
                Facts = new() { Unit = "MTK", Value = "2" },
            }
        );
        Do(Property("Tank", "Volume", PropertyKind.Calculated, "MTQ", "Level * Area"));
        Do(Property("Tank", "Double", PropertyKind.Calculated, "MTQ", "Volume + Volume"));
        Template("Site");
        Do(Property("Site", "Stock", PropertyKind.Calculated, "MTQ", "sum(below Tank: Volume)"));
        Do(Property("Site", "Fullest", PropertyKind.Calculated, null, "which max(below Tank: Level)", PropertyType.Text));
        Do(Property("Site", "Low", PropertyKind.Calculated, null, "count(below Tank: Level < 1 m)", PropertyType.Integer));
        Do(Property("Site", "Ambient", PropertyKind.Entered, "CEL"));
        Do(Property("Tank", "Outside", PropertyKind.Calculated, "CEL", "nearest.Ambient"));
        Node(null, "Co", EquipmentLevel.Enterprise);
        Node("Co", "North", EquipmentLevel.Site, "Site");
        Node("North", "A", EquipmentLevel.Area);
        Node("North", "B", EquipmentLevel.Area);
        foreach (var (tank, area) in new[] { ("T1", "A"), ("T2", "A"), ("T3", "B") })
        {
            Node(area, tank, EquipmentLevel.Unit, "Tank");
            Bind(tank, "Level");
        }
    }

    private Moment Now => new(_now, _now);

    private PlantEngine Run()
    {
        _engine = new PlantEngine(Planner.Compile(_model).Plan);
        _engine.Advance(Now);
        return _engine;
    }

    private void Swap() => _engine!.Swap(Planner.Compile(_model).Plan, Now);

    private void Say(params (string Tag, double Value)[] values)
    {
        _now += Second;
        _engine!.Step(
            [
                .. values.Select(v => new Sample(
                    _model.Tags.Values.Single(t => t.Name == v.Tag).Id,
                    v.Value,
                    double.IsNaN(v.Value) ? StatusCode.BadSensorFailure : StatusCode.Good,
                    _now,
                    double.IsNaN(v.Value) ? "broken wire" : null
                )),
            ],
            Now
        );
        _engine.Advance(Now);
    }

    private PointValue Value(string node, string property) =>
        _engine!.ValueOf(_engine.Plan.PointIndexOf(At(node).Id, IdOf(node, property)));

    [Fact]
    public void Values_follow_their_operands_through_formulas_sets_and_places()
    {
        Tanks();
        Run();
        Value("T1", "Volume").Status.IsBad.ShouldBeTrue();
        Say(("T1.Level", 1), ("T2.Level", 3), ("T3.Level", 0.5));
        Value("T1", "Double").Value.ShouldBe(4);
        Value("North", "Stock").Value.ShouldBe(9);
        Value("North", "Fullest").Text.ShouldBe("T2");
        Value("North", "Low").Value.ShouldBe(1);
        Value("T1", "Outside").Reason!.ShouldContain("nobody has entered it yet");
        _engine!.Enter(_engine.Plan.PointIndexOf(At("North").Id, IdOf("North", "Ambient")), 21, null, new(_now, TimeSpan.Zero), Now);
        Value("T3", "Outside").Value.ShouldBe(21);
        Say(("T3.Level", 9));
        Value("North", "Fullest").Text.ShouldBe("T3");
        Value("North", "Stock").Value.ShouldBe(26);
    }

    [Fact]
    public void A_Bad_operand_is_named_and_a_set_goes_on_without_it()
    {
        Tanks();
        Run();
        Say(("T1.Level", 1), ("T2.Level", 3), ("T3.Level", 0.5));
        Say(("T2.Level", double.NaN));
        Value("T2", "Volume").Status.IsBad.ShouldBeTrue();
        Value("T2", "Double").Reason.ShouldBe("Volume: Level: broken wire");
        Value("North", "Stock").Status.IsUncertain.ShouldBeTrue();
        Value("North", "Stock").Value.ShouldBe(3);
        Value("North", "Stock").Reason!.ShouldContain("1 of 3 are Bad, the first T2");
        Say(("T2.Level", 3));
        Value("North", "Stock").Status.ShouldBe(StatusCode.Good);
    }

    [Fact]
    public void An_instance_that_is_added_below_is_in_the_set_without_an_edit()
    {
        Tanks();
        Run();
        Say(("T1.Level", 1), ("T2.Level", 1), ("T3.Level", 1));
        Node("B", "T4", EquipmentLevel.Unit, "Tank");
        Bind("T4", "Level");
        Swap();
        Value("North", "Stock").Status.IsUncertain.ShouldBeTrue("the new one has no value yet");
        Say(("T4.Level", 2));
        Value("North", "Stock").Value.ShouldBe(10);
    }

    [Fact]
    public void A_formula_is_refined_at_one_instance()
    {
        Tanks();
        Do(new PatchProperty([At("T2").Id], IdOf("T2", "Volume"), new() { Formula = "Level * 10 m²" }, []));
        Run();
        Say(("T1.Level", 1), ("T2.Level", 1));
        Value("T1", "Volume").Value.ShouldBe(2);
        Value("T2", "Volume").Value.ShouldBe(10);
        Do(new PatchProperty([At("T2").Id], IdOf("T2", "Volume"), PropertyPatch.Empty, [PatchField.Formula]));
        Swap();
        Value("T2", "Volume").Value.ShouldBe(2);
    }

    [Fact]
    public void Units_of_an_instance_are_converted_for_it_alone()
    {
        Tanks();
        Do(new PatchProperty([At("T2").Id], IdOf("T2", "Level"), new() { Unit = "CMT" }, []));
        Run();
        Say(("T1.Level", 1), ("T2.Level", 300), ("T3.Level", 1));
        Value("T2", "Volume").Value.ShouldBe(6, 1e-12);
        Value("North", "Stock").Value.ShouldBe(10, 1e-12);
        Value("North", "Fullest").Text.ShouldBe("T2");
    }

    [Fact]
    public void What_does_not_fit_is_refused_at_its_field_and_a_circle_with_its_way()
    {
        Tanks();
        Try(Property("Tank", "Sum", PropertyKind.Calculated, "MTR", "Level + Volume"))
            .Problems.Single()
            .ShouldSatisfyAllConditions(p => p.Field.ShouldBe("Formula"), p => p.Message.ShouldContain("cannot be added"));
        Try(Property("Tank", "Volume", PropertyKind.Calculated, "MTQ", "Double / 2"))
            .Problems.Single()
            .Message.ShouldContain("Volume ← Double ← Volume");
        Try(Property("Tank", "Self", PropertyKind.Calculated, "MTR", "Self + 1 m"))
            .Problems.Single()
            .Message.ShouldContain("worked out of itself");
    }

    [Fact]
    public void A_circle_through_a_set_is_found_where_it_stands_and_the_rest_runs_on()
    {
        Tanks();
        Do(Property("Site", "Highest", PropertyKind.Calculated, "MTR", "max(below Tank: Level)"));
        Do(Property("Tank", "Share", PropertyKind.Calculated, "P1", "Level / nearest.Highest"));
        Do(Property("Site", "Highest", PropertyKind.Calculated, "MTR", "max(below Tank: Level * Share)"));
        var (plan, findings) = Planner.Compile(_model);
        findings.Count(f => f.Code == Planner.CircularFormula).ShouldBe(4);
        findings.First(f => f.Code == Planner.CircularFormula).Words.ShouldContain("Highest");
        Run();
        Say(("T1.Level", 1));
        Value("T1", "Share").Status.ShouldBe(StatusCode.BadConfigurationError);
        Value("T1", "Volume").Value.ShouldBe(2);
    }

    [Fact]
    public void A_property_that_is_renamed_takes_its_formulas_along()
    {
        Tanks();
        var id = IdOf("T1", "Level");
        Do(
            new SaveProperty(
                TemplateId("Tank"),
                id,
                "Fill-Level",
                "Fill level",
                PropertyKind.Measured,
                PropertyType.Number,
                new() { Unit = "MTR" }
            )
        );
        _model.Index.PropertiesOf(TemplateId("Tank")).Single(p => p.Code == "Volume").Facts.Formula.ShouldBe("Fill-Level * Area");
        _model
            .Index.PropertiesOf(TemplateId("Site"))
            .Single(p => p.Code == "Fullest")
            .Facts.Formula.ShouldBe("which max(below Tank: Fill-Level)");
        Planner.Compile(_model).Findings.ShouldNotContain(f => f.Code == Planner.BrokenFormula);
        FormulaUses.UsersOf(_model, id).Select(u => u.User.Code).Order().ShouldBe(["Fullest", "Low", "Volume"]);
        Do(new RemoveProperty(TemplateId("Tank"), id));
        Planner.Compile(_model).Findings.Count(f => f.Code == Planner.BrokenFormula).ShouldBe(5);
    }

    [Fact]
    public void A_formula_that_takes_what_nobody_gives_is_found()
    {
        Tanks();
        Node("B", "T4", EquipmentLevel.Unit, "Tank");
        var finding = Planner.Compile(_model).Findings.Single(f => f.Code == Planner.NeverWorkedOut);
        finding.EquipmentId.ShouldBe(At("T4").Id);
        finding.Message.ShouldBe("Volume takes Level, which has no value here: it is not bound, or not there");
    }

    [Fact]
    public void Formulas_that_stand_on_each_other_in_many_ways_are_looked_through_once()
    {
        Template("Deep");
        Do(Property("Deep", "A0", PropertyKind.Entered, "MTR"));
        Do(Property("Deep", "B0", PropertyKind.Entered, "MTR"));
        for (var i = 1; i <= 30; i++)
        {
            Do(Property("Deep", $"A{i}", PropertyKind.Calculated, "MTR", $"A{i - 1} + B{i - 1}"));
            Do(Property("Deep", $"B{i}", PropertyKind.Calculated, "MTR", $"B{i - 1} + A{i - 1}"));
        }
        var last = _model.Index.PropertiesOf(TemplateId("Deep"))[^1];
        FormulaUses.DepthOf(_model, TemplateId("Deep"), last, []).ShouldBe(30);
        Try(Property("Deep", "A1", PropertyKind.Calculated, "MTR", "B30")).Problems.Single().Message.ShouldContain("worked out of itself");
    }

    [Fact]
    public void A_formula_nested_as_deep_as_may_be_is_reported_at_once()
    {
        Tanks();
        var text = string.Concat(Enumerable.Repeat("(1 m + ", 28)) + "Level" + new string(')', 28);
        Do(Property("Tank", "Nested", PropertyKind.Calculated, "MTR", text));
        var property = _model.Index.PropertiesOf(TemplateId("Tank"))[^1];
        var report = Pictures.FormulaReport.Of(_model, TemplateId("Tank"), property, (_, _) => null, _ => null);
        report.Problems.ShouldBeEmpty();
        report.Pieces.Max(p => p.Level).ShouldBe(29);
        report.Pieces[^1].Text.ShouldBe(text[1..^1]);
    }

    [Fact]
    public void Totals_go_on_through_an_edit_a_restart_and_a_command_begins_them_anew()
    {
        Tanks();
        Do(Property("Tank", "Hours", PropertyKind.Calculated, "SEC", "time(Level > 1 m)"));
        Run();
        Say(("T1.Level", 2));
        for (var i = 0; i < 10; i++)
            Say(("T1.Level", 2 + i));
        Value("T1", "Hours").Value.ShouldBe(10, 0.01);
        // Another formula elsewhere, another name: the count stays.
        Do(Property("Tank", "Double", PropertyKind.Calculated, "MTQ", "3 * Volume"));
        Swap();
        Value("T1", "Hours").Value.ShouldBe(10, 0.01);
        var kept = _engine!.TakeFormulaStates(Now, 1000);
        _now += 100 * Second;
        Run().RestoreFormulas(kept, Now);
        Value("T1", "Hours").Value.ShouldBe(10, 0.01);
        Value("T1", "Hours").Status.IsUncertain.ShouldBeTrue("its input is not there yet");
        Say(("T1.Level", 5));
        Say(("T1.Level", 6));
        Value("T1", "Hours").Value.ShouldBe(11, 0.01);
        _engine.Reset(_engine.Plan.PointIndexOf(At("T1").Id, IdOf("T1", "Hours")), Now).ShouldBeTrue();
        Value("T1", "Hours").Value.ShouldBe(0);
        _engine.Reset(_engine.Plan.PointIndexOf(At("T1").Id, IdOf("T1", "Volume")), Now).ShouldBeFalse();
        // What is counted in another way begins anew.
        Do(Property("Tank", "Hours", PropertyKind.Calculated, "SEC", "time(Level > 3 m)"));
        Swap();
        Say(("T1.Level", 7));
        Value("T1", "Hours").Value.ShouldBeLessThan(1.1);
    }

    [Fact]
    public void Each_value_of_a_batch_counts_where_something_is_counted()
    {
        Tanks();
        Do(Property("Tank", "Fills", PropertyKind.Calculated, null, "starts(Level > 1 m)", PropertyType.Integer));
        Run();
        Say(("T1.Level", 0), ("T1.Level", 2), ("T1.Level", 0), ("T1.Level", 2), ("T1.Level", 0), ("T1.Level", 2));
        Value("T1", "Fills").Value.ShouldBe(3);
    }

    [Fact]
    public void An_entered_value_grows_old()
    {
        Tanks();
        Do(
            Property("Site", "Ambient", PropertyKind.Entered, "CEL") with
            {
                Facts = new() { Unit = "CEL", ValidSeconds = 5 },
            }
        );
        Run();
        _engine!.Enter(_engine.Plan.PointIndexOf(At("North").Id, IdOf("North", "Ambient")), 20, null, new(_now, TimeSpan.Zero), Now);
        Value("T1", "Outside").Status.ShouldBe(StatusCode.Good);
        for (var i = 0; i < 7; i++)
            Say(("T1.Level", i));
        Value("T1", "Outside").Status.ShouldBe(StatusCode.UncertainLastUsableValue);
        Value("T1", "Outside").Value.ShouldBe(20);
    }

    [Fact]
    public void Nothing_is_allocated_for_a_sample_and_what_is_not_touched_is_not_worked_out()
    {
        Tanks();
        Run();
        Say(("T1.Level", 1), ("T2.Level", 1), ("T3.Level", 1));
        var id = _model.Tags.Values.Single(t => t.Name == "T1.Level").Id;
        var samples = Enumerable.Range(0, 2000).Select(i => new Sample(id, 1 + i % 7 * 0.1, StatusCode.Good, _now)).ToArray();
        _engine!.Step(samples, Now);
        var before = GC.GetAllocatedBytesForCurrentThread();
        _engine.Step(samples, Now);
        (GC.GetAllocatedBytesForCurrentThread() - before).ShouldBeLessThan(2000);
    }
}
