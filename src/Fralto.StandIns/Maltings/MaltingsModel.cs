using System.Collections.Immutable;
using Fralto.Core.Basics;
using Fralto.Core.Controllers;
using Fralto.Core.Edits;
using Fralto.Core.Limits;
using Fralto.Core.Modbus;
using Fralto.Core.Mqtt;
using Fralto.Core.Plant;
using Fralto.Core.Properties;
using Fralto.Core.Scaling;
using Fralto.Core.Sparkplug;
using Fralto.Core.Units;

namespace Fralto.StandIns.Maltings;

/// <summary>The demo's working model: Corvane Maltings, an invented maker of malt, as far as it has stand-ins.</summary>
public static class MaltingsModel
{
    private const int Kilns = StandInPlant.Kilns;
    internal const string Quay = "Corvane/TarnQuay";

    /// <summary>The edits that build the model, each made against the model the one before left.</summary>
    /// <param name="ports">Port each stand-in listens on.</param>
    /// <param name="pagerPort">Port the pager listens on.</param>
    /// <param name="mailPort">Port the mail server listens on.</param>
    public static IEnumerable<Func<PlantModel, Edit>> Edits(
        IReadOnlyList<(string Name, int Port)> ports,
        int pagerPort = StandInPlant.DefaultPort + 4,
        int mailPort = StandInPlant.DefaultPort + 5
    ) => Stages(ports, pagerPort, mailPort).SelectMany(s => s.Edits);

    /// <summary>The same edits in the stages in which the plant was put to work, each with the note of its release.</summary>
    /// <param name="ports">Port each stand-in listens on.</param>
    /// <param name="pagerPort">Port the pager listens on.</param>
    /// <param name="mailPort">Port the mail server listens on.</param>
    public static IEnumerable<(string Note, IEnumerable<Func<PlantModel, Edit>> Edits)> Stages(
        IReadOnlyList<(string Name, int Port)> ports,
        int pagerPort,
        int mailPort
    ) =>
        [
            ("Kilns and steeps", Begun(ports, pagerPort, mailPort)),
            (
                "Germination boxes and silos",
                [
                    .. Enumerable.Range(1, StandInPlant.Boxes).SelectMany(BoxAt),
                    .. Enumerable.Range(1, StandInPlant.Silos).SelectMany(SiloAt),
                ]
            ),
            ("Ashholt, and who is told of alarms", [.. Ashholt, .. MaltingsLimits.Told]),
            .. ports.Any(p => p.Name == StandInPlant.UtilityUaName)
                ? new[] { ("Utilities", UtilityTags.Edits(ports.Single(p => p.Name == StandInPlant.UtilityUaName).Port)) }
                : [],
        ];

    private static IEnumerable<Func<PlantModel, Edit>> Begun(IReadOnlyList<(string Name, int Port)> ports, int pagerPort, int mailPort) =>
        [
            .. ports
                .Where(c => c.Name != StandInPlant.UtilityUaName)
                .Select(c =>
                    (Func<PlantModel, Edit>)(
                        _ => new SaveController(
                            null,
                            c.Name,
                            ConnectionOf(c.Name, c.Port),
                            c.Name switch
                            {
                                StandInPlant.BoxEdgeName => 0,
                                StandInPlant.SiloHubName => 2000,
                                _ => 500,
                            }
                        )
                    )
                ),
            .. Enumerable.Range(1, Kilns).SelectMany(TagsOf),
            Tag(
                StandInPlant.KilnPlcName,
                "CONTACTS",
                Kilns * KilnPlc.InputRegistersPerKiln,
                RawType.Bool,
                "run and door contacts, 16 a kiln: main fan, exhaust fan, turner, door, burner",
                WordOrder.LowFirst,
                KilnPlc.Contacts
            ),
            SteepLayout,
            m => new AddDevices(
                Controller(m, StandInPlant.SteepPlcName),
                m.Layouts.Values.Single().Id,
                "S{n}",
                1,
                StandInPlant.Steeps,
                0,
                SteepPlc.RegistersPerSteep,
                Digits: 2
            ),
            BoxTags,
            SiloTags,
            .. TrialTags,
            Tag(
                StandInPlant.SteepPlcName,
                "TypePlate",
                SteepPlc.TypePlateAt,
                RawType.Text,
                "type plate of the controller",
                WordOrder.HighFirst,
                SteepPlc.TypePlateLength
            ),
            .. StateLists,
            .. Scales,
            .. Basics,
            .. Machines,
            .. Vessels,
            .. Beds,
            .. Calculations,
            .. KeyFigures,
            .. MaltingsLimits.Edits,
            _ => MaltingsLimits.Responses(pagerPort),
            _ => MaltingsLimits.Mail(mailPort),
            .. TarnQuay,
            .. Enumerable.Range(1, Kilns).SelectMany(KilnAt),
            .. Enumerable.Range(1, StandInPlant.Steeps).SelectMany(SteepAt),
        ];

    private static IEnumerable<Func<PlantModel, Edit>> StateLists =>
        [
            _ => new SaveStateList(
                null,
                "KilnPhase",
                "Kiln phase",
                [.. Enum.GetValues<KilnPhase>().Select(p => new State((int)p, p.ToString()))]
            ),
            _ => new SaveStateList(null, "RunState", "Run state", [new(0, "Stopped"), new(1, "Running")]),
            _ => new SaveStateList(null, "DoorState", "Door state", [new(0, "Open"), new(1, "Closed")]),
            _ => new SaveStateList(
                null,
                "SteepStep",
                "Steep step",
                [new(0, "Idle"), new(1, "Fill"), new(2, "Soak"), new(3, "Drain"), new(4, "AirRest"), new(5, "Empty")]
            ),
            _ => new SaveStateList(
                null,
                "BoxPhase",
                "Box phase",
                [new(0, "Idle"), new(1, "Load"), new(2, "Germinate"), new(3, "Turn"), new(4, "Unload")]
            ),
        ];

