namespace Fralto.Core.Quality;

/// <summary>The quality of a value as an OPC UA status code.</summary>
/// <remarks>
/// Layout: OPC UA Part 4, clause 7.39. Bits 31-30 are the severity (00 Good, 01 Uncertain, 10 Bad), bits 27-16 the sub-code;
/// the low half carries information bits, so codes are compared on the high half.
/// </remarks>
public readonly record struct StatusCode(uint Value)
{
    /// <summary>The value can be relied on.</summary>
    public static readonly StatusCode Good = new(0x00000000);

    /// <summary>A person has set the value in place of its source.</summary>
    public static readonly StatusCode GoodLocalOverride = new(0x00960000);

    /// <summary>A simulation gives the value.</summary>
    public static readonly StatusCode UncertainSimulatedValue = new(0x42090000);

    /// <summary>The value is the last one known; newer ones do not come.</summary>
    public static readonly StatusCode UncertainLastUsableValue = new(0x40900000);

    /// <summary>It is worked out of fewer values than it should be.</summary>
    public static readonly StatusCode UncertainDataSubNormal = new(0x40A40000);

    /// <summary>There is no value.</summary>
    public static readonly StatusCode BadNoData = new(0x809B0000);

    /// <summary>The device does not let this user in.</summary>
    public static readonly StatusCode BadUserAccessDenied = new(0x801F0000);

    /// <summary>The value lies outside its range.</summary>
    public static readonly StatusCode UncertainEngineeringUnitsExceeded = new(0x40940000);

    /// <summary>The sensor is at the end of what it can measure.</summary>
    public static readonly StatusCode UncertainSensorNotAccurate = new(0x40930000);

    /// <summary>What was sent cannot be read.</summary>
    public static readonly StatusCode BadDecodingError = new(0x80070000);

    /// <summary>No answer came in time.</summary>
    public static readonly StatusCode BadTimeout = new(0x800A0000);

    /// <summary>No value has come yet.</summary>
    public static readonly StatusCode BadWaitingForInitialData = new(0x80320000);

    /// <summary>The device does not know the address.</summary>
    public static readonly StatusCode BadNodeIdUnknown = new(0x80340000);

    /// <summary>The value does not fit.</summary>
    public static readonly StatusCode BadOutOfRange = new(0x803C0000);

    /// <summary>The device cannot do this.</summary>
    public static readonly StatusCode BadNotSupported = new(0x803D0000);

    /// <summary>What came is of another type.</summary>
    public static readonly StatusCode BadTypeMismatch = new(0x80740000);

    /// <summary>The model does not fit the device.</summary>
    public static readonly StatusCode BadConfigurationError = new(0x80890000);

    /// <summary>There is no connection.</summary>
    public static readonly StatusCode BadNotConnected = new(0x808A0000);

    /// <summary>The device has failed.</summary>
    public static readonly StatusCode BadDeviceFailure = new(0x808B0000);

    /// <summary>The sensor has failed.</summary>
    public static readonly StatusCode BadSensorFailure = new(0x808C0000);

    /// <summary>The connection stands, but the device behind it is not heard.</summary>
    public static readonly StatusCode BadNoCommunication = new(0x80310000);

    private static readonly Dictionary<uint, string> Names = new()
    {
        [0x00000000] = "Good",
        [0x00960000] = "GoodLocalOverride",
        [0x40000000] = "Uncertain",
        [0x40900000] = "UncertainLastUsableValue",
        [0x42090000] = "UncertainSimulatedValue",
        [0x40930000] = "UncertainSensorNotAccurate",
        [0x40A40000] = "UncertainDataSubNormal",
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

    /// <summary>True for Good codes.</summary>
    public bool IsGood => Value >> 30 == 0;

    /// <summary>True for Uncertain codes.</summary>
    public bool IsUncertain => Value >> 30 == 1;

    /// <summary>True for Bad codes.</summary>
    public bool IsBad => Value >> 31 == 1;

    /// <summary>The standard's name, or the severity with the number in hexadecimal when the code is not one we produce.</summary>
    public string Name =>
        Names.TryGetValue(Value & 0xFFFF0000, out var name) ? name : $"{(IsBad ? "Bad" : IsUncertain ? "Uncertain" : "Good")} 0x{Value:X8}";

    /// <summary>True for the same code, whatever the information bits say.</summary>
    public bool IsSame(StatusCode other) => (Value & 0xFFFF0000) == (other.Value & 0xFFFF0000);

    /// <inheritdoc/>
    public override string ToString() => Name;
}
