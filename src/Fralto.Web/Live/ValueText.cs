using System.Globalization;
using Fralto.Core.Alarms;
using Fralto.Core.Controllers;
using Fralto.Core.Engine;
using Fralto.Core.Limits;
using Fralto.Core.Planning;
using Fralto.Core.Properties;
using Fralto.Core.Quality;
using Fralto.Core.Scaling;

namespace Fralto.Web.Live;

/// <summary>Values as people read them, the same in pages and streams.</summary>
public static class ValueText
{
    /// <summary>What stands where no value has been yet.</summary>
    public const string None = "–";

    /// <summary>Stands before a state that is not as it should be.</summary>
    public const string Abnormal = "!";

    private const double TooLarge = 1e10;
    private const int MostShown = 4;

    public static string Of(PlanPoint point, double value)
    {
        if (!double.IsFinite(value))
            return None;
        if (point.States?.StateOf(value) is { } state)
            return state.IsAbnormal ? $"{Abnormal} {state.Name}" : state.Name;
        if (point.Type == PropertyType.Boolean)
            return value == 0 ? "false" : "true";
        if (point.States is not null)
            return $"{Number(value, 0)} (no name)";
        return Number(value, point.Decimals);
    }

    /// <summary>The value of a point as one person looks at it.</summary>
    public static string Of(PlanPoint point, PointValue value, ShownUnit shown)
    {
        if (point.Type == PropertyType.Text)
            return value.Text ?? None;
        return shown.Conversion.IsNone || point.States is not null || !double.IsFinite(value.Value)
            ? Of(point, value.Value)
            : Number(shown.Conversion.Of(value.Value), shown.Decimals);
    }

    /// <summary>The newest readings of a tag in one line: its text, its raw number, how many of its booleans are on, or the first numbers
    /// of an array.</summary>
    public static string Raw(Tag tag, ReadOnlySpan<TagReading> readings)
    {
        if (!tag.IsArray || readings.Length < 2)
            return readings.IsEmpty ? None : Raw(readings[0]);
        if (!double.IsFinite(readings[0].Raw))
            return None;
        if (tag.Type != RawType.Bool)
            return string.Join(" ", readings[..Math.Min(readings.Length, MostShown)].ToArray().Select(r => Raw(r.Raw)))
                + (readings.Length > MostShown ? " …" : "");
        var on = 0;
        foreach (var reading in readings)
            on += reading.Raw == 0 ? 0 : 1;
        return $"{on.ToString(CultureInfo.InvariantCulture)}/{readings.Length.ToString(CultureInfo.InvariantCulture)} on";
    }

    /// <summary>The newest reading of a tag: its text, or its raw number.</summary>
    public static string Raw(TagReading reading) => reading.Text ?? Raw(reading.Raw);

    /// <summary>A number with so many decimals; one too large to be read in full is written with its power of ten, as a value read in the
    /// wrong way often is.</summary>
    public static string Number(double value, int decimals) =>
        Math.Abs(value) < TooLarge
            ? Rounded(value, decimals).ToString("F" + decimals.ToString(CultureInfo.InvariantCulture), CultureInfo.InvariantCulture)
            : value.ToString("0.00e+0", CultureInfo.InvariantCulture);

    /// <summary>A number as a person would type it.</summary>
    public static string Plain(double? value) => value?.ToString("0.##########", CultureInfo.InvariantCulture) ?? "";

    /// <summary>A number as a person would type it, with at most so many decimals; halves are rounded away from zero, as where decimals are
    /// fixed.</summary>
    public static string Plain(double value, int decimals) => Plain(Rounded(value, decimals));

    // Adding 0 makes of a negative zero, which what is tiny and negative is rounded to, a zero.
    private static double Rounded(double value, int decimals) =>
        Math.Round(value, Math.Clamp(decimals, 0, 15), MidpointRounding.AwayFromZero) + 0.0;

