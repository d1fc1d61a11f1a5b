using System.Globalization;
using Fralto.Core.Scaling;

namespace Fralto.Core.Recording;

/// <summary>How a point is recorded: what its layers amount to.</summary>
/// <param name="Deadband">How far a number has to move, in the property's unit; 0 for any change.</param>
/// <param name="Every">Seconds after which a value is recorded even when it stays; 0 for never.</param>
/// <param name="OnChange">True records changes; false the interval alone.</param>
/// <param name="While">Code of the property of the same instance that has to hold; null for none.</param>
/// <param name="WhileValue">What it has to be; not-a-number for anything but zero.</param>
/// <param name="KeepDays">Days values are kept.</param>
/// <param name="KeepCount">How many values are kept at most; null for any.</param>
/// <param name="KeepSummedDays">Days what is summed up is kept.</param>
/// <param name="IsStepped">True where a value holds until the next one; false where it moves between two on a straight line.</param>
public sealed record RecordingRule(
    double Deadband,
    double Every,
    bool OnChange,
    string? While,
    double WhileValue,
    double KeepDays,
    long? KeepCount,
    double KeepSummedDays,
    bool IsStepped
)
{
    /// <summary>Deadband where nothing is said, in percent of the range.</summary>
    public const double StandardPercent = 0.1;

    /// <summary>Days that values are kept where nothing is said.</summary>
    public const double StandardDays = 100;

    /// <summary>Days that what is summed up is kept where nothing is said: ten years.</summary>
    public const double StandardSummedDays = 3653;

    /// <summary>Longest time anything is kept, in days.</summary>
    public const double MostDays = 36_525;

    /// <summary>Longest interval, in seconds: a day.</summary>
    public const double LongestEvery = 86_400;

    /// <summary>What layers amount to; null where nothing is recorded.</summary>
    /// <param name="says">What they say together; null for nothing.</param>
    /// <param name="range">The range of the property.</param>
    /// <param name="isNumber">True for what can have a deadband.</param>
    /// <param name="isStepped">True where a value holds until the next one; such are recorded at any change when nothing is said.</param>
    public static RecordingRule? Of(RecordingPatch? says, Span? range, bool isNumber, bool isStepped)
    {
        says ??= RecordingPatch.Empty;
        if (says.Off == true)
            return null;
        var percent = says.DeadbandPercent ?? (isStepped ? 0 : StandardPercent);
        var (condition, value) = WhileOf(says.While);
        return new(
            isNumber ? says.Deadband ?? (range is { } r ? Math.Abs(r.Width) * percent / 100 : 0) : 0,
            says.Every ?? 0,
            says.OnChange ?? true,
            condition,
            value,
            says.KeepDays ?? StandardDays,
            says.KeepCount,
            says.KeepSummedDays ?? StandardSummedDays,
            isStepped
        );
    }

    /// <summary>How many days back one can look.</summary>
    /// <param name="perDay">How many values come a day; 0 while that is not known.</param>
    public double Reach(double perDay) => KeepCount is { } most && perDay > 0 ? Math.Min(KeepDays, most / perDay) : KeepDays;

    private static (string? Code, double Value) WhileOf(string? condition)
    {
        if (string.IsNullOrWhiteSpace(condition))
            return (null, double.NaN);
        var at = condition.IndexOf('=', StringComparison.Ordinal);
        return at < 0 ? (condition.Trim(), double.NaN)
            : double.TryParse(condition[(at + 1)..], NumberStyles.Float, CultureInfo.InvariantCulture, out var value)
                ? (condition[..at].Trim(), value)
            : (condition.Trim(), double.NaN);
    }
}