    /// <summary>Scales that many instances share. That of the oxygen is one of the demo's honest mistakes: the card's counts end at
    /// 32767.</summary>
    private static IEnumerable<Func<PlantModel, Edit>> Scales =>
        [
            _ => new SaveScale(
                null,
                "SteepLevel",
                "Steep level",
                "Hydrostatic transmitter at the cone",
                new LinearScale(Signal.Of(SignalKind.Counts15), new(0, 3.2))
            ),
            _ => new SaveScale(
                null,
                "SteepTemperature",
                "Steep temperature",
                "Pt100 behind a transmitter",
                new LinearScale(Signal.Of(SignalKind.Counts15), new(0, 50)) { Unit = "CEL" }
            ),
            _ => new SaveScale(
                null,
                "SteepOxygen",
                "Steep oxygen",
                "Optical probe",
                new LinearScale(Signal.Of(SignalKind.Counts16), new(0, 12))
            ),
            _ => new SaveScale(
                null,
                "SteepFlow",
                "Steep water flow",
                "Orifice plate; the transmitter gives differential pressure",
                new SquareRootScale(Signal.Of(SignalKind.Counts15), new(0, 60), 0.05) { Unit = "MQH" }
            ),
            _ => new SaveScale(
                null,
                "SiloStrapping",
                "Silo strapping table",
                "Level to mass of malt at 540 kg/m³: cone, then shaft",
                new TableScale(
                    Signal.Of(SignalKind.Milliamps),
                    new(0, 18),
                    [new(0, 0), new(1, 6), new(2, 21), new(3, 48), new(4, 84), new(18, 588)]
                )
                {
                    Unit = "TNE",
                }
            ),
        ];

    private static IEnumerable<Func<PlantModel, Edit>> Basics =>
        [
            _ => new SaveTemplate(null, "Equipment", "Equipment", null, "What every piece of equipment has."),
            Fixed("Equipment", "AssetNumber", "Asset number"),
            Fixed("Equipment", "Maker", "Maker"),
            Fixed("Equipment", "SerialNumber", "Serial number"),
            m => new SaveProperty(
                Template(m, "Equipment"),
                null,
                "CommissionedOn",
                "Commissioned on",
                PropertyKind.Fixed,
                PropertyType.Time,
                PropertyPatch.Empty
            ),
            NewTemplate(
                "TemperatureLoop",
                "Temperature loop",
                "Equipment",
                "A measured temperature, its setpoint and what the controller gives out.",
                EquipmentLevel.ControlModule
            ),
            Number("TemperatureLoop", "Value", "Value", "CEL", 0, 120, null),
            Number("TemperatureLoop", "Output", "Output", "P1", 0, 100, null),
            m => new SaveProperty(
                Template(m, "TemperatureLoop"),
                null,
                "Setpoint",
                "Setpoint",
                PropertyKind.Command,
                PropertyType.Number,
                new() { Unit = "CEL", Range = new(0, 120) }
            ),
            NewTemplate(
                "Weigher",
                "Weigher",
                "Equipment",
                "Weighs what stands or flows on it.",
                EquipmentLevel.ControlModule,
                EquipmentLevel.WorkCell
            ),
            Number("Weigher", "Weight", "Weight", "KGM", 0, 30_000, null),
            NewTemplate(
                "GasBurner",
                "Gas burner",
                "Equipment",
                "Heats air with natural gas.",
                EquipmentLevel.EquipmentModule,
                EquipmentLevel.Unit
            ),
            State("GasBurner", "Flame", "Flame", "RunState"),
            Number("GasBurner", "GasPressure", "Gas pressure", "MBR", 0, 120, null, (LimitCondition.Low, 18, 1, 2)),
        ];

    private static IEnumerable<Func<PlantModel, Edit>> Machines =>
        [
            NewTemplate("DrivenMachine", "Driven machine", "Equipment", "Anything a motor turns."),
            State("DrivenMachine", "Run", "Run", "RunState"),
            Number("DrivenMachine", "Current", "Motor current", "AMP", 0, 60, null, (LimitCondition.High, 55, 1, 3)),
            Formula("DrivenMachine", "RunningHours", "Running hours", "HUR", 0, 200_000, "time(Run is Running)"),
            Formula("DrivenMachine", "Starts", "Starts", null, 0, 100_000, "starts(Run is Running)"),
            Formula("DrivenMachine", "StartsToday", "Starts today", null, 0, 100, "starts(Run is Running, each day)"),
            NewTemplate("Fan", "Fan", "DrivenMachine", "Moves air through a bed.", EquipmentLevel.EquipmentModule),
            Number("Fan", "Speed", "Speed", "RPM", 0, 1450, null),
            NewTemplate("Elevator", "Elevator", "DrivenMachine", "Lifts grain in buckets on a belt.", EquipmentLevel.WorkCell),
            Number("Elevator", "BeltSpeed", "Belt speed", "MTS", 0, 3.2, null, (LimitCondition.Low, 1.8, 0.1, 1)),
            NewTemplate(
                "ScrewTurner",
                "Screw turner",
                "DrivenMachine",
                "Turns the bed with screws on a carriage.",
                EquipmentLevel.EquipmentModule
            ),
            Number("ScrewTurner", "Position", "Position", "MTR", 0, 42, null),
            NewTemplate("Pump", "Pump", "DrivenMachine", "Moves water.", EquipmentLevel.EquipmentModule, EquipmentLevel.Unit),
            Number("Pump", "Flow", "Flow", "MQH", 0, 120, null),
            NewTemplate("Compressor", "Compressor", "DrivenMachine", "Keeps the air net at pressure.", EquipmentLevel.Unit),
            Number(
                "Compressor",
                "Pressure",
                "Pressure",
                "BAR",
                0,
                10,
                null,
                (LimitCondition.Low, 6, 0.1, 2),
                (LimitCondition.High, 8, 0.1, 3)
            ),
        ];

