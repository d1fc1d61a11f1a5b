namespace Fralto.Core.Modbus;

/// <summary>Function codes Fralto speaks (Modbus Application Protocol V1.1b3, clause 6).</summary>
public enum ModbusFunction : byte
{
    /// <summary>Reads coils.</summary>
    ReadCoils = 0x01,

    /// <summary>Reads discrete inputs.</summary>
    ReadDiscreteInputs = 0x02,

    /// <summary>Reads holding registers.</summary>
    ReadHoldingRegisters = 0x03,

    /// <summary>Reads input registers.</summary>
    ReadInputRegisters = 0x04,

    /// <summary>Writes one coil.</summary>
    WriteSingleCoil = 0x05,

    /// <summary>Writes one holding register.</summary>
    WriteSingleRegister = 0x06,

    /// <summary>Writes coils that follow one another.</summary>
    WriteMultipleCoils = 0x0F,

    /// <summary>Writes holding registers that follow one another.</summary>
    WriteMultipleRegisters = 0x10,
}
