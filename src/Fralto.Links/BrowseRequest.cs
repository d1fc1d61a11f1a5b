namespace Fralto.Links;

/// <summary>What browsing is asked for.</summary>
/// <param name="Filter">Where to begin, where the protocol takes that: an MQTT topic filter, an OPC UA node; empty for everything.</param>
/// <param name="Continuation">Where an earlier answer left off, as it said; null to begin.</param>
public sealed record BrowseRequest(string Filter, string? Continuation = null);
