namespace Fralto.Core.Modbus;

/// <summary>Sizes the protocol sets (Modbus Application Protocol V1.1b3, clauses 4.1 and 6).</summary>
public static class ModbusLimits
{
    /// <summary>Most registers in one read.</summary>
    public const int ReadRegisters = 125;

    /// <summary>Most bits in one read.</summary>
    public const int ReadBits = 2000;

    /// <summary>Most registers in one write.</summary>
    public const int WriteRegisters = 123;

    /// <summary>Most coils in one write.</summary>
    public const int WriteBits = 1968;

    /// <summary>Largest PDU in bytes: function code and data.</summary>
    public const int Pdu = 253;
}
