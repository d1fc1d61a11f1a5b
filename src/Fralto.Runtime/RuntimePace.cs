namespace Fralto.Runtime;

/// <summary>How evenly the engine has run.</summary>
/// <param name="LongestGap">The longest time from the beginning of one tick to that of the next.</param>
/// <param name="LongestTick">The longest tick.</param>
/// <param name="Busy">Time spent in ticks.</param>
/// <param name="Over">The time all this was measured over.</param>
public readonly record struct RuntimePace(TimeSpan LongestGap, TimeSpan LongestTick, TimeSpan Busy, TimeSpan Over);
