using Fralto.Runtime.Recording;

namespace Fralto.Runtime.Views;

/// <summary>The states of a track, and where they lie.</summary>
/// <param name="Track">The track.</param>
/// <param name="Stretches">The states, each with where it begins and ends in picture units.</param>
public sealed record TrendStrip(TrendTrack Track, IReadOnlyList<(TrendStretch State, double X, double Width)> Stretches);
