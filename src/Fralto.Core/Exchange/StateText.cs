using System.Collections.Immutable;
using System.Globalization;
using Fralto.Core.Properties;

namespace Fralto.Core.Exchange;

/// <summary>States as lines of text: the value, the name, after an equals sign what a text says for it, and an exclamation mark at the end
/// when it is abnormal. <c>2 Fault = flt !</c>. Cells of a spreadsheet, parted by tabs, are read too.</summary>
public static class StateText
{
    /// <summary>The lines of states.</summary>
    /// <param name="states">The states.</param>
    /// <param name="between">What stands between two.</param>
    public static string Of(IEnumerable<State> states, string between = "\n") =>
        string.Join(
            between,
            states.Select(s =>
                s.Value.ToString(CultureInfo.InvariantCulture)
                + $" {s.Name}{(s.Key is { } key ? $" = {key}" : "")}{(s.IsAbnormal ? " !" : "")}"
            )
        );

    /// <summary>The states lines name; a line that names none is a problem that quotes it.</summary>
    /// <param name="text">The lines, parted by line breaks or semicolons.</param>
    /// <param name="problems">What is wrong, a line each.</param>
    public static ImmutableArray<State> Read(string text, out ImmutableArray<string> problems)
    {
        var states = ImmutableArray.CreateBuilder<State>();
        var wrong = ImmutableArray.CreateBuilder<string>();
        var lines = text.Split(['\n', ';'], StringSplitOptions.TrimEntries);
        for (var i = 0; i < lines.Length; i++)
        {
            if (lines[i].Length == 0)
                continue;
            var line = lines[i].Replace('\t', ' ').Trim();
            var isAbnormal = line.EndsWith('!');
            var parts = line.TrimEnd('!', ' ').Split(' ', 2, StringSplitOptions.TrimEntries);
            var named = parts.Length == 2 ? parts[1].Split('=', 2, StringSplitOptions.TrimEntries) : [];
            if (
                named is [{ Length: > 0 } name, ..]
                && int.TryParse(parts[0], NumberStyles.AllowLeadingSign, CultureInfo.InvariantCulture, out var value)
            )
                states.Add(new(value, name, isAbnormal, named is [_, { Length: > 0 } key] ? key : null));
            else
                wrong.Add($"Line {i + 1}, '{lines[i]}', is not a whole number, a space and a name, as in: 2 Fault.");
        }
        problems = wrong.ToImmutable();
        return states.ToImmutable();
    }
}
