using System.Collections.Immutable;
using Fralto.Core.Limits;
using Fralto.Core.Recording;
using Fralto.Core.Scaling;

namespace Fralto.Core.Properties;

/// <summary>What one layer says about one property. A null field says nothing; the last layer that speaks is heard.</summary>
public sealed record PropertyPatch
{
    /// <summary>What says nothing.</summary>
    public static readonly PropertyPatch Empty = new();

    /// <summary>UNECE Rec 20 code of the engineering unit.</summary>
    public string? Unit { get; init; }

    /// <summary>The normal operating range, in the unit.</summary>
    public Span? Range { get; init; }

    /// <summary>From raw to engineering, said here; without one, and without <see cref="ScaleId"/>, the raw value is the engineering
    /// value.</summary>
    public Scale? Scale { get; init; }

    /// <summary>The scale of the library that is used; never together with <see cref="Scale"/>.</summary>
    public long? ScaleId { get; init; }

    /// <summary>True when the layer says which scale, by itself or by name.</summary>
    public bool HasScale => Scale is not null || ScaleId is not null;

    /// <summary>The state list that names the integers of a state.</summary>
    public long? StateListId { get; init; }

    /// <summary>The value of a fixed property.</summary>
    public string? Value { get; init; }

    /// <summary>How a calculated property is worked out; what a command that has one follows.</summary>
    public string? Formula { get; init; }

    /// <summary>Seconds after which a value somebody has entered is Uncertain; null for never.</summary>
    public double? ValidSeconds { get; init; }

    /// <summary>What a command is given once when its controller first answers after a start: a value, or <see cref="LastGiven"/>; null
    /// for nothing.</summary>
    public string? AtStart { get; init; }

    /// <summary>In place of a value at a start: the one that was given last.</summary>
    public const string LastGiven = "last";

    /// <summary>Seconds between two values a command that follows a formula is given; null for one.</summary>
    public double? FollowSeconds { get; init; }

    /// <summary>How far the formula has to move before a command that follows it is given another value, in the unit; null for
    /// anything.</summary>
    public double? FollowDeadband { get; init; }

    /// <summary>How it is recorded; null says nothing.</summary>
    public RecordingPatch? Recording { get; init; }

    /// <summary>True where it is one of the key figures its place shows; null says nothing.</summary>
    public bool? IsKeyFigure { get; init; }

    /// <summary>What the property means here, one line.</summary>
    public string? Description { get; init; }

    /// <summary>What this layer says about limits, by condition.</summary>
    public ImmutableSortedDictionary<LimitCondition, LimitPatch> Limits { get; init; } =
        ImmutableSortedDictionary<LimitCondition, LimitPatch>.Empty;

    /// <summary>What this layer says about limits that are none of the four levels, by their code.</summary>
    public ImmutableSortedDictionary<string, LimitPatch> Others
    {
        get;
        init => field = value.WithComparers(StringComparer.OrdinalIgnoreCase);
    } = ImmutableSortedDictionary.Create<string, LimitPatch>(StringComparer.OrdinalIgnoreCase);

    /// <summary>The limits with a setpoint of their own that these facts amount to, highest first.</summary>
    public ImmutableArray<Limit> LimitsInForce =>
        Limits.IsEmpty
            ? []
            :
            [
                .. Limits
                    .Where(l => l.Value is { Setpoint: not null, From: null } patch && patch.Off != true)
                    .Select(l => new Limit(
                        l.Key,
                        l.Value.Setpoint!.Value,
                        DeadbandOf(l.Value),
                        l.Value.Priority ?? Limit.DefaultPriority,
                        l.Value.OnDelay ?? 0,
                        l.Value.OffDelay ?? 0
                    )
                    {
                        Says = l.Value,
                    }),
            ];

    /// <summary>True when the layer says nothing at all.</summary>
    public bool IsEmpty =>
        Unit is null
        && Range is null
        && !HasScale
        && StateListId is null
        && Value is null
        && Formula is null
        && ValidSeconds is null
        && AtStart is null
        && FollowSeconds is null
        && FollowDeadband is null
        && Recording is null
        && IsKeyFigure is null
        && Description is null
        && Limits.IsEmpty
        && Others.IsEmpty;

    /// <summary>The deadband of a limit, in the unit; one in percent is one of the range.</summary>
    public double DeadbandOf(LimitPatch limit) =>
        limit.Deadband ?? (limit.DeadbandPercent is { } percent && Range is { } range ? Math.Abs(range.Width) * percent / 100 : 0);

    /// <summary>Everything a layer can say.</summary>
    public static ImmutableArray<PatchField> AllFields { get; } = [.. Enum.GetValues<PatchField>()];

