using System.Collections.Immutable;
using System.Globalization;
using Fralto.Core.Scaling;

namespace Fralto.Core.Controllers;

/// <summary>Update classes in words, name and interval, and how the device samples where that is said: slow 5 s, sampling 1 s, queue 10,
/// deadband 2 %.</summary>
public static class UpdateClassText
{
    private const double Most = 1e6;

    private static readonly (string Unit, double Milliseconds)[] Spans = [("ms", 1), ("s", 1000), ("min", 60_000), ("h", 3_600_000)];

    /// <summary>The words of update classes.</summary>
    /// <param name="classes">The classes.</param>
    /// <param name="between">What stands between two.</param>
    public static string Of(IEnumerable<UpdateClass> classes, string between = "\n") => string.Join(between, classes.Select(Of));

    /// <summary>The words of an update class.</summary>
    public static string Of(UpdateClass its) =>
        string.Create(
            CultureInfo.InvariantCulture,
            $"{its.Name} {Words(its.Interval)}{(its.Sampling is { } sampling ? $", sampling {Words(sampling)}" : "")}"
                + $"{(its.Queue is { } queue ? $", queue {queue}" : "")}{(its.Deadband is { } deadband ? $", deadband {deadband} %" : "")}"
        );

    /// <summary>The classes words name, parted by line breaks or semicolons.</summary>
    /// <param name="text">The words.</param>
    /// <param name="problem">What is wrong with the first that is none; null when nothing is.</param>
    public static ImmutableArray<UpdateClass> Read(string text, out string? problem)
    {
        problem = null;
        var classes = ImmutableArray.CreateBuilder<UpdateClass>();
        foreach (var line in text.Split(['\r', '\n', ';'], StringSplitOptions.RemoveEmptyEntries | StringSplitOptions.TrimEntries))
            if (One(line, out var wrong) is { } its)
                classes.Add(its);
            else
                problem ??= wrong;
        return classes.ToImmutable();
    }

    private static UpdateClass? One(string line, out string? problem)
    {
        problem = null;
        var parts = line.Split(',', StringSplitOptions.TrimEntries);
        var (name, said) = Parted(parts[0]);
        if (Span(said) is not { } interval)
        {
            problem = $"'{line}' is no update class; write a name, a number and ms, s, min or h, as in: slow 5 s";
            return null;
        }
        var its = new UpdateClass(name, interval);
        foreach (var part in parts[1..])
        {
            var (what, many) = Parted(part);
            var next = what.ToLowerInvariant() switch
            {
                "sampling" when its.Sampling is null && Span(many) is { } span => its with { Sampling = span },
                "queue" when its.Queue is null && Whole(many) is { } queue => its with { Queue = queue },
                "deadband" when its.Deadband is null && Number(many.TrimEnd('%', ' ')) is { } percent => its with { Deadband = percent },
                _ => null,
            };
            if (next is null)
            {
                problem =
                    $"'{part}' says nothing an update class knows; after its interval may stand, once each, sampling 1 s, queue 10 and "
                    + "deadband 2 %";
                return null;
            }
            its = next;
        }
        return its;
    }

    private static (string Head, string Tail) Parted(string text) =>
        text.Split(' ', 2, StringSplitOptions.RemoveEmptyEntries | StringSplitOptions.TrimEntries) is [var first, var rest]
            ? (first, rest)
            : (text, "");

    private static string Words(TimeSpan interval)
    {
        var milliseconds = interval.TotalMilliseconds;
        var span = Spans.Last(s => milliseconds % s.Milliseconds == 0 && milliseconds >= s.Milliseconds || s.Milliseconds == 1);
        return string.Create(CultureInfo.InvariantCulture, $"{milliseconds / span.Milliseconds} {span.Unit}");
    }

    private static TimeSpan? Span(string text) =>
        Parted(text) is var (number, unit)
        && Spans.FirstOrDefault(s => s.Unit.Equals(unit, StringComparison.OrdinalIgnoreCase)) is { Unit: not null } span
        && Number(number) is > 0 and < Most and var many
            ? TimeSpan.FromMilliseconds(many * span.Milliseconds)
            : null;

    private static double? Number(string text) => FieldText.Number(text, out _);

    private static int? Whole(string text) => int.TryParse(text, NumberStyles.None, CultureInfo.InvariantCulture, out var n) ? n : null;
}
