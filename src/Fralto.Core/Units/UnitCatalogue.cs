namespace Fralto.Core.Units;

/// <summary>The engineering units Fralto brings along, by UNECE Rec 20 common code.</summary>
/// <remarks>
/// Codes and names: UNECE Recommendation 20, revision 20. Symbols, quantities and aliases are ours. Each unit is defined by the numbers
/// that define it (a pound is 0.45359237 kg), not by a rounded factor. Gauge and absolute pressure have one factor and no code of
/// their own; the reference belongs to the property's description. The three temperature differences have no Rec 20 code, so theirs
/// begin with a small letter.
/// </remarks>
public static class UnitCatalogue
{
    /// <summary>The shipped units alone.</summary>
    public static UnitSet Standard { get; } = new(Table.Split('\n', StringSplitOptions.RemoveEmptyEntries).Select(Read));

    private static Unit Read(string line)
    {
        var part = line.Split('|');
        var (dimension, factor, offset, perTime) = UnitDefinition.Read(part[4]);
        return new Unit(part[0], part[1], part[2], part[3], dimension, factor, offset)
        {
            Aliases = part[5].Split(',', StringSplitOptions.RemoveEmptyEntries),
            PerSeconds = perTime,
        };
    }

    // code | symbol | name | quantity | definition | other spellings
    private const string Table = """
        KEL|K|kelvin|temperature|K|kelvin
        CEL|°C|degree Celsius|temperature|K + 273.15|degC,C,celsius,deg C,grad C,Grad Celsius
        FAH|°F|degree Fahrenheit|temperature|5/9 K + 459.67|degF,fahrenheit,deg F
        A48|°R|degree Rankine|temperature|5/9 K|degR,rankine
        dK|ΔK|kelvin difference|temperature difference|Kd|delta K,dK
        dCEL|Δ°C|degree Celsius difference|temperature difference|Kd|delta degC,delta C,ddegC,degC diff
        dFAH|Δ°F|degree Fahrenheit difference|temperature difference|5/9 Kd|delta degF,delta F
        F12|K/s|kelvin per second|temperature rate|K s-1|
        F11|K/min|kelvin per minute|temperature rate|K min-1|
        F10|K/h|kelvin per hour|temperature rate|K h-1|
        H13|°C/min|degree Celsius per minute|temperature rate|K min-1|degC/min,C/min
        H12|°C/h|degree Celsius per hour|temperature rate|K h-1|degC/h,C/h
        J24|°F/min|degree Fahrenheit per minute|temperature rate|5/9 K min-1|degF/min
        PAL|Pa|pascal|pressure|Pa|
        A97|hPa|hectopascal|pressure|100 Pa|
        KPA|kPa|kilopascal|pressure|1e3 Pa|
        MPA|MPa|megapascal|pressure|1e6 Pa|
        74|mPa|millipascal|pressure|1e-3 Pa|
        MBR|mbar|millibar|pressure|1e-3 bar|
        BAR|bar|bar [unit of pressure]|pressure|bar|bara,barg,bar(g),bar(a),bar g,bar a
        ATM|atm|standard atmosphere|pressure|101325 Pa|
        PS|psi (lbf/in²)|pound-force per square inch|pressure|lbf in-2|psi,psig,lb/in2,lbf/in2
        80|psia|pound per square inch absolute|pressure (absolute)|lbf in-2|psi(a),psi a
        E42|kgf/cm²|kilogram-force per square centimetre|pressure|kgf cm-2|at,kg/cm2
        C55|N/m²|newton per square metre|pressure|N m-2|
        C56|N/mm²|newton per square millimetre|pressure|1e6 N m-2|
        F79|inHg|inch of mercury|pressure|inHg|
        N16|inHg (32 °F)|inch of mercury (32 ºF)|pressure|inHg|
        F78|inH2O|inch of water|pressure|inAq|inWC,inH2Og,in H2O,inAq
        N13|cmHg (0 °C)|centimetre of mercury (0 ºC)|pressure|10 mmHg|cmHg
        N23|mH2O (conventional)|conventional metre of water|pressure|1000 mmAq|mH2O,mWC,mWS
        KGS|kg/s|kilogram per second|mass flow|kg s-1|
        F31|kg/min|kilogram per minute|mass flow|kg min-1|
        E93|kg/h|kilogram per hour|mass flow|kg h-1|
        F30|kg/d|kilogram per day|mass flow|kg d-1|
        F29|g/s|gram per second|mass flow|g s-1|
        F28|g/min|gram per minute|mass flow|g min-1|
        F27|g/h|gram per hour|mass flow|g h-1|
        L81|t/s|tonne per second|mass flow|t s-1|
        L78|t/min|tonne per minute|mass flow|t min-1|
        E18|t/h|tonne per hour|mass flow|t h-1|tph
        L71|t/d|tonne per day|mass flow|t d-1|
        K81|lb/s|pound (avoirdupois) per second|mass flow|lb s-1|
        K78|lb/min|pound (avoirdupois) per minute|mass flow|lb min-1|
        4U|lb/h|pound per hour|mass flow|lb h-1|pph
        K66|lb/d|pound (avoirdupois) per day|mass flow|lb d-1|
        4W|ton (US)/h|ton (US) per hour|mass flow|ton h-1|ton/h,short ton/h
        MQS|m³/s|cubic metre per second|volume flow|m3 s-1|
        G53|m³/min|cubic metre per minute|volume flow|m3 min-1|
        MQH|m³/h|cubic metre per hour|volume flow|m3 h-1|
        G52|m³/d|cubic metre per day|volume flow|m3 d-1|
        G51|l/s|litre per second|volume flow|l s-1|
        L2|l/min|litre per minute|volume flow|l min-1|lpm
        E32|l/h|litre per hour|volume flow|l h-1|
        LD|l/d|litre per day|volume flow|l d-1|
        4X|kl/h|kilolitre per hour|volume flow|1e3 l h-1|
        40|ml/s|millilitre per second|volume flow|1e-3 l s-1|
        41|ml/min|millilitre per minute|volume flow|1e-3 l min-1|
        G55|ml/h|millilitre per hour|volume flow|1e-3 l h-1|
        2J|cm³/s|cubic centimetre per second|volume flow|cm3 s-1|
        K30|gal (US)/s|gallon (US liquid) per second|volume flow|gal s-1|
        G2|gal (US)/min|US gallon per minute|volume flow|gal min-1|gpm,USgpm,gal/min
        G50|gal (US)/h|gallon (US) per hour|volume flow|gal h-1|gph,gal/h
        GB|gal (US)/d|gallon (US) per day|volume flow|gal d-1|gpd,gal/d
        G3|gal (UK)/min|Imperial gallon per minute|volume flow|ukgal min-1|igpm
        E17|ft³/s|cubic foot per second|volume flow|ft3 s-1|cfs
        2L|ft³/min|cubic foot per minute|volume flow|ft3 min-1|cfm
        2K|ft³/h|cubic foot per hour|volume flow|ft3 h-1|cfh
        K22|ft³/d|cubic foot per day|volume flow|ft3 d-1|
        5A|bbl (US)/min|barrel (US) per minute|volume flow|bbl min-1|bbl/min
        J62|bbl (US)/h|barrel (US petroleum) per hour|volume flow|bbl h-1|bbl/h
        B1|bbl (US)/d|barrel (US) per day|volume flow|bbl d-1|bbl/d,bpd
        MTR|m|metre|length|m|meter
        DMT|dm|decimetre|length|1e-1 m|
        CMT|cm|centimetre|length|cm|
        MMT|mm|millimetre|length|mm|
        4H|µm|micrometre (micron)|length|1e-6 m|micron
        KMT|km|kilometre|length|1e3 m|
        INH|in|inch|length|in|
        FOT|ft|foot|length|ft|
        YRD|yd|yard|length|yd|
        SMI|mile|mile (statute mile)|length|mi|mi
        NMI|n mile|nautical mile|length|1852 m|nmi
        MTK|m²|square metre|area|m2|sqm
        CMK|cm²|square centimetre|area|cm2|
        MMK|mm²|square millimetre|area|mm2|
        INK|in²|square inch|area|in2|sqin
        FTK|ft²|square foot|area|ft2|sqft
        MTQ|m³|cubic metre|volume|m3|cbm
        LTR|l|litre|volume|l|liter,ltr
        HLT|hl|hectolitre|volume|100 l|
        K6|kl|kilolitre|volume|1e3 l|
        MAL|Ml|megalitre|volume|1e6 l|
        MLT|ml|millilitre|volume|1e-3 l|
        CMQ|cm³|cubic centimetre|volume|cm3|ccm,cc
        INQ|in³|cubic inch|volume|in3|cuin
        FTQ|ft³|cubic foot|volume|ft3|cuft
        YDQ|yd³|cubic yard|volume|yd3|cuyd
        GLL|gal (US)|gallon (US)|volume|gal|gal,USgal
        GLI|gal (UK)|gallon (UK)|volume|ukgal|UKgal,impgal
        BLL|bbl (US)|barrel (US)|volume|bbl|bbl
        MTS|m/s|metre per second|speed|m s-1|
        2M|cm/s|centimetre per second|speed|cm s-1|
        C16|mm/s|millimetre per second|speed|mm s-1|
        H81|mm/min|millimetre per minute|speed|mm min-1|
        2X|m/min|metre per minute|speed|m min-1|
        M60|m/h|metre per hour|speed|m h-1|
        KMH|km/h|kilometre per hour|speed|1e3 m h-1|kph
        FS|ft/s|foot per second|speed|ft s-1|
        FR|ft/min|foot per minute|speed|ft min-1|fpm
        IU|in/s|inch per second|speed|in s-1|
        HM|mile/h|mile per hour (statute mile)|speed|mi h-1|mph
        KNT|kn|knot|speed|1852 m h-1|knot,kt
        MSK|m/s²|metre per second squared|acceleration|m s-2|
        K40|g_n|standard acceleration of free fall|acceleration|9.80665 m s-2|gn
        DD|°|degree [unit of angle]|angle|1/180 pi rad|deg,degree
        C81|rad|radian|angle|rad|
        M44|rev|revolution|angle|2 pi rad|
        HTZ|Hz|hertz|frequency|s-1|
        KHZ|kHz|kilohertz|frequency|1e3 s-1|
        MHZ|MHz|megahertz|frequency|1e6 s-1|
        C97|1/s|reciprocal second|frequency|s-1|/s
        C94|1/min|reciprocal minute|frequency|min-1|/min
        RPS|r/s|revolutions per second|rotation (as frequency)|s-1|rps,U/s
        RPM|r/min|revolutions per minute|rotation (as frequency)|min-1|rpm,1/min rpm,U/min,rev/min
        M46|r/min|revolution per minute|rotation (as angular velocity)|2 pi rad min-1|
        2A|rad/s|radian per second|rotation (as angular velocity)|rad s-1|
        KGM|kg|kilogram|mass|kg|
        GRM|g|gram|mass|g|
        MGM|mg|milligram|mass|1e-3 g|
        MC|µg|microgram|mass|1e-6 g|
        TNE|t|tonne (metric ton)|mass|t|tonne,to
        LBR|lb|pound|mass|lb|lbs
        ONZ|oz|ounce (avoirdupois)|mass|1/16 lb|
        GRN|gr|grain|mass|1/7000 lb|
        STN|ton (US)|ton (US) or short ton (UK/US)|mass|ton|short ton,ton
        LTN|ton (UK)|ton (UK) or long ton (US)|mass|2240 lb|long ton
        KMQ|kg/m³|kilogram per cubic metre|density|kg m-3|
        GL|g/l|gram per litre|density|g l-1|
        23|g/cm³|gram per cubic centimetre|density|g cm-3|
        GJ|g/ml|gram per millilitre|density|1e3 g l-1|
        B35|kg/l|kilogram per litre|density|kg l-1|
        D41|t/m³|tonne per cubic metre|density|t m-3|
        87|lb/ft³|pound per cubic foot|density|lb ft-3|
        LA|lb/in³|pound per cubic inch|density|lb in-3|
        GE|lb/gal (US)|pound per gallon (US)|density|lb gal-1|lb/gal,ppg
        A93|g/m³|gram per cubic metre|mass concentration|g m-3|
        M1|mg/l|milligram per litre|mass concentration|1e-3 g l-1|
        GP|mg/m³|milligram per cubic metre|mass concentration|1e-3 g m-3|
        H29|µg/l|microgram per litre|mass concentration|1e-6 g l-1|
        GQ|µg/m³|microgram per cubic metre|mass concentration|1e-6 g m-3|
        NA|mg/kg|milligram per kilogram|mass fraction|1e-6|
        H64|mg/g|milligram per gram|mass fraction|1e-3|
        C34|mol|mole|amount|mol|
        B45|kmol|kilomole|amount|1e3 mol|
        C36|mol/m³|mole per cubic metre|molar concentration|mol m-3|
        C38|mol/l|mole per litre|molar concentration|mol l-1|
        M33|mmol/l|millimole per litre|molar concentration|1e-3 mol l-1|
        E95|mol/s|mole per second|molar flow|mol s-1|
        K58|kmol/h|kilomole per hour|molar flow|1e3 mol h-1|
        JOU|J|joule|energy|J|
        KJO|kJ|kilojoule|energy|1e3 J|
        3B|MJ|megajoule|energy|1e6 J|
        GV|GJ|gigajoule|energy|1e9 J|
        WHR|W·h|watt hour|energy|W h|Wh
        KWH|kW·h|kilowatt hour|energy|1e3 W h|kWh
        MWH|MW·h|megawatt hour (1000 kW.h)|energy|1e6 W h|MWh
        BTU|Btu(IT)|British thermal unit (international table)|energy|btu|Btu
        E14|kcal(IT)|kilocalorie (international table)|energy|1e3 cal|kcal
        K53|kcal(th)|kilocalorie (thermochemical)|energy|4184 J|
        N72|therm (US)|therm (U.S.)|energy|105480400 J|therm
        J2|J/kg|joule per kilogram|specific energy|J kg-1|
        B42|kJ/kg|kilojoule per kilogram|specific energy|1e3 J kg-1|
        JK|MJ/kg|megajoule per kilogram|specific energy|1e6 J kg-1|
        B43|kJ/(kg·K)|kilojoule per kilogram kelvin|specific heat|1e3 J kg-1 K-1|kJ/kgK,kJ/(kg K)
        WTT|W|watt|power|W|
        KWT|kW|kilowatt|power|1e3 W|
        MAW|MW|megawatt|power|1e6 W|
        C31|mW|milliwatt|power|1e-3 W|
        BHP|BHP|brake horse power|power|550 ft lbf s-1|hp
        K43|hp (electric)|horsepower (electric)|power|746 W|
        N12|PS (metric hp)|Pferdestaerke|power|75 kgf m s-1|PS metric
        2I|Btu(IT)/h|British thermal unit (international table) per hour|power|btu h-1|Btu/h
        E16|10⁶ Btu(IT)/h|million Btu(IT) per hour|power|1e6 btu h-1|MMBtu/h
        D46|V·A|volt - ampere|apparent power|W|VA
        KVA|kV·A|kilovolt - ampere|apparent power|1e3 W|kVA
        MVA|MV·A|megavolt - ampere|apparent power|1e6 W|MVA
        D44|var|var|reactive power|W|
        KVR|kvar|kilovar|reactive power|1e3 W|
        MAR|Mvar|megavar|reactive power|1e6 W|
        VLT|V|volt|voltage|V|volt
        2Z|mV|millivolt|voltage|1e-3 V|
        KVT|kV|kilovolt|voltage|1e3 V|
        AMP|A|ampere|current|A|amp,ampere
        4K|mA|milliampere|current|1e-3 A|
        B84|µA|microampere|current|1e-6 A|
        B22|kA|kiloampere|current|1e3 A|
        OHM|Ω|ohm|resistance|ohm|ohm
        B49|kΩ|kiloohm|resistance|1e3 ohm|kohm
        B75|MΩ|megaohm|resistance|1e6 ohm|Mohm
        FAR|F|farad|capacitance|A s V-1|
        4O|µF|microfarad|capacitance|1e-6 A s V-1|
        81|H|henry|inductance|V s A-1|
        C14|mH|millihenry|inductance|1e-3 V s A-1|
        AMH|A·h|ampere hour|electric charge|A h|Ah
        D33|T|tesla|magnetic flux density|V s m-2|
        SIE|S|siemens|conductance|ohm-1|
        D10|S/m|siemens per metre|conductivity|ohm-1 m-1|
        H43|S/cm|siemens per centimetre|conductivity|ohm-1 cm-1|
        H61|mS/cm|millisiemens per centimetre|conductivity|1e-3 ohm-1 cm-1|
        G42|µS/cm|microsiemens per centimetre|conductivity|1e-6 ohm-1 cm-1|
        G43|µS/m|microsiemens per metre|conductivity|1e-6 ohm-1 m-1|
        C65|Pa·s|pascal second|dynamic viscosity|Pa s|Pas
        C24|mPa·s|millipascal second|dynamic viscosity|1e-3 Pa s|mPas
        89|P|poise|dynamic viscosity|1e-1 Pa s|
        C7|cP|centipoise|dynamic viscosity|1e-3 Pa s|
        S4|m²/s|square metre per second|kinematic viscosity|m2 s-1|
        C17|mm²/s|millimetre squared per second|kinematic viscosity|mm2 s-1|
        91|St|stokes|kinematic viscosity|1e-4 m2 s-1|
        4C|cSt|centistokes|kinematic viscosity|1e-6 m2 s-1|
        NEW|N|newton|force|N|
        B47|kN|kilonewton|force|1e3 N|
        C78|lbf|pound-force|force|lbf|
        NU|N·m|newton metre|torque|N m rad-1|Nm
        D54|W/m²|watt per square metre|heat flux|W m-2|
        D55|W/(m²·K)|watt per square metre kelvin|heat transfer coefficient|W m-2 K-1|W/m2K,W/(m2 K)
        D53|W/(m·K)|watt per metre kelvin|thermal conductivity|W m-1 K-1|W/mK,W/(m K)
        LUX|lx|lux|illuminance|cd m-2|
        SEC|s|second [unit of time]|time|s|sec
        C26|ms|millisecond|time|1e-3 s|msec
        B98|µs|microsecond|time|1e-6 s|
        MIN|min|minute [unit of time]|time|min|
        HUR|h|hour|time|h|hr
        DAY|d|day|time|d|
        WEE|wk|week|time|7 d|
        C62|1|one|ratio / count|1|one,-
        P1|%|percent|ratio|0.01|pct,percent,%RH,% RH,rel. humidity
        NX|‰|part per thousand|ratio|1e-3|permille
        59|ppm|part per million|ratio|1e-6|
        61|ppb (US)|part per billion (US)|ratio|1e-9|ppb
        60|wt%|percent weight|mass fraction|0.01|%w,% w/w,w%,wt %
        VP|vol%|percent volume|volume fraction|0.01|%v,% v/v,v%,vol %
        SM3|Sm³|Standard cubic metre|gas volume at a stated standard state|Sm|
        NM3|Nm³|Normalised cubic metre|gas volume at normal state|Nm|m3n,m3(n),mn3,normal m3
        Q38|Sm³/h|Standard cubic metre per hour|standard volume flow|Sm h-1|
        Q40|Nm³/h|Normalized cubic metre per hour|normal volume flow|Nm h-1|m3n/h,m3(n)/h,mn3/h,Nm3/hr
        Q37|Sm³/d|Standard cubic metre per day|standard volume flow|Sm d-1|
        Q39|Nm³/d|Normalized cubic metre per day|normal volume flow|Nm d-1|m3n/d,m3(n)/d
        Q30|pH|pH (potential of Hydrogen)|acidity|pH|
        NTU|NTU|Nephelometric turbidity unit|turbidity|ntu|
        FNU|FNU|Formazin nephelometric unit|turbidity|fnu|
        2N|dB|decibel|level|dB|
        H87|(piece)|piece|count|1|piece,pcs,pc,Stk
        EA|(each)|each|count|1|each
        MON|mo|month|time|mo|
        ANN|y|year|time|12 mo|yr
        """;
}
