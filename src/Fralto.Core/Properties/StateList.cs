using System.Collections.Immutable;
using System.Globalization;
using Fralto.Core.Basics;

namespace Fralto.Core.Properties;

/// <summary>Named states of an integer.</summary>
public sealed record StateList(long Id, string Code, string Name, ImmutableArray<State> States) : Entity(Id)
{
    /// <inheritdoc/>
    public bool Equals(StateList? other) =>
        other is not null && (Id, Code, Name) == (other.Id, other.Code, other.Name) && States.SequenceEqual(other.States);

    /// <inheritdoc/>
    public override int GetHashCode() => HashCode.Combine(Id, Code, Name, States.Length);

    /// <summary>The state of a value; null when the list does not name it.</summary>
    /// <param name="value">The number.</param>
    public State? StateOf(double value)
    {
        foreach (var state in States)
            if (state.Value == value)
                return state;
        return null;
    }

    /// <summary>The state a text stands for, in any case of letters: its key, else its name, else its number; null when it is
    /// none.</summary>
    /// <param name="text">What was sent, or typed.</param>
    public State? StateOf(string text)
    {
        foreach (var state in States)
            if (text.Equals(state.Key, StringComparison.OrdinalIgnoreCase))
                return state;
        foreach (var state in States)
            if (text.Equals(state.Name, StringComparison.OrdinalIgnoreCase))
                return state;
        return int.TryParse(text, NumberStyles.AllowLeadingSign, CultureInfo.InvariantCulture, out var number) ? StateOf(number) : null;
    }

    /// <summary>The name of a value; null when the set does not name it.</summary>
    public string? NameOf(double value) => StateOf(value)?.Name;
}
