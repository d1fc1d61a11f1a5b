using System.Collections.Immutable;
using System.Globalization;
using Fralto.Core.Units;

namespace Fralto.Core.Properties;

/// <summary>Properties that equipment of process and discrete plants commonly has.</summary>
/// <remarks>
/// Names, codes and usual ranges are common practice, no source. Letters are those of ANSI/ISA-5.1 for measured variables and functions,
/// from memory. Deadbands and delays to begin with are those ISA-18.2 recommends (also in EEMUA 191, from memory): flow 5 % and 15 s, level
/// 5 % and 60 s, pressure 2 % and 15 s, temperature 1 % and 60 s; others have none.
/// </remarks>
public static class PropertyCatalogue
{
    /// <summary>All of them, by subject.</summary>
    public static ImmutableArray<CommonProperty> All { get; } =
    [.. Table.Split('\n', StringSplitOptions.RemoveEmptyEntries | StringSplitOptions.TrimEntries).Select(Read)];

    // name|code|letters|unit|low|high, or in place of the unit a type (bool, state, text, count) and the kind where it is not measured.
    private static CommonProperty Read(string line)
    {
        var part = line.Split('|');
        var type = part[3] switch
        {
            "bool" => PropertyType.Boolean,
            "state" => PropertyType.State,
            "text" => PropertyType.Text,
            _ => PropertyType.Number,
        };
        var unit = type != PropertyType.Number || part[3].Length == 0 ? null : UnitCatalogue.Standard.Match(part[3]);
        var kind = part.Length > 6 ? Enum.Parse<PropertyKind>(part[6]) : PropertyKind.Measured;
        var (deadband, delay) = kind == PropertyKind.Measured ? StartOf(part[1], unit?.Quantity) : (null, null);
        return new(
            part[0],
            part[1],
            part[2],
            kind,
            type,
            unit?.Code,
            part.Length > 5 && part[4].Length > 0 ? new(Number(part[4]), Number(part[5])) : null,
            deadband,
            delay,
            "catalogue"
        );
    }

    private static (double? Deadband, double? Delay) StartOf(string code, string? quantity) =>
        quantity switch
        {
            "temperature" => (1, 60),
            "pressure" => (2, 15),
            "mass flow" or "volume flow" or "normal volume flow" => (5, 15),
            _ when code.Contains("Level", StringComparison.Ordinal) => (5, 60),
            _ => (null, null),
        };

    private static double Number(string text) => double.Parse(text, NumberStyles.Float, CultureInfo.InvariantCulture);

