using Fralto.Core.Controllers;

namespace Fralto.Links.Memory;

/// <summary>Tags without a device.</summary>
public sealed class MemoryDriver : IProtocolDriver
{
    public Protocol Protocol => Protocol.Memory;

    public ILink Create(LinkSetup setup) =>
        new MemoryLink(setup.Controller, setup.Tags, setup.Mailbox, setup.Clock, setup.LoadMemory, setup.KeepMemory);

    public Task<LinkTest> TestAsync(Connection connection, string? password, Tag? probe, CancellationToken stop) =>
        Task.FromResult(new LinkTest(true, "Memory is always there."));
}
