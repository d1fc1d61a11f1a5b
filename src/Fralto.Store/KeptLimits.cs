using System.Collections.Immutable;
using System.Globalization;
using Fralto.Core.Limits;

namespace Fralto.Store;

/// <summary>The limits of a point as they are kept beside its history: code, setpoint and priority, one after the other.</summary>
public static class KeptLimits
{
    /// <summary>Limits as text; empty for none.</summary>
    public static string TextOf(ImmutableArray<Limit> limits) =>
        string.Join(
            ';',
            limits.Select(l => string.Create(CultureInfo.InvariantCulture, $"{l.Condition.Letters()} {l.Setpoint:R} {l.Priority}"))
        );

    /// <summary>Limits from their text; what cannot be read is left out.</summary>
    public static ImmutableArray<Limit> Read(string text)
    {
        var limits = ImmutableArray.CreateBuilder<Limit>();
        foreach (var part in text.Split(';', StringSplitOptions.RemoveEmptyEntries))
            if (
                part.Split(' ') is [var code, var at, var priority]
                && LimitConditions.Find(code) is { } condition
                && double.TryParse(at, NumberStyles.Float, CultureInfo.InvariantCulture, out var setpoint)
                && int.TryParse(priority, NumberStyles.None, CultureInfo.InvariantCulture, out var urgency)
            )
                limits.Add(new(condition, setpoint, 0, urgency));
        return limits.ToImmutable();
    }
}
