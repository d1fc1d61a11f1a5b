using Fralto.Core.Controllers;
using Fralto.Core.Memory;
using Fralto.Core.Modbus;

namespace Fralto.Web.Forms;

/// <summary>The address of a tag as a form says it: fields of a register, or one text.</summary>
public static class TagAddressFields
{
    /// <summary>Reads the address, and refuses what is none.</summary>
    /// <param name="reader">The posted form.</param>
    /// <param name="rules">What the tag's controller speaks.</param>
    public static TagAddress Read(FormReader reader, ProtocolRules rules)
    {
        if (rules.HasRegisters)
        {
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
