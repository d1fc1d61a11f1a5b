using System.Collections.Immutable;
using Fralto.Core.Basics;
using Fralto.Core.Limits;
using Fralto.Core.Notices;

namespace Fralto.Core.Plant;

/// <summary>What the alarms of the plant share, as a part of the model; there is one at most.</summary>
/// <param name="Id">Its id.</param>
/// <param name="Rules">Rules of shelving; the first one is that of limits which name none.</param>
public sealed record AlarmSetup(long Id, ImmutableArray<ShelvingRule> Rules) : Entity(Id)
{
    /// <summary>What alarms set off.</summary>
    public ImmutableArray<AlarmResponse> Responses { get; init; } = [];

    /// <summary>Who is told of alarms.</summary>
    public ImmutableArray<NoticeList> Lists { get; init; } = [];

    /// <summary>The server that takes the mails; null while nobody has said.</summary>
    public MailServer? Mail { get; init; }

    /// <summary>The languages messages are written in, as en (BCP 47): the first is that of what stands in a limit's message; none while
    /// there is one language only.</summary>
    public ImmutableArray<string> Languages { get; init; } = [];

    /// <summary>How many days steps of alarms are kept in the log.</summary>
    public int LogDays { get; init; } = StandardLogDays;

    /// <summary>Days the log is kept in a plant that has said nothing: a year and what it takes to look at it.</summary>
    public const int StandardLogDays = 400;

    /// <inheritdoc/>
    public bool Equals(AlarmSetup? other) =>
        other is not null
        && (Id, Mail, LogDays) == (other.Id, other.Mail, other.LogDays)
        && Rules.SequenceEqual(other.Rules)
        && Responses.SequenceEqual(other.Responses)
        && Lists.SequenceEqual(other.Lists)
        && Languages.SequenceEqual(other.Languages);

    /// <inheritdoc/>
    public override int GetHashCode() => HashCode.Combine(Id, Rules.Length);
}
