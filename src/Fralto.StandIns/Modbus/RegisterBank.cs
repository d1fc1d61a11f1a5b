using System.Collections.Immutable;
using Fralto.Core.Modbus;
using Fralto.Core.Scaling;

namespace Fralto.StandIns.Modbus;

/// <summary>The memory of a stand-in: four tables of given sizes. What lies beyond them answers exception 2.</summary>
public sealed class RegisterBank(int coils, int discreteInputs, int inputRegisters, int holdingRegisters)
{
    private readonly Lock _lock = new();
    private readonly bool[] _coils = new bool[coils];
    private readonly bool[] _discreteInputs = new bool[discreteInputs];
    private readonly ushort[] _inputRegisters = new ushort[inputRegisters];
    private readonly ushort[] _holdingRegisters = new ushort[holdingRegisters];

    /// <summary>Carries a request out as a device does.</summary>
    public ModbusResponse Answer(ModbusRequest request)
    {
        lock (_lock)
        {
            return request.Function switch
            {
                ModbusFunction.ReadCoils => ReadBits(request, _coils),
                ModbusFunction.ReadDiscreteInputs => ReadBits(request, _discreteInputs),
                ModbusFunction.ReadHoldingRegisters => ReadWords(request, _holdingRegisters),
                ModbusFunction.ReadInputRegisters => ReadWords(request, _inputRegisters),
                ModbusFunction.WriteSingleCoil or ModbusFunction.WriteMultipleCoils => Write(request, request.Bits, _coils),
                _ => Write(request, request.Words, _holdingRegisters),
            };
        }
    }

    /// <summary>Sets a number as the device's own program does.</summary>
    public void Set(RegisterArea area, int offset, RawType type, WordOrder order, double value)
    {
        lock (_lock)
        {
            var words = new ushort[4];
            if (!RawCodec.TryWrite(value, type, order, words))
                throw new ArgumentOutOfRangeException(nameof(value), value, $"does not fit {type}");
            var target = area == RegisterArea.InputRegister ? _inputRegisters : _holdingRegisters;
            words.AsSpan(0, RawCodec.WordsOf(type)).CopyTo(target.AsSpan(offset));
        }
    }

    /// <summary>A number as the tables hold it now.</summary>
    public double Read(RegisterArea area, int offset, RawType type, WordOrder order)
    {
        lock (_lock)
            return RawCodec.Read((area == RegisterArea.InputRegister ? _inputRegisters : _holdingRegisters).AsSpan(offset), type, order);
    }

    /// <summary>Sets a text as the device's own program does.</summary>
    public void SetText(RegisterArea area, int offset, int length, string text)
    {
        lock (_lock)
        {
            var target = area == RegisterArea.InputRegister ? _inputRegisters : _holdingRegisters;
            if (!RawCodec.TryWriteText(text, length, WordOrder.HighFirst, target.AsSpan(offset)))
                throw new ArgumentException($"does not fit {length} bytes", nameof(text));
        }
    }

    /// <summary>Sets one of the booleans packed into words: bit n mod 32 of 32-bit word n div 32.</summary>
    public void SetPackedBool(int offset, int element, WordOrder order, bool value)
    {
        lock (_lock)
        {
            var at = offset + element / 32 * 2 + ((element % 32 >= 16) == order.IsLowFirst() ? 1 : 0);
            var bit = (ushort)(1 << (element % 16));
            _inputRegisters[at] = (ushort)(value ? _inputRegisters[at] | bit : _inputRegisters[at] & ~bit);
        }
    }

    /// <summary>One of the booleans packed into words, as <see cref="SetPackedBool"/> puts them.</summary>
    public bool PackedBool(int offset, int element, WordOrder order)
    {
        lock (_lock)
            return (
                    _inputRegisters[offset + element / 32 * 2 + ((element % 32 >= 16) == order.IsLowFirst() ? 1 : 0)]
                    & (1 << (element % 16))
                ) != 0;
    }

    /// <summary>One bit of the tables of bits.</summary>
    public bool Bit(RegisterArea area, int offset)
    {
        lock (_lock)
            return (area == RegisterArea.Coil ? _coils : _discreteInputs)[offset];
    }

    /// <summary>Sets a bit as the device's own program does.</summary>
    public void SetBit(RegisterArea area, int offset, bool value)
    {
        lock (_lock)
            (area == RegisterArea.Coil ? _coils : _discreteInputs)[offset] = value;
    }

    /// <summary>A coil as clients have left it.</summary>
    public bool Coil(int offset)
    {
        lock (_lock)
            return _coils[offset];
    }

    private static bool IsInside(ModbusRequest request, Array table) => request.Address + request.Count <= table.Length;

    private static ModbusResponse ReadBits(ModbusRequest request, bool[] table) =>
        IsInside(request, table)
            ? new(request.Function, null, [], ImmutableArray.Create(table, request.Address, request.Count))
            : ModbusResponse.Refused(request.Function, ModbusExceptionCode.IllegalDataAddress);

    private static ModbusResponse ReadWords(ModbusRequest request, ushort[] table) =>
        IsInside(request, table)
            ? new(request.Function, null, ImmutableArray.Create(table, request.Address, request.Count), [])
            : ModbusResponse.Refused(request.Function, ModbusExceptionCode.IllegalDataAddress);

    private static ModbusResponse Write<T>(ModbusRequest request, ImmutableArray<T> values, T[] table)
    {
        if (!IsInside(request, table))
            return ModbusResponse.Refused(request.Function, ModbusExceptionCode.IllegalDataAddress);
        values.CopyTo(table, request.Address);
        return ModbusResponse.Done(request.Function);
    }
}
