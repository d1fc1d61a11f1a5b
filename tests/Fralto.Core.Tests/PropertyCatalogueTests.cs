using Fralto.Core.Basics;
using Fralto.Core.Plant;
using Fralto.Core.Properties;
using Fralto.Core.Rules;
using Fralto.Core.Units;

namespace Fralto.Core.Tests;

public sealed class PropertyCatalogueTests
{
    [Fact]
    public void Every_entry_could_be_declared_as_it_is()
    {
        PropertyCatalogue.All.Length.ShouldBeGreaterThanOrEqualTo(150);
        PropertyCatalogue.All.Select(p => p.Code).ShouldBeUnique();
        PropertyCatalogue.All.Select(p => p.Name).ShouldBeUnique();
        foreach (var p in PropertyCatalogue.All)
        {
            Naming.CodeProblem(p.Code).ShouldBeNull(p.Code);
            Naming.NameProblem(p.Name).ShouldBeNull(p.Name);
            (p.Range is null || p.Range.Value.IsUsable).ShouldBeTrue(p.Name);
            if (p.Type == PropertyType.Number && p.Code is not ("PowerFactor" or "Starts" or "PieceCount" or "GoodPieces" or "Rejects"))
                UnitCatalogue.Standard.Find(p.Unit).ShouldNotBeNull($"{p.Name} has a unit Fralto does not know");
            // A state needs the list that names its values, which is the plant's own.
            if (p.Type == PropertyType.State)
                continue;
            FactRules
                .Problems(PlantModel.Empty, new(1, p.Code, p.Name, p.Kind, p.Type, true), new() { Unit = p.Unit, Range = p.Range })
                .Select(x => x.Message)
                .ShouldBeEmpty(p.Name);
        }
    }

    /// <summary>Starting values: ISA-18.2, also in EEMUA 191 (from memory).</summary>
    [Theory]
    [InlineData("Temperature", 1.0, 60.0, 1.5)]
    [InlineData("Pressure", 2.0, 15.0, 0.2)]
    [InlineData("Flow", 5.0, 15.0, 5.0)]
    [InlineData("LevelPercent", 5.0, 60.0, 5.0)]
    public void Deadbands_and_delays_are_those_the_standard_begins_with(string code, double percent, double delay, double deadband)
    {
        var p = PropertyCatalogue.All.Single(x => x.Code == code);
        (p.DeadbandPercent, p.DelaySeconds, p.Deadband).ShouldBe((percent, delay, deadband));
        PropertyCatalogue.All.Single(x => x.Code == "MotorCurrent").DeadbandPercent.ShouldBeNull("none is recommended");
    }

    [Fact]
    public void What_the_plant_has_comes_before_what_is_common_and_nothing_twice()
    {
        var plant = PlantBuilder.Kiln();
        PropertyFinder.Find(plant.Model, "air", null, 9)[0].Source.ShouldBe("Kiln");
        PropertyFinder.Find(plant.Model, "air", plant["Kiln"], 9).ShouldNotContain(p => p.Code == "AirOn", "the template has it already");
        PropertyFinder.Find(plant.Model, "bearing drive", null, 9).Select(p => p.Code).ShouldContain("BearingTempDE");
        PropertyFinder.Find(plant.Model, "pdi", null, 2).Select(p => p.Letters).ShouldBe(["PDI", "PDI"], "letters first");
        PropertyFinder.Find(plant.Model, "no such thing", null, 9).ShouldBeEmpty();
        PropertyFinder.Find(plant.Model, "", null, 9).Count.ShouldBe(9);
    }
}
