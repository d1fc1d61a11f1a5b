using System.Collections.Immutable;
using CsCheck;
using Fralto.Core.Basics;
using Fralto.Core.Edits;
using Fralto.Core.Modbus;
using Fralto.Core.Mqtt;
using Fralto.Core.Planning;
using Fralto.Core.Plant;
using Fralto.Core.Properties;
using Fralto.Core.Rules;
using Fralto.Core.Scaling;

namespace Fralto.Core.Tests;

/// <summary>Whatever is missing in what was kept, the rest is a plant that runs.</summary>
public sealed class SalvageTests
{
    private static readonly PlantModel Whole = Plant();

    [Fact]
    public void A_whole_model_is_given_back_as_it_is()
    {
        var (model, aside) = Salvage.Of(Whole);
        aside.ShouldBeEmpty();
        model.Templates.ShouldBeSameAs(Whole.Templates);
        model.Equipment.ShouldBeSameAs(Whole.Equipment);
        model.Tags.ShouldBeSameAs(Whole.Tags);
        model.Bindings.ShouldBeSameAs(Whole.Bindings);
    }

    [Fact]
    public void Whatever_is_missing_the_rest_is_whole_and_runs() =>
        Gen
            .Bool.Array[60]
            .Sample(
                missing =>
                {
                    var at = 0;
                    bool Goes() => missing[at++ % missing.Length] && missing[(at * 7) % missing.Length];
                    ImmutableDictionary<TKey, T> Some<TKey, T>(ImmutableDictionary<TKey, T> all)
                        where TKey : notnull => all.RemoveRange(all.Keys.OrderBy(k => k).Where(_ => Goes()));
                    var torn = new PlantModel
                    {
                        NextId = Whole.NextId,
                        StateLists = Some(Whole.StateLists),
                        OwnUnits = Some(Whole.OwnUnits),
                        Scales = Some(Whole.Scales),
                        Templates = Some(Whole.Templates),
                        Equipment = Some(Whole.Equipment),
                        Controllers = Some(Whole.Controllers),
                        Tags = Some(Whole.Tags),
                        Layouts = Some(Whole.Layouts),
                        Devices = Some(Whole.Devices),
                        Bindings = Some(Whole.Bindings),
                        NamingConventions = Whole.NamingConventions,
                    };
                    var (model, aside) = Salvage.Of(torn);
                    Integrity.Problems(model).ShouldBeEmpty();
                    Planner.Compile(model).Plan.Points.Length.ShouldBe(model.Bindings.Count);
                    // What is gone from the model is named, one by one.
                    (torn.Equipment.Count - model.Equipment.Count).ShouldBe(aside.Count(a => a.Kind == "equipment"));
                    (torn.Templates.Count - model.Templates.Count).ShouldBe(aside.Count(a => a.Kind == "template"));
                    (torn.Tags.Count - model.Tags.Count).ShouldBe(aside.Count(a => a.Kind == "tag"));
                    (torn.Bindings.Count - model.Bindings.Count).ShouldBe(aside.Count(a => a.Kind == "binding"));
                    Salvage.Of(model).Aside.ShouldBeEmpty();
                },
                iter: 400
            );

    [Fact]
    public void What_lies_below_itself_is_set_aside_and_nothing_else()
    {
        var kiln = Whole.Equipment.Values.First(e => e.Code == "KLN1");
        var torn = Whole with { Equipment = Whole.Equipment.SetItem(kiln.Id, kiln with { ParentId = kiln.Id }) };
        var (model, aside) = Salvage.Of(torn);
        aside
            .Where(a => a.Kind == "equipment")
            .Select(a => (a.Name, a.Why))
            .ShouldBe([("Kiln 1", "It lies below itself."), ("Main fan", "The place it lies in is not there.")]);
        aside.Where(a => a.Kind != "equipment").ShouldAllBe(a => a.Kind == "binding");
        model.Equipment.Count.ShouldBe(Whole.Equipment.Count - 2);
    }

    private static PlantModel Plant()
    {
        var plant = PlantBuilder
            .Kiln()
            .Do(new SaveOwnUnit(null, "BAG25", "bag", "bag of malt", 25, "KGM"), "bag")
            .Do(b => new SaveNamingConventions([.. b.Model.Templates.Keys.Select(t => ((EquipmentLevel?)null, (long?)t, false, "*"))]))
            .Do(new SaveStateList(null, "Phase", "Phase", [new(0, "Idle"), new(1, "Dry")]), "Phase")
            .Do(new SaveScale(null, "S1", "Scale one", "", new LinearScale(new Span(0, 100), new(0, 50)) { Unit = "BAG25" }), "S1")
            .Do(new SaveTemplate(null, "Fan", "Fan", null, ""), "Fan")
            .Do(
                b => new SaveProperty(
                    b["Fan"],
                    null,
                    "Phase",
                    "Phase",
                    PropertyKind.Measured,
                    PropertyType.State,
                    new() { StateListId = b["Phase"] }
                ),
                "FanPhase"
            )
            .Do(
                b => new SaveProperty(
                    b["Fan"],
                    null,
                    "Mass",
                    "Mass",
                    PropertyKind.Measured,
                    PropertyType.Number,
                    new() { Unit = "BAG25", ScaleId = b["S1"] }
                ),
                "FanMass"
            )
            .Do(b => new SaveTemplate(null, "BigFan", "Big fan", b["Fan"], ""), "BigFan")
            .Do(b => new SavePart(b["Kiln"], null, "FAN", "Main fan", b["BigFan"], EquipmentLevel.EquipmentModule, 1, true), "Part")
            .Do(b => new SaveEquipment(null, "KLN2", "Kiln 2", EquipmentLevel.Unit, b["Quay"], b["Kiln"]), "KLN2")
            .Do(b => new SaveTag(null, b["plc"], "M2", RegisterArea.InputRegister, 4, RawType.Int16, WordOrder.HighFirst, ""), "M2")
            .Do(new SaveController(null, "hub", new MqttConnection("localhost", 1883), 1000), "hub")
            .Do(b => new SaveTag(null, b["hub"], "T1", new TopicAddress("t/1"), RawType.Float64, WordOrder.HighFirst, ""), "T1");
        var fan = plant.Model.Equipment.Values.First(e => e.TemplateId == plant["BigFan"]);
        return plant
            .Do(b => new Bind(fan.Id, b["FanMass"], b["M2"]))
            .Do(b => new Bind(b["KLN2"], b["AirOn"], b["T1"]))
            .Do(b => PatchProperty.Exactly(fan.Id, b["FanMass"], new() { Unit = "KGM" }))
            .Model;
    }
}