    private static IEnumerable<Func<PlantModel, Edit>> Vessels =>
        [
            NewTemplate("Vessel", "Vessel", "Equipment", "Holds a liquid, or grain in water."),
            Number("Vessel", "Level", "Level", "MTR", 0, 5, null),
            Number("Vessel", "Temperature", "Temperature", "CEL", 0, 60, null),
            NewTemplate(
                "SteepVessel",
                "Steep vessel",
                "Vessel",
                "Soaks barley: fill, soak, drain, rest in air, and again for about 40 h.",
                EquipmentLevel.Unit
            ),
            Refine(
                "SteepVessel",
                "Level",
                new() { Range = new(0, 3.2), Limits = Limits((LimitCondition.HighHigh, 3.1, 0.02, 1), (LimitCondition.High, 3, 0.02, 3)) }
            ),
            Refine(
                "SteepVessel",
                "Temperature",
                new()
                {
                    Range = new(5, 30),
                    Limits = Limits((LimitCondition.High, 18, 0.3, 2), (LimitCondition.Low, 11, 0.3, 3)),
                    Description = "water, 13 to 16 degC in soak",
                }
            ),
            State("SteepVessel", "Step", "Step", "SteepStep"),
            RefineScale("SteepVessel", "Level", "SteepLevel"),
            RefineScale("SteepVessel", "Temperature", "SteepTemperature"),
            Number("SteepVessel", "Oxygen", "Dissolved oxygen", "M1", 0, 12, null, (LimitCondition.Low, 0.5, 0.2, 3)),
            Named("SteepVessel", "Oxygen", "SteepOxygen"),
            Number("SteepVessel", "WaterFlow", "Water flow", "MQH", 0, 60, null),
            Named("SteepVessel", "WaterFlow", "SteepFlow"),
            m => new SaveProperty(
                Template(m, "SteepVessel"),
                null,
                "StepTime",
                "Time in step",
                PropertyKind.Measured,
                PropertyType.Integer,
                new() { Unit = "MIN", Range = new(0, 1440) }
            ),
            NewTemplate(
                "BrineDayTank",
                "Brine day tank",
                "Vessel",
                "Salt water for softening, a day's worth.",
                EquipmentLevel.Unit,
                EquipmentLevel.EquipmentModule
            ),
            Refine("BrineDayTank", "Level", new() { Range = new(0, 2), Limits = Limits((LimitCondition.Low, 0.4, 0.05, 3)) }),
            NewTemplate(
                "Silo",
                "Silo",
                "Equipment",
                "Stores barley or malt; level by radar, mass by strapping table, three cables of temperatures.",
                EquipmentLevel.StorageUnit
            ),
            Number("Silo", "Level", "Level", "MTR", 0, 18, null, (LimitCondition.High, 17.2, 0.1, 2)),
            Number("Silo", "Mass", "Mass", "TNE", 0, 600, null),
            Number("Silo", "MassByLevel", "Mass by level", "TNE", 0, 600, null),
            Named("Silo", "MassByLevel", "SiloStrapping"),
            Command("Silo", "Aeration", "Aeration", "RunState"),
            .. Enumerable
                .Range(1, 3)
                .Select(n => Number("Silo", $"Cable{n}", $"Cable {n} temperature", "CEL", -20, 60, null, (LimitCondition.High, 35, 1, 2))),
            Fixed("Silo", "Holds", "Holds"),
        ];

    private static IEnumerable<Func<PlantModel, Edit>> Beds =>
        [
            m => new SaveTemplate(
                null,
                "AirSweptBed",
                "Air-swept bed",
                Template(m, "Equipment"),
                "A bed of grain with air blown through it.",
                null,
                Label("medium=air")
            ),
            Number(
                "AirSweptBed",
                "AirOn",
                "Air-on temperature",
                "CEL",
                0,
                120,
                null,
                (LimitCondition.HighHigh, 95, 1.5, 1),
                (LimitCondition.High, 88, 1.5, 2),
                (LimitCondition.Low, 12, 1, 3),
                (LimitCondition.LowLow, 5, 1, 2)
            ),
            Number("AirSweptBed", "AirOff", "Air-off temperature", "CEL", 0, 120, null, (LimitCondition.High, 72, 1, 3)),
            Number("AirSweptBed", "FanSpeed", "Fan speed", "P1", 0, 100, new LinearScale(new Span(0, KilnPlc.FullScale), new(0, 100))),
            State("AirSweptBed", "FanRun", "Fan", "RunState"),
            NewTemplate(
                "GerminationBox",
                "Germination box",
                "AirSweptBed",
                "Grows green malt for four to five days in humid air.",
                EquipmentLevel.Unit
            ),
            Refine(
                "GerminationBox",
                "AirOn",
                new()
                {
                    Range = new(0, 40),
                    Limits = Limits(
                        (LimitCondition.HighHigh, 26, 0.5, 1),
                        (LimitCondition.High, 22, 0.5, 2),
                        (LimitCondition.Low, 10, 0.5, 3),
                        (LimitCondition.LowLow, 6, 0.5, 2)
                    ),
                }
            ),
            Refine("GerminationBox", "AirOff", new() { Range = new(0, 40), Limits = Limits((LimitCondition.High, 24, 0.5, 3)) }),
            .. new[] { ("Top", "Top of bed"), ("Mid", "Middle of bed"), ("Low", "Bottom of bed") }.Select(d =>
                Number("GerminationBox", $"Bed{d.Item1}", d.Item2, "CEL", 0, 40, null, (LimitCondition.High, 20, 0.3, 2))
            ),
            Number("GerminationBox", "CarbonDioxide", "Carbon dioxide", "P1", 0, 10, null, (LimitCondition.High, 8, 0.2, 3)),
            Number("GerminationBox", "Humidity", "Humidity", "P1", 0, 100, null, (LimitCondition.Low, 90, 1, 3)),
            State("GerminationBox", "Phase", "Phase", "BoxPhase"),
            m => new SaveProperty(
                Template(m, "GerminationBox"),
                null,
                "AirOnSetpoint",
                "Air-on setpoint",
                PropertyKind.Command,
                PropertyType.Number,
                new() { Unit = "CEL", Range = new(8, 25) }
            ),
            Part("GerminationBox", "MainFan", "Main fan", "Fan", EquipmentLevel.EquipmentModule),
            Part("GerminationBox", "Turner", "Turning carriage", "ScrewTurner", EquipmentLevel.EquipmentModule),
            NewTemplate(
                "Kiln",
                "Kiln",
                "AirSweptBed",
                "Dries green malt with hot air: withering, break, drying, curing, cooling.",
                EquipmentLevel.Unit
            ),
            State("Kiln", "Phase", "Phase", "KilnPhase"),
            Number("Kiln", "Moisture", "Grain moisture", "P1", 0, 50, null),
            Number("Kiln", "GasFlow", "Gas flow", "MQH", 0, 800, null, (LimitCondition.High, 700, 10, 2)),
            Number("Kiln", "BedDepth", "Bed depth", "MTR", 0.3, 1.4, null),
            Number("Kiln", "BurnerTime", "Burner running time", "SEC", 0, 10_000_000, null),
            State("Kiln", "Door", "Door", "DoorState"),
            Part("Kiln", "MainFan", "Main fan", "Fan", EquipmentLevel.EquipmentModule),
            Part("Kiln", "ExhaustFan", "Exhaust fan", "Fan", EquipmentLevel.EquipmentModule),
            Part("Kiln", "Burner", "Burner", "GasBurner", EquipmentLevel.EquipmentModule),
            Part("Kiln", "AirOnLoop", "Air-on loop", "TemperatureLoop", EquipmentLevel.ControlModule),
            Part("Kiln", "BedTurner", "Bed turner", "ScrewTurner", EquipmentLevel.EquipmentModule),
            Part("Kiln", "LC{n}", "Load cell {n}", "Weigher", EquipmentLevel.ControlModule, 2),
        ];

