using Fralto.Core.Alarms;

namespace Fralto.Store;

/// <summary>Which steps of alarms are wanted; what is null or empty asks for nothing.</summary>
public sealed record AlarmLogFilter
{
    /// <summary>Not before this.</summary>
    public DateTimeOffset? From { get; init; }

    /// <summary>Before this.</summary>
    public DateTimeOffset? To { get; init; }

    /// <summary>Of these instances.</summary>
    public IReadOnlyCollection<long>? Equipment { get; init; }

    /// <summary>Of these priorities.</summary>
    public IReadOnlyCollection<int> Priorities { get; init; } = [];

    /// <summary>With these causes.</summary>
    public IReadOnlyCollection<AlarmCause> Causes { get; init; } = [];

    /// <summary>Done by this person or program.</summary>
    public string? Who { get; init; }

    /// <summary>Of one alarm.</summary>
    public AlarmKey? Key { get; init; }
}
