using Fralto.Core.Edits;
using Fralto.Core.Exchange;
using Fralto.Core.Modbus;
using Fralto.Core.Plant;
using Fralto.Core.Rules;
using Fralto.Core.Scaling;
using Fralto.Core.Units;

namespace Fralto.Core.Tests;

/// <summary>Layouts: say once what a kind of device exposes, and the tags of every device follow.</summary>
public sealed class LayoutTests
{
    private const string Drive = """
        Speed; holding 0; uint16; ; %; ; speed feedback
        Current; holding 1; float32; CDAB; A
        Run; input 4.0; bool
        Fault; coil 3; bool
        """;

    private readonly PlantBuilder _plant = new PlantBuilder()
        .Do(new SaveController(null, "plc", "127.0.0.1", 502, 1, 500), "plc")
        .Do(new SaveLayout(null, "Drive", "Drive", "_", Points(Drive)), "Drive");

    private PlantModel Model => _plant.Model;

    [Fact]
    public void Ten_devices_are_one_edit_and_each_tag_is_device_plus_point_at_base_plus_offset()
    {
        _plant.Do(b => new AddDevices(b["plc"], b["Drive"], "P{n}", 1, 10, 100, 20, 40, 8));
        Model.Tags.Count.ShouldBe(40);
        Model
            .Tags.Values.Where(t => t.Name.StartsWith("P3_", StringComparison.Ordinal))
            .ToDictionary(t => t.Name, t => t.Address.ToString())
            .ShouldBe(
                new Dictionary<string, string>
                {
                    ["P3_Speed"] = "holding 140",
                    ["P3_Current"] = "holding 141",
                    ["P3_Run"] = "input 144.0",
                    ["P3_Fault"] = "coil 59",
                },
                ignoreOrder: true
            );
        Integrity.Problems(Model).ShouldBeEmpty();
    }

    [Fact]
    public void Devices_behind_one_gateway_differ_by_unit_id_and_numbers_are_filled_up()
    {
        _plant.Do(b => new AddDevices(b["plc"], b["Drive"], "P{n}", 9, 2, 0, 0, UnitId: 11, UnitStride: 1, Digits: 3));
        Model.Tags.Values.Select(t => $"{t.Name} {t.Address}").ShouldContain("P009_Speed unit 11 holding 0");
        Model.Tags.Values.Select(t => $"{t.Name} {t.Address}").ShouldContain("P010_Speed unit 12 holding 0");
    }

    [Fact]
    public void A_layout_from_which_devices_were_made_since_is_not_taken_back_and_not_released_without_them()
    {
        var changed = new SaveLayout(
            _plant["Drive"],
            "Drive",
            "Drive",
            "_",
            Points(Drive.Replace("holding 1;", "holding 6;", StringComparison.Ordinal))
        ).On(Model);
        _plant.Do(_ => new SaveLayout(
            _plant["Drive"],
            "Drive",
            "Drive",
            "_",
            [.. changed.Changes[0].After.ShouldBeOfType<DeviceLayout>().Points]
        ));
        new TakeBack("back", changed.Changes).On(Model).IsRefused.ShouldBeFalse();
        _plant.Do(b => new AddDevices(b["plc"], b["Drive"], "P{n}", 1, 2, 100, 20, 0, 8));
        // The points are the same, at other places: the tags would point where nothing is.
        var back = new TakeBack("back", changed.Changes).On(Model);
        back.IsRefused.ShouldBeTrue();
        back.Problems.ShouldContain(p => p.Message.Contains("P1 would not be those of layout Drive", StringComparison.Ordinal));
        Integrity.Problems(Model).ShouldBeEmpty();
    }

