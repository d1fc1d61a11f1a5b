using Fralto.Core.Controllers;
using Fralto.Core.OpcUa;

namespace Fralto.Links.OpcUa;

/// <summary>OPC UA, spoken by a child process on Node.js.</summary>
/// <param name="identity">Who we are to servers, and whom we trust.</param>
/// <param name="clock">Our clock.</param>
public sealed class OpcUaDriver(UaIdentity identity, TimeProvider clock) : IProtocolDriver
{
    public Protocol Protocol => Protocol.OpcUa;

    /// <summary>Who we are to servers, and whom we trust.</summary>
    public UaIdentity Identity => identity;

    public ILink Create(LinkSetup setup) => new OpcUaLink(setup, identity);

    public async Task<LinkTest> TestAsync(Connection connection, string? password, Tag? probe, CancellationToken stop)
    {
        var its = (OpcUaConnection)connection;
        UaOffer? offer = null;
        try
        {
            await using var child = UaChild.Start("test", _ => { });
            offer = await UaSession.LookAsync(child, its, identity, clock, stop);
            var opened = await UaSession.OpenAsync(child, its, password, identity, clock, stop);
            var words = $"{opened.Application} answers.";
            if (probe is { Address: NodeAddress address })
            {
                var (value, status) = await UaSession.ReadAsync(child, address, stop);
                words += status.IsBad
                    ? $" {probe.Name} cannot be read: {UaStatusText.Words(status)}."
                    : $" {probe.Name} reads {NodeValue.Words(value)}.";
            }
            return new(true, words) { Offer = opened };
        }
        catch (LinkException e)
        {
            return new(false, $"{its.Endpoint}: {e.Message}{(e.Message.EndsWith('?') ? "" : ".")}") { Offer = offer };
        }
    }
}
