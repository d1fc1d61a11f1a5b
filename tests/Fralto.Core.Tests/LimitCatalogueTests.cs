using Fralto.Core.Edits;
using Fralto.Core.Limits;
using Fralto.Core.Properties;
using Fralto.Core.Rules;
using Fralto.Core.Units;

namespace Fralto.Core.Tests;

public sealed class LimitCatalogueTests
{
    private readonly PlantBuilder _plant = PlantBuilder.Kiln((LimitCondition.High, 90, 1, 2));

    private CatalogueLimit[] All => [.. LimitCatalogue.Of(_plant.Model)];

    [Fact]
    public void Every_limit_is_listed_where_it_is_said_with_what_is_missing_in_it()
    {
        var high = All.Single();
        (high.Where, high.Property, high.Code, high.Condition, high.Reach).ShouldBe(("Kiln", "Air-on temperature", "H", "H 90 °C", 1));
        high.Missing.ShouldBe(["no operator action", "no consequence", "no time to respond", "no on-delay"]);
        _plant.Do(b => new SaveLimit(
            b["Kiln"],
            b["AirOn"],
            "H",
            high.Own with
            {
                Action = "Open the damper",
                Consequence = "Enzymes are lost",
                RespondSeconds = 600,
                OnDelay = 400,
            }
        ));
        All.Single().Missing.ShouldBe(["delay eats the time to respond"]);
    }

    [Fact]
    public void What_is_said_twice_is_found()
    {
        var stuck = new LimitPatch(600) { Kind = LimitKind.NoChange, Message = "stands still" };
        _plant.Do(b => new SaveLimit(b["Kiln"], b["AirOn"], "Stuck", stuck, true));
        _plant.Do(b => new SaveLimit(b["Kiln"], b["AirOn"], "Still", stuck with { Message = "Stands still" }, true));
        All.Count(l => l.Missing.Contains("condition twice")).ShouldBe(2);
        All.Count(l => l.Missing.Contains("same message twice")).ShouldBe(2);
    }

    [Fact]
    public void The_spread_counts_each_limit_for_each_instance()
    {
        foreach (var code in new[] { "KLN2", "KLN3", "KLN4" })
            _plant.Do(b => new CopyEquipment(b["KLN1"], b["Quay"], code, code, false));
        LimitCatalogue.Spread(All).ShouldBe([0, 4, 0, 0]);
    }

    [Fact]
    public void A_limit_is_said_anew_refined_and_taken_away()
    {
        _plant.Do(b => new SaveLimit(b["KLN1"], b["AirOn"], "H", new(Off: true)));
        All.Select(l => (l.Where, l.Condition)).ShouldBe([("Kiln", "H 90 °C"), ("Corvane/Quay/KLN1", "taken away here")]);
        _plant.Do(b => new SaveLimit(b["KLN1"], b["AirOn"], "H", null));
        _plant.Do(b => new SaveLimit(b["Kiln"], b["AirOn"], "H", null));
        All.ShouldBeEmpty();
        _plant.Refused(b => new SaveLimit(b["Kiln"], 12345, "H", new(5)));
        _plant.Do(b => new SaveLimit(b["Kiln"], b["AirOn"], "Stuck", new(60) { Kind = LimitKind.NoChange }, true));
        _plant
            .Refused(b => new SaveLimit(b["Kiln"], b["AirOn"], "stuck", new(60) { Kind = LimitKind.NoChange }, true))[0]
            .Field.ShouldBe("Code");
    }

    [Fact]
    public void A_form_of_numbers_keeps_what_it_does_not_show()
    {
        var before = new PropertyPatch
        {
            Limits = PropertyPatch.Empty.Limits.Add(LimitCondition.High, new(90, 1) { Message = "hot" }).Add(LimitCondition.Low, new(5)),
            Others = PropertyPatch.Empty.Others.Add("Stuck", new(60) { Kind = LimitKind.NoChange }),
        };
        var typed = new PropertyPatch { Limits = PropertyPatch.Empty.Limits.Add(LimitCondition.High, new(95, null, 1)) };
        var kept = typed.KeepingLimitsOf(before);
        kept.Limits[LimitCondition.High].ShouldBe(new LimitPatch(95, null, 1) { Message = "hot" });
        kept.Limits.ContainsKey(LimitCondition.Low).ShouldBeFalse();
        kept.Others.ShouldBe(before.Others);
    }

    [Theory]
    [Trait("source", "ANSI/ISA-18.2 recommended starting points, also in EEMUA 191 (from memory)")]
    [InlineData("CEL", 1.0, 60.0)]
    [InlineData("FAH", 1.0, 60.0)]
    [InlineData("BAR", 2.0, 15.0)]
    [InlineData("MQH", 5.0, 15.0)]
    [InlineData("MTR", 5.0, 60.0)]
    public void Deadband_and_delay_to_begin_with_go_by_what_is_measured(string unit, double percent, double delay)
    {
        var suggestion = LimitSuggestion.For(UnitCatalogue.Standard.Find(unit))!;
        (suggestion.DeadbandPercent, suggestion.Delay).ShouldBe((percent, delay));
        LimitSuggestion.For(UnitCatalogue.Standard.Find("P1")).ShouldBeNull();
        LimitSuggestion.For(null).ShouldBeNull();
    }
}
