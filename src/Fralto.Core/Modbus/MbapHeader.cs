using System.Buffers.Binary;

namespace Fralto.Core.Modbus;

/// <summary>The seven bytes before a PDU on TCP (Modbus Messaging on TCP/IP V1.0b, clause 3.1.3). All numbers are big-endian.</summary>
/// <param name="TransactionId">Chosen by the client, copied by the server.</param>
/// <param name="ProtocolId">0 for Modbus.</param>
/// <param name="Length">Bytes that follow this field: unit id and PDU.</param>
/// <param name="UnitId">The device behind the address.</param>
public readonly record struct MbapHeader(ushort TransactionId, ushort ProtocolId, ushort Length, byte UnitId)
{
    /// <summary>Size in bytes.</summary>
    public const int Size = 7;

    /// <summary>Bytes of the PDU that follows.</summary>
    public int PduLength => Length - 1;

    /// <summary>True for a header a Modbus device can have sent: protocol 0 and a PDU of 2 to 253 bytes.</summary>
    public bool IsModbus => ProtocolId == 0 && PduLength is >= 2 and <= ModbusLimits.Pdu;

    /// <summary>Reads a header from its seven bytes.</summary>
    public static MbapHeader Read(ReadOnlySpan<byte> bytes) =>
        new(
            BinaryPrimitives.ReadUInt16BigEndian(bytes),
            BinaryPrimitives.ReadUInt16BigEndian(bytes[2..]),
            BinaryPrimitives.ReadUInt16BigEndian(bytes[4..]),
            bytes[6]
        );

    /// <summary>A whole frame: header and PDU.</summary>
    public static byte[] Frame(ushort transactionId, byte unitId, ReadOnlySpan<byte> pdu)
    {
        var frame = new byte[Size + pdu.Length];
        BinaryPrimitives.WriteUInt16BigEndian(frame, transactionId);
        BinaryPrimitives.WriteUInt16BigEndian(frame.AsSpan(4), (ushort)(pdu.Length + 1));
        frame[6] = unitId;
        pdu.CopyTo(frame.AsSpan(Size));
        return frame;
    }
}
