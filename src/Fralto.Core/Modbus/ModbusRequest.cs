using System.Buffers.Binary;
using System.Collections.Immutable;

namespace Fralto.Core.Modbus;

/// <summary>A request PDU.</summary>
/// <param name="Function">What is asked.</param>
/// <param name="Address">First address on the wire, counted from 0.</param>
/// <param name="Count">How many registers or bits.</param>
/// <param name="Words">Registers to write; empty for reads and coils.</param>
/// <param name="Bits">Coils to write; empty for reads and registers.</param>
public sealed record ModbusRequest(
    ModbusFunction Function,
    ushort Address,
    int Count,
    ImmutableArray<ushort> Words,
    ImmutableArray<bool> Bits
)
{
    private const ushort On = 0xFF00;

    /// <summary>A request to read from an address on.</summary>
    public static ModbusRequest Read(ModbusFunction function, int address, int count) => new(function, (ushort)address, count, [], []);

    /// <summary>A request to write one coil.</summary>
    public static ModbusRequest WriteCoil(int address, bool value) => new(ModbusFunction.WriteSingleCoil, (ushort)address, 1, [], [value]);

    /// <summary>A request to write one holding register.</summary>
    public static ModbusRequest WriteRegister(int address, ushort value) =>
        new(ModbusFunction.WriteSingleRegister, (ushort)address, 1, [value], []);

    /// <summary>A request to write coils from an address on.</summary>
    public static ModbusRequest WriteCoils(int address, params ImmutableArray<bool> values) =>
        new(ModbusFunction.WriteMultipleCoils, (ushort)address, values.Length, [], values);

    /// <summary>A request to write holding registers from an address on.</summary>
    public static ModbusRequest WriteRegisters(int address, params ImmutableArray<ushort> values) =>
        new(ModbusFunction.WriteMultipleRegisters, (ushort)address, values.Length, values, []);

    /// <summary>True when the function reads bits.</summary>
    public bool ReadsBits => Function is ModbusFunction.ReadCoils or ModbusFunction.ReadDiscreteInputs;

    /// <summary>True when the function reads registers.</summary>
    public bool ReadsWords => Function is ModbusFunction.ReadHoldingRegisters or ModbusFunction.ReadInputRegisters;

    /// <summary>The bytes on the wire.</summary>
    public byte[] ToPdu()
    {
        var data = Function switch
        {
            ModbusFunction.WriteMultipleCoils => ModbusBits.Pack(Bits.AsSpan()),
            ModbusFunction.WriteMultipleRegisters => ModbusBits.Bytes(Words.AsSpan()),
            _ => null,
        };
        var pdu = new byte[data is null ? 5 : 6 + data.Length];
        pdu[0] = (byte)Function;
        BinaryPrimitives.WriteUInt16BigEndian(pdu.AsSpan(1), Address);
        var second = Function switch
        {
            ModbusFunction.WriteSingleCoil => Bits[0] ? On : (ushort)0,
            ModbusFunction.WriteSingleRegister => Words[0],
            _ => (ushort)Count,
        };
        BinaryPrimitives.WriteUInt16BigEndian(pdu.AsSpan(3), second);
        if (data is null)
            return pdu;
        pdu[5] = (byte)data.Length;
        data.CopyTo(pdu, 6);
        return pdu;
    }

    /// <summary>Reads a request as a server does.</summary>
    /// <param name="pdu">Function code and data.</param>
    /// <param name="request">The request when it is one.</param>
    /// <returns>Null when the request is well formed, else the exception to answer with.</returns>
    public static ModbusExceptionCode? TryParse(ReadOnlySpan<byte> pdu, out ModbusRequest? request)
    {
        request = null;
        if (pdu.Length < 1 || !Enum.IsDefined((ModbusFunction)pdu[0]))
            return ModbusExceptionCode.IllegalFunction;
        if (pdu.Length < 5)
            return ModbusExceptionCode.IllegalDataValue;
        var function = (ModbusFunction)pdu[0];
        var address = BinaryPrimitives.ReadUInt16BigEndian(pdu[1..]);
        var second = BinaryPrimitives.ReadUInt16BigEndian(pdu[3..]);
        request = function switch
        {
            ModbusFunction.ReadCoils or ModbusFunction.ReadDiscreteInputs when second is >= 1 and <= ModbusLimits.ReadBits => Read(
                function,
                address,
                second
            ),
            ModbusFunction.ReadHoldingRegisters
            or ModbusFunction.ReadInputRegisters when second is >= 1 and <= ModbusLimits.ReadRegisters => Read(function, address, second),
            ModbusFunction.WriteSingleCoil when second is 0 or On => WriteCoil(address, second == On),
            ModbusFunction.WriteSingleRegister => WriteRegister(address, second),
            ModbusFunction.WriteMultipleCoils when second is >= 1 and <= ModbusLimits.WriteBits && HasData(pdu, (second + 7) / 8) =>
                WriteCoils(address, ModbusBits.Unpack(pdu[6..], second)),
            ModbusFunction.WriteMultipleRegisters when second is >= 1 and <= ModbusLimits.WriteRegisters && HasData(pdu, second * 2) =>
                WriteRegisters(address, ModbusBits.Words(pdu[6..])),
            _ => null,
        };
        return request is null ? ModbusExceptionCode.IllegalDataValue : null;
    }

    private static bool HasData(ReadOnlySpan<byte> pdu, int bytes) => pdu.Length == 6 + bytes && pdu[5] == bytes;
}
