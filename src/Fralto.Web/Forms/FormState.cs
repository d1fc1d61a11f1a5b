using System.Collections.Immutable;
using Fralto.Core.Basics;

namespace Fralto.Web.Forms;

/// <summary>What a form shows: the text of its fields, and what is wrong with them.</summary>
public sealed record FormState(ImmutableDictionary<string, string> Values, ImmutableArray<Problem> Problems)
{
    public static readonly FormState Empty = new(ImmutableDictionary<string, string>.Empty, []);

    /// <summary>Text of a field; empty when it has none.</summary>
    public string this[string field] => Values.GetValueOrDefault(field, "");

    /// <summary>A form filled with these fields and nothing wrong.</summary>
    public static FormState Of(params IEnumerable<(string Field, object? Value)> fields) =>
        new(
            fields.ToImmutableDictionary(
                f => f.Field,
                f => Convert.ToString(f.Value, System.Globalization.CultureInfo.InvariantCulture) ?? ""
            ),
            []
        );

    /// <summary>What is wrong with a field; null when nothing is.</summary>
    public string? ProblemOf(string field) =>
        string.Join(" ", Problems.Where(p => p.Field == field).Select(p => p.Message)) is { Length: > 0 } text ? text : null;
}
