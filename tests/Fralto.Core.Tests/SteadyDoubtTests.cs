using Fralto.Core.Basics;
using Fralto.Core.Edits;
using Fralto.Core.Modbus;
using Fralto.Core.Properties;
using Fralto.Core.Proposals;
using Fralto.Core.Scaling;

namespace Fralto.Core.Tests;

/// <summary>What looks wrong about bindings is worked out again where it may be another, and only there.</summary>
public sealed class SteadyDoubtTests
{
    private readonly PlantBuilder _plant = new PlantBuilder()
        .Do(new SaveController(null, "plc", "127.0.0.1", 502, 1, 500), "plc")
        .Do(new SaveEquipment(null, "Works", "Works", EquipmentLevel.Enterprise, null, null), "Works")
        .Do(b => new SaveEquipment(null, "Quay", "Quay", EquipmentLevel.Site, b["Works"], null), "Quay");
    private readonly SteadyDoubts _kept = new();
    private Dictionary<long, IReadOnlyList<BindingDoubt>> _before = [];

    public SteadyDoubtTests()
    {
        foreach (var kind in new[] { "Kiln", "Tank" })
        {
            _plant
                .Do(new SaveTemplate(null, kind, kind, null, ""), kind)
                .Do(
                    b => new SaveProperty(
                        b[kind],
                        null,
                        "Heat",
                        "Heat",
                        PropertyKind.Measured,
                        PropertyType.Number,
                        new() { Unit = "CEL", Range = new(0, 120) }
                    ),
                    $"{kind}.Heat"
                )
                .Do(b => new AddSeries(b["Quay"], EquipmentLevel.Unit, b[kind], new($"{kind} {{n}}", $"{kind}{{n}}", 1, 1, 6, 1)));
            for (var n = 1; n <= 6; n++)
            {
                var (tag, offset) = ($"{kind}{n}_TT", (kind == "Kiln" ? 0 : 100) + n * 4);
                _plant
                    .Do(b => SaveTag(b, null, tag, offset), tag)
                    .Do(b => new Bind(Node(b, $"{kind}{n}"), b[$"{kind}.Heat"], b[tag], null));
            }
        }
        Look();
    }

    private static SaveTag SaveTag(PlantBuilder b, long? id, string name, int offset, string? unit = "CEL") =>
        new(id, b["plc"], name, RegisterArea.HoldingRegister, offset, RawType.Float32, WordOrder.HighFirst, "", 1, unit);

    private static long Node(PlantBuilder b, string code) => b.Model.Equipment.Values.Single(e => e.Code == code).Id;

    /// <summary>The kinds that were worked out again; what is kept is what is found anew.</summary>
    private string[] Look()
    {
        var model = _plant.Model;
        var now = _kept.Of(model, new(model)).ToDictionary(d => d.Template.Id, d => d.Doubts);
        foreach (var (id, doubts) in now)
            doubts.ShouldBe(new BindingDoubts(model with { }).Steady(model.Templates[id]));
        var again = now.Where(d => !ReferenceEquals(_before.GetValueOrDefault(d.Key), d.Value)).Select(d => model.Templates[d.Key].Code);
        string[] codes = [.. again.Order(StringComparer.Ordinal)];
        _before = now;
        return codes;
    }

    private string[] After(Func<PlantBuilder, Edit> edit)
    {
        _plant.Do(edit);
        return Look();
    }

    private IEnumerable<string> Words => _before.Values.SelectMany(d => d).Select(d => d.Words);

    [Fact]
    public void What_changes_nothing_of_names_tags_and_bindings_has_nothing_looked_at_again()
    {
        After(b => new PatchProperty([Node(b, "Kiln1")], b["Kiln.Heat"], new() { Range = new(0, 90) }, [])).ShouldBeEmpty();
        After(b => new SaveTemplate(b["Kiln"], "Kiln", "Kiln of the house", null, "")).ShouldBeEmpty();
        // The same plant put in its place is another model that says the same.
        _kept
            .Of(_plant.Model with { Tags = _plant.Model.Tags.Clear().AddRange(_plant.Model.Tags) }, new(_plant.Model))
            .ShouldAllBe(d => ReferenceEquals(d.Doubts, _before[d.Template.Id]));
    }

    [Fact]
    public void A_binding_has_its_own_template_looked_at_again_and_that_of_whoever_shares_its_tag()
    {
        After(b => new Unbind(Node(b, "Kiln2"), b["Kiln.Heat"])).ShouldBe(["Kiln"]);
        After(b => new Bind(Node(b, "Kiln2"), b["Kiln.Heat"], b["Tank3_TT"], null, Share: true)).ShouldBe(["Kiln", "Tank"]);
        Words.ShouldContain(w => w.Contains("feeds Works/Quay/Kiln2", StringComparison.Ordinal));
        Words.ShouldContain(w => w.Contains("feeds Works/Quay/Tank3", StringComparison.Ordinal));
        After(b => new Unbind(Node(b, "Kiln2"), b["Kiln.Heat"])).ShouldBe(["Kiln", "Tank"]);
        Words.ShouldBeEmpty();
    }

    [Fact]
    public void Names_of_places_tags_and_units_have_all_looked_at_again()
    {
        After(b => new SaveEquipment(b["Quay"], "Pier", "Pier", EquipmentLevel.Site, b["Works"], null)).ShouldBe(["Kiln", "Tank"]);
        After(b => SaveTag(b, b["Kiln5_TT"], "Kiln9_TT", 20)).ShouldBe(["Kiln", "Tank"]);
        Words.ShouldContain(w => w.Contains("lead to expect kiln5_TT", StringComparison.OrdinalIgnoreCase));
        After(b => SaveTag(b, b["Kiln5_TT"], "Kiln5_TT", 20, "KEL")).ShouldBe(["Kiln", "Tank"]);
        Words.ShouldContain(w => w.StartsWith("Its tag is in K,", StringComparison.Ordinal));
        After(b => new SaveOwnUnit(null, "BAG25", "bag", "bag of malt", 25, "KGM")).ShouldBe(["Kiln", "Tank"]);
    }
}
