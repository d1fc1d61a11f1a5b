using System.Collections.Immutable;
using Fralto.Core.Controllers;
using Fralto.Core.Edits;
using Fralto.Core.Limits;
using Fralto.Core.Plant;
using Fralto.Core.Scaling;
using Fralto.Core.Templates;

namespace Fralto.StandIns.Maltings;

/// <summary>The demo's working model: Corvane Maltings, an invented maker of malt, as far as it has stand-ins.</summary>
public static class MaltingsModel
{
    private const int Kilns = 2;

    /// <summary>The edits that build the model, each made against the model the one before left.</summary>
    /// <param name="kilnPlcPort">Port the kiln-plc listens on.</param>
    public static IEnumerable<Func<PlantModel, Edit>> Edits(int kilnPlcPort) =>
    [
        _ => new SaveController(null, StandInPlant.KilnPlcName, "127.0.0.1", kilnPlcPort, 1, 500),
        .. Enumerable.Range(1, Kilns).SelectMany(TagsOf),
        _ => new SaveStateSet(null, "KilnPhase", "Kiln phase", [.. Enum.GetValues<KilnPhase>().Select(p => new State((int)p, p.ToString()))]),
        _ => new SaveStateSet(null, "RunState", "Run state", [new(0, "Stopped"), new(1, "Running")]),
        _ => new SaveStateSet(null, "DoorState", "Door state", [new(0, "Open"), new(1, "Closed")]),
        _ => new SaveTemplate(null, "Equipment", "Equipment", null, "What every piece of equipment has."),
        Fixed("Equipment", "AssetNumber", "Asset number"),
        Fixed("Equipment", "Maker", "Maker"),
        m => new SaveTemplate(null, "AirSweptBed", "Air-swept bed", Template(m, "Equipment"), "A bed of grain with air blown through it."),
        Number("AirSweptBed", "AirOn", "Air-on temperature", "CEL", 0, 120, null,
            (LimitCondition.HighHigh, 95, 1.5, 1), (LimitCondition.High, 88, 1.5, 2), (LimitCondition.Low, 12, 1, 3), (LimitCondition.LowLow, 5, 1, 2)),
        Number("AirSweptBed", "AirOff", "Air-off temperature", "CEL", 0, 120, null, (LimitCondition.High, 72, 1, 3)),
        Number("AirSweptBed", "FanSpeed", "Fan speed", "P1", 0, 100, new(new(0, KilnPlc.FullScale), new(0, 100))),
        State("AirSweptBed", "FanRun", "Fan", "RunState"),
        m => new SaveTemplate(null, "Kiln", "Kiln", Template(m, "AirSweptBed"), "Dries green malt with hot air: withering, break, drying, curing, cooling."),
        State("Kiln", "Phase", "Phase", "KilnPhase"),
        Number("Kiln", "Moisture", "Grain moisture", "P1", 0, 50, null),
        Number("Kiln", "GasFlow", "Gas flow", "MQH", 0, 800, null, (LimitCondition.High, 700, 10, 2)),
        Number("Kiln", "BedDepth", "Bed depth", "MTR", 0.3, 1.4, null),
        Number("Kiln", "BurnerTime", "Burner running time", "SEC", 0, 10_000_000, null),
        State("Kiln", "Door", "Door", "DoorState"),
        _ => new SaveEquipment(null, "Corvane", "Corvane", EquipmentLevel.Enterprise, null, null),
        Place("Corvane", "TarnQuay", "Tarn Quay", EquipmentLevel.Site),
        Place("Corvane/TarnQuay", "Kilning", "Kilning", EquipmentLevel.Area),
        Place("Corvane/TarnQuay/Kilning", "KilnHouse", "Kiln house", EquipmentLevel.ProcessCell),
        .. Enumerable.Range(1, Kilns).SelectMany(KilnAt),
        Place("Corvane", "Ashholt", "Ashholt", EquipmentLevel.Site),
        Place("Corvane/Ashholt", "TrialHall", "Trial hall", EquipmentLevel.Area),
        Instance("Corvane/Ashholt/TrialHall", "PilotKiln", "Pilot kiln", "Kiln"),
    ];

