using Fralto.Runtime.Recording;

namespace Fralto.Runtime.Views;

/// <summary>A line in a window of its own.</summary>
/// <param name="Line">The line.</param>
/// <param name="From">Where the window begins, in ticks.</param>
/// <param name="To">Where it ends.</param>
/// <param name="Number">What it is marked with.</param>
/// <param name="Label">What it is called: the instance, and which run or how much earlier.</param>
/// <param name="IsEarlier">True where it is drawn to be compared with.</param>
public sealed record TrendTrack(TrendLine Line, long From, long To, int Number, string Label, bool IsEarlier);