    /// <summary>What places show of their units.</summary>
    private static IEnumerable<Func<PlantModel, Edit>> KeyFigures =>
        [
            Figure("SteepVessel", "Step"),
            Figure("SteepVessel", "Level"),
            Figure("GerminationBox", "BedTop"),
            Figure("GerminationBox", "BedMid"),
            Figure("GerminationBox", "BedLow"),
            Figure("Kiln", "Phase"),
            Figure("Kiln", "AirOn"),
            Figure("GasBurner", "Flame"),
            Figure("Silo", "Level"),
            Figure("Silo", "MassByLevel"),
            Figure("Elevator", "Current"),
        ];

    /// <summary>Names a property as one of the key figures of its place, beside what the template says of it already.</summary>
    private static Func<PlantModel, Edit> Figure(string template, string code) =>
        m =>
            ManyEdits.Exactly(
                Template(m, template),
                Property(m, template, code),
                Property(m, template, code).Own with
                {
                    IsKeyFigure = true,
                }
            );

    /// <summary>What is not measured but worked out, and what the laboratory enters.</summary>
    private static IEnumerable<Func<PlantModel, Edit>> Calculations =>
        [
            _ => new SaveCalendar("Europe/Dublin", [new("early", new(6, 0)), new("late", new(14, 0)), new("night", new(22, 0))]),
            Formula("AirSweptBed", "AirDrop", "Air temperature drop", "KEL", -10, 60, "AirOn - AirOff"),
            Formula("AirSweptBed", "AirFlow", "Air flow", "MQH", 0, 300_000, "FanSpeed / 100 % × 270 000 m³/h"),
            Formula("AirSweptBed", "HeatToAir", "Heat to the bed", "KWT", -500, 5000, "AirFlow × 1.1 kJ/(m³·K) × AirDrop"),
            Formula("Kiln", "GasHeat", "Heat of the gas", "KWT", 0, 8000, "GasFlow × 9.77 kWh/m³"),
            Formula(
                "Kiln",
                "Efficiency",
                "Share of the heat in the bed",
                "P1",
                0,
                100,
                "if GasHeat > 20 kW then HeatToAir / GasHeat else 0 %"
            ),
            Formula(
                "Kiln",
                "BatchGas",
                "Gas of this batch",
                "MTQ",
                0,
                20_000,
                "total(GasFlow, from 2 m³/h, reset when Phase is Withering)"
            ),
            Formula("Kiln", "PhaseTime", "Time in this phase", "HUR", 0, 48, "held(Phase)"),
            Entered("Kiln", "DryLoad", "Dry mass of the load", "TNE", 0, 60, null),
            Formula("Kiln", "Evaporation", "Evaporation", "E93", -500, 6000, "-rate(DryLoad × Moisture / (100 % - Moisture), last 10 min)"),
            Formula("GerminationBox", "WarmestBed", "Warmest of the bed", "CEL", 10, 30, "max(BedTop, BedMid, BedLow)"),
            m =>
                Calculated(
                    m,
                    "GerminationBox",
                    "WarmestAt",
                    "Warmest at",
                    PropertyType.Text,
                    new() { Formula = "which max(BedTop, BedMid, BedLow)" }
                ),
            Formula("GerminationBox", "CarbonDioxideHour", "Carbon dioxide, last hour", "P1", 0, 10, "mean(CarbonDioxide, last 1 h)"),
            Entered("GerminationBox", "Chitting", "Chitted corns, laboratory", "P1", 0, 100, 86_400),
            Formula("SteepVessel", "WaterToday", "Water today", "MTQ", 0, 500, "total(WaterFlow, each day)"),
            Formula("SteepVessel", "OxygenLow", "Least oxygen, last 15 min", "M1", 0, 12, "min(Oxygen, last 15 min)"),
            Formula("Silo", "MassApart", "Weighed less than by level", "TNE", -100, 100, "MassByLevel - Mass"),
            Formula("Silo", "WarmestCable", "Warmest cable", "CEL", -20, 60, "max(Cable1, Cable2, Cable3)"),
            _ => new SaveTemplate(null, "SiloPark", "Silo park", null, "All silos of a site together.", [EquipmentLevel.StorageZone]),
            Formula("SiloPark", "Stock", "Stock", "TNE", 0, 15_000, "sum(below Silo: Mass)"),
            m =>
                Calculated(m, "SiloPark", "Fullest", "Fullest silo", PropertyType.Text, new() { Formula = "which max(below Silo: Level)" }),
            Formula("SiloPark", "Warm", "Silos above 30 °C", null, 0, 24, "count(below Silo: WarmestCable > 30 °C)"),
        ];

    private static Func<PlantModel, Edit> Formula(
        string template,
        string code,
        string name,
        string? unit,
        double low,
        double high,
        string formula
    ) =>
        m =>
            Calculated(
                m,
                template,
                code,
                name,
                unit is null ? PropertyType.Integer : PropertyType.Number,
                new()
                {
                    Unit = unit,
                    Range = new(low, high),
                    Formula = formula,
                }
            );

    private static SaveProperty Calculated(
        PlantModel m,
        string template,
        string code,
        string name,
        PropertyType type,
        PropertyPatch facts
    ) => new(Template(m, template), null, code, name, PropertyKind.Calculated, type, facts);

    private static Func<PlantModel, Edit> Entered(
        string template,
        string code,
        string name,
        string unit,
        double low,
        double high,
        double? validSeconds
    ) =>
        m => new SaveProperty(
            Template(m, template),
            null,
            code,
            name,
            PropertyKind.Entered,
            PropertyType.Number,
            new()
            {
                Unit = unit,
                Range = new(low, high),
                ValidSeconds = validSeconds,
            }
        );