    private static IEnumerable<Func<PlantModel, Edit>> TagsOf(int number)
    {
        var input = (number - 1) * KilnPlc.InputRegistersPerKiln;
        var contact = (number - 1) * KilnPlc.DiscreteInputsPerKiln;
        Func<PlantModel, Edit> Tag(string name, RegisterArea area, int offset, RawType type, string description) =>
            m => new SaveTag(null, m.Controllers.Values.Single().Id, $"KLN{number}_{name}", area, offset, type, WordOrder.LowFirst, description);
        return
        [
            Tag("TT11", RegisterArea.InputRegister, input, RawType.Float32, "air below the bed, degC"),
            Tag("TT12", RegisterArea.InputRegister, input + 2, RawType.Float32, "air above the bed, degC"),
            Tag("MT01", RegisterArea.InputRegister, input + 4, RawType.Float32, "grain moisture, %"),
            Tag("FT01", RegisterArea.InputRegister, input + 6, RawType.Float32, "gas, m3/h"),
            Tag("LT01", RegisterArea.InputRegister, input + 8, RawType.Float32, "bed depth, m"),
            Tag("SC01", RegisterArea.InputRegister, input + 10, RawType.Int16, "fan speed, counts of 32767"),
            Tag("PH", RegisterArea.InputRegister, input + 11, RawType.UInt16, "phase, 0 to 7"),
            Tag("KQ01", RegisterArea.InputRegister, input + 12, RawType.UInt32, "burner on, seconds"),
            Tag("XS01", RegisterArea.DiscreteInput, contact, RawType.Bool, "fan running"),
            Tag("ZS01", RegisterArea.DiscreteInput, contact + 1, RawType.Bool, "door closed"),
            Tag("BS01", RegisterArea.DiscreteInput, contact + 2, RawType.Bool, "flame"),
            Tag("SP11", RegisterArea.HoldingRegister, (number - 1) * KilnPlc.HoldingRegistersPerKiln, RawType.Float32, "air-on setpoint, degC"),
        ];
    }

    private static IEnumerable<Func<PlantModel, Edit>> KilnAt(int number)
    {
        var path = $"Corvane/TarnQuay/Kilning/KilnHouse/KLN{number}";
        Func<PlantModel, Edit> Bound(string property, string tag) => m => new Bind(
            Equipment(m, path), Property(m, "Kiln", property).Id, m.Tags.Values.Single(t => t.Name == $"KLN{number}_{tag}").Id);
        return
        [
            Instance("Corvane/TarnQuay/Kilning/KilnHouse", $"KLN{number}", $"Kiln {number}", "Kiln"),
            m => PatchProperty.Exactly(Equipment(m, path), Property(m, "Kiln", "AssetNumber").Id, new() { Value = $"MLT-04{10 + number}" }),
            Bound("AirOn", "TT11"),
            Bound("AirOff", "TT12"),
            Bound("Moisture", "MT01"),
            Bound("GasFlow", "FT01"),
            Bound("BedDepth", "LT01"),
            Bound("FanSpeed", "SC01"),
            Bound("Phase", "PH"),
            Bound("BurnerTime", "KQ01"),
            Bound("FanRun", "XS01"),
            // The door of kiln 2 has a tag and waits for its binding.
            .. number == 1 ? [Bound("Door", "ZS01")] : Array.Empty<Func<PlantModel, Edit>>(),
        ];
    }

    private static Func<PlantModel, Edit> Fixed(string template, string code, string name) =>
        m => new SaveProperty(Template(m, template), null, code, name, PropertyKind.Fixed, PropertyType.Text, PropertyPatch.Empty);

    private static Func<PlantModel, Edit> State(string template, string code, string name, string set) => m => new SaveProperty(
        Template(m, template), null, code, name, PropertyKind.Measured, PropertyType.State,
        new() { StateSetId = m.StateSets.Values.Single(s => s.Code == set).Id });

    private static Func<PlantModel, Edit> Number(
        string template, string code, string name, string unit, double low, double high, LinearScale? scale,
        params (LimitCondition Condition, double Setpoint, double Deadband, int Priority)[] limits) => m => new SaveProperty(
            Template(m, template), null, code, name, PropertyKind.Measured, PropertyType.Number,
            new()
            {
                Unit = unit,
                Range = new(low, high),
                Scale = scale,
                Limits = limits.ToImmutableSortedDictionary(l => l.Condition, l => new LimitPatch(l.Setpoint, l.Deadband, l.Priority)),
            });

    private static Func<PlantModel, Edit> Place(string parent, string code, string name, EquipmentLevel level) =>
        m => new SaveEquipment(null, code, name, level, Equipment(m, parent), null);

    private static Func<PlantModel, Edit> Instance(string parent, string code, string name, string template) =>
        m => new SaveEquipment(null, code, name, EquipmentLevel.Unit, Equipment(m, parent), Template(m, template));

    private static long Template(PlantModel model, string code) => model.Templates.Values.Single(t => t.Code == code).Id;

    private static ResolvedProperty Property(PlantModel model, string template, string code) =>
        model.Index.PropertiesOf(Template(model, template)).Single(p => p.Code == code);

    private static long Equipment(PlantModel model, string path) => model.Equipment.Values.Single(e => model.Index.PathOf(e.Id) == path).Id;
}
