using System.Collections.Immutable;
using System.Globalization;
using Fralto.Core.Scaling;

namespace Fralto.Core.Controllers;

/// <summary>Update classes in words, name and interval: slow 5 s.</summary>
public static class UpdateClassText
{
    private const double Most = 1e6;

    private static readonly (string Unit, double Milliseconds)[] Spans = [("ms", 1), ("s", 1000), ("min", 60_000), ("h", 3_600_000)];

    /// <summary>The words of update classes.</summary>
    /// <param name="classes">The classes.</param>
    /// <param name="between">What stands between two.</param>
    public static string Of(IEnumerable<UpdateClass> classes, string between = "\n") =>
        string.Join(
            between,
            classes.Select(c =>
            {
                var span = Spans.Last(s =>
                    c.Interval.TotalMilliseconds % s.Milliseconds == 0 && c.Interval.TotalMilliseconds >= s.Milliseconds
                    || s.Milliseconds == 1
                );
                return string.Create(
                    CultureInfo.InvariantCulture,
                    $"{c.Name} {c.Interval.TotalMilliseconds / span.Milliseconds} {span.Unit}"
                );
            })
        );

    /// <summary>The classes words name, parted by line breaks or semicolons.</summary>
    /// <param name="text">The words.</param>
    /// <param name="problem">What is wrong with the first that is none; null when nothing is.</param>
    public static ImmutableArray<UpdateClass> Read(string text, out string? problem)
    {
        problem = null;
        var classes = ImmutableArray.CreateBuilder<UpdateClass>();
        foreach (var line in text.Split(['\r', '\n', ';'], StringSplitOptions.RemoveEmptyEntries | StringSplitOptions.TrimEntries))
        {
            var words = line.Split(' ', StringSplitOptions.RemoveEmptyEntries);
            var span = Spans.FirstOrDefault(s => words is [_, _, var unit] && s.Unit.Equals(unit, StringComparison.OrdinalIgnoreCase));
            if (
                words is [var name, var number, _]
                && span.Unit is not null
                && FieldText.Number(number, out _) is { } many
                && many > 0
                && many < Most
            )
                classes.Add(new(name, TimeSpan.FromMilliseconds(many * span.Milliseconds)));
            else
                problem ??= $"'{line}' is no update class; write a name, a number and ms, s, min or h, as in: slow 5 s";
        }
        return classes.ToImmutable();
    }
}
