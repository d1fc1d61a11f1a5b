using System.Collections.Immutable;

namespace Fralto.Core.Notices;

/// <summary>Who is told of alarms by mail: of which, when, how often, and who is told when nobody acknowledges.</summary>
/// <param name="Name">Its name.</param>
/// <param name="Addresses">Mail addresses.</param>
public sealed record NoticeList(string Name, ImmutableArray<string> Addresses)
{
    /// <summary>The place the alarms are at or below; null for the whole plant.</summary>
    public long? PlaceId { get; init; }

    /// <summary>Only of what has this label, key=value; null for all.</summary>
    public string? Label { get; init; }

    /// <summary>Only of these priorities; none for all.</summary>
    public ImmutableArray<int> Priorities { get; init; } = [];

    /// <summary>Days of the week on which its hours begin; none for every day.</summary>
    public ImmutableArray<DayOfWeek> Days { get; init; } = [];

    /// <summary>When its hours begin, by the clock of the plant; null for the whole day.</summary>
    public TimeOnly? From { get; init; }

    /// <summary>When its hours end; earlier than they begin for hours over midnight.</summary>
    public TimeOnly? Until { get; init; }

    /// <summary>After what time it is told again of what nobody has acknowledged; null for once only.</summary>
    public TimeSpan? RepeatAfter { get; init; }

    /// <summary>How often it is told again at most.</summary>
    public int Repeats { get; init; } = 3;

    /// <summary>After what time another list is told of what nobody has acknowledged; null for never.</summary>
    public TimeSpan? EscalateAfter { get; init; }

    /// <summary>Name of the list that is told then.</summary>
    public string? EscalateTo { get; init; }

    /// <summary>True where it is also told that the condition has gone.</summary>
    public bool TellsReturn { get; init; }

    /// <summary>True where it is told only of what another list hands on.</summary>
    public bool OnlyEscalated { get; init; }

    /// <summary>The language of the messages, as en; null for that of the plant.</summary>
    public string? Language { get; init; }

    /// <summary>True while the list is told at a time.</summary>
    /// <param name="local">The time by the clock of the plant.</param>
    public bool IsOnDuty(DateTime local)
    {
        var (time, day) = (TimeOnly.FromDateTime(local), local.DayOfWeek);
        if (From is not { } from || Until is not { } until || from == until)
            return IsDay(day);
        if (from < until)
            return IsDay(day) && time >= from && time < until;
        // Hours over midnight belong to the day on which they begin.
        return time >= from ? IsDay(day) : time < until && IsDay((DayOfWeek)(((int)day + 6) % 7));
    }

    /// <inheritdoc/>
    public bool Equals(NoticeList? other) =>
        other is not null
        && (Name, PlaceId, Label, From, Until, RepeatAfter, Repeats)
            == (other.Name, other.PlaceId, other.Label, other.From, other.Until, other.RepeatAfter, other.Repeats)
        && (EscalateAfter, EscalateTo, TellsReturn, OnlyEscalated, Language)
            == (other.EscalateAfter, other.EscalateTo, other.TellsReturn, other.OnlyEscalated, other.Language)
        && Addresses.SequenceEqual(other.Addresses)
        && Priorities.SequenceEqual(other.Priorities)
        && Days.SequenceEqual(other.Days);

    /// <inheritdoc/>
    public override int GetHashCode() => HashCode.Combine(Name, PlaceId, Label, Addresses.Length);

    private bool IsDay(DayOfWeek day) => Days.IsEmpty || Days.Contains(day);
}
