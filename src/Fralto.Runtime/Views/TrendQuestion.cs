namespace Fralto.Runtime.Views;

/// <summary>What somebody wants to see of history.</summary>
public sealed record TrendQuestion
{
    /// <summary>The longest window: ten years.</summary>
    public const double LongestSeconds = 3653 * 86_400d;

    /// <summary>The most lines that are drawn together.</summary>
    public const int MostLines = 40;

    /// <summary>Instances and properties.</summary>
    public IReadOnlyList<(long EquipmentId, long PropertyId)> Lines { get; init; } = [];

    /// <summary>How long the window is, in seconds.</summary>
    public double Seconds { get; init; } = 3600;

    /// <summary>Where it ends, in ticks; null for now.</summary>
    public long? To { get; init; }

    /// <summary>The same window so many seconds earlier is drawn beside; 0 for none.</summary>
    public double Earlier { get; init; }

    /// <summary>Runs side by side: the property whose state begins them; null for time by the clock.</summary>
    public long? RunsOf { get; init; }

    /// <summary>The state with which a run begins.</summary>
    public double Becomes { get; init; }

    /// <summary>How many runs of each instance.</summary>
    public int Runs { get; init; } = 1;

    /// <summary>Seconds before the run that are shown.</summary>
    public double Before { get; init; }

    /// <summary>The span that is marked, in ticks; null for none.</summary>
    public (long From, long To)? Mark { get; init; }

    /// <summary>Width of the drawing, in picture units.</summary>
    public double Width { get; init; } = 900;
}
