namespace Fralto.Bench.Naming;

/// <summary>Where a tag belongs.</summary>
/// <param name="Kind">Kind of equipment.</param>
/// <param name="KindIndex">Position of the kind, from 1.</param>
/// <param name="Area">Area, from 1.</param>
/// <param name="Number">Number in the code of the instance.</param>
/// <param name="Ordinal">Position in the plant among its kind, from 1.</param>
/// <param name="Signal">The signal.</param>
/// <param name="SignalIndex">Position of the signal in its kind.</param>
internal sealed record TagPlace(Kind Kind, int KindIndex, int Area, int Number, int Ordinal, Signal Signal, int SignalIndex);
