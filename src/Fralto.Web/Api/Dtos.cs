using System.Text.Json;
using Fralto.Core.Alarms;
using Fralto.Core.Basics;
using Fralto.Core.Exchange;
using Fralto.Core.Limits;
using Fralto.Core.NamingRules;
using Fralto.Core.Planning;
using Fralto.Core.Properties;
using Fralto.Core.Proposals;
using Fralto.Core.Quality;
using Fralto.Core.Scaling;
using Fralto.Links;

namespace Fralto.Web.Api;

/// <summary>How Fralto is.</summary>
/// <param name="Status">healthy; degraded when it runs but something is amiss; unhealthy when the engine does not run.</param>
/// <param name="Engine">running or not running.</param>
/// <param name="DroppedSamples">Samples lost because the engine could not keep up.</param>
/// <param name="Storage">Why nothing can be kept; null while everything can.</param>
/// <param name="LeftOut">What the plant was kept with and could not be read.</param>
internal sealed record HealthDto(string Status, string Engine, long DroppedSamples, string? Storage, int LeftOut);

internal sealed record EquipmentDto(long Id, string Path, string Code, string Name, EquipmentLevel Level, long? ParentId, string? Template);

internal sealed record TemplateDto(
    long Id,
    string Code,
    string Name,
    string? Parent,
    string Description,
    int Instances,
    IReadOnlyList<PropertyDto> Properties
);

internal sealed record PropertyDto(
    long Id,
    string Code,
    string Name,
    PropertyKind Kind,
    PropertyType Type,
    string DeclaredBy,
    bool Required,
    string? UnitCode,
    double[]? Range,
    ScaleEntry? Scale,
    string? NamedScale,
    string? StateList,
    string? Value,
    IReadOnlyList<LimitDto> Limits
);

internal sealed record LimitDto(LimitCondition Condition, double Setpoint, double Deadband, int Priority, double OnDelay, double OffDelay);

internal sealed record ControllerDto(
    long Id,
    string Name,
    string Protocol,
    string Place,
    double UpdateIntervalMs,
    int Tags,
    string State,
    DateTime? Since,
    string? Reason,
    double? RoundTripMs,
    long Requests,
    long Errors,
    long LatePolls,
    long Bytes,
    long Dropped,
    string? LastError,
    DateTime? LastErrorAt,
    string? Clock,
    string? Remark
);

internal sealed record TagDto(
    long Id,
    string Controller,
    string Name,
    string Address,
    string? Number,
    RawType Type,
    WordOrder WordOrder,
    int Count,
    string? Unit,
    string? UpdateClass,
    string Description,
    double? Raw,
    StatusDto? Status,
    DateTime? Time,
    IReadOnlyList<string> BoundTo
);

internal sealed record AlarmDto(
    string Path,
    string Limit,
    LimitCondition? Condition,
    string Words,
    int Priority,
    AlarmState State,
    double? Setpoint,
    double? RaisedValue,
    double? Value,
    string Unit,
    DateTime RaisedAt,
    DateTime? ClearedAt,
    string? AcknowledgedBy,
    DateTime? AcknowledgedAt,
    string Message,
    IReadOnlyDictionary<string, string>? Translations,
    string? Class,
    string? Cause,
    string? Consequence,
    string? Action,
    double? RespondSeconds,
    IReadOnlyDictionary<string, string> Captured,
    AlarmShelving? Shelved,
    AlarmLeave? OutOfService
);

/// <summary>Something there is to say of the plant.</summary>
/// <param name="Code">Its code; it stays what it is.</param>
/// <param name="Severity">How much it matters.</param>
/// <param name="Path">The instance; null for what is of no place.</param>
/// <param name="Subject">What it is said of.</param>
/// <param name="Words">What is said.</param>
/// <param name="Mend">How it is mended.</param>
internal sealed record FindingDto(string Code, FindingSeverity Severity, string? Path, string Subject, string Words, string Mend);

internal sealed record AlarmEventDto(
    string Path,
    string Limit,
    DateTime Time,
    DateTime? SourceTime,
    AlarmState State,
    AlarmCause Cause,
    double? Value,
    int Priority,
    string? Who,
    string Message,
    IReadOnlyDictionary<string, string>? Translations,
    string Comment
);

/// <summary>What is done to alarms. Each names a property and the code of its limit.</summary>
internal sealed record AlarmActDto(IReadOnlyList<AlarmNameDto>? Alarms, string? Comment, double? Minutes);

internal sealed record AlarmNameDto(string? Path, string? Limit);

internal sealed record AlarmActedDto(int Done, IReadOnlyList<AlarmRefusedDto> Refused);

internal sealed record AlarmRefusedDto(string Path, string Limit, string Why);

internal sealed record ValueDto(
    string Path,
    string Source,
    double? Value,
    string? StateName,
    string Unit,
    string? UnitCode,
    StatusDto Status,
    DateTime? Time,
    double? Raw,
    string? Controller,
    string? Address,
    RawType? Type
);

/// <summary>An OPC UA status: its name, its number, and the reason in words.</summary>
internal sealed record StatusDto(string Name, uint Number, string? Reason)
{
    public static StatusDto Of(StatusCode status, string? reason) => new(status.Name, status.Value, reason);
}

/// <summary>What replacing the model has done.</summary>
internal sealed record ReplacedDto(string Summary, int Changes);