    /// <summary>A raw number; whole ones without decimals.</summary>
    public static string Raw(double raw) =>
        !double.IsFinite(raw) ? None
        : raw == Math.Floor(raw) && Math.Abs(raw) < 1e15 ? raw.ToString("0", CultureInfo.InvariantCulture)
        : raw.ToString("G6", CultureInfo.InvariantCulture);

    public static string Unit(PlanPoint point) => point.Unit?.Symbol ?? "";

    /// <summary>good, uncertain or bad: the class that marks it.</summary>
    public static string Quality(StatusCode status) =>
        status.IsBad ? "bad"
        : status.IsUncertain ? "uncertain"
        : "good";

    /// <summary>Quality in words, with the reason; empty when it is Good.</summary>
    public static string Why(StatusCode status, string? reason) =>
        status == StatusCode.Good ? ""
        : reason is null ? status.Name
        : $"{status.Name}: {reason}";

    /// <summary>The reason alone, for where there is little room; the name of the status when there is none.</summary>
    public static string Reason(StatusCode status, string? reason) => status == StatusCode.Good ? "" : reason ?? status.Name;

    /// <summary>What is younger is of now.</summary>
    public static readonly TimeSpan OfNow = TimeSpan.FromSeconds(5);

    /// <summary>How long ago something was, coarsely: now, 15 s, 3 min, 2 h, 4 d.</summary>
    public static string Age(TimeSpan? ago)
    {
        if (ago is not { } age)
            return None;
        return age < OfNow ? "now"
            : age.TotalSeconds < 60 ? $"{(int)age.TotalSeconds / 5 * 5} s"
            : age.TotalMinutes < 60 ? $"{(int)age.TotalMinutes} min"
            : age.TotalHours < 48 ? $"{(int)age.TotalHours} h"
            : $"{(int)age.TotalDays} d";
    }

    /// <summary>Local time of day; with the date when it is not today's.</summary>
    public static string Time(DateTimeOffset time)
    {
        var local = time.ToLocalTime();
        return local.Date == DateTimeOffset.Now.Date
            ? local.ToString("HH:mm:ss", CultureInfo.InvariantCulture)
            : local.ToString("yyyy-MM-dd HH:mm:ss", CultureInfo.InvariantCulture);
    }

    /// <summary>The same moment in UTC, for those who compare with a controller.</summary>
    public static string Utc(DateTimeOffset time) =>
        time.UtcDateTime.ToString("yyyy-MM-dd HH:mm:ss.fff 'UTC'", CultureInfo.InvariantCulture);

    /// <summary>Where a value lies on its range, 0 to 1; null without a range or a value.</summary>
    public static double? Fraction(PlanPoint point, double value) =>
        point.Range is { IsUsable: true } range && point.States is null && double.IsFinite(value)
            ? Math.Clamp(new Span(range.Minimum, range.Maximum).FractionOf(value), 0, 1)
            : null;

    /// <summary>The most urgent limit exceeded now; null when none is.</summary>
    public static Limit? WorstExceeded(PlanPoint point, PointValue value)
    {
        Limit? worst = null;
        foreach (var limit in point.Limits)
            if (value.Exceeds(limit.Condition) && (worst is null || limit.Priority < worst.Value.Priority))
                worst = limit;
        return worst;
    }

    /// <summary>What an alarm state means to the person looking.</summary>
    public static string Of(AlarmState state) =>
        state switch
        {
            AlarmState.Unacknowledged => "active, not acknowledged",
            AlarmState.Acknowledged => "active, acknowledged",
            AlarmState.ReturnedUnacknowledged => "returned, not acknowledged",
            AlarmState.LatchedUnacknowledged => "latched, not acknowledged",
            AlarmState.LatchedAcknowledged => "latched until it is reset",
            AlarmState.Shelved => "shelved",
            AlarmState.SuppressedByDesign => "does not count now",
            AlarmState.OutOfService => "out of service",
            _ => "normal",
        };
}
