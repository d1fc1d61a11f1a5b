using System.Globalization;
using Fralto.Core.Controllers;

namespace Fralto.Core.Modbus;

/// <summary>A device, or a gateway to several, that answers Modbus TCP.</summary>
/// <param name="Host">Host name or IP address.</param>
/// <param name="Port">TCP port, 1 to 65535; Modbus is assigned 502.</param>
/// <param name="UnitId">Unit identifier, 0 to 255, of tags that name none.</param>
public sealed record ModbusConnection(string Host, int Port, int UnitId) : Connection
{
    /// <summary>The port the protocol is assigned.</summary>
    public const int AssignedPort = 502;

    /// <summary>The largest gap that can be asked for, in registers.</summary>
    public const int WidestGap = 120;

    /// <summary>How often a request can be repeated.</summary>
    public const int MostRetries = 5;

    /// <summary>The most registers one request reads, 1 to 125; some devices answer fewer.</summary>
    public int LargestRead { get; init; } = ModbusLimits.ReadRegisters;

    /// <summary>Unused registers worth reading rather than asking twice; a request costs more than their bytes.</summary>
    public int Gap { get; init; } = ReadPlanner.RegisterGap;

    /// <summary>How often a request that is not answered in time is asked again before its tags go Bad.</summary>
    public int Retries { get; init; } = 1;

    /// <inheritdoc/>
    public override Protocol Protocol => Protocol.Modbus;

    /// <inheritdoc/>
    public override string Place => string.Create(CultureInfo.InvariantCulture, $"{Host}:{Port} unit {UnitId}");

    /// <inheritdoc/>
    public override Connection AtPort(int port) => this with { Port = port };
}
