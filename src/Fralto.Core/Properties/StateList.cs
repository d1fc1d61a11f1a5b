using System.Collections.Immutable;
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

    /// <summary>The name of a value; null when the set does not name it.</summary>
    public string? NameOf(double value)
    {
        foreach (var state in States)
            if (state.Value == value)
                return state.Name;
        return null;
    }
}