/// <summary>Everything that is wrong with a model.</summary>
internal sealed record FindingsDto(IReadOnlyList<PlacedDto> Findings)
{
    /// <summary>Everything that is wrong, as a problem whose member findings has each with its place.</summary>
    public static IResult Refusal(IReadOnlyList<PlacedDto> findings) =>
        Results.Problem(
            findings.Count == 1 ? findings[0].Message : $"{findings.Count} things are wrong; findings has each with its place.",
            statusCode: StatusCodes.Status422UnprocessableEntity,
            extensions: new Dictionary<string, object?> { ["findings"] = findings }
        );
}

/// <summary>Something that is wrong, with its place as a JSON path.</summary>
internal sealed record PlacedDto(string Place, string Message);

/// <summary>A command: path of the property, and the value in its unit, a state by name, true or false, or text.</summary>
internal sealed record CommandDto(string? Path, JsonElement Value);

/// <summary>A calculated property whose counting begins anew.</summary>
internal sealed record ResetDto(string? Path);

/// <summary>A raw value.</summary>
internal sealed record ValueToWriteDto(JsonElement Value);

/// <summary>What came of a command.</summary>
internal sealed record CommandedDto(WriteOutcome Outcome, string Reason);

/// <summary>What to propose for; everything may be left out.</summary>
internal sealed record ProposalAskDto(string? Template, string? Place, double? Threshold, bool? All);

/// <summary>Proposals and the naming rules behind them.</summary>
internal sealed record ProposedDto(IReadOnlyList<ProposalDto> Proposals, IReadOnlyList<RuleDto> Rules);

/// <summary>What is made of an open cell: Proposed, Clash (held back for the reason given) or Open.</summary>
internal sealed record ProposalDto(
    string Path,
    ProposalKind Kind,
    string? Controller,
    string? Tag,
    string? Slice,
    string? Address,
    double Certainty,
    string? Reason,
    IReadOnlyList<ReasonDto> Reasons
);

/// <summary>What speaks for (above 0) or against (below 0) a tag, in natural log-odds.</summary>
internal sealed record ReasonDto(ScorePartKind Kind, double Weight, string Words);

/// <summary>A naming rule, learned or kept.</summary>
internal sealed record RuleDto(
    string Template,
    string Property,
    TagFace Face,
    string Rule,
    double Strength,
    int Found,
    int Of,
    bool Kept,
    bool Supposed
);

/// <summary>Bindings to make.</summary>
internal sealed record BindingsDto(IReadOnlyList<BindingDto?>? Bindings, bool? Share);

/// <summary>A binding: the path of the property, and the tag; without a tag the property is unbound.</summary>
internal sealed record BindingDto(string? Path, string? Controller, string? Tag, string? Slice);

/// <summary>A release.</summary>
/// <param name="Number">Its number.</param>
/// <param name="At">When it was made.</param>
/// <param name="Who">Who made it.</param>
/// <param name="Note">What it is for.</param>
/// <param name="Hash">SHA-256 of its content.</param>
/// <param name="Changes">How many entities it changed.</param>
/// <param name="Warnings">Warnings found when it was made.</param>
/// <param name="Hints">Hints found when it was made.</param>
/// <param name="Origin">Where it comes from, when not from the working model.</param>
/// <param name="PauseMilliseconds">How long the plant stood still for it.</param>
/// <param name="Trial">What trying it had shown.</param>
/// <param name="Running">True for the one that runs.</param>
internal sealed record ReleaseDto(
    int Number,
    DateTimeOffset At,
    string Who,
    string Note,
    string Hash,
    int Changes,
    int Warnings,
    int Hints,
    string? Origin,
    double? PauseMilliseconds,
    Core.Review.TrialReport? Trial,
    bool Running
);

/// <summary>How the working model stands to what runs.</summary>
/// <param name="Automatic">True while whatever is edited runs at once.</param>
/// <param name="Newest">The newest release; 0 while there is none.</param>
/// <param name="Changes">How many entities are unreleased.</param>
/// <param name="By">Who changed how many of them.</param>
internal sealed record UnreleasedDto(bool Automatic, int Newest, int Changes, IReadOnlyList<WhoChangedDto> By);

internal sealed record WhoChangedDto(string Who, int Changes, DateTimeOffset Last);

internal sealed record ReviewChangeDto(
    string Key,
    Core.Review.ReviewKind Kind,
    string Of,
    string Group,
    string Subject,
    string Words,
    IReadOnlyList<FieldChangeDto> Fields,
    string Reach,
    string Who,
    DateTimeOffset? At
);

internal sealed record FieldChangeDto(string Name, string Before, string After);

/// <summary>A release to be made.</summary>
/// <param name="Note">What it is for.</param>
/// <param name="Place">Path of a place: only what is at and below it.</param>
/// <param name="Template">Code of a template: only what is said of it.</param>
/// <param name="Along">True takes along what the part needs.</param>
internal sealed record ReleaseOrderDto(string? Note, string? Place = null, string? Template = null, bool Along = false);

internal sealed record ReleaseBackDto(bool Release = false, string? Note = null);

internal sealed record AutomaticDto(bool Automatic);

internal sealed record TryDto(double Seconds);

/// <summary>What an edit has done.</summary>
/// <param name="Done">It in words.</param>
/// <param name="Changes">How many entities it changed.</param>
internal sealed record DoneDto(string Done, int Changes);