    [Fact]
    public void A_changed_layout_changes_the_tags_of_all_devices_and_bindings_stay_with_their_points()
    {
        _plant.Do(b => new AddDevices(b["plc"], b["Drive"], "P{n}", 1, 2, 0, 20, 0, 8));
        var speed = Model.Tags.Values.Single(t => t.Name == "P2_Speed").Id;
        var edit = new SaveLayout(
            _plant["Drive"],
            "Drive",
            "Drive",
            ".",
            Points(
                "Velocity; holding 0; int16; ; r/min\nCurrent; holding 8; float32; CDAB; A\nRun; input 4.0; bool\nTorque; holding 9; int16"
            )
        );
        edit.On(Model).Summary.ShouldContain("Change layout Drive");
        _plant.Do(_ => edit);
        // Renamed at its place: still the same tag. Moved under its name: still the same tag. Gone: gone.
        Model.Tags[speed].Name.ShouldBe("P2.Velocity");
        Model.Tags.Values.Single(t => t.Name == "P1.Current").Address.ToString().ShouldBe("holding 8");
        Model.Tags.Values.ShouldNotContain(t => t.Name.EndsWith("Fault", StringComparison.Ordinal));
        Model.Tags.Values.Count(t => t.Name.EndsWith("Torque", StringComparison.Ordinal)).ShouldBe(2);
    }

    [Fact]
    public void A_device_that_moves_takes_its_tags_along_and_one_that_goes_takes_them_out()
    {
        _plant.Do(b => new AddDevices(b["plc"], b["Drive"], "P{n}", 1, 2, 0, 20, 0, 8));
        var second = Model.Devices.Values.Single(d => d.Name == "P2");
        var tag = Model.Tags.Values.Single(t => t.Name == "P2_Speed").Id;
        _plant.Do(_ => new SaveDevice(second.Id, "Pump2", 500, 60, 9));
        (Model.Tags[tag].Name, Model.Tags[tag].Address.ToString()).ShouldBe(("Pump2_Speed", "unit 9 holding 500"));
        _plant.Do(_ => new RemoveDevice(second.Id));
        Model.Tags.Count.ShouldBe(4);
        _plant.Refused(b => new RemoveLayout(b["Drive"])).Single().Message.ShouldContain("P1");
    }

    [Fact]
    public void Generated_tags_are_changed_by_their_layout_alone()
    {
        _plant.Do(b => new AddDevices(b["plc"], b["Drive"], "P{n}", 1, 1, 0, 20));
        var tag = Model.Tags.Values.First();
        _plant
            .Refused(b => new SaveTag(tag.Id, b["plc"], "Mine", tag.Address, tag.Type, tag.WordOrder, ""))
            .Single()
            .Message.ShouldContain("change its layout");
        _plant.Refused(_ => new RemoveTags(tag.Id)).Single().Message.ShouldContain("belongs to the device P1");
        _plant
            .Refused(_ => new ChangeTags([tag.Id], new() { WordOrder = WordOrder.LowFirst }))
            .Single()
            .Message.ShouldContain("change its layout");
    }

    [Fact]
    public void Collisions_are_refused_by_name_and_place_before_anything_is_made()
    {
        _plant.Do(b => new SaveTag(null, b["plc"], "P1_Speed", RegisterArea.HoldingRegister, 900, RawType.Int16, WordOrder.HighFirst, ""));
        _plant
            .Refused(b => new AddDevices(b["plc"], b["Drive"], "P{n}", 1, 1, 0, 20))
            .ShouldContain(p => p.Message.Contains("already has a tag named P1_Speed"));
        _plant.Do(b => new SaveTag(null, b["plc"], "MINE", RegisterArea.HoldingRegister, 40, RawType.UInt16, WordOrder.HighFirst, ""));
        _plant
            .Refused(b => new AddDevices(b["plc"], b["Drive"], "Q{n}", 1, 1, 40, 20))
            .ShouldContain(p => p.Message.Contains("MINE is uint16 at holding 40 already"));
        _plant
            .Refused(b => new AddDevices(b["plc"], b["Drive"], "Q", 1, 5, 0, 20))
            .ShouldContain(p => p.Field == "Name" && p.Message.Contains("{n}"));
        _plant
            .Refused(b => new AddDevices(b["plc"], b["Drive"], "Q{n}", 1, 3, 65530, 20))
            .ShouldContain(p => p.Message.Contains("beyond 65535") || p.Message.Contains("0 to 65535"));
    }

