namespace Fralto.Core.Units;

/// <summary>The engineering units Fralto knows, by UNECE Rec 20 common code.</summary>
/// <remarks>Codes and names: UNECE Recommendation 20, revision 20. Symbols and quantities are ours.</remarks>
public static class UnitCatalogue
{
    private static readonly Dictionary<string, Unit> Units = Read();

    /// <summary>All units, in the order of their quantities.</summary>
    public static IReadOnlyCollection<Unit> All => Units.Values;

    /// <summary>The unit of a common code, or null when the code is not in the catalogue.</summary>
    public static Unit? Find(string? code) => code is not null && Units.TryGetValue(code, out var unit) ? unit : null;

    /// <summary>The symbol of a common code; empty for none, the code itself when it is unknown.</summary>
    public static string SymbolOf(string? code) => code is null ? "" : Find(code)?.Symbol ?? code;

    /// <summary>The unit a person means: by code, else by symbol or name when only one unit has it; null when none or several do.</summary>
    public static Unit? Match(string text)
    {
        if (Find(text.ToUpperInvariant()) is { } byCode) return byCode;
        var matches = Units.Values.Where(u => u.Symbol == text || string.Equals(u.Name, text, StringComparison.OrdinalIgnoreCase)).Take(2).ToArray();
        return matches.Length == 1 ? matches[0] : null;
    }

    private static Dictionary<string, Unit> Read() => Table
        .Split('\n', StringSplitOptions.RemoveEmptyEntries)
        .Select(line => line.Split('|'))
        .ToDictionary(part => part[0], part => new Unit(part[0], part[1], part[2], part[3]), StringComparer.Ordinal);