    private static IEnumerable<Func<PlantModel, Edit>> TarnQuay =>
        [
            _ => new SaveEquipment(null, "Corvane", "Corvane", EquipmentLevel.Enterprise, null, null),
            Place("Corvane", "TarnQuay", "Tarn Quay", EquipmentLevel.Site),
            Place(Quay, "Steeping", "Steeping", EquipmentLevel.Area, "cost-centre=410"),
            Place($"{Quay}/Steeping", "SteepHouse", "Steep house", EquipmentLevel.ProcessCell),
            Series($"{Quay}/Steeping/SteepHouse", EquipmentLevel.Unit, "SteepVessel", "Steep {n}", "ST{n}", 8),
            Place(Quay, "Germination", "Germination", EquipmentLevel.Area, "cost-centre=420"),
            Place($"{Quay}/Germination", "BoxHouse", "Box house", EquipmentLevel.ProcessCell),
            Series($"{Quay}/Germination/BoxHouse", EquipmentLevel.Unit, "GerminationBox", "Box {n}", "BOX{n}", 6),
            Place(Quay, "Kilning", "Kilning", EquipmentLevel.Area, "cost-centre=430"),
            Place($"{Quay}/Kilning", "KilnHouse", "Kiln house", EquipmentLevel.ProcessCell),
            Place($"{Quay}/Kilning", "BurnerHall", "Burner hall", EquipmentLevel.ProcessCell),
            Series($"{Quay}/Kilning/BurnerHall", EquipmentLevel.Unit, "GasBurner", "Burner {n}", "BRN{n}", 6),
            Place(Quay, "GrainHandling", "Grain handling", EquipmentLevel.Area, "cost-centre=440"),
            Instance($"{Quay}/GrainHandling", "SiloPark", "Silo park", "SiloPark", EquipmentLevel.StorageZone),
            Series($"{Quay}/GrainHandling/SiloPark", EquipmentLevel.StorageUnit, "Silo", "Silo {n}", "S{n}", 24, 2),
            Place($"{Quay}/GrainHandling", "Intake", "Intake line", EquipmentLevel.ProductionLine),
            Series($"{Quay}/GrainHandling/Intake", EquipmentLevel.WorkCell, "Elevator", "Elevator {n}", "EL{n}", 2),
            Instance($"{Quay}/GrainHandling/Intake", "Cleaner", "Cleaner", "DrivenMachine", EquipmentLevel.WorkCell),
            Instance($"{Quay}/GrainHandling/Intake", "Weigher", "Weigher", "Weigher", EquipmentLevel.WorkCell),
            Place($"{Quay}/GrainHandling", "Bagging", "Bagging line", EquipmentLevel.ProductionLine),
            Instance($"{Quay}/GrainHandling/Bagging", "Filler", "Filler", "DrivenMachine", EquipmentLevel.WorkCell),
            Instance($"{Quay}/GrainHandling/Bagging", "Closer", "Closer", "DrivenMachine", EquipmentLevel.WorkCell),
            Instance($"{Quay}/GrainHandling/Bagging", "Palletiser", "Palletiser", "DrivenMachine", EquipmentLevel.WorkCell),
            Place(Quay, "Utilities", "Utilities", EquipmentLevel.Area, "cost-centre=490"),
            Place($"{Quay}/Utilities", "Water", "Water treatment", EquipmentLevel.ProductionUnit),
            Instance($"{Quay}/Utilities/Water", "Brine", "Brine day tank", "BrineDayTank"),
            Series($"{Quay}/Utilities/Water", EquipmentLevel.Unit, "Pump", "Raw water pump {n}", "RWP{n}", 2),
            Place($"{Quay}/Utilities", "Air", "Compressed air", EquipmentLevel.ProductionUnit),
            Series($"{Quay}/Utilities/Air", EquipmentLevel.Unit, "Compressor", "Compressor {n}", "CMP{n}", 2),
            Place($"{Quay}/Utilities", "HeatRecovery", "Heat recovery loop", EquipmentLevel.ProductionUnit),
            Series($"{Quay}/Utilities/HeatRecovery", EquipmentLevel.Unit, "Pump", "Loop pump {n}", "LP{n}", 2),
        ];

    /// <summary>The pilot plant is not bound: the work left for whoever tries the demo.</summary>
    private static IEnumerable<Func<PlantModel, Edit>> Ashholt =>
        [
            Place("Corvane", "Ashholt", "Ashholt", EquipmentLevel.Site),
            Place("Corvane/Ashholt", "TrialHall", "Trial hall", EquipmentLevel.Area, "cost-centre=900"),
            Instance("Corvane/Ashholt/TrialHall", "PilotKiln", "Pilot kiln", "Kiln"),
            Series("Corvane/Ashholt/TrialHall", EquipmentLevel.Unit, "SteepVessel", "Pilot steep {n}", "PilotSteep{n}", 2),
        ];

    private static Connection ConnectionOf(string name, int port) =>
        name switch
        {
            StandInPlant.BoxEdgeName => new SparkplugConnection("127.0.0.1", port) { Group = BoxEdge.Group },
            StandInPlant.SiloHubName => new MqttConnection("127.0.0.1", port) { StatusTopic = SiloHub.StatusTopic },
            _ => new ModbusConnection("127.0.0.1", port, 1),
        };

    /// <summary>What every steep exposes: its tags are generated from it.</summary>
    private static Func<PlantModel, Edit> SteepLayout => _ => new SaveLayout(null, "SteepBlock", "Steep block", "-", SteepPoints);

    private static ImmutableArray<LayoutPoint> SteepPoints =>
        [
            Point("LT-101", 0, RawType.Int16, "level, counts of 4...20 mA, 0...3.2 m"),
            Point("TT-102", 1, RawType.Int16, "temperature, counts of 4...20 mA, 0...50 degC"),
            Point("AT-103", 2, RawType.Int16, "dissolved oxygen, counts of 4...20 mA, 0...12 mg/L"),
            Point("FT-104", 3, RawType.Int16, "fill water, counts of 4...20 mA differential pressure, 0...60 m3/h"),
            Point("STW", 4, RawType.UInt16, "status word: 0 to 2 step, 3 fill valve, 4 drain valve, 5 air"),
            Point("KT-105", 5, RawType.Bcd16, "minutes in the step, BCD"),
        ];

