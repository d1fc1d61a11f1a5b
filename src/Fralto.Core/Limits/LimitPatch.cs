namespace Fralto.Core.Limits;

/// <summary>What one layer says about one limit; a null field says nothing.</summary>
/// <param name="Setpoint">The limit itself, in the property's unit; of a rate a minute, of no change in seconds.</param>
/// <param name="Deadband">How far the value must come back before the alarm clears, in the property's unit; 0 or more.</param>
/// <param name="Priority">1 (highest) to 4.</param>
/// <param name="Off">True takes the limit away below this layer.</param>
/// <param name="OnDelay">Seconds the condition must last before the alarm is raised; 0 or more.</param>
/// <param name="OffDelay">Seconds it must be gone before the alarm clears; 0 or more.</param>
public sealed record LimitPatch(
    double? Setpoint = null,
    double? Deadband = null,
    int? Priority = null,
    bool? Off = null,
    double? OnDelay = null,
    double? OffDelay = null
)
{
    /// <summary>What says nothing.</summary>
    public static readonly LimitPatch Empty = new();

    /// <summary>What it looks at, where it is not one of the four levels.</summary>
    public LimitKind? Kind { get; init; }

    /// <summary>What it compares with: the property a level or a deviation takes its setpoint from, a state, or a formula.</summary>
    public string? From { get; init; }

    /// <summary>Length of the window of a rate, in seconds.</summary>
    public double? WindowSeconds { get; init; }

    /// <summary>The deadband in percent of the range, where none is said in the unit.</summary>
    public double? DeadbandPercent { get; init; }

    /// <summary>Class of the alarm: a word of the plant's own, such as safety or quality.</summary>
    public string? Class { get; init; }

    /// <summary>What the alarm says, with placeholders such as {value}.</summary>
    public string? Message { get; init; }

    /// <summary>What is likely to be behind it.</summary>
    public string? Cause { get; init; }

    /// <summary>What happens when nobody does anything.</summary>
    public string? Consequence { get; init; }

    /// <summary>What the operator does.</summary>
    public string? Action { get; init; }

    /// <summary>Seconds the operator has to respond.</summary>
    public double? RespondSeconds { get; init; }

    /// <summary>Address of a document that tells more.</summary>
    public string? Document { get; init; }

    /// <summary>True where nobody acknowledges it.</summary>
    public bool? NoAcknowledgement { get; init; }

    /// <summary>True where it stays until it is reset.</summary>
    public bool? Latched { get; init; }

    /// <summary>True for an event: it is raised and has gone at once.</summary>
    public bool? Momentary { get; init; }

    /// <summary>Seconds after which it clears by itself once its condition has gone.</summary>
    public double? ClearsAfter { get; init; }

    /// <summary>A formula: the limit counts while it is true.</summary>
    public string? CountsWhile { get; init; }

    /// <summary>Seconds it has to be true before the limit counts.</summary>
    public double? CountsAfter { get; init; }

    /// <summary>True where it is news although the limit beyond it has been raised already.</summary>
    public bool? AlwaysNews { get; init; }

    /// <summary>Name of the rule it is shelved by.</summary>
    public string? Shelving { get; init; }

    /// <summary>Names of the responses it sets off, with commas between them.</summary>
    public string? Responses { get; init; }

    /// <summary>What is captured when it is raised, a line each: key = value, or a property.</summary>
    public string? Capture { get; init; }

    /// <summary>What the alarm says in other languages, a line each: de = …</summary>
    public string? Translations { get; init; }

    /// <summary>This patch with what a later layer says laid over it.</summary>
    public LimitPatch With(LimitPatch later) =>
        new(
            later.Setpoint ?? Setpoint,
            later.Deadband ?? Deadband,
            later.Priority ?? Priority,
            // A layer that gives a setpoint again brings back a limit that an earlier one has taken away.
            later.Off
                ?? (later.Setpoint is null && later.Kind is null && later.From is null ? Off : null),
            later.OnDelay ?? OnDelay,
            later.OffDelay ?? OffDelay
        )
        {
            Kind = later.Kind ?? Kind,
            From = later.From ?? From,
            WindowSeconds = later.WindowSeconds ?? WindowSeconds,
            DeadbandPercent = later.DeadbandPercent ?? DeadbandPercent,
            Class = later.Class ?? Class,
            Message = later.Message ?? Message,
            Cause = later.Cause ?? Cause,
            Consequence = later.Consequence ?? Consequence,
            Action = later.Action ?? Action,
            RespondSeconds = later.RespondSeconds ?? RespondSeconds,
            Document = later.Document ?? Document,
            NoAcknowledgement = later.NoAcknowledgement ?? NoAcknowledgement,
            Latched = later.Latched ?? Latched,
            Momentary = later.Momentary ?? Momentary,
            ClearsAfter = later.ClearsAfter ?? ClearsAfter,
            CountsWhile = later.CountsWhile ?? CountsWhile,
            CountsAfter = later.CountsAfter ?? CountsAfter,
            AlwaysNews = later.AlwaysNews ?? AlwaysNews,
            Shelving = later.Shelving ?? Shelving,
            Responses = later.Responses ?? Responses,
            Capture = later.Capture ?? Capture,
            // A message of its own is not that of which the translations are.
            Translations = later.Translations ?? (later.Message is null ? Translations : null),
        };
}
