using System.Collections.Immutable;

namespace Fralto.Core.Basics;

/// <summary>Labels: free key = value marks on templates and equipment, inherited downwards.</summary>
public static class Labels
{
    /// <summary>Longest value, in characters.</summary>
    public const int LongestValue = 100;

    /// <summary>The most labels of one template or node.</summary>
    public const int Most = 20;

    /// <summary>No label.</summary>
    public static readonly ImmutableSortedDictionary<string, string> None = ImmutableSortedDictionary.Create<string, string>(
        StringComparer.Ordinal
    );

    /// <summary>Labels as one line, "cost-centre=410, owner=Kilning".</summary>
    public static string Text(ImmutableSortedDictionary<string, string> labels) =>
        string.Join(", ", labels.Select(l => $"{l.Key}={l.Value}"));

    /// <summary>Reads such a line.</summary>
    /// <param name="text">Pairs with commas between them; blanks around keys and values do not count.</param>
    /// <param name="problem">What is wrong with it; null when nothing is.</param>
    public static ImmutableSortedDictionary<string, string> Read(string text, out string? problem)
    {
        problem = null;
        var labels = None;
        foreach (var pair in text.Split(',', StringSplitOptions.RemoveEmptyEntries | StringSplitOptions.TrimEntries))
        {
            var at = pair.IndexOf('=', StringComparison.Ordinal);
            if (at < 0)
                problem ??= $"'{Short(pair)}' is no label; write key=value, with commas between labels.";
            else if (labels.ContainsKey(pair[..at].Trim()))
                problem ??= $"The label {Short(pair[..at].Trim())} stands there twice.";
            else
                labels = labels.Add(pair[..at].Trim(), pair[(at + 1)..].Trim());
        }
        problem ??= Problem(labels);
        return labels;
    }

    /// <summary>What is wrong with a set of labels; null when nothing is.</summary>
    public static string? Problem(ImmutableSortedDictionary<string, string> labels)
    {
        if (labels.Count > Most)
            return $"There are {labels.Count} labels; {Most} are the most.";
        foreach (var (key, value) in labels)
        {
            if (Naming.CodeProblem(key) is not null)
                return $"'{Short(key)}' is no label key: letters, digits, _ and - only, beginning with a letter, at most "
                    + $"{Naming.LongestCode}.";
            if (value.Length is 0 or > LongestValue)
                return $"The label {key} needs a value of 1 to {LongestValue} characters.";
            if (value.Any(c => char.IsControl(c) || c is ',' or '<' or '>'))
                return $"The value of the label {key} holds a comma, < or >, or a control character.";
        }
        return null;
    }

    /// <summary>Labels with those of a later layer laid over them.</summary>
    internal static ImmutableSortedDictionary<string, string> With(
        this ImmutableSortedDictionary<string, string> labels,
        ImmutableSortedDictionary<string, string> later
    ) =>
        later.IsEmpty ? labels
        : labels.IsEmpty ? later
        : labels.SetItems(later);

    private static string Short(string text) => text.Length > 40 ? text[..40] + "…" : text;
}
