using System.Collections.Immutable;
using System.Globalization;
using Fralto.Core.Limits;
using Fralto.Core.Properties;
using Fralto.Core.Quality;
using Fralto.Core.Recording;
using Fralto.Core.Scaling;
using Fralto.Core.Units;

namespace Fralto.Core.Planning;

/// <summary>One property of one instance that has a value, with what screens and interfaces need to show it: the cold part of a
/// plan.</summary>
/// <param name="EquipmentId">The instance.</param>
/// <param name="PropertyId">The property.</param>
/// <param name="Path">Codes from the enterprise down to the property, joined by /.</param>
/// <param name="Tag">Index of the tag that feeds it; where none does, of the place its value is kept in, which stands among the
/// tags.</param>
/// <param name="Unit">Its unit, or null.</param>
/// <param name="Range">The range values are shown on, or null.</param>
/// <param name="Decimals">Decimals a value is shown with.</param>
/// <param name="States">Names of its states, or null for a number.</param>
/// <param name="Limits">Limits in force, highest first.</param>
/// <param name="Type">What the value is.</param>
/// <param name="Chain">The way from the raw number to the value.</param>
/// <param name="Source">Where its value comes from.</param>
public sealed record PlanPoint(
    long EquipmentId,
    long PropertyId,
    string Path,
    int Tag,
    Unit? Unit,
    Span? Range,
    int Decimals,
    StateList? States,
    ImmutableArray<Limit> Limits,
    PropertyType Type,
    Chain Chain,
    PointSource Source = PointSource.Tag
)
{
    /// <summary>What it watches, where it is the condition of a limit and no property; null for every property.</summary>
    public PlanWatch? Watch { get; init; }

    /// <summary>How it is recorded; null where it is not.</summary>
    public RecordingRule? Recording { get; init; }

    /// <summary>Seconds after which an entered value is Uncertain; null for never.</summary>
    public double? ValidSeconds { get; init; }

    private const int LongestQuote = 40;

    /// <summary>The state a text says; BadOutOfRange when it says none.</summary>
    /// <param name="text">What the tag holds.</param>
    public ChainResult OfText(string text) =>
        States?.StateOf(text) is { } state ? new(state.Value, StatusCode.Good) : new(double.NaN, StatusCode.BadOutOfRange);

    /// <summary>Why a value has the status it has, in words; null when neither chain nor states have anything to say of it.</summary>
    /// <param name="raw">What the tag holds; not-a-number for text.</param>
    /// <param name="text">The text it holds; null for numbers.</param>
    /// <param name="status">The status of the value.</param>
    public string? Reason(double raw, string? text, StatusCode status) =>
        text is not null && States is { } list && status == StatusCode.BadOutOfRange
            ? $"'{(text.Length > LongestQuote ? text[..LongestQuote] + "…" : text)}' is no state of {list.Name}"
            : Chain.Reason(raw, status);

    /// <summary>A value in words, without its unit: a state by its name, a number with the decimals it is shown with.</summary>
    /// <param name="value">The value; not-a-number for none.</param>
    /// <param name="text">The text it holds; null for numbers.</param>
    public string Text(double value, string? text) =>
        text is not null ? text
        : !double.IsFinite(value) ? "no value"
        : States?.NameOf(value) is { } name ? name
        : Type == PropertyType.Boolean ? (value != 0 ? "true" : "false")
        : value.ToString("F" + Math.Max(0, Decimals), CultureInfo.InvariantCulture);

    /// <summary>A value in words, with its unit.</summary>
    /// <param name="value">The value; not-a-number for none.</param>
    /// <param name="text">The text it holds; null for numbers.</param>
    public string WithUnit(double value, string? text) => $"{Text(value, text)} {(double.IsFinite(value) ? Unit?.Symbol : "")}".TrimEnd();

    /// <summary>The limit of a condition; null when there is none.</summary>
    public Limit? LimitOf(LimitCondition condition)
    {
        foreach (var limit in Limits)
            if (limit.Condition == condition)
                return limit;
        return null;
    }
}
