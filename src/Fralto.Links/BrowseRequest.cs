namespace Fralto.Links;

/// <summary>What browsing is asked for.</summary>
/// <param name="Filter">What to listen to, where the protocol takes a filter: an MQTT topic filter.</param>
/// <param name="Continuation">Where an earlier answer left off, as it said; null to begin.</param>
public sealed record BrowseRequest(string Filter, string? Continuation = null);
