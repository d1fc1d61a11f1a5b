using System.Globalization;
using Fralto.Core.History;
using Fralto.Core.Planning;
using Fralto.Core.Properties;
using Fralto.Core.Quality;
using Fralto.Core.Scaling;

namespace Fralto.Runtime.Recording;

/// <summary>Values of the past as lines of text: time, value.</summary>
public static class HistoryText
{
    /// <summary>The most lines at once.</summary>
    public const int MostLines = 50_000;

    private const int MostProblems = 50;

    /// <summary>Reads lines; a first line of words is passed over.</summary>
    /// <param name="text">The lines: time (ISO 8601; UTC when no zone is said), a comma, semicolon or tab, and the value in the property's
    /// unit; an empty value is a gap.</param>
    /// <param name="point">The property.</param>
    /// <param name="now">Now: what is to come is refused.</param>
    /// <param name="problems">What is wrong, line by line.</param>
    public static IReadOnlyList<HistorySample> Read(string text, PlanPoint point, DateTimeOffset now, out IReadOnlyList<string> problems)
    {
        var (samples, wrong) = (new List<HistorySample>(), new List<string>());
        problems = wrong;
        var lines = text.Split('\n');
        if (lines.Length > MostLines)
        {
            wrong.Add($"There are {lines.Length} lines; {MostLines} is the most at once.");
            return samples;
        }
        for (var i = 0; i < lines.Length && wrong.Count < MostProblems; i++)
        {
            var line = lines[i].Trim();
            if (line.Length == 0)
                continue;
            var at = line.IndexOfAny([',', ';', '\t']);
            var (when, value) = at < 0 ? (line, "") : (line[..at].Trim().Trim('"'), line[(at + 1)..].Trim().Trim('"'));
            if (Of(when, value, point, now, out var problem) is { } sample)
                samples.Add(sample);
            else if (i > 0 || TimeOf(when) is not null)
                wrong.Add($"Line {i + 1}: {problem}");
        }
        return samples;
    }

    /// <summary>A time; null for what is none.</summary>
    /// <param name="text">ISO 8601; UTC when no zone is said. The year leads, since 03.04. is another day in another country.</param>
    public static DateTimeOffset? TimeOf(string? text) =>
        text is [_, _, _, _, '-', ..]
        && DateTimeOffset.TryParse(
            text,
            CultureInfo.InvariantCulture,
            DateTimeStyles.AssumeUniversal | DateTimeStyles.AdjustToUniversal,
            out var time
        )
            ? time
            : null;

    /// <summary>A value of the past; null, with the reason, where it cannot be one.</summary>
    /// <param name="when">When it was: ISO 8601, UTC when no zone is said.</param>
    /// <param name="value">The value in the property's unit; empty for a gap.</param>
    /// <param name="point">The property.</param>
    /// <param name="now">Now: what is to come is refused.</param>
    /// <param name="problem">What is wrong.</param>
    public static HistorySample? Of(string when, string value, PlanPoint point, DateTimeOffset now, out string? problem)
    {
        problem = null;
        if (TimeOf(when) is not { } time)
            problem = $"'{when}' is no time; write it as 2026-06-01T12:00:00Z.";
        else if (time > now)
            problem = $"{when} is still to come.";
        else if (value.Length == 0)
            return new(time.UtcTicks, double.NaN, StatusCode.BadNoData, "handed in as a gap");
        else if (point.Type == PropertyType.Text)
            return new(time.UtcTicks, double.NaN, StatusCode.Good, null, value);
        else if (NumberOf(value, point) is { } number)
            return new(time.UtcTicks, number, StatusCode.Good);
        else
            problem = $"'{value}' is no {(point.States is null ? "number" : $"state of {point.States.Name}")}.";
        return null;
    }

    private static double? NumberOf(string value, PlanPoint point) =>
        point.States?.StateOf(value)?.Value
        ?? (
            point.Type == PropertyType.Boolean && value is "true" or "false"
                ? value == "true"
                    ? 1
                    : 0
                : FieldText.Number(value, out _)
        );
}
