namespace Fralto.Links;

/// <summary>What browsing is asked for.</summary>
/// <param name="Filter">Where to begin, where the protocol takes that: an MQTT topic filter, an OPC UA node; empty for everything.</param>
/// <param name="Continuation">Where an earlier answer left off, as it said; null to begin.</param>
public sealed record BrowseRequest(string Filter, string? Continuation = null)
{
    /// <summary>Is told how many were found, whenever more were; null where nobody asks.</summary>
    public Action<int>? Found { get; init; }

    /// <summary>Ends browsing early: what has been found so far is the answer, and it can be gone on with. A protocol that cannot stop
    /// goes on to its end.</summary>
    public CancellationToken Enough { get; init; }
}
