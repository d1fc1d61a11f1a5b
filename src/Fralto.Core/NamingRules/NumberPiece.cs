using System.Collections.Immutable;
using System.Globalization;
using Fralto.Core.Hierarchy;

namespace Fralto.Core.NamingRules;

/// <summary>A number that follows numbers of the instance and of places above it.</summary>
/// <param name="Terms">What is added up.</param>
/// <param name="Offset">Added to it.</param>
/// <param name="Digits">Least digits, filled with zeros; 0 for as many as it has.</param>
public sealed record NumberPiece(ImmutableArray<NumberTerm> Terms, long Offset, int Digits) : PatternPiece
{
    /// <inheritdoc/>
    public bool Equals(NumberPiece? other) =>
        other is not null && Offset == other.Offset && Digits == other.Digits && Terms.SequenceEqual(other.Terms);

    /// <inheritdoc/>
    public override int GetHashCode() => HashCode.Combine(Offset, Digits, Terms.Length);

    /// <summary>True when it is not a number somebody would say: of a position, or so many times a number and something added.</summary>
    internal bool IsReckoned => Terms.Any(t => !t.IsSaid || (Offset != 0 && !t.KeepsDigits));

    /// <summary>True when the digits of the instance's own number stand in it as they are: nothing is added to their places.</summary>
    internal bool IsWritten =>
        Terms.Any(own =>
            own.IsSaid
            && own.KeepsDigits
            && own.Place == PlaceRef.Self
            && Leaves(Offset, own.Times)
            && Terms.All(t => t == own || Leaves(t.Times, own.Times))
        );

    /// <summary>Whether a number leaves two digits from a place on as they are.</summary>
    private static bool Leaves(long added, long place) => added >= 0 && added / place % 100 == 0;

    /// <summary>The number for an instance; null when it has none, or less than nothing comes out.</summary>
    internal long? ValueFor(IFollowed instance)
    {
        var sum = Offset;
        foreach (var term in Terms)
        {
            if (instance.NumberOf(term.Place, term.Kind) is not { } number)
                return null;
            sum += number * term.Times;
        }
        return sum < 0 ? null : sum;
    }

    internal override bool Write(IFollowed instance, ref KeyWriter key)
    {
        if (ValueFor(instance) is not { } value)
            return false;
        key.Add(value);
        return true;
    }

    internal override string? TextFor(IFollowed instance) =>
        ValueFor(instance)?.ToString($"D{Math.Max(1, Digits)}", CultureInfo.InvariantCulture);

    /// <inheritdoc/>
    public override string ToString() =>
        "{"
        + string.Join("+", Terms)
        + (
            Offset == 0 ? ""
            : Offset > 0 ? $"+{Offset.ToString(CultureInfo.InvariantCulture)}"
            : Offset.ToString(CultureInfo.InvariantCulture)
        )
        + (Digits > 1 ? ":" + new string('0', Digits) : "")
        + "}";
}