    /// <summary>The pilot plant's tags, named after the house style of each hall; nobody has bound them yet.</summary>
    private static IEnumerable<Func<PlantModel, Edit>> TrialTags =>
        [
            .. KilnPoints.Select(p =>
                (Func<PlantModel, Edit>)(
                    m => new SaveTag(
                        null,
                        Controller(m, StandInPlant.TrialPlcName),
                        $"PK.{p.Name}",
                        p.Area,
                        p.Offset,
                        p.Type,
                        WordOrder.LowFirst,
                        p.Description,
                        1,
                        UnitIn(p.Description)
                    )
                )
            ),
            Tag(
                StandInPlant.TrialPlcName,
                "PK.CONTACTS",
                KilnPlc.InputRegistersPerKiln,
                RawType.Bool,
                "run and door contacts: main fan, exhaust fan, turner, door, burner",
                WordOrder.LowFirst,
                KilnPlc.ContactsPerKiln
            ),
            .. from steep in Enumerable.Range(1, StandInPlant.PilotSteeps)
            from point in SteepPoints
            select (Func<PlantModel, Edit>)(
                m => new SaveTag(
                    null,
                    Controller(m, StandInPlant.TrialPlcName),
                    $"PS{steep}.{point.Name}",
                    new ModbusAddress(
                        RegisterArea.InputRegister,
                        (steep - 1) * SteepPlc.RegistersPerSteep + point.Offset,
                        null,
                        StandInPlant.PilotSteepsUnit
                    ),
                    point.Type,
                    WordOrder.HighFirst,
                    point.Description
                )
            ),
        ];

    private static LayoutPoint Point(string name, int offset, RawType type, string description) =>
        new(0, name, RegisterArea.InputRegister, offset, null, type, WordOrder.HighFirst, Description: description);

    private static readonly (string Metric, RawType Type, int Count, string? Unit, double High, string Text)[] BoxPoints =
    [
        ("bed/top", RawType.Float32, 1, "degC", 40, "bed temperature, top"),
        ("bed/mid", RawType.Float32, 1, "degC", 40, "bed temperature, middle"),
        ("bed/low", RawType.Float32, 1, "degC", 40, "bed temperature, bottom"),
        ("air/on", RawType.Float32, 1, "degC", 40, "air below the bed"),
        ("air/off", RawType.Float32, 1, "degC", 40, "air above the bed"),
        ("air/humidity", RawType.Float32, 1, "%", 100, "relative humidity of the air"),
        ("air/co2", RawType.Float32, 1, "%", 10, "carbon dioxide in the air"),
        ("air/setpoint", RawType.Float32, 1, "degC", 40, "setpoint of the air below the bed"),
        ("air/damper", RawType.Float32, 1, "%", 100, "fresh air damper"),
        ("fan/speed", RawType.Int32, 1, null, 0, "fan speed, counts of 32767"),
        ("fan/run", RawType.Bool, 1, null, 0, "fan running"),
        ("phase", RawType.Int32, 1, null, 0, "0 idle, 1 load, 2 germinate, 3 turn, 4 unload"),
        ("carriage/position", RawType.Float32, 1, "m", 42, "position of the carriage"),
        ("carriage/moving", RawType.Bool, 1, null, 0, "carriage moving"),
        ("contacts", RawType.Bool, 8, null, 0, "contacts: fan, carriage, door, hatch, four spare"),
    ];

    /// <summary>What the edge node's births list; box 6 has no carbon dioxide, box 2 says a wrong unit for its humidity.</summary>
    private static Func<PlantModel, Edit> BoxTags =>
        m => new DeclareTags(
            Controller(m, StandInPlant.BoxEdgeName),
            [
                .. Enumerable
                    .Range(1, StandInPlant.Boxes)
                    .SelectMany(box =>
                        BoxPoints
                            .Where(p => box != BoxEdge.WithoutCarbonDioxide || p.Metric != "air/co2")
                            .Select(p => new SourceItem(
                                new MetricAddress(BoxEdge.Group, BoxEdge.Node, $"box-{box}", p.Metric),
                                ["box", $"{box}", .. p.Metric.Split('/')],
                                p.Type,
                                p.Count,
                                "",
                                box == BoxEdge.WrongUnit && p.Metric == "air/humidity" ? "degC" : p.Unit,
                                p.High > 0 ? new Span(0, p.High) : null,
                                p.Text
                            ))
                    ),
            ]
        );

    /// <summary>What the hub publishes, as its documentation says: silo 9's mass and silo 14's temperatures are not what it says.</summary>
    private static Func<PlantModel, Edit> SiloTags =>
        m => new DeclareTags(
            Controller(m, StandInPlant.SiloHubName),
            [
                .. Enumerable
                    .Range(1, StandInPlant.Silos)
                    .SelectMany(silo =>
                    {
                        var topic = $"{SiloHub.Root}/S{silo:00}";
                        SourceItem Of(
                            string name,
                            string? pointer,
                            RawType type,
                            string? unit,
                            Span? range,
                            string text,
                            string? set = null
                        ) =>
                            new(
                                new TopicAddress(
                                    topic + (pointer is null ? $"/{name}" : ""),
                                    pointer,
                                    pointer is null ? null : "/ts",
                                    pointer is null ? null : "/q",
                                    set
                                ),
                                ["silo", $"{silo:00}", name],
                                type,
                                1,
                                "",
                                unit,
                                range,
                                text
                            );
                        return new[]
                        {
                            Of("level", "/level/m", RawType.Float64, "m", new(0, 18), "level by radar"),
                            Of("level-mA", "/level/mA", RawType.Float64, null, new(4, 20), "level by radar, its signal"),
                            Of("mass", "/mass_lb", RawType.Float64, "lb", new(0, 1_400_000), "mass on the load cells"),
                            Of("cable-1", "/temps_degF/0", RawType.Float64, "degF", new(0, 140), "temperature of cable 1"),
                            Of("cable-2", "/temps_degF/1", RawType.Float64, "degF", new(0, 140), "temperature of cable 2"),
                            Of("cable-3", "/temps_degF/2", RawType.Float64, "degF", new(0, 140), "temperature of cable 3"),
                            Of("aeration", null, RawType.Bool, null, null, "air blown through", $"{topic}/aeration/set"),
                        };
                    }),
            ]
        );

