using System.Globalization;

namespace Fralto.Core.Pictures;

/// <summary>Marks of an axis of time.</summary>
public static class TrendTime
{
    private static readonly TimeSpan[] Steps =
    [
        TimeSpan.FromSeconds(1),
        TimeSpan.FromSeconds(5),
        TimeSpan.FromSeconds(10),
        TimeSpan.FromSeconds(30),
        TimeSpan.FromMinutes(1),
        TimeSpan.FromMinutes(2),
        TimeSpan.FromMinutes(5),
        TimeSpan.FromMinutes(10),
        TimeSpan.FromMinutes(30),
        TimeSpan.FromHours(1),
        TimeSpan.FromHours(2),
        TimeSpan.FromHours(4),
        TimeSpan.FromHours(12),
        TimeSpan.FromDays(1),
        TimeSpan.FromDays(2),
        TimeSpan.FromDays(7),
        TimeSpan.FromDays(14),
        TimeSpan.FromDays(30),
        TimeSpan.FromDays(90),
        TimeSpan.FromDays(365),
    ];

    /// <summary>Round times within a window, with what stands at them.</summary>
    /// <param name="from">Where it begins, in UTC ticks.</param>
    /// <param name="to">Where it ends.</param>
    /// <param name="most">About how many.</param>
    /// <param name="local">UTC to the time people read.</param>
    public static IReadOnlyList<(long Ticks, string Text)> Of(long from, long to, int most, Func<long, DateTime> local)
    {
        var step = Steps.FirstOrDefault(s => (to - from) / s.Ticks <= most, Steps[^1]);
        var marks = new List<(long, string)>();
        var offset = local(from).Ticks - from;
        for (var at = (from + offset + step.Ticks - 1) / step.Ticks * step.Ticks - offset; at <= to; at += step.Ticks)
        {
            var time = local(at);
            marks.Add(
                (
                    at,
                    time.TimeOfDay == TimeSpan.Zero ? time.ToString("ddd d MMM", CultureInfo.InvariantCulture)
                    : step < TimeSpan.FromMinutes(1) ? time.ToString("HH:mm:ss", CultureInfo.InvariantCulture)
                    : time.ToString("HH:mm", CultureInfo.InvariantCulture)
                )
            );
        }
        return marks;
    }

    /// <summary>A length of time as people say it: 20 min, 1 h, 7 d.</summary>
    public static string Length(double seconds) =>
        seconds < 90 ? string.Create(CultureInfo.InvariantCulture, $"{seconds:0.#} s")
        : seconds < 5400 ? string.Create(CultureInfo.InvariantCulture, $"{seconds / 60:0.#} min")
        : seconds < 172_800 ? string.Create(CultureInfo.InvariantCulture, $"{seconds / 3600:0.#} h")
        : string.Create(CultureInfo.InvariantCulture, $"{seconds / 86_400:0.#} d");
}
