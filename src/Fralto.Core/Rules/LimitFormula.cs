using System.Globalization;
using Fralto.Core.Limits;
using Fralto.Core.Properties;

namespace Fralto.Core.Rules;

/// <summary>A limit whose condition is worked out by a formula: every one that is not a level with a number of its own. Also what tells
/// whether a limit counts.</summary>
/// <param name="PropertyId">The property it belongs to.</param>
/// <param name="Code">Its code: HH, H, L, LL, or its own.</param>
/// <param name="Says">What is said of it.</param>
/// <param name="Text">The formula.</param>
/// <param name="Limit">When the formula's value is beyond it.</param>
/// <param name="Scale">What the numbers of <paramref name="Limit"/> are counted in.</param>
/// <param name="IsGate">True where it tells whether the limit counts: it does not while the formula is true.</param>
public sealed record LimitFormula(
    long PropertyId,
    string Code,
    LimitPatch Says,
    string Text,
    Limit Limit,
    LimitScale Scale,
    bool IsGate = false
)
{
    private const double Half = 0.5;

    /// <summary>The id its alarms are kept under: below 0, and the same in every run.</summary>
    public long Id => IdOf(PropertyId, IsGate ? Code + "?" : Code);

    /// <summary>The level limit it belongs to; null for others.</summary>
    public LimitCondition? Level => LimitConditions.Find(Code);

    /// <summary>All limits of a property that are worked out by formulas, and what tells when its limits count.</summary>
    /// <param name="property">The property, with all that its layers say.</param>
    public static IEnumerable<LimitFormula> Of(ResolvedProperty property)
    {
        var facts = property.Facts;
        foreach (var (condition, says) in facts.Limits)
            if (says.Off != true)
            {
                if (says.From is { } from)
                    yield return new(
                        property.Id,
                        condition.Letters(),
                        says,
                        $"own.{property.Code} - ({from})",
                        LimitOf(condition, 0, facts.DeadbandOf(says), says),
                        LimitScale.Unit
                    );
                if (says.CountsWhile is not null && (says.Setpoint ?? (says.From is null ? null : 0)) is not null)
                    yield return GateOf(property.Id, condition.Letters(), says);
            }
        foreach (var (code, says) in facts.Others)
            if (says.Off != true && says.Kind is { } kind)
            {
                var (text, limit, scale) = ConditionOf(property, kind, says);
                yield return new(property.Id, code, says, text, limit, scale);
                if (says.CountsWhile is not null)
                    yield return GateOf(property.Id, code, says);
            }
    }

    /// <summary>The condition in words: what the value is compared with.</summary>
    /// <param name="unit">Symbol of the property's unit; empty for none.</param>
    public string Words(string unit)
    {
        string Number(double? number) => number is { } n ? $"{n.ToString("0.######", CultureInfo.InvariantCulture)} {unit}".TrimEnd() : "?";
        return Says.Kind switch
        {
            null => $"{Code} at {Says.From}",
            LimitKind.Deviation => $"more than {Number(Says.Setpoint)} from {Says.From}",
            LimitKind.Rate =>
                $"{(Says.Setpoint < 0 ? "falls" : "rises")} more than {Number(Says.Setpoint is { } s ? Math.Abs(s) : null)} a "
                    + $"minute, over {Seconds(Says.WindowSeconds ?? DefaultWindow)}",
            LimitKind.StateIs => $"is {Says.From}",
            LimitKind.StateIsNot => $"is not {Says.From}",
            LimitKind.Formula => Says.From ?? "?",
            LimitKind.BadQuality => $"Bad for {Seconds(Says.OnDelay ?? DefaultBad)}",
            _ => $"has not moved for {Seconds(Says.Setpoint ?? 0)}",
        };
    }

    /// <summary>Seconds as people say them.</summary>
    public static string Seconds(double seconds) =>
        seconds >= 3600 && seconds % 3600 == 0 ? string.Create(CultureInfo.InvariantCulture, $"{seconds / 3600:0.##} h")
        : seconds >= 120 && seconds % 60 == 0 ? string.Create(CultureInfo.InvariantCulture, $"{seconds / 60:0.##} min")
        : string.Create(CultureInfo.InvariantCulture, $"{seconds:0.##} s");

    /// <summary>The window of a rate where none is said, in seconds.</summary>
    public const double DefaultWindow = 300;

    /// <summary>How long a value is Bad before that is an alarm where no on-delay is said, in seconds: at a start everything is for a
    /// moment.</summary>
    public const double DefaultBad = 10;

    private static (string Text, Limit Limit, LimitScale Scale) ConditionOf(ResolvedProperty property, LimitKind kind, LimitPatch says)
    {
        var own = $"own.{property.Code}";
        var setpoint = says.Setpoint ?? 0;
        var deadband = property.Facts.DeadbandOf(says);
        return kind switch
        {
            LimitKind.Deviation => ($"abs({own} - ({says.From}))", LimitOf(LimitCondition.High, setpoint, deadband, says), LimitScale.Unit),
            LimitKind.Rate => (
                $"rate({own}, last {(says.WindowSeconds ?? DefaultWindow).ToString("R", CultureInfo.InvariantCulture)} s)",
                LimitOf(setpoint < 0 ? LimitCondition.Low : LimitCondition.High, setpoint, deadband, says),
                LimitScale.UnitPerMinute
            ),
            LimitKind.StateIs => ($"{own} is {State(says.From)}", Truth(says), LimitScale.Truth),
            LimitKind.StateIsNot => ($"{own} is not {State(says.From)}", Truth(says), LimitScale.Truth),
            LimitKind.Formula => (says.From ?? "", Truth(says), LimitScale.Truth),
            LimitKind.BadQuality => ($"not good({own})", Truth(says) with { OnDelay = says.OnDelay ?? DefaultBad }, LimitScale.Truth),
            _ => ($"held({own})", LimitOf(LimitCondition.High, setpoint, 0, says), LimitScale.Seconds),
        };
    }

    private static LimitFormula GateOf(long property, string code, LimitPatch says) =>
        new(
            property,
            code,
            says,
            $"not ({says.CountsWhile})",
            new(LimitCondition.High, Half, 0, Limit.DefaultPriority, 0, says.CountsAfter ?? 0),
            LimitScale.Truth,
            true
        );

    private static string State(string? state) =>
        state is null ? ""
        : state.Equals("true", StringComparison.OrdinalIgnoreCase) || state.Equals("false", StringComparison.OrdinalIgnoreCase) ? state
        : $"\"{state.Replace("\"", "", StringComparison.Ordinal)}\"";

    private static Limit Truth(LimitPatch says) => LimitOf(LimitCondition.High, Half, 0, says);

    private static Limit LimitOf(LimitCondition condition, double setpoint, double deadband, LimitPatch says) =>
        new(condition, setpoint, deadband, says.Priority ?? Limit.DefaultPriority, says.OnDelay ?? 0, says.OffDelay ?? 0) { Says = says };

    /// <summary>The id the alarms of a limit are kept under.</summary>
    /// <param name="property">The property it belongs to.</param>
    /// <param name="code">Its code.</param>
    public static long IdOf(long property, string code)
    {
        // FNV-1a.
        var hash = 14695981039346656037UL;
        foreach (var c in $"{property.ToString(CultureInfo.InvariantCulture)}/{code.ToUpperInvariant()}")
            hash = unchecked((hash ^ c) * 1099511628211UL);
        return -1 - (long)(hash >> 2);
    }
}
