using System.Globalization;
using Fralto.Core.Controllers;

namespace Fralto.Core.Modbus;

/// <summary>A place in a Modbus device: a table and the address on the wire, counted from 0.</summary>
/// <param name="Area">The table.</param>
/// <param name="Offset">Address on the wire, 0 to 65535.</param>
/// <param name="Bit">One bit of a register, 0 the least significant; null for all of it.</param>
/// <param name="UnitId">The device behind the same address; null for the controller's own.</param>
public sealed record ModbusAddress(RegisterArea Area, int Offset, int? Bit = null, int? UnitId = null) : TagAddress
{
    /// <summary>The highest address on the wire.</summary>
    public const int Highest = 65535;

    private static readonly Dictionary<string, RegisterArea> Words = new(StringComparer.OrdinalIgnoreCase)
    {
        ["coil"] = RegisterArea.Coil,
        ["coils"] = RegisterArea.Coil,
        ["0x"] = RegisterArea.Coil,
        ["discrete"] = RegisterArea.DiscreteInput,
        ["1x"] = RegisterArea.DiscreteInput,
        ["input"] = RegisterArea.InputRegister,
        ["3x"] = RegisterArea.InputRegister,
        ["holding"] = RegisterArea.HoldingRegister,
        ["4x"] = RegisterArea.HoldingRegister,
    };

    /// <inheritdoc/>
    public override Protocol Protocol => Protocol.Modbus;

    /// <inheritdoc/>
    public override bool IsWireBit => IsBit;

    /// <inheritdoc/>
    public override bool HasFixedLength => true;

    /// <inheritdoc/>
    public override bool HasWordOrder => !IsBit && Bit is null;

    /// <summary>True for the tables of single bits.</summary>
    public bool IsBit => Area is RegisterArea.Coil or RegisterArea.DiscreteInput;

    /// <summary>True where a client may write.</summary>
    public bool IsWritable => Area is RegisterArea.Coil or RegisterArea.HoldingRegister;

    /// <summary>The number device manuals print: table digit and the address counted from 1, for example 40001 (a convention, not the
    /// protocol).</summary>
    public string Number => $"{Digit}{(Offset + 1).ToString(Offset < 9999 ? "D4" : "D5", CultureInfo.InvariantCulture)}";

    private char Digit =>
        Area switch
        {
            RegisterArea.Coil => '0',
            RegisterArea.DiscreteInput => '1',
            RegisterArea.InputRegister => '3',
            _ => '4',
        };

    private string AreaName =>
        Area switch
        {
            RegisterArea.Coil => "coil",
            RegisterArea.DiscreteInput => "discrete",
            RegisterArea.InputRegister => "input",
            _ => "holding",
        };

    /// <summary>True for a number as manuals print it: the table's digit and four or five more, counted from 1, with or without a
    /// bit.</summary>
    /// <param name="text">For example 40121, 400121 or 40121.3.</param>
    public static bool IsNumber(string text) => NumberOf(text) is { Length: 5 or 6 } number && Whole(number, out _);

    /// <summary>Reads "holding 120", "unit 2 input 4.3" or a manual's number such as 40121 or 40121.3.</summary>
    public static ModbusAddress? Parse(string text, out string? problem)
    {
        problem = null;
        var words = text.Split(' ', StringSplitOptions.RemoveEmptyEntries);
        int? unit = null;
        if (words is [var first, var id, .. var rest] && first.Equals("unit", StringComparison.OrdinalIgnoreCase))
        {
            if (!Whole(id, out var number) || number > 255)
                return Wrong($"A unit id is 0 to 255, not '{id}'.", out problem);
            (unit, words) = (number, rest);
        }
        if (words is [var single] && IsNumber(single))
        {
            var at = OfNumber(NumberOf(single), unit, out problem);
            return problem is not null || at is null || NumberOf(single).Length == single.Length
                ? at
                : Parse(
                    $"{(unit is null ? "" : $"unit {unit} ")}{at.AreaName} {at.Offset}{single[NumberOf(single).Length..]}",
                    out problem
                );
        }
        if (words is not [var table, var place] || !Words.TryGetValue(table, out var area))
            return Wrong(
                $"'{text}' is no Modbus address; write the table and the address on the wire, as in holding 120, input 4.3 or coil 7, "
                    + $"or a number such as 40121.",
                out problem
            );
        var dot = place.IndexOf('.');
        int? bit = null;
        if (dot >= 0)
        {
            if (place.IndexOf('-', dot) > 0)
                return Wrong(
                    $"'{text}' is a range of bits, and an address names one or none. Declare {table} {place[..dot]} as a whole and "
                        + $"bind its part {place[dot..]}.",
                    out problem
                );
            if (!Whole(place[(dot + 1)..], out var at) || at > 15)
                return Wrong($"The bit of a register is 0 to 15, not '{place[(dot + 1)..]}'.", out problem);
            bit = at;
        }
        if (!Whole(dot >= 0 ? place[..dot] : place, out var offset))
            return Wrong($"'{place}' is no address on the wire; it is a whole number from 0.", out problem);
        return new(area, offset, bit, unit);
    }

    /// <summary>Table and wire address, for example "holding 120".</summary>
    public override string ToString() =>
        string.Create(
            CultureInfo.InvariantCulture,
            $"{(UnitId is { } unit ? $"unit {unit} " : "")}{AreaName} {Offset}{(Bit is { } bit ? $".{bit}" : "")}"
        );

    /// <inheritdoc/>
    public override string? PlaceIn(Connection connection) =>
        UnitId is null && connection is ModbusConnection modbus ? (this with { UnitId = modbus.UnitId }).ToString() : Place;

    /// <inheritdoc/>
    public override string? WhyReadOnly(string name) =>
        IsWritable ? null : $"{name} is at {this}, which devices only let read; commands go to coils and holding registers.";

    private protected override TagAddress? ReadBack(string line, out string? problem) => Parse(line, out problem);

    private static ModbusAddress? OfNumber(string number, int? unit, out string? problem)
    {
        problem = null;
        RegisterArea? area = number[0] switch
        {
            '0' => RegisterArea.Coil,
            '1' => RegisterArea.DiscreteInput,
            '3' => RegisterArea.InputRegister,
            '4' => RegisterArea.HoldingRegister,
            _ => null,
        };
        var from1 = int.Parse(number.AsSpan(1), NumberStyles.None, CultureInfo.InvariantCulture);
        if (area is { } table && from1 >= 1)
            return new(table, from1 - 1, null, unit);
        return Wrong($"'{number}' is no register number: it begins with 0, 1, 3 or 4 and counts from 1, as in 40001.", out problem);
    }

    private static ModbusAddress? Wrong(string message, out string? problem)
    {
        problem = message;
        return null;
    }

    private static string NumberOf(string text) => text.IndexOf('.') is >= 0 and var dot ? text[..dot] : text;

    private static bool Whole(string text, out int number) =>
        int.TryParse(text, NumberStyles.None, CultureInfo.InvariantCulture, out number);
}