    private const string Table = """
        Temperature|Temperature|TI|°C|0|150
        Inlet temperature|InletTemp|TI|°C|0|150
        Outlet temperature|OutletTemp|TI|°C|0|150
        Supply temperature|SupplyTemp|TI|°C|0|120
        Return temperature|ReturnTemp|TI|°C|0|120
        Ambient temperature|AmbientTemp|TI|°C|-30|50
        Product temperature|ProductTemp|TI|°C|0|120
        Air temperature|AirTemp|TI|°C|-20|80
        Oil temperature|OilTemp|TI|°C|0|120
        Winding temperature|WindingTemp|TI|°C|0|180
        Bearing temperature|BearingTemp|TI|°C|0|120
        Drive-end bearing temperature|BearingTempDE|TI|°C|0|120
        Non-drive-end bearing temperature|BearingTempNDE|TI|°C|0|120
        Gearbox temperature|GearboxTemp|TI|°C|0|120
        Surface temperature|SurfaceTemp|TI|°C|0|300
        Flue gas temperature|FlueGasTemp|TI|°C|0|500
        Steam temperature|SteamTemp|TI|°C|0|300
        Dew point|DewPoint|TI|°C|-60|40
        Temperature difference|TempDifference|TDI|Δ°C|0|50
        Temperature rise|TempRise|TI|K/min|-10|10
        Pressure|Pressure|PI|bar|0|10
        Inlet pressure|InletPressure|PI|bar|0|10
        Outlet pressure|OutletPressure|PI|bar|0|10
        Suction pressure|SuctionPressure|PI|bar|-1|5
        Discharge pressure|DischargePressure|PI|bar|0|16
        Differential pressure|DiffPressure|PDI|mbar|0|500
        Filter differential pressure|FilterDiffPressure|PDI|mbar|0|50
        Room pressure|RoomPressure|PI|Pa|-50|50
        Gas pressure|GasPressure|PI|mbar|0|100
        Steam pressure|SteamPressure|PI|bar|0|16
        Compressed air pressure|AirPressure|PI|bar|0|10
        Hydraulic pressure|HydraulicPressure|PI|bar|0|250
        Lubrication pressure|LubePressure|PI|bar|0|10
        Vacuum|Vacuum|PI|mbar|-1000|0
        Barometric pressure|Barometric|PI|hPa|900|1100
        Flow|Flow|FI|m³/h|0|100
        Water flow|WaterFlow|FI|m³/h|0|50
        Air flow|AirFlow|FI|m³/h|0|10000
        Gas flow|GasFlow|FI|Nm³/h|0|1000
        Steam flow|SteamFlow|FI|t/h|0|20
        Mass flow|MassFlow|FI|kg/h|0|5000
        Feed rate|FeedRate|FI|t/h|0|50
        Dosing rate|DosingRate|FI|l/h|0|100
        Coolant flow|CoolantFlow|FI|l/min|0|200
        Compressed air flow|AirConsumption|FI|Nm³/h|0|500
        Flow velocity|FlowVelocity|SI|m/s|0|20
        Total volume|TotalVolume|FQI|m³
        Total mass|TotalMass|FQI|t
        Level|Level|LI|m|0|10
        Level, percent|LevelPercent|LI|%|0|100
        Interface level|InterfaceLevel|LDI|m|0|5
        Bed depth|BedDepth|LI|m|0|2
        Volume|Volume|LI|m³|0|100
        Content mass|ContentMass|WI|t|0|100
        Weight|Weight|WI|kg|0|1000
        Batch weight|BatchWeight|WI|kg|0|1000
        Belt load|BeltLoad|WI|kg|0|500
        Relative humidity|Humidity|MI|%|0|100
        Moisture|Moisture|MI|%|0|50
        Absolute humidity|AbsoluteHumidity|MI|g/m³|0|50
        Carbon dioxide|CO2|AI|ppm|0|5000
        Carbon monoxide|CO|AI|ppm|0|500
        Oxygen|Oxygen|AI|%|0|21
        Dissolved oxygen|DissolvedOxygen|AI|mg/l|0|15
        Methane|Methane|AI|%|0|100
        pH|PH|AI|pH|0|14
        Conductivity|Conductivity|CI|µS/cm|0|2000
        Turbidity|Turbidity|AI|NTU|0|100
        Redox potential|Redox|AI|mV|-1000|1000
        Chlorine|Chlorine|AI|mg/l|0|5
        Concentration|Concentration|AI|%|0|100
        Extract|Extract|AI|%|0|30
        Density|Density|DI|kg/m³|500|1500
        Viscosity|Viscosity|VI|mPa·s|0|1000
        Dust|Dust|AI|mg/m³|0|50
        Speed|Speed|SI|r/min|0|3000
        Speed, percent|SpeedPercent|SI|%|0|100
        Belt speed|BeltSpeed|SI|m/s|0|5
        Line speed|LineSpeed|SI|m/min|0|500
        Fan speed|FanSpeed|SI|%|0|100
        Cycle rate|CycleRate|SI|1/min|0|120
        Vibration|Vibration|VI|mm/s|0|20
        Drive-end vibration|VibrationDE|VI|mm/s|0|20
        Non-drive-end vibration|VibrationNDE|VI|mm/s|0|20
        Torque|Torque||N·m|0|1000
        Torque, percent|TorquePercent||%|0|150
        Force|Force|WI|kN|0|100
        Tension|Tension|WI|N|0|2000
        Position|Position|ZI|%|0|100
        Valve position|ValvePosition|ZI|%|0|100
        Damper position|DamperPosition|ZI|%|0|100
        Stroke|Stroke|ZI|mm|0|500
        Angle|Angle|ZI|°|0|360
        Gap|Gap|ZI|mm|0|50
        Thickness|Thickness|ZI|mm|0|100
        Width|Width|ZI|mm|0|2000
        Current|Current|II|A|0|100
        Motor current|MotorCurrent|II|A|0|100
        Current phase 1|CurrentL1|II|A|0|400
        Current phase 2|CurrentL2|II|A|0|400
        Current phase 3|CurrentL3|II|A|0|400
        Voltage|Voltage|EI|V|0|500
        Voltage phase 1|VoltageL1|EI|V|0|500
        Voltage phase 2|VoltageL2|EI|V|0|500
        Voltage phase 3|VoltageL3|EI|V|0|500
        Active power|Power|JI|kW|0|500
        Reactive power|ReactivePower|JI|kvar|-500|500
        Apparent power|ApparentPower|JI|kV·A|0|500
        Power factor|PowerFactor|JI||-1|1
        Mains frequency|Frequency|SI|Hz|45|55
        Output frequency|OutputFrequency|SI|Hz|0|60
        Energy|Energy|JQI|kW·h
        Heat|Heat|JQI|MW·h
        Thermal power|ThermalPower|JI|kW|0|5000
        Battery charge|BatteryCharge|EI|%|0|100
        Insulation resistance|Insulation||MΩ|0|100
        Illuminance|Illuminance||lx|0|2000
        Sound level|SoundLevel||dB|30|120
        Irradiance|Irradiance||W/m²|0|1200
        Wind speed|WindSpeed|SI|m/s|0|40
        Running time|RunningTime|KQI|h
        Time in step|TimeInStep|KI|min|0|1440
        Cycle time|CycleTime|KI|s|0|600
        Remaining time|RemainingTime|KI|min|0|1440
        Starts|Starts|QI|
        Piece count|PieceCount|QI|
        Good pieces|GoodPieces|QI|
        Rejects|Rejects|QI|
        Utilisation|Utilisation||%|0|100
        Running|Running|YI|bool
        Fault|Fault|YA|bool
        Warning|Warning|YA|bool
        Ready|Ready|YI|bool
        Remote|Remote|HS|bool
        Automatic|Automatic|HS|bool
        Interlock active|Interlock|YI|bool
        Emergency stop|EmergencyStop|HA|bool
        Door closed|DoorClosed|ZI|bool
        Flame|Flame|BI|bool
        Limit switch open|LimitOpen|ZSH|bool
        Limit switch closed|LimitClosed|ZSL|bool
        Level switch high|LevelHigh|LSH|bool
        Level switch low|LevelLow|LSL|bool
        Leak|Leak|LSH|bool
        State|State|YI|state
        Operating mode|Mode|HS|state
        Step|Step|KI|state
        Phase|Phase|KI|state
        Valve state|ValveState|ZI|state
        Batch|Batch||text
        Recipe|Recipe||text
        Order|Order||text
        Speed setpoint|SpeedSP|SC|%|0|100|Command
        Temperature setpoint|TemperatureSP|TC|°C|0|150|Command
        Pressure setpoint|PressureSP|PC|bar|0|10|Command
        Flow setpoint|FlowSP|FC|m³/h|0|100|Command
        Level setpoint|LevelSP|LC|%|0|100|Command
        Position setpoint|PositionSP|ZC|%|0|100|Command
        Start|Start|HS|bool|||Command
        Reset|Reset|HS|bool|||Command
        Asset number|AssetNumber||text|||Fixed
        Serial number|SerialNumber||text|||Fixed
        Maker|Maker||text|||Fixed
        Model|Model||text|||Fixed
        Commissioned on|CommissionedOn||text|||Fixed
        Rated power|RatedPower||kW|||Fixed
        Rated current|RatedCurrent||A|||Fixed
        Rated speed|RatedSpeed||r/min|||Fixed
        Capacity|Capacity||m³|||Fixed
        Rated flow|RatedFlow||m³/h|||Fixed
        """;
}