    private const string Table = """
        KEL|K|kelvin|temperature
        CEL|°C|degree Celsius|temperature
        FAH|°F|degree Fahrenheit|temperature
        A48|°R|degree Rankine|temperature
        F12|K/s|kelvin per second|temperature rate
        F11|K/min|kelvin per minute|temperature rate
        F10|K/h|kelvin per hour|temperature rate
        H13|°C/min|degree Celsius per minute|temperature rate
        H12|°C/h|degree Celsius per hour|temperature rate
        J24|°F/min|degree Fahrenheit per minute|temperature rate
        PAL|Pa|pascal|pressure
        A97|hPa|hectopascal|pressure
        KPA|kPa|kilopascal|pressure
        MPA|MPa|megapascal|pressure
        74|mPa|millipascal|pressure
        MBR|mbar|millibar|pressure
        BAR|bar|bar [unit of pressure]|pressure
        ATM|atm|standard atmosphere|pressure
        PS|psi (lbf/in²)|pound-force per square inch|pressure
        80|psia|pound per square inch absolute|pressure (absolute)
        E42|kgf/cm²|kilogram-force per square centimetre|pressure
        C55|N/m²|newton per square metre|pressure
        C56|N/mm²|newton per square millimetre|pressure
        F79|inHg|inch of mercury|pressure
        N16|inHg (32 °F)|inch of mercury (32 ºF)|pressure
        F78|inH2O|inch of water|pressure
        N13|cmHg (0 °C)|centimetre of mercury (0 ºC)|pressure
        N23|mH2O (conventional)|conventional metre of water|pressure
        KGS|kg/s|kilogram per second|mass flow
        F31|kg/min|kilogram per minute|mass flow
        E93|kg/h|kilogram per hour|mass flow
        F30|kg/d|kilogram per day|mass flow
        F29|g/s|gram per second|mass flow
        F28|g/min|gram per minute|mass flow
        F27|g/h|gram per hour|mass flow
        L81|t/s|tonne per second|mass flow
        L78|t/min|tonne per minute|mass flow
        E18|t/h|tonne per hour|mass flow
        L71|t/d|tonne per day|mass flow
        K81|lb/s|pound (avoirdupois) per second|mass flow
        K78|lb/min|pound (avoirdupois) per minute|mass flow
        4U|lb/h|pound per hour|mass flow
        K66|lb/d|pound (avoirdupois) per day|mass flow
        4W|ton (US)/h|ton (US) per hour|mass flow
        MQS|m³/s|cubic metre per second|volume flow
        G53|m³/min|cubic metre per minute|volume flow
        MQH|m³/h|cubic metre per hour|volume flow
        G52|m³/d|cubic metre per day|volume flow
        G51|l/s|litre per second|volume flow
        L2|l/min|litre per minute|volume flow
        E32|l/h|litre per hour|volume flow
        LD|l/d|litre per day|volume flow
        4X|kl/h|kilolitre per hour|volume flow
        40|ml/s|millilitre per second|volume flow
        41|ml/min|millilitre per minute|volume flow
        G55|ml/h|millilitre per hour|volume flow
        2J|cm³/s|cubic centimetre per second|volume flow
        K30|gal (US)/s|gallon (US liquid) per second|volume flow
        G2|gal (US)/min|US gallon per minute|volume flow
        G50|gal (US)/h|gallon (US) per hour|volume flow
        GB|gal (US)/d|gallon (US) per day|volume flow
        G3|gal (UK)/min|Imperial gallon per minute|volume flow
        E17|ft³/s|cubic foot per second|volume flow
        2L|ft³/min|cubic foot per minute|volume flow
        2K|ft³/h|cubic foot per hour|volume flow
        K22|ft³/d|cubic foot per day|volume flow
        5A|bbl (US)/min|barrel (US) per minute|volume flow
        J62|bbl (US)/h|barrel (US petroleum) per hour|volume flow
        B1|bbl (US)/d|barrel (US) per day|volume flow
        MTR|m|metre|length
        DMT|dm|decimetre|length
        CMT|cm|centimetre|length
        MMT|mm|millimetre|length
        4H|µm|micrometre (micron)|length
        KMT|km|kilometre|length
        INH|in|inch|length
        FOT|ft|foot|length
        YRD|yd|yard|length
        SMI|mile|mile (statute mile)|length
        NMI|n mile|nautical mile|length
        MTK|m²|square metre|area
        CMK|cm²|square centimetre|area
        MMK|mm²|square millimetre|area
        INK|in²|square inch|area
        FTK|ft²|square foot|area
        MTQ|m³|cubic metre|volume
        LTR|l|litre|volume
        HLT|hl|hectolitre|volume
        K6|kl|kilolitre|volume
        MAL|Ml|megalitre|volume
        MLT|ml|millilitre|volume
        CMQ|cm³|cubic centimetre|volume
        INQ|in³|cubic inch|volume
        FTQ|ft³|cubic foot|volume
        YDQ|yd³|cubic yard|volume
        GLL|gal (US)|gallon (US)|volume
        GLI|gal (UK)|gallon (UK)|volume
        BLL|bbl (US)|barrel (US)|volume
        MTS|m/s|metre per second|speed
        2M|cm/s|centimetre per second|speed
        C16|mm/s|millimetre per second|speed
        H81|mm/min|millimetre per minute|speed
        2X|m/min|metre per minute|speed
        M60|m/h|metre per hour|speed
        KMH|km/h|kilometre per hour|speed
        FS|ft/s|foot per second|speed
        FR|ft/min|foot per minute|speed
        IU|in/s|inch per second|speed
        HM|mile/h|mile per hour (statute mile)|speed
        KNT|kn|knot|speed
        MSK|m/s²|metre per second squared|acceleration
        K40|g_n|standard acceleration of free fall|acceleration
        DD|°|degree [unit of angle]|angle
        C81|rad|radian|angle
        M44|rev|revolution|angle
        HTZ|Hz|hertz|frequency
        KHZ|kHz|kilohertz|frequency
        MHZ|MHz|megahertz|frequency
        C97|1/s|reciprocal second|frequency
        C94|1/min|reciprocal minute|frequency
        RPS|r/s|revolutions per second|rotation (as frequency)
        RPM|r/min|revolutions per minute|rotation (as frequency)
        M46|r/min|revolution per minute|rotation (as angular velocity)
        2A|rad/s|radian per second|rotation (as angular velocity)
        KGM|kg|kilogram|mass
        GRM|g|gram|mass
        MGM|mg|milligram|mass
        MC|µg|microgram|mass
        TNE|t|tonne (metric ton)|mass
        LBR|lb|pound|mass
        ONZ|oz|ounce (avoirdupois)|mass
        GRN|gr|grain|mass
        STN|ton (US)|ton (US) or short ton (UK/US)|mass
        LTN|ton (UK)|ton (UK) or long ton (US)|mass
        KMQ|kg/m³|kilogram per cubic metre|density
        GL|g/l|gram per litre|density
        23|g/cm³|gram per cubic centimetre|density
        GJ|g/ml|gram per millilitre|density
        B35|kg/l|kilogram per litre|density
        D41|t/m³|tonne per cubic metre|density
        87|lb/ft³|pound per cubic foot|density
        LA|lb/in³|pound per cubic inch|density
        GE|lb/gal (US)|pound per gallon (US)|density
        A93|g/m³|gram per cubic metre|mass concentration
        M1|mg/l|milligram per litre|mass concentration
        GP|mg/m³|milligram per cubic metre|mass concentration
        H29|µg/l|microgram per litre|mass concentration
        GQ|µg/m³|microgram per cubic metre|mass concentration
        NA|mg/kg|milligram per kilogram|mass fraction
        H64|mg/g|milligram per gram|mass fraction
        C34|mol|mole|amount
        B45|kmol|kilomole|amount
        C36|mol/m³|mole per cubic metre|molar concentration
        C38|mol/l|mole per litre|molar concentration
        M33|mmol/l|millimole per litre|molar concentration
        E95|mol/s|mole per second|molar flow
        K58|kmol/h|kilomole per hour|molar flow
        JOU|J|joule|energy
        KJO|kJ|kilojoule|energy
        3B|MJ|megajoule|energy
        GV|GJ|gigajoule|energy
        WHR|W·h|watt hour|energy
        KWH|kW·h|kilowatt hour|energy
        MWH|MW·h|megawatt hour (1000 kW.h)|energy
        BTU|Btu(IT)|British thermal unit (international table)|energy
        E14|kcal(IT)|kilocalorie (international table)|energy
        K53|kcal(th)|kilocalorie (thermochemical)|energy
        N72|therm (US)|therm (U.S.)|energy
        J2|J/kg|joule per kilogram|specific energy
        B42|kJ/kg|kilojoule per kilogram|specific energy
        JK|MJ/kg|megajoule per kilogram|specific energy
        B43|kJ/(kg·K)|kilojoule per kilogram kelvin|specific heat
        WTT|W|watt|power
        KWT|kW|kilowatt|power
        MAW|MW|megawatt|power
        C31|mW|milliwatt|power
        BHP|BHP|brake horse power|power
        K43|hp (electric)|horsepower (electric)|power
        N12|PS (metric hp)|Pferdestaerke|power
        2I|Btu(IT)/h|British thermal unit (international table) per hour|power
        E16|10⁶ Btu(IT)/h|million Btu(IT) per hour|power
        D46|V·A|volt - ampere|apparent power
        KVA|kV·A|kilovolt - ampere|apparent power
        MVA|MV·A|megavolt - ampere|apparent power
        D44|var|var|reactive power
        KVR|kvar|kilovar|reactive power
        MAR|Mvar|megavar|reactive power
        VLT|V|volt|voltage
        2Z|mV|millivolt|voltage
        KVT|kV|kilovolt|voltage
        AMP|A|ampere|current
        4K|mA|milliampere|current
        B84|µA|microampere|current
        B22|kA|kiloampere|current
        OHM|Ω|ohm|resistance
        B49|kΩ|kiloohm|resistance
        B75|MΩ|megaohm|resistance
        FAR|F|farad|capacitance
        4O|µF|microfarad|capacitance
        81|H|henry|inductance
        C14|mH|millihenry|inductance
        AMH|A·h|ampere hour|electric charge
        D33|T|tesla|magnetic flux density
        SIE|S|siemens|conductance
        D10|S/m|siemens per metre|conductivity
        H43|S/cm|siemens per centimetre|conductivity
        H61|mS/cm|millisiemens per centimetre|conductivity
        G42|µS/cm|microsiemens per centimetre|conductivity
        G43|µS/m|microsiemens per metre|conductivity
        C65|Pa·s|pascal second|dynamic viscosity
        C24|mPa·s|millipascal second|dynamic viscosity
        89|P|poise|dynamic viscosity
        C7|cP|centipoise|dynamic viscosity
        S4|m²/s|square metre per second|kinematic viscosity
        C17|mm²/s|millimetre squared per second|kinematic viscosity
        91|St|stokes|kinematic viscosity
        4C|cSt|centistokes|kinematic viscosity
        NEW|N|newton|force
        B47|kN|kilonewton|force
        C78|lbf|pound-force|force
        NU|N·m|newton metre|torque
        D54|W/m²|watt per square metre|heat flux
        D55|W/(m²·K)|watt per square metre kelvin|heat transfer coefficient
        D53|W/(m·K)|watt per metre kelvin|thermal conductivity
        LUX|lx|lux|illuminance
        SEC|s|second [unit of time]|time
        C26|ms|millisecond|time
        B98|µs|microsecond|time
        MIN|min|minute [unit of time]|time
        HUR|h|hour|time
        DAY|d|day|time
        WEE|wk|week|time
        C62|1|one|ratio / count
        P1|%|percent|ratio
        NX|‰|part per thousand|ratio
        59|ppm|part per million|ratio
        61|ppb (US)|part per billion (US)|ratio
        60|wt%|percent weight|mass fraction
        VP|vol%|percent volume|volume fraction
        SM3|Sm³|Standard cubic metre|gas volume at a stated standard state
        NM3|Nm³|Normalised cubic metre|gas volume at normal state
        Q38|Sm³/h|Standard cubic metre per hour|standard volume flow
        Q40|Nm³/h|Normalized cubic metre per hour|normal volume flow
        Q37|Sm³/d|Standard cubic metre per day|standard volume flow
        Q39|Nm³/d|Normalized cubic metre per day|normal volume flow
        Q30|pH|pH (potential of Hydrogen)|acidity
        NTU|NTU|Nephelometric turbidity unit|turbidity
        FNU|FNU|Formazin nephelometric unit|turbidity
        2N|dB|decibel|level
        H87|(piece)|piece|count
        EA|(each)|each|count
        MON|mo|month|time
        ANN|y|year|time
        """;
}
