namespace Fralto.Runtime;

/// <summary>What a link does in a second.</summary>
/// <param name="Requests">Requests sent, or messages received.</param>
/// <param name="Changes">Values that changed.</param>
/// <param name="Bytes">Bytes sent and received.</param>
public sealed record LinkRates(double Requests, double Changes, double Bytes);
