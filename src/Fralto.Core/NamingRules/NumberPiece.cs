using System.Collections.Immutable;
using System.Globalization;

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
