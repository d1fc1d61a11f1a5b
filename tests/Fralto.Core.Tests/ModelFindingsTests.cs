using System.Collections.Immutable;
using System.Reflection;
using Fralto.Core.Basics;
using Fralto.Core.Diagnosis;
using Fralto.Core.Edits;
using Fralto.Core.Limits;
using Fralto.Core.Planning;
using Fralto.Core.Plant;
using Fralto.Core.Properties;

namespace Fralto.Core.Tests;

public sealed class ModelFindingsTests
{
    private PlantModel _model = PlantModel.Empty;

    [Fact]
    public void Each_thing_that_is_unfinished_unused_or_spelled_in_two_ways_is_found_and_gone_when_it_is_mended()
    {
        Do(_ => new SaveTemplate(null, "Kiln", "Kiln", null, ""));
        Found().ShouldBe(["FR140 Kiln"]);
        Do(_ => new SaveEquipment(null, "C", "Corvane", EquipmentLevel.Enterprise, null, null));
        Found().ShouldBe(["FR140 Kiln", "FR143 Corvane"]);
        Do(m => new SaveEquipment(null, "K1", "Kiln 1", EquipmentLevel.Unit, m.Equipment.Keys.Single(), m.Templates.Keys.Single()));
        Found().ShouldBeEmpty();

        Do(m => new SaveProperty(
            m.Templates.Keys.Single(),
            null,
            "AirOn",
            "Air-on",
            PropertyKind.Measured,
            PropertyType.Number,
            new()
            {
                Range = new(0, 120),
                Limits = ImmutableSortedDictionary<LimitCondition, LimitPatch>.Empty.Add(
                    LimitCondition.High,
                    new(88, 1, 2, OnDelay: 5)
                    {
                        Consequence = "lost",
                        RespondSeconds = 600,
                        Message = "hot",
                    }
                ),
            }
        ));
        Found().ShouldBe(["FR130 Kiln, Air-on H"]);
        ModelFindings
            .Of(_model)
            .Single()
            .Finding.ShouldSatisfyAllConditions(
                f => f.Severity.ShouldBe(FindingSeverity.Warning),
                f => f.Words.ShouldBe("is unfinished: no operator action")
            );
        var property = _model.Templates.Values.Single().Properties.Single().Id;
        Do(m => new SaveLimit(m.Templates.Keys.Single(), property, "H", Own with { Action = "open the damper" }));
        Found().ShouldBeEmpty();
        Do(_ => new SaveAlarmSetup(["en", "de"], 400));
        Found().ShouldBe(["FR131 Kiln, Air-on H"]);
        Do(m => new SaveLimit(m.Templates.Keys.Single(), property, "H", Own with { Translations = "de = heiß" }));
        Found().ShouldBeEmpty();

        Do(_ => new SaveStateList(null, "Run", "Run", [new(0, "Off"), new(1, "On")]));
        Found().ShouldBe(["FR142 Run"]);
    }

    [Fact]
    public void Numbers_given_twice_tags_used_twice_and_values_nobody_said_are_found()
    {
        Do(_ => new SaveTemplate(null, "Kiln", "Kiln", null, ""));
        Do(_ => new SaveEquipment(null, "C", "Corvane", EquipmentLevel.Enterprise, null, null));
        Do(m => new SaveProperty(Kiln(m), null, "AssetNumber", "Asset number", PropertyKind.Fixed, PropertyType.Text, new()));
        foreach (var n in new[] { 1, 2, 3 })
            Do(m => new SaveEquipment(null, $"K{n}", $"Kiln {n}", EquipmentLevel.Unit, Node(m, "C"), Kiln(m)));
        Found().ShouldBeEmpty("nobody has said one anywhere");
        Do(m => new PatchProperty([Node(m, "K1")], Property(m, "AssetNumber"), new() { Value = "MLT-1" }, []));
        Do(m => new PatchProperty([Node(m, "K2")], Property(m, "AssetNumber"), new() { Value = "mlt 1" }, []));
        Found().ShouldBe(["FR146 Asset number", "FR148 Asset number"]);
        ModelFindings.Of(_model).Single(f => f.Finding.Code == "FR146").Finding.Words.ShouldBe("is mlt 1, and so is that of Kiln 1");
        Do(m => new PatchProperty([Node(m, "K2")], Property(m, "AssetNumber"), new() { Value = "MLT-2" }, []));
        Do(m => new PatchProperty([Node(m, "K3")], Property(m, "AssetNumber"), new() { Value = "MLT-3" }, []));
        Found().ShouldBeEmpty();

        Do(_ => new SaveController(null, "mem", new Memory.MemoryConnection(), 0));
        Do(m => new SaveTag(
            null,
            m.Controllers.Keys.Single(),
            "T1",
            new Memory.MemoryAddress(),
            Scaling.RawType.Float64,
            Scaling.WordOrder.HighFirst,
            ""
        ));
        Do(m => new SaveProperty(Kiln(m), null, "Set", "Set point", PropertyKind.Measured, PropertyType.Number, new()));
        Do(m => new Bind(Node(m, "K1"), Property(m, "Set"), m.Tags.Keys.Single()));
        Found().ShouldBeEmpty();
        Do(m => new Bind(Node(m, "K2"), Property(m, "Set"), m.Tags.Keys.Single(), Share: true));
        var twice = ModelFindings.Of(_model).ShouldHaveSingleItem().Finding;
        (twice.Code, twice.Severity, twice.Words).ShouldBe(("FR147", FindingSeverity.Hint, "is fed by T1, as Kiln 1 is"));
    }