    /// <summary>This patch without what it says about a field: that field goes back to the layers before.</summary>
    public PropertyPatch Without(PatchField field) =>
        field switch
        {
            PatchField.Unit => this with { Unit = null },
            PatchField.Range => this with { Range = null },
            PatchField.Scale => this with { Scale = null, ScaleId = null },
            PatchField.StateList => this with { StateListId = null },
            PatchField.Value => this with { Value = null },
            PatchField.Formula => this with { Formula = null },
            PatchField.ValidFor => this with { ValidSeconds = null },
            PatchField.AtStart => this with { AtStart = null },
            PatchField.Following => this with { FollowSeconds = null, FollowDeadband = null },
            PatchField.Recording => this with { Recording = null },
            PatchField.KeyFigure => this with { IsKeyFigure = null },
            PatchField.Description => this with { Description = null },
            PatchField.Others => this with { Others = Others.Clear() },
            _ => this with { Limits = Limits.Remove(ConditionOf(field)) },
        };

    /// <summary>This patch with what a later layer says laid over it: one step of the fold.</summary>
    public PropertyPatch With(PropertyPatch later) =>
        later.IsEmpty
            ? this
            : new()
            {
                Unit = later.Unit ?? Unit,
                Range = later.Range ?? Range,
                Scale = later.HasScale ? later.Scale : Scale,
                ScaleId = later.HasScale ? later.ScaleId : ScaleId,
                StateListId = later.StateListId ?? StateListId,
                Value = later.Value ?? Value,
                Formula = later.Formula ?? Formula,
                ValidSeconds = later.ValidSeconds ?? ValidSeconds,
                AtStart = later.AtStart ?? AtStart,
                FollowSeconds = later.FollowSeconds ?? FollowSeconds,
                FollowDeadband = later.FollowDeadband ?? FollowDeadband,
                Recording = later.Recording is { } says && Recording is { } below ? below.With(says) : later.Recording ?? Recording,
                IsKeyFigure = later.IsKeyFigure ?? IsKeyFigure,
                Description = later.Description ?? Description,
                Limits = Laid(Limits, later.Limits),
                Others = Laid(Others, later.Others),
            };

    /// <summary>This patch with everything of an earlier one that says more of limits than their numbers: what a form or table of numbers
    /// does not show stays.</summary>
    /// <param name="before">What was said before.</param>
    public PropertyPatch KeepingLimitsOf(PropertyPatch before)
    {
        var limits = Limits;
        foreach (var (condition, its) in before.Limits)
        {
            var said = limits.GetValueOrDefault(condition);
            if (said?.Off == true)
                continue;
            var kept = its with
            {
                Setpoint = said?.Setpoint,
                Deadband = said?.Deadband,
                Priority = said?.Priority,
                Off = null,
                OnDelay = said?.OnDelay,
                OffDelay = said?.OffDelay,
            };
            limits = kept == LimitPatch.Empty ? limits.Remove(condition) : limits.SetItem(condition, kept);
        }
        return this with { Limits = limits, Others = before.Others };
    }

    private static ImmutableSortedDictionary<TKey, LimitPatch> Laid<TKey>(
        ImmutableSortedDictionary<TKey, LimitPatch> below,
        ImmutableSortedDictionary<TKey, LimitPatch> later
    )
        where TKey : notnull =>
        later.IsEmpty
            ? below
            : below.SetItems(
                later.Select(l => KeyValuePair.Create(l.Key, below.TryGetValue(l.Key, out var own) ? own.With(l.Value) : l.Value))
            );

    /// <summary>True when two layers say the same about the same properties.</summary>
    public static bool SameLayer(ImmutableDictionary<long, PropertyPatch> one, ImmutableDictionary<long, PropertyPatch> other) =>
        one.Count == other.Count && one.All(p => other.TryGetValue(p.Key, out var same) && same == p.Value);

    /// <inheritdoc/>
    public bool Equals(PropertyPatch? other) =>
        other is not null
        && Unit == other.Unit
        && Range == other.Range
        && Scale == other.Scale
        && ScaleId == other.ScaleId
        && StateListId == other.StateListId
        && Value == other.Value
        && Formula == other.Formula
        && ValidSeconds == other.ValidSeconds
        && AtStart == other.AtStart
        && FollowSeconds == other.FollowSeconds
        && FollowDeadband == other.FollowDeadband
        && Recording == other.Recording
        && IsKeyFigure == other.IsKeyFigure
        && Description == other.Description
        && Limits.SequenceEqual(other.Limits)
        && Others.SequenceEqual(other.Others);

    /// <inheritdoc/>
    public override int GetHashCode() => HashCode.Combine(Unit, Range, Scale, StateListId, Value, Formula, Limits.Count);

    private static LimitCondition ConditionOf(PatchField field) => (LimitCondition)(field - PatchField.HighHigh);
}
