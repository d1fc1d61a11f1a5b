using Fralto.Core.Edits;
using Fralto.Core.Pictures;
using Fralto.Core.Properties;

namespace Fralto.Core.Tests;

/// <summary>How key figures of a place are drawn.</summary>
public class KeyFigureTests
{
    [Theory]
    [InlineData("Step Level", 8, "Bars: Step Level")]
    [InlineData("Step Level", 40, "Strips: Step Level")]
    [InlineData("Step Air", 4, "Strips: Step Air")]
    [InlineData("Top Mid Low", 6, "Depths: Top Mid Low")]
    [InlineData("Level", 24, "Columns: Level")]
    [InlineData("Level Mass", 24, "Columns: Level Mass")]
    [InlineData("Flame", 6, "Lamps: Flame")]
    [InlineData("Two Air", 6, "Lamps: Two Air")]
    [InlineData("Air", 2, "Dots: Air")]
    [InlineData("Words", 2, "")]
    public void The_types_units_and_count_of_what_is_nominated_choose_the_drawing(string codes, int instances, string drawn)
    {
        var plant = new PlantBuilder()
            .Do(new SaveStateList(null, "Steps", "Steps", [new(0, "Idle"), new(1, "Soak"), new(2, "Drain")]), "Steps")
            .Do(new SaveStateList(null, "Run", "Run", [new(0, "Stopped"), new(1, "Running")]), "Run")
            .Do(new SaveTemplate(null, "Unit", "Unit", null, ""), "Unit");
        foreach (
            var (code, type, unit, list) in new[]
            {
                ("Step", PropertyType.State, null, "Steps"),
                ("Two", PropertyType.State, null, "Run"),
                ("Flame", PropertyType.Boolean, (string?)null, (string?)null),
                ("Level", PropertyType.Number, "MTR", null),
                ("Mass", PropertyType.Number, "TNE", null),
                ("Air", PropertyType.Number, "CEL", null),
                ("Top", PropertyType.Number, "CEL", null),
                ("Mid", PropertyType.Number, "CEL", null),
                ("Low", PropertyType.Number, "CEL", null),
                ("Words", PropertyType.Text, null, null),
            }
        )
            plant.Do(b => new SaveProperty(
                b["Unit"],
                null,
                code,
                code,
                PropertyKind.Measured,
                type,
                new()
                {
                    Unit = unit,
                    Range = unit is null ? null : new(0, 100),
                    StateListId = list is null ? null : b[list],
                    IsKeyFigure = codes.Split(' ').Contains(code) ? true : null,
                }
            ));
        var nominated = plant.Model.Index.PropertiesOf(plant["Unit"]).Where(p => p.Facts.IsKeyFigure == true).ToArray();
        nominated.Length.ShouldBe(codes.Split(' ').Length);

        var chosen = KeyFigures.Choose(nominated, plant.Model, instances);

        (chosen is { } c ? $"{c.Drawing}: {string.Join(' ', c.Shown.Select(p => p.Code))}" : "").ShouldBe(drawn);
    }
}