    [Fact]
    public void A_fix_mends_what_it_is_offered_for_and_nothing_else()
    {
        Do(_ => new SaveTemplate(null, "Kiln", "Kiln", null, ""));
        Do(_ => new SaveEquipment(null, "C", "Corvane", EquipmentLevel.Enterprise, null, null));
        foreach (var (n, crew) in new[] { (1, "Kiln House"), (2, "kiln house"), (3, "kiln house") })
            Do(m => new SaveEquipment(
                null,
                $"K{n}",
                $"Kiln {n}",
                EquipmentLevel.Unit,
                Node(m, "C"),
                Kiln(m),
                Labels.Read($"crew={crew}", out _)
            ));
        Do(_ => new SaveStateList(null, "Run", "Run", [new(0, "Off"), new(1, "On")]));
        var before = ModelFindings.Of(_model);
        before.Count.ShouldBe(2);
        foreach (var finding in before)
        {
            var fix = new FindingFixes(_model).Of(finding.Finding.Code, finding.Kind, finding.Id).ShouldNotBeNull();
            var outcome = fix.Edit.On(_model);
            outcome.Problems.ShouldBeEmpty();
            var left = ModelFindings.Of(_model.Apply(outcome.Changes));
            left.ShouldBe(before.Except([finding]));
        }
        new FindingFixes(_model).Of("FR140", EntityKinds.Template, 1).ShouldBeNull("a person has to decide");
    }

    private static long Kiln(PlantModel model) => model.Templates.Keys.Single();

    private static long Node(PlantModel model, string code) => model.Equipment.Values.Single(e => e.Code == code).Id;

    private static long Property(PlantModel model, string code) =>
        model.Templates.Values.Single().Properties.Single(p => p.Code == code).Id;

    [Fact]
    public void Every_code_has_a_page_and_every_page_a_code()
    {
        var codes = new[] { typeof(Planner), typeof(ModelFindings) }
            .SelectMany(t => t.GetFields(BindingFlags.Public | BindingFlags.Static))
            .Where(f => f.IsLiteral)
            .Select(f => (string)f.GetRawConstantValue()!)
            .Concat(["FR114", "FR115", "FR116", "FR150", "FR151", "FR152", "FR154"])
            .Order(StringComparer.Ordinal);
        FindingKind.All.Select(k => k.Code).ShouldBe(codes);
        var told = File.ReadAllText(Path.Combine(Root(), "docs", "findings.md"));
        foreach (var kind in FindingKind.All)
            told.ShouldContain($"## {kind.Code} {kind.Title}\n\n{kind.Meaning} {kind.Why} **Mended:** {kind.Mend}\n");
        Should.Throw<KeyNotFoundException>(() => FindingKind.Of("FR999"));
    }

    private LimitPatch Own => _model.Templates.Values.Single().Patches.Values.Single().Limits[LimitCondition.High];

    private string[] Found() =>
        [.. ModelFindings.Of(_model).Select(f => $"{f.Finding.Code} {f.Finding.Subject}").Order(StringComparer.Ordinal)];

    private void Do(Func<PlantModel, Edit> edit)
    {
        var outcome = edit(_model).On(_model);
        outcome.Problems.ShouldBeEmpty();
        _model = _model.Apply(outcome.Changes);
    }

    private static string Root()
    {
        var at = new DirectoryInfo(AppContext.BaseDirectory);
        while (!Directory.Exists(Path.Combine(at.FullName, "docs")))
            at = at.Parent!;
        return at.FullName;
    }
}
