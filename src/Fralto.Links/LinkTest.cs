using Fralto.Links.OpcUa;

namespace Fralto.Links;

/// <summary>What a connection test found.</summary>
/// <param name="Succeeded">True when the device answered to its unit id.</param>
/// <param name="Message">What was found, and what to check when it failed.</param>
public sealed record LinkTest(bool Succeeded, string Message)
{
    /// <summary>What an OPC UA server offers; null where there is no such server, or it did not answer.</summary>
    public UaOffer? Offer { get; init; }
}
