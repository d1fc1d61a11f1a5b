using System.Globalization;

namespace Fralto.Core.Modbus;

/// <summary>Exception codes said so that a modeller knows what to do.</summary>
public static class ModbusWords
{
    /// <summary>An exception in words.</summary>
    public static string Explain(ModbusExceptionCode code) =>
        $"exception {((byte)code).ToString(CultureInfo.InvariantCulture)} "
        + code switch
        {
            ModbusExceptionCode.IllegalFunction => "illegal function: the device does not know this kind of request",
            ModbusExceptionCode.IllegalDataAddress => "illegal data address: the device has nothing at this address",
            ModbusExceptionCode.IllegalDataValue => "illegal data value: the device refuses the number or the count",
            ModbusExceptionCode.ServerDeviceFailure => "server device failure: the device cannot carry the request out",
            ModbusExceptionCode.Acknowledge => "acknowledge: the device works on it and needs longer",
            ModbusExceptionCode.ServerDeviceBusy => "server device busy: ask again later",
            ModbusExceptionCode.MemoryParityError => "memory parity error in the device",
            ModbusExceptionCode.GatewayPathUnavailable => "gateway path unavailable: the gateway has no way to this unit id",
            ModbusExceptionCode.GatewayTargetFailedToRespond => "gateway target failed to respond: no device answers to this unit id",
            _ => "that the protocol does not define",
        };
}
