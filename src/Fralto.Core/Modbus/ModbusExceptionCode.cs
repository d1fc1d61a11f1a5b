namespace Fralto.Core.Modbus;

/// <summary>Exception codes a device answers with (Modbus Application Protocol V1.1b3, clause 7).</summary>
public enum ModbusExceptionCode : byte
{
    /// <summary>The device has no such function.</summary>
    IllegalFunction = 0x01,

    /// <summary>The device has nothing at the address.</summary>
    IllegalDataAddress = 0x02,

    /// <summary>The device does not take the value or the count.</summary>
    IllegalDataValue = 0x03,

    /// <summary>The device failed while it worked on the request.</summary>
    ServerDeviceFailure = 0x04,

    /// <summary>The device has the request and needs long for it.</summary>
    Acknowledge = 0x05,

    /// <summary>The device is busy; the request is to be sent again later.</summary>
    ServerDeviceBusy = 0x06,

    /// <summary>The device's memory has an error.</summary>
    MemoryParityError = 0x08,

    /// <summary>The gateway cannot lead to the device.</summary>
    GatewayPathUnavailable = 0x0A,

    /// <summary>The device behind the gateway does not answer.</summary>
    GatewayTargetFailedToRespond = 0x0B,
}
