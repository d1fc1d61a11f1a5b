using System.Globalization;

namespace Fralto.Core.Scaling;

/// <summary>Reads what people write in a field. Forms, tables, pages and commands read by it: one rule and one message, wherever a thing
/// is written.</summary>
public static class FieldText
{
    /// <summary>A number: decimals with a point, as 71.5, or a fraction, as 1/60; neither infinite nor not-a-number.</summary>
    /// <param name="text">What was written.</param>
    /// <param name="problem">What is wrong with it; null when it is a number.</param>
    /// <param name="hasDecimalComma">True where decimals may be written with a comma.</param>
    public static double? Number(string text, out string? problem, bool hasDecimalComma = false)
    {
        var written = hasDecimalComma ? text.Replace(',', '.') : text;
        problem = null;
        if (Read(written) is { } number)
            return number;
        var hint = written.Contains(',', StringComparison.Ordinal) ? "; write decimals with a point, as in 71.5" : "";
        problem = $"'{text}' is no number{hint}.";
        return null;
    }

    private static double? Read(string text) =>
        text.Split('/') switch
        {
            [var whole] => Plain(whole),
            [var above, var below] when Plain(above) / Plain(below) is { } ratio && double.IsFinite(ratio) => ratio,
            _ => null,
        };

    private static double? Plain(string text) =>
        double.TryParse(text.Trim(), NumberStyles.Float, CultureInfo.InvariantCulture, out var number) && double.IsFinite(number)
            ? number
            : null;

    /// <summary>A whole number, with a sign or without.</summary>
    /// <param name="text">What was written.</param>
    /// <param name="problem">What is wrong with it; null when it is one.</param>
    public static long? Whole(string text, out string? problem)
    {
        problem = null;
        if (long.TryParse(text.Trim(), NumberStyles.AllowLeadingSign, CultureInfo.InvariantCulture, out var number))
            return number;
        problem = $"'{text}' is no whole number.";
        return null;
    }

    /// <summary>A span by its two ends: both, or neither.</summary>
    /// <param name="low">What was written for the lower end.</param>
    /// <param name="high">What was written for the upper end.</param>
    /// <param name="what">What the span is of, for the message: the range.</param>
    /// <param name="refuse">Takes what is wrong: true for the upper end, and the message.</param>
    /// <param name="hasDecimalComma">True where decimals may be written with a comma.</param>
    /// <returns>The span; null for none, and when something is wrong.</returns>
    public static Span? Ends(string low, string high, string what, Action<bool, string> refuse, bool hasDecimalComma = false)
    {
        if (low.Length == 0 && high.Length == 0)
            return null;
        if (low.Length == 0 || high.Length == 0)
        {
            refuse(high.Length == 0, $"Give both ends of {what}, or neither.");
            return null;
        }
        var from = Number(low, out var wrong, hasDecimalComma);
        if (wrong is not null)
            refuse(false, wrong);
        var to = Number(high, out wrong, hasDecimalComma);
        if (wrong is not null)
            refuse(true, wrong);
        return from is { } l && to is { } h ? new Span(l, h) : null;
    }
}
