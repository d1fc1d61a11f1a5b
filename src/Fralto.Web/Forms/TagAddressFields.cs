using Fralto.Core.Controllers;
using Fralto.Core.Memory;
using Fralto.Core.Modbus;

namespace Fralto.Web.Forms;

/// <summary>The address of a tag as a form says it: fields of a register, or one text.</summary>
public static class TagAddressFields
{
    /// <summary>The text of the address field: the address on the wire, or all of it where the number alone would be taken for a
    /// manual's.</summary>
    /// <param name="address">The address.</param>
    public static string Text(TagAddress address) =>
        address is ModbusAddress register
            ? ModbusAddress.IsNumber($"{register.Offset}")
                ? $"{register with { Bit = null, UnitId = null }}"
                : $"{register.Offset}"
            : $"{address}";

    /// <summary>Reads the address, and refuses what is none.</summary>
    /// <param name="reader">The posted form.</param>
    /// <param name="rules">What the tag's controller speaks.</param>
    public static TagAddress Read(FormReader reader, ProtocolRules rules)
    {
        if (rules.HasRegisters)
        {
            // What stands there in full is read as everywhere else: a manual's number, or table and address in words.
            var written = reader.Text("Address", TagAddress.Longest);
            if (ModbusAddress.IsNumber(written) || written.Any(char.IsLetter))
            {
                if (rules.ReadAddress(written, out var wrong) is ModbusAddress full)
                    return full with
                    {
                        Bit = full.Bit ?? (reader.Text("Bit").Length == 0 ? null : reader.Whole("Bit", "the bit")),
                        UnitId = full.UnitId ?? (reader.Text("UnitId").Length == 0 ? null : reader.Whole("UnitId", "the unit id")),
                    };
                reader.Refuse("Address", wrong!);
                return new MemoryAddress();
            }
            int? Optional(string field, string what) => reader.Text(field).Length == 0 ? null : reader.Whole(field, what);
            if (reader.Text("Bit").Contains('-', StringComparison.Ordinal))
            {
                reader.Refuse(
                    "Bit",
                    $"'{reader.Text("Bit")}' is a range of bits, and an address names one or none. Leave this empty, and bind the "
                        + $"part .{reader.Text("Bit")} of the tag."
                );
                return new ModbusAddress(
                    reader.Choice<RegisterArea>("Area"),
                    reader.Whole("Address", "the address on the wire"),
                    null,
                    Optional("UnitId", "the unit id")
                );
            }
            return new ModbusAddress(
                reader.Choice<RegisterArea>("Area"),
                reader.Whole("Address", "the address on the wire"),
                Optional("Bit", "the bit"),
                Optional("UnitId", "the unit id")
            );
        }
        if (rules.ReadAddress(reader.Text("Address", TagAddress.Longest), out var problem) is { } address)
            return address;
        reader.Refuse("Address", problem!);
        return new MemoryAddress();
    }
}
