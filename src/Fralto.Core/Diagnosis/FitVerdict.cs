using System.Collections.Immutable;
using Fralto.Core.Scaling;

namespace Fralto.Core.Diagnosis;

/// <summary>What raw values look like, and what would suit them.</summary>
/// <param name="Kind">What kind of verdict it is.</param>
/// <param name="Words">In words.</param>
/// <param name="Signal">The signal to take; null when none is proposed.</param>
/// <param name="Order">The order to take; null when none is proposed.</param>
/// <param name="TagIds">The tags it is about.</param>
public sealed record FitVerdict(FitKind Kind, string Words, Signal? Signal, WordOrder? Order, ImmutableArray<long> TagIds);
