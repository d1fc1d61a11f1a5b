using Fralto.Core.Basics;
using Fralto.Core.Edits;
using Fralto.Core.Plant;

namespace Fralto.Core.Tests;

public sealed class LabelTests
{
    [Fact]
    public void Labels_come_down_from_places_and_templates_and_the_last_to_speak_is_heard()
    {
        var plant = PlantBuilder.Kiln();
        plant.Do(b => new SaveTemplate(b["Kiln"], "Kiln", "Kiln", null, "", null, Read("class=A, medium=air")));
        plant.Do(b => new SaveEquipment(
            b["Quay"],
            "Quay",
            "Tarn Quay",
            EquipmentLevel.Site,
            b["Corvane"],
            null,
            Read("owner=Kilning, class=B")
        ));
        var kiln = plant.Model.Equipment[plant["KLN1"]];
        Labels.Text(plant.Model.Index.LabelsOf(kiln)).ShouldBe("class=A, medium=air, owner=Kilning");
        plant.Do(b => new SaveEquipment(b["KLN1"], "KLN1", "Kiln 1", EquipmentLevel.Unit, b["Quay"], b["Kiln"], Read("medium=steam")));
        Labels.Text(plant.Model.Index.LabelsOf(plant.Model.Equipment[plant["KLN1"]])).ShouldBe("class=A, medium=steam, owner=Kilning");
    }

    [Theory]
    [InlineData("owner", "key=value")]
    [InlineData("1st=x", "no label key")]
    [InlineData("owner=", "needs a value")]
    [InlineData("owner=a, owner=b", "stands there twice")]
    [InlineData("owner=<b>", "holds a comma, < or >")]
    public void What_is_no_label_is_said(string text, string words)
    {
        Labels.Read(text, out var problem);
        problem!.ShouldContain(words);
    }

    [Fact]
    public void Labels_are_found()
    {
        var plant = PlantBuilder.Kiln();
        plant.Do(b => new SaveEquipment(b["Quay"], "Quay", "Tarn Quay", EquipmentLevel.Site, b["Corvane"], null, Read("cost-centre=410")));
        // What lies below a labelled place has its label and is found as well.
        Finder.Find(plant.Model, "centre=41", 10).Select(f => f.Name).ShouldBe(["Kiln 1", "Tarn Quay"], ignoreOrder: true);
    }

    private static System.Collections.Immutable.ImmutableSortedDictionary<string, string> Read(string text)
    {
        var labels = Labels.Read(text, out var problem);
        problem.ShouldBeNull();
        return labels;
    }
}