    [Fact]
    public void Devices_of_two_layouts_take_no_name_or_place_from_each_other()
    {
        _plant.Do(b => new AddDevices(b["plc"], b["Drive"], "P{n}", 1, 2, 0, 20, 0, 8));
        _plant.Do(new SaveLayout(null, "Meter", "Meter", "_", Points("Speed; input 0; int16")), "Meter");
        _plant
            .Refused(b => new AddDevices(b["plc"], b["Meter"], "P{n}", 2, 1, 700, 0))
            .ShouldContain(p => p.Message.Contains("already has a"));
        _plant.Do(new SaveLayout(null, "Twin", "Twin", "_", Points("Other; holding 0; uint16")), "Twin");
        _plant
            .Refused(b => new AddDevices(b["plc"], b["Twin"], "T{n}", 1, 1, 20, 0))
            .ShouldContain(p => p.Message.Contains("P2_Speed is uint16 at holding 20 already"));
        // Two devices of one series on the same registers.
        _plant
            .Refused(b => new AddDevices(b["plc"], b["Twin"], "T{n}", 1, 2, 900, 0))
            .ShouldContain(p => p.Message.Contains("T1_Other is uint16 at holding 900 already"));
    }

    [Fact]
    public void Lines_go_out_and_in_unchanged_and_wrong_ones_say_their_number()
    {
        var points = Points(Drive);
        LayoutText.Parse(LayoutText.Write(points, UnitCatalogue.Standard), UnitCatalogue.Standard, out _).ShouldBe(points);
        LayoutText
            .Parse("A\tinput 0\tREAL\nB; nowhere; int16\nC; input 1; int99; XXXX; furlong", UnitCatalogue.Standard, out var problems)
            .Length.ShouldBe(1);
        problems.Select(p => p.Message.Split(':')[0]).ShouldBe(["Line 2", "Line 3", "Line 3", "Line 3"]);
    }

    [Fact]
    public void A_whole_model_carries_layouts_devices_classes_and_simulations_without_change()
    {
        _plant.Do(b => new AddDevices(b["plc"], b["Drive"], "P{n}", 1, 3, 0, 20, 0, 8));
        var bytes = ModelFormat.Write(Model);
        var document = ModelFormat.Read(bytes, out var problem);
        problem.ShouldBeNull();
        new ReplaceModel(document!).On(Model).Changes.ShouldBeEmpty();
        var anew = PlantModel.Empty.Apply(new ReplaceModel(document!).On(PlantModel.Empty).Changes);
        anew.Tags.Count.ShouldBe(12);
        ModelFormat.Write(anew).ShouldBe(bytes);
    }

    /// <summary>Packed booleans unfold to named bits: bit n mod 32 of 32-bit word n div 32, wherever the order of words puts it.</summary>
    [Theory]
    [InlineData(WordOrder.HighFirst, 0, "input 101.0")]
    [InlineData(WordOrder.LowFirst, 0, "input 100.0")]
    [InlineData(WordOrder.LowFirst, 17, "input 101.1")]
    [InlineData(WordOrder.LowFirst, 33, "input 102.1")]
    public void Packed_contacts_unfold_to_the_register_and_bit_they_are_read_from(WordOrder order, int element, string place)
    {
        _plant.Do(b => new SaveTag(null, b["plc"], "CONTACTS", RegisterArea.InputRegister, 100, RawType.Bool, order, "", 64), "CONTACTS");
        var names = Enumerable.Range(0, 64).Select(i => i == element ? "DOOR" : "").ToArray();
        _plant.Do(b => new UnfoldTag(b["CONTACTS"], [.. names]));
        var tag = Model.Tags.Values.Single(t => t.Name == "DOOR");
        tag.Address.ToString().ShouldBe(place);
        // Checked against the reading of the whole: only that bit of that register set, only that element reads true.
        var words = new ushort[4];
        words[tag.Register!.Offset - 100] = (ushort)(1 << tag.Register!.Bit!.Value);
        Enumerable.Range(0, 64).Where(i => RawCodec.ReadPackedBool(words, i, order)).ShouldBe([element]);
    }

    private static System.Collections.Immutable.ImmutableArray<LayoutPoint> Points(string text)
    {
        var points = LayoutText.Parse(text, UnitCatalogue.Standard, out var problems);
        problems.ShouldBeEmpty();
        return points;
    }
}
