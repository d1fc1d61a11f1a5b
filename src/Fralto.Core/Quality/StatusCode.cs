namespace Fralto.Core.Quality;

/// <summary>The quality of a value as an OPC UA status code.</summary>
/// <remarks>
/// Layout: OPC UA Part 4, clause 7.39. Bits 31-30 are the severity (00 Good, 01 Uncertain, 10 Bad), bits 27-16 the sub-code;
/// the low half carries information bits, so codes are compared on the high half.
/// </remarks>
public readonly record struct StatusCode(uint Value)
{
    public static readonly StatusCode Good = new(0x00000000);
    public static readonly StatusCode GoodLocalOverride = new(0x00960000);
    public static readonly StatusCode UncertainSimulatedValue = new(0x42090000);
    public static readonly StatusCode UncertainLastUsableValue = new(0x40900000);
    public static readonly StatusCode BadNoData = new(0x809B0000);
    public static readonly StatusCode BadUserAccessDenied = new(0x801F0000);
    public static readonly StatusCode UncertainEngineeringUnitsExceeded = new(0x40940000);
    public static readonly StatusCode UncertainSensorNotAccurate = new(0x40930000);
    public static readonly StatusCode BadDecodingError = new(0x80070000);
    public static readonly StatusCode BadTimeout = new(0x800A0000);
    public static readonly StatusCode BadWaitingForInitialData = new(0x80320000);
    public static readonly StatusCode BadNodeIdUnknown = new(0x80340000);
    public static readonly StatusCode BadOutOfRange = new(0x803C0000);
    public static readonly StatusCode BadNotSupported = new(0x803D0000);
    public static readonly StatusCode BadTypeMismatch = new(0x80740000);
    public static readonly StatusCode BadConfigurationError = new(0x80890000);
    public static readonly StatusCode BadNotConnected = new(0x808A0000);
    public static readonly StatusCode BadDeviceFailure = new(0x808B0000);
    public static readonly StatusCode BadSensorFailure = new(0x808C0000);
    public static readonly StatusCode BadNoCommunication = new(0x80310000);

    private static readonly Dictionary<uint, string> Names = new()
    {
        [0x00000000] = "Good",
        [0x00960000] = "GoodLocalOverride",
        [0x40000000] = "Uncertain",
        [0x40900000] = "UncertainLastUsableValue",
        [0x42090000] = "UncertainSimulatedValue",
        [0x40930000] = "UncertainSensorNotAccurate",
        [0x40940000] = "UncertainEngineeringUnitsExceeded",
        [0x80000000] = "Bad",
        [0x80070000] = "BadDecodingError",
        [0x800A0000] = "BadTimeout",
        [0x801F0000] = "BadUserAccessDenied",
        [0x80310000] = "BadNoCommunication",
        [0x80320000] = "BadWaitingForInitialData",
        [0x80340000] = "BadNodeIdUnknown",
        [0x803C0000] = "BadOutOfRange",
        [0x803D0000] = "BadNotSupported",
        [0x80740000] = "BadTypeMismatch",
        [0x80890000] = "BadConfigurationError",
        [0x808A0000] = "BadNotConnected",
        [0x808B0000] = "BadDeviceFailure",
        [0x808C0000] = "BadSensorFailure",
        [0x809B0000] = "BadNoData",
    };

    public bool IsGood => Value >> 30 == 0;

    public bool IsUncertain => Value >> 30 == 1;

    public bool IsBad => Value >> 31 == 1;

    /// <summary>The standard's name, or the severity with the number in hexadecimal when the code is not one we produce.</summary>
    public string Name =>
        Names.TryGetValue(Value & 0xFFFF0000, out var name) ? name : $"{(IsBad ? "Bad" : IsUncertain ? "Uncertain" : "Good")} 0x{Value:X8}";

    public override string ToString() => Name;
}
