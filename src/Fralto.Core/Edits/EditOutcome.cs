using System.Collections.Immutable;
using Fralto.Core.Basics;
using Fralto.Core.Plant;

namespace Fralto.Core.Edits;

/// <summary>What an edit would do to a model: either problems, or the changes and one line that says them.</summary>
public sealed record EditOutcome(ImmutableArray<Problem> Problems, ImmutableArray<ModelChange> Changes, string Summary)
{
    /// <summary>True when there are problems, and nothing changes.</summary>
    public bool IsRefused => !Problems.IsEmpty;

    /// <summary>True when it is refused only since what it would change was changed after its maker looked.</summary>
    public bool IsOvertaken { get; init; }

    /// <summary>The changes that undo the edit, last first.</summary>
    public IEnumerable<ModelChange> Inverse => Changes.Reverse().Select(c => c.Inverse);

    /// <summary>An edit that cannot be made, with what is in its way.</summary>
    public static EditOutcome Refused(IEnumerable<Problem> problems) => new([.. problems], [], "");

    /// <summary>An edit that cannot be made, with the one thing in its way.</summary>
    public static EditOutcome Refused(string field, string message) => Refused([new Problem(field, message)]);

    /// <summary>An edit that can be made: the line that says it, and its changes.</summary>
    public static EditOutcome Changed(string summary, params IEnumerable<ModelChange> changes) => new([], [.. changes], summary);
}
