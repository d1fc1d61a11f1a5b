using Fralto.Core.Alarms;

namespace Fralto.Core.Notices;

/// <summary>Where telling one list of one alarm stands.</summary>
/// <param name="Key">The alarm.</param>
/// <param name="List">Name of the list.</param>
/// <param name="Step">The step it was raised with.</param>
public sealed record NoticeState(AlarmKey Key, string List, AlarmEvent Step)
{
    /// <summary>How often the list has been told; the first time counts.</summary>
    public int Told { get; init; }

    /// <summary>When it was told first; null while it was not.</summary>
    public DateTimeOffset? FirstAt { get; init; }

    /// <summary>When it was told last; null while it was not.</summary>
    public DateTimeOffset? LastAt { get; init; }

    /// <summary>True while the condition is there.</summary>
    public bool IsThere { get; init; } = true;

    /// <summary>True once somebody has acknowledged it, or nobody needs to.</summary>
    public bool IsSeen { get; init; }

    /// <summary>True while it is shelved, out of service or suppressed: nobody is told.</summary>
    public bool IsQuiet { get; init; }

    /// <summary>True once it has been handed on to another list.</summary>
    public bool IsHandedOn { get; init; }

    /// <summary>True where another list has handed it on.</summary>
    public bool IsEscalated { get; init; }

    /// <summary>The step with which the condition went, where the list is still to be told of it.</summary>
    public AlarmEvent? Gone { get; init; }

    /// <summary>True once the alarm is normal: it goes when what is left has been told.</summary>
    public bool IsOver { get; init; }
}
