using Fralto.Core.Controllers;
using Fralto.Core.Modbus;

namespace Fralto.Links.Modbus;

/// <summary>Modbus TCP.</summary>
public sealed class ModbusDriver : IProtocolDriver
{
    public Protocol Protocol => Protocol.Modbus;

    public ILink Create(LinkSetup setup) => new ModbusTcpLink(setup.Controller, setup.Tags, setup.Mailbox, setup.Clock);

    public Task<LinkTest> TestAsync(Connection connection, string? password, Tag? probe, CancellationToken stop) =>
        ModbusTcpLink.TestAsync((ModbusConnection)connection, probe, stop);
}
