namespace Fralto.Core.Bindings;

/// <summary>What stands in for the tag of a binding, in the property's own unit, so that a model can be tried before its controller
/// exists.</summary>
/// <param name="TagId">The id its samples carry; given once, used by nothing else.</param>
/// <param name="Shape">How the value moves.</param>
/// <param name="Low">Lowest value; the value itself when it is held.</param>
/// <param name="High">Highest value; for states and booleans the last of the whole numbers from <paramref name="Low"/>.</param>
/// <param name="Period">Time in which it goes there and back, or through all whole numbers.</param>
public sealed record Simulation(long TagId, SimulationShape Shape, double Low, double High, TimeSpan Period)
{
    /// <summary>Shortest period.</summary>
    public static readonly TimeSpan ShortestPeriod = TimeSpan.FromSeconds(1);

    /// <summary>Longest period.</summary>
    public static readonly TimeSpan LongestPeriod = TimeSpan.FromDays(1);

    /// <summary>The value at a time since any beginning; the same time always gives the same value.</summary>
    public double At(TimeSpan elapsed)
    {
        var turn = (double)(elapsed.Ticks % Period.Ticks) / Period.Ticks;
        return Shape switch
        {
            SimulationShape.Held => Low,
            SimulationShape.Wave => (Low + High) / 2 - (High - Low) / 2 * Math.Cos(turn * 2 * Math.PI),
            SimulationShape.Ramp => turn < 0.5 ? Low + (High - Low) * turn * 2 : High - (High - Low) * (turn - 0.5) * 2,
            _ => Low + Math.Floor(turn * (High - Low + 1)),
        };
    }
}
