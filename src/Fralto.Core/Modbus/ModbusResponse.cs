using System.Collections.Immutable;

namespace Fralto.Core.Modbus;

/// <summary>A response PDU.</summary>
/// <param name="Function">The function answered.</param>
/// <param name="Exception">Why it was refused; null when it was carried out.</param>
/// <param name="Words">Registers read.</param>
/// <param name="Bits">Bits read.</param>
public sealed record ModbusResponse(
    ModbusFunction Function,
    ModbusExceptionCode? Exception,
    ImmutableArray<ushort> Words,
    ImmutableArray<bool> Bits
)
{
    private const byte ExceptionFlag = 0x80;

    /// <summary>The answer to a write that was carried out.</summary>
    public static ModbusResponse Done(ModbusFunction function) => new(function, null, [], []);

    /// <summary>The answer to a request that was not.</summary>
    public static ModbusResponse Refused(ModbusFunction function, ModbusExceptionCode code) => new(function, code, [], []);

    /// <summary>The bytes that answer a request.</summary>
    public byte[] ToPdu(ModbusRequest request)
    {
        if (Exception is not null)
            return RefusalPdu((byte)Function, Exception.Value);
        if (!request.ReadsBits && !request.ReadsWords)
            return request.ToPdu()[..5];
        var data = request.ReadsBits ? ModbusBits.Pack(Bits.AsSpan()) : ModbusBits.Bytes(Words.AsSpan());
        return [(byte)Function, (byte)data.Length, .. data];
    }

    /// <summary>The bytes that refuse a request, well formed or not.</summary>
    public static byte[] RefusalPdu(byte function, ModbusExceptionCode code) => [(byte)(function | ExceptionFlag), (byte)code];

    /// <summary>Reads the answer to a request as a client does.</summary>
    /// <returns>The response, or null when these bytes do not answer the request.</returns>
    public static ModbusResponse? Parse(ReadOnlySpan<byte> pdu, ModbusRequest request)
    {
        if (pdu.Length == 2 && pdu[0] == ((byte)request.Function | ExceptionFlag))
            return Refused(request.Function, (ModbusExceptionCode)pdu[1]);
        if (pdu.Length < 2 || pdu[0] != (byte)request.Function)
            return null;
        if (request.ReadsBits)
            return pdu[1] == (request.Count + 7) / 8 && pdu.Length == 2 + pdu[1]
                ? new(request.Function, null, [], ModbusBits.Unpack(pdu[2..], request.Count))
                : null;
        if (request.ReadsWords)
            return pdu[1] == request.Count * 2 && pdu.Length == 2 + pdu[1]
                ? new(request.Function, null, ModbusBits.Words(pdu[2..]), [])
                : null;
        return pdu.SequenceEqual(request.ToPdu().AsSpan(0, 5)) ? Done(request.Function) : null;
    }
}
