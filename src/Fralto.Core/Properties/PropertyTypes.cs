using System.Globalization;
using Fralto.Core.Scaling;

namespace Fralto.Core.Properties;

/// <summary>What belongs to each type of value.</summary>
public static class PropertyTypes
{
    /// <summary>True for the types that have a unit, a range, a scale and limits.</summary>
    public static bool IsNumeric(this PropertyType type) => type is PropertyType.Number or PropertyType.Integer;

    /// <summary>The type in words.</summary>
    public static string Words(this PropertyType type) =>
        type switch
        {
            PropertyType.Boolean => "true or false",
            _ => type.ToString().ToLowerInvariant(),
        };

    /// <summary>What is wrong with a fixed value's text; null when it is a value of the type.</summary>
    /// <param name="type">The type.</param>
    /// <param name="text">Numbers with a decimal point, true or false, a name or number of the state list, ISO 8601 for a time.</param>
    /// <param name="states">The state list of a state.</param>
    public static string? ValueProblem(this PropertyType type, string text, StateList? states) =>
        type switch
        {
            PropertyType.Number => FieldText.Number(text, out var problem) is null ? problem : null,
            PropertyType.Integer => FieldText.Whole(text, out var problem) is null ? problem : null,
            PropertyType.Boolean when text is not ("true" or "false") => $"'{text}' is neither true nor false.",
            PropertyType.State when states?.StateOf(text) is null => $"'{text}' is no state of {states?.Name ?? "its set"}: "
                + $"{string.Join(", ", states?.States.Take(8).Select(s => s.Name) ?? [])}.",
            PropertyType.Time when !DateTimeOffset.TryParse(text, CultureInfo.InvariantCulture, DateTimeStyles.AssumeUniversal, out _) =>
                $"'{text}' is no time; write it as 2026-06-01 or 2026-06-01T12:00:00Z.",
            _ => null,
        };
}
