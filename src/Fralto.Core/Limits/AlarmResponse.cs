using System.Collections.Immutable;

namespace Fralto.Core.Limits;

/// <summary>What an alarm sets off when it is raised. Named once; limits go by its name, or it goes by priority and label itself.</summary>
/// <param name="Name">Its name.</param>
/// <param name="Kind">What it does.</param>
/// <param name="Target">The address that is called, the path of the command, or the controller and the topic with a blank between;
/// {place} stands for that of the instance.</param>
/// <param name="Text">What is sent, with the placeholders of messages, or the value that is given; empty for all of the alarm as
/// JSON.</param>
public sealed record AlarmResponse(string Name, ResponseKind Kind, string Target, string Text = "")
{
    /// <summary>What is sent or given when the condition has gone; null for nothing.</summary>
    public string? ClearText { get; init; }

    /// <summary>Priorities that set it off without being named; none for only those that name it.</summary>
    public ImmutableArray<int> Priorities { get; init; } = [];

    /// <summary>Only below what has this label, key=value; null for everywhere.</summary>
    public string? Label { get; init; }

    /// <summary>The controller and the topic that is published to.</summary>
    public (string Controller, string Topic) Broker =>
        Target.Split(' ', 2, StringSplitOptions.TrimEntries) is [var controller, var topic] ? (controller, topic) : (Target, "");

    /// <inheritdoc/>
    public bool Equals(AlarmResponse? other) =>
        other is not null
        && (Name, Kind, Target, Text, ClearText, Label) == (other.Name, other.Kind, other.Target, other.Text, other.ClearText, other.Label)
        && Priorities.SequenceEqual(other.Priorities);

    /// <inheritdoc/>
    public override int GetHashCode() => HashCode.Combine(Name, Kind, Target, Text);
}