    private static IEnumerable<Func<PlantModel, Edit>> BoxAt(int number)
    {
        var path = $"{Quay}/Germination/BoxHouse/BOX{number}";
        Func<PlantModel, Edit> Bound(string property, string metric) => Bind(path, "GerminationBox", property, $"box/{number}/{metric}");
        return
        [
            Bound("AirOn", "air/on"),
            Bound("AirOff", "air/off"),
            Bound("FanSpeed", "fan/speed"),
            Bound("FanRun", "fan/run"),
            Bound("BedTop", "bed/top"),
            Bound("BedMid", "bed/mid"),
            Bound("BedLow", "bed/low"),
            Bound("Phase", "phase"),
            Bound("AirOnSetpoint", "air/setpoint"),
            // The humidity of box 2 says a unit that does not fit, and cannot be bound; box 6 has no carbon dioxide.
            .. number != BoxEdge.WrongUnit ? [Bound("Humidity", "air/humidity")] : Array.Empty<Func<PlantModel, Edit>>(),
            .. number != BoxEdge.WithoutCarbonDioxide ? [Bound("CarbonDioxide", "air/co2")] : Array.Empty<Func<PlantModel, Edit>>(),
            Bind($"{path}/Turner", "ScrewTurner", "Position", $"box/{number}/carriage/position"),
            Bind($"{path}/Turner", "ScrewTurner", "Run", $"box/{number}/carriage/moving"),
            Bind($"{path}/MainFan", "Fan", "Run", $"box/{number}/contacts", "[0]"),
        ];
    }

    private static IEnumerable<Func<PlantModel, Edit>> SiloAt(int number)
    {
        var path = $"{Quay}/GrainHandling/SiloPark/S{number:00}";
        Func<PlantModel, Edit> Bound(string property, string name) => Bind(path, "Silo", property, $"silo/{number:00}/{name}");
        return
        [
            Bound("Level", "level"),
            Bound("Mass", "mass"),
            Bound("MassByLevel", "level-mA"),
            Bound("Cable1", "cable-1"),
            Bound("Cable2", "cable-2"),
            Bound("Cable3", "cable-3"),
            Bound("Aeration", "aeration"),
        ];
    }

    private static IEnumerable<Func<PlantModel, Edit>> SteepAt(int number)
    {
        var path = $"{Quay}/Steeping/SteepHouse/ST{number}";
        Func<PlantModel, Edit> Bound(string property, string tag, string slice = "") =>
            Bind(path, "SteepVessel", property, $"S{number:00}-{tag}", slice);
        return
        [
            Bound("Level", "LT-101"),
            Bound("Temperature", "TT-102"),
            Bound("Oxygen", "AT-103"),
            Bound("WaterFlow", "FT-104"),
            Bound("Step", "STW", ".0-2"),
            Bound("StepTime", "KT-105"),
        ];
    }

    private static Func<PlantModel, Edit> Tag(
        string controller,
        string name,
        int offset,
        RawType type,
        string description,
        WordOrder order = WordOrder.HighFirst,
        int count = 1
    ) => m => new SaveTag(null, Controller(m, controller), name, RegisterArea.InputRegister, offset, type, order, description, count);

    internal static Func<PlantModel, Edit> Bind(string path, string template, string property, string tag, string slice = "") =>
        m => new Bind(
            Equipment(m, path),
            Property(m, template, property).Id,
            m.Tags.Values.Single(t => t.Name == tag).Id,
            Slice.Parse(slice)
        );

    private static IEnumerable<Func<PlantModel, Edit>> TagsOf(int number)
    {
        var input = (number - 1) * KilnPlc.InputRegistersPerKiln;
        var contact = (number - 1) * KilnPlc.DiscreteInputsPerKiln;
        return KilnPoints.Select(p =>
            (Func<PlantModel, Edit>)(
                m => new SaveTag(
                    null,
                    Controller(m, StandInPlant.KilnPlcName),
                    $"KLN{number}_{p.Name}",
                    p.Area,
                    p.Offset
                        + (
                            p.Area switch
                            {
                                RegisterArea.InputRegister => input,
                                RegisterArea.DiscreteInput => contact,
                                _ => (number - 1) * KilnPlc.HoldingRegistersPerKiln,
                            }
                        ),
                    p.Type,
                    number == 3 && p.Name == "MT01" ? WordOrder.HighFirst : WordOrder.LowFirst,
                    p.Description,
                    1,
                    UnitIn(p.Description)
                )
            )
        );
    }

    private static string? UnitIn(string description) =>
        description.Split(", ") is [.., var unit] ? UnitCatalogue.Standard.Match(unit)?.Code : null;

    /// <summary>What a kiln exposes, from the first register of each table on.</summary>
    private static (string Name, RegisterArea Area, int Offset, RawType Type, string Description)[] KilnPoints =>
        [
            ("TT11", RegisterArea.InputRegister, 0, RawType.Float32, "air below the bed, degC"),
            ("TT12", RegisterArea.InputRegister, 2, RawType.Float32, "air above the bed, degC"),
            ("MT01", RegisterArea.InputRegister, 4, RawType.Float32, "grain moisture, %"),
            ("FT01", RegisterArea.InputRegister, 6, RawType.Float32, "gas, m3/h"),
            ("LT01", RegisterArea.InputRegister, 8, RawType.Float32, "bed depth, m"),
            ("SC01", RegisterArea.InputRegister, 10, RawType.Int16, "fan speed, counts of 32767"),
            ("ST", RegisterArea.InputRegister, 11, RawType.UInt16, "status word: 0 automatic, 1 heating allowed, 4 to 6 phase"),
            ("KQ01", RegisterArea.InputRegister, 12, RawType.UInt32, "burner on, s"),
            ("XS01", RegisterArea.DiscreteInput, 0, RawType.Bool, "fan running"),
            ("ZS01", RegisterArea.DiscreteInput, 1, RawType.Bool, "door closed"),
            ("BS01", RegisterArea.DiscreteInput, 2, RawType.Bool, "flame"),
            ("SP11", RegisterArea.HoldingRegister, 0, RawType.Float32, "air-on setpoint, degC"),
        ];

