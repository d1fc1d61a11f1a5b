namespace Fralto.Core.Modbus;

/// <summary>The four tables of the Modbus data model (Modbus Application Protocol V1.1b3, clause 4.3).</summary>
public enum RegisterArea
{
    /// <summary>Single bits, read and write.</summary>
    Coil,

    /// <summary>Single bits, read only.</summary>
    DiscreteInput,

    /// <summary>16-bit words, read only.</summary>
    InputRegister,

    /// <summary>16-bit words, read and write.</summary>
    HoldingRegister,
}
