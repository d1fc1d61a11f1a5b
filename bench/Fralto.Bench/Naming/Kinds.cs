using Fralto.Core.Properties;
using Fralto.Core.Scaling;

namespace Fralto.Bench.Naming;

/// <summary>The equipment of the generated plants; invented.</summary>
internal static class Kinds
{
    public static readonly Kind[] All =
    [
        new(
            "Tank",
            "Tank",
            "TK",
            12,
            [
                N("Level", "Level", "LT01", "Level", "FUELLST", "Füllstand", "NIV", "Nivel", "MTR", 12),
                N(
                    "Temperature",
                    "Product temperature",
                    "TT01",
                    "Product Temperature",
                    "TEMP_PROD",
                    "Produkttemperatur",
                    "TEMP_PROD",
                    "Temperatura producto",
                    "CEL",
                    95
                ),
                N(
                    "JacketTemp",
                    "Jacket temperature",
                    "TT02",
                    "Jacket Temperature",
                    "TEMP_MANT",
                    "Manteltemperatur",
                    "TEMP_CAM",
                    "Temperatura camisa",
                    "CEL",
                    140
                ),
                N("Pressure", "Head pressure", "PT01", "Head Pressure", "DRUCK_KOPF", "Kopfdruck", "PRES_CAB", "Presión cabeza", "BAR", 6),
                N("Acidity", "pH", "AT01", "Ph", "PH", "pH-Wert", "PH", "Valor de pH", "Q30", 14),
                B(
                    "Agitator",
                    "Agitator running",
                    "XS01",
                    "Agitator Running",
                    "RUEHR_EIN",
                    "Rührwerk läuft",
                    "AGIT_MAR",
                    "Agitador en marcha"
                ),
                B(
                    "InletOpen",
                    "Inlet valve open",
                    "ZS01",
                    "Inlet Valve Open",
                    "VENT_ZUL_AUF",
                    "Zulaufventil offen",
                    "VALV_ENT_AB",
                    "Válvula entrada abierta"
                ),
                B(
                    "OutletOpen",
                    "Outlet valve open",
                    "ZS02",
                    "Outlet Valve Open",
                    "VENT_ABL_AUF",
                    "Ablaufventil offen",
                    "VALV_SAL_AB",
                    "Válvula salida abierta"
                ),
                N(
                    "JacketSetpoint",
                    "Jacket temperature setpoint",
                    "TC02",
                    "Jacket Temperature Setpoint",
                    "TEMP_MANT_SOLL",
                    "Manteltemperatur Sollwert",
                    "TEMP_CAM_CONS",
                    "Temperatura camisa consigna",
                    "CEL",
                    140,
                    command: true
                ),
            ]
        ),
        new(
            "Pump",
            "Pump",
            "P",
            20,
            [
                B("Running", "Running", "XS11", "Running", "LAUF", "Pumpe läuft", "MARCHA", "Bomba en marcha"),
                B("Fault", "Fault", "XA11", "Fault", "STOER", "Störung", "FALLO", "Fallo"),
                N("Current", "Motor current", "IT11", "Motor Current", "STROM", "Motorstrom", "CORR", "Corriente motor", "AMP", 60),
                N("Speed", "Speed", "ST11", "Speed", "DREHZ", "Drehzahl", "VEL", "Velocidad", "RPM", 3000),
                N("Flow", "Flow", "FT11", "Flow", "DURCHFL", "Durchfluss", "CAUD", "Caudal", "MQH", 120),
                N(
                    "Outlet",
                    "Discharge pressure",
                    "PT11",
                    "Discharge Pressure",
                    "DRUCK_AUS",
                    "Druck Austritt",
                    "PRES_SAL",
                    "Presión salida",
                    "BAR",
                    10
                ),
                I(
                    "Hours",
                    "Running hours",
                    "KQ11",
                    "Running Hours",
                    "BETR_STD",
                    "Betriebsstunden",
                    "HORAS",
                    "Horas de marcha",
                    "HUR",
                    200_000
                ),
            ]
        ),
        new(
            "Dryer",
            "Dryer",
            "DR",
            4,
            [
                N(
                    "AirIn",
                    "Air inlet temperature",
                    "TT21",
                    "Air Inlet Temperature",
                    "TEMP_ZUL",
                    "Zulufttemperatur",
                    "TEMP_ENT",
                    "Temperatura aire entrada",
                    "CEL",
                    180
                ),
                N(
                    "AirOut",
                    "Air outlet temperature",
                    "TT22",
                    "Air Outlet Temperature",
                    "TEMP_ABL",
                    "Ablufttemperatur",
                    "TEMP_SAL",
                    "Temperatura aire salida",
                    "CEL",
                    120
                ),
                N(
                    "Moisture",
                    "Product moisture",
                    "MT21",
                    "Product Moisture",
                    "FEUCHTE",
                    "Produktfeuchte",
                    "HUM",
                    "Humedad producto",
                    "P1",
                    50
                ),
                N("Gas", "Gas flow", "FT21", "Gas Flow", "GAS_DFL", "Gasdurchfluss", "GAS_CAUD", "Caudal gas", "MQH", 800),
                N(
                    "FanSpeed",
                    "Fan speed",
                    "SC21",
                    "Fan Speed",
                    "VENTIL_DREHZ",
                    "Ventilatordrehzahl",
                    "VENTIL_VEL",
                    "Velocidad ventilador",
                    "P1",
                    100
                ),
                I("Phase", "Phase", "KS21", "Phase", "PHASE", "Phase", "FASE", "Fase", null, 9),
                B("Door", "Door closed", "ZS21", "Door Closed", "TUER_ZU", "Tür zu", "PUERTA_CERR", "Puerta cerrada"),
            ]
        ),
        new(
            "Conveyor",
            "Conveyor",
            "CV",
            8,
            [
                B("Running", "Running", "XS31", "Running", "LAUF", "Förderer läuft", "MARCHA", "Cinta en marcha"),
                N(
                    "BeltSpeed",
                    "Belt speed",
                    "ST31",
                    "Belt Speed",
                    "BAND_GESCHW",
                    "Bandgeschwindigkeit",
                    "CINTA_VEL",
                    "Velocidad cinta",
                    "MTS",
                    4
                ),
                N("Load", "Belt load", "WT31", "Belt Load", "BAND_LAST", "Bandlast", "CINTA_CARGA", "Carga cinta", "KGM", 500),
                B("Drift", "Belt drift", "ZA31", "Belt Drift", "SCHIEFL", "Bandschieflauf", "DESVIO", "Desvío cinta"),
            ]
        ),
    ];

    private static Signal N(
        string code,
        string name,
        string isa,
        string words,
        string german,
        string germanText,
        string spanish,
        string spanishText,
        string unit,
        double high,
        bool command = false
    ) => new(code, name, isa, words, german, germanText, spanish, spanishText, PropertyType.Number, RawType.Float32, unit, high, command);

    private static Signal B(
        string code,
        string name,
        string isa,
        string words,
        string german,
        string germanText,
        string spanish,
        string spanishText
    ) => new(code, name, isa, words, german, germanText, spanish, spanishText, PropertyType.Boolean, RawType.Bool, null, 1);

    private static Signal I(
        string code,
        string name,
        string isa,
        string words,
        string german,
        string germanText,
        string spanish,
        string spanishText,
        string? unit,
        double high
    ) => new(code, name, isa, words, german, germanText, spanish, spanishText, PropertyType.Integer, RawType.Int32, unit, high);
}