    private static IEnumerable<Func<PlantModel, Edit>> KilnAt(int number)
    {
        var path = $"{Quay}/Kilning/KilnHouse/KLN{number}";
        Func<PlantModel, Edit> Bound(string property, string tag, string slice = "") =>
            Bind(path, "Kiln", property, $"KLN{number}_{tag}", slice);
        Func<PlantModel, Edit> Contact(string part, string template, string property, int offset) =>
            Bind($"{path}/{part}", template, property, "CONTACTS", $"[{(number - 1) * KilnPlc.ContactsPerKiln + offset}]");
        return
        [
            Instance($"{Quay}/Kilning/KilnHouse", $"KLN{number}", $"Kiln {number}", "Kiln"),
            m => PatchProperty.Exactly(Equipment(m, path), Property(m, "Kiln", "AssetNumber").Id, new() { Value = $"MLT-04{10 + number}" }),
            Bound("AirOn", "TT11"),
            Bound("AirOff", "TT12"),
            Bound("Moisture", "MT01"),
            Bound("GasFlow", "FT01"),
            Bound("BedDepth", "LT01"),
            Bound("FanSpeed", "SC01"),
            Bound("Phase", "ST", ".4-6"),
            Bound("BurnerTime", "KQ01"),
            Bound("FanRun", "XS01"),
            Bind($"{path}/AirOnLoop", "TemperatureLoop", "Setpoint", $"KLN{number}_SP11"),
            Contact("MainFan", "Fan", "Run", 0),
            Contact("ExhaustFan", "Fan", "Run", 1),
            Contact("BedTurner", "ScrewTurner", "Run", 2),
            Contact("Burner", "GasBurner", "Flame", 4),
            // The door of kiln 2 has a tag and waits for its binding.
            .. number != 2 ? [Bound("Door", "ZS01")] : Array.Empty<Func<PlantModel, Edit>>(),
        ];
    }

    private static Func<PlantModel, Edit> Fixed(string template, string code, string name) =>
        m => new SaveProperty(Template(m, template), null, code, name, PropertyKind.Fixed, PropertyType.Text, PropertyPatch.Empty);

    private static Func<PlantModel, Edit> State(string template, string code, string name, string set) =>
        m => new SaveProperty(
            Template(m, template),
            null,
            code,
            name,
            PropertyKind.Measured,
            PropertyType.State,
            new() { StateListId = m.StateLists.Values.Single(s => s.Code == set).Id }
        );

    private static Func<PlantModel, Edit> Command(string template, string code, string name, string set) =>
        m => new SaveProperty(
            Template(m, template),
            null,
            code,
            name,
            PropertyKind.Command,
            PropertyType.State,
            new() { StateListId = m.StateLists.Values.Single(s => s.Code == set).Id }
        );

    private static Func<PlantModel, Edit> Number(
        string template,
        string code,
        string name,
        string unit,
        double low,
        double high,
        Scale? scale,
        params (LimitCondition Condition, double Setpoint, double Deadband, int Priority)[] limits
    ) =>
        m => new SaveProperty(
            Template(m, template),
            null,
            code,
            name,
            PropertyKind.Measured,
            PropertyType.Number,
            new()
            {
                Unit = unit,
                Range = new(low, high),
                Scale = scale,
                Limits = Limits(limits),
            }
        );

    private static ImmutableSortedDictionary<LimitCondition, LimitPatch> Limits(
        params (LimitCondition Condition, double Setpoint, double Deadband, int Priority)[] limits
    ) => limits.ToImmutableSortedDictionary(l => l.Condition, l => new LimitPatch(l.Setpoint, l.Deadband, l.Priority));

    private static Func<PlantModel, Edit> Refine(string template, string code, PropertyPatch patch) =>
        m => PatchProperty.Exactly(Template(m, template), Property(m, template, code).Id, patch);

    /// <summary>Adds to what a template says about a property the scale of the library it uses.</summary>
    private static Func<PlantModel, Edit> RefineScale(string template, string code, string scale) =>
        m =>
            PatchProperty.Exactly(
                Template(m, template),
                Property(m, template, code).Id,
                Property(m, template, code).Own with
                {
                    ScaleId = Scale(m, scale),
                }
            );

    /// <summary>Gives a property the template declares a scale of the library.</summary>
    private static Func<PlantModel, Edit> Named(string template, string code, string scale) =>
        m =>
        {
            var p = Property(m, template, code);
            return new SaveProperty(
                Template(m, template),
                p.Id,
                p.Code,
                p.Name,
                p.Declaration.Kind,
                p.Declaration.Type,
                p.Own with
                {
                    ScaleId = Scale(m, scale),
                }
            );
        };

    private static Func<PlantModel, Edit> NewTemplate(
        string code,
        string name,
        string parent,
        string description,
        params EquipmentLevel[] levels
    ) => m => new SaveTemplate(null, code, name, Template(m, parent), description, [.. levels]);

    private static Func<PlantModel, Edit> Part(
        string whole,
        string code,
        string name,
        string template,
        EquipmentLevel level,
        int count = 1
    ) => m => new SavePart(Template(m, whole), null, code, name, Template(m, template), level, count);

    private static Func<PlantModel, Edit> Place(string parent, string code, string name, EquipmentLevel level, string labels = "") =>
        m => new SaveEquipment(null, code, name, level, Equipment(m, parent), null, Label(labels));

    private static Func<PlantModel, Edit> Instance(
        string parent,
        string code,
        string name,
        string template,
        EquipmentLevel level = EquipmentLevel.Unit
    ) => m => new SaveEquipment(null, code, name, level, Equipment(m, parent), Template(m, template));

    private static Func<PlantModel, Edit> Series(
        string parent,
        EquipmentLevel level,
        string template,
        string name,
        string code,
        int count,
        int digits = 1
    ) => m => new AddSeries(Equipment(m, parent), level, Template(m, template), new(name, code, 1, 1, count, digits));

    private static ImmutableSortedDictionary<string, string> Label(string text) => Labels.Read(text, out _);

    private static long Scale(PlantModel model, string code) => model.Scales.Values.Single(s => s.Code == code).Id;

    private static long Controller(PlantModel model, string name) => model.Controllers.Values.Single(c => c.Name == name).Id;

    private static long Template(PlantModel model, string code) => model.Templates.Values.Single(t => t.Code == code).Id;

    private static ResolvedProperty Property(PlantModel model, string template, string code) =>
        model.Index.PropertiesOf(Template(model, template)).Single(p => p.Code == code);

    private static long Equipment(PlantModel model, string path) => model.Index.Find(path)!.Id;
}
