using Fralto.Core.Edits;
using Fralto.Core.Planning;
using Fralto.Core.Properties;
using Fralto.Core.Rules;

namespace Fralto.Core.Tests;

/// <summary>Properties that are the same and called differently.</summary>
public sealed class NamesApartTests
{
    private readonly PlantBuilder _plant = PlantBuilder
        .Kiln()
        .Do(new SaveTemplate(null, "Steep", "Steep", null, ""), "Steep")
        .Do(new SaveTemplate(null, "Box", "Box", null, ""), "Box")
        .Do(b => Property(b, "Kiln", "Moist", "Moisture", "as measured"))
        .Do(b => Property(b, "Steep", "Moist", "Moisture", "as measured"));

    private static SaveProperty Property(PlantBuilder b, string template, string code, string name, string? description = null) =>
        new(b[template], null, code, name, PropertyKind.Measured, PropertyType.Number, new() { Description = description });

    private string[] Said => [.. NamesApart.Of(_plant.Model).Select(f => $"{f.Template.Name} {f.Property.Name} {f.Words}")];

    [Fact]
    public void What_most_templates_say_is_usual_and_the_other_is_told_of_it()
    {
        Said.ShouldBeEmpty();
        _plant.Do(b => Property(b, "Box", "moist", "Moisture content"));
        Said.ShouldBe(["Box Moisture content is called Moisture in Kiln, Steep"]);
        Planner.Compile(_plant.Model).Findings.ShouldContain(f => f.Code == Planner.NameApart && f.Subject == "Box Moisture content");
    }

    [Fact]
    public void A_code_that_differs_and_a_description_that_differs_are_said_once_each()
    {
        _plant.Do(b => Property(b, "Box", "Mst", "moisture"));
        Said.ShouldBe(["Box moisture has the code Mst; in Kiln, Steep it is Moist"]);
        _plant.Do(b => Property(b, "Box", "Level", "Level", "from the top")).Do(b => Property(b, "Kiln", "Level", "Level"));
        Said.Length.ShouldBe(1, "what is not described is not described otherwise");
        _plant.Do(b => Property(b, "Steep", "Level", "Level", "from the bottom"));
        Said.Length.ShouldBe(2);
        Said[1].ShouldContain("is described as \"from the");
    }
}
