using Fralto.Core.Limits;
using Fralto.Runtime.Views;
using Fralto.Web.Live;

namespace Fralto.Web.Pages;

/// <summary>The property of an alarm on its range: its levels, the value when it was raised and now, and which level it would meet
/// next.</summary>
/// <param name="Facts">The alarm.</param>
public sealed record AlarmRuler(AlarmFacts Facts)
{
    private const double From = 12;
    private const double Length = 336;

    /// <summary>The levels that have a number, highest first.</summary>
    public IReadOnlyList<(string Letters, double Setpoint)> Marks { get; } =
    [.. Facts.Point.Limits.Where(l => double.IsFinite(l.Setpoint)).Select(l => (l.Condition.Letters(), l.Setpoint))];

    /// <summary>The level the value would meet next on the way it has gone; null for none, or for an alarm of another kind.</summary>
    public (string Letters, double Setpoint)? Next
    {
        get
        {
            if (Facts.Watched is not null || !double.IsFinite(Facts.Value.Value))
                return null;
            var isHigh = Facts.Alarm.Key.Condition.IsHigh();
            var beyond = Marks.Where(m => isHigh ? m.Setpoint > Facts.Value.Value : m.Setpoint < Facts.Value.Value).ToArray();
            return beyond.Length == 0 ? null
                : isHigh ? beyond.MinBy(m => m.Setpoint)
                : beyond.MaxBy(m => m.Setpoint);
        }
    }

    /// <summary>All of it in words.</summary>
    public string Words =>
        string.Join(
            ", ",
            Marks
                .Select(m => $"{m.Letters} {Facts.Point.WithUnit(m.Setpoint, null)}")
                .Append($"now {Facts.Point.WithUnit(Facts.Value.Value, null)}")
        );

    /// <summary>How far it is to the next level, in words; empty for none.</summary>
    public string Far =>
        Next is { } next
            ? $"; {ValueText.Of(Facts.Point, Math.Abs(next.Setpoint - Facts.Value.Value))} {ValueText.Unit(Facts.Point)} to {next.Letters}"
            : "";

    /// <summary>Where a value lies on the picture; at its end where it is beyond the range.</summary>
    public double At(double value) => From + Length * Math.Clamp(Facts.Point.Range?.FractionOf(value) ?? 0, 0, 1);
}
