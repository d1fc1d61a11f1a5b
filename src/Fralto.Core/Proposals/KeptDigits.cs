using Fralto.Core.NamingRules;

namespace Fralto.Core.Proposals;

/// <summary>Digits that stand as they are between those of two numbers: the 3 of 1305 and 2307, where area and unit are followed.</summary>
/// <param name="From">The least of their places: 100 for hundreds.</param>
/// <param name="Upto">The place above them.</param>
/// <param name="Digits">What they say.</param>
internal sealed record KeptDigits(long From, long Upto, long Digits)
{
    private const long OwnDigits = 100;

    /// <summary>Those of a number that follows several, the greatest first; null where there are none between them.</summary>
    public static KeptDigits? Of(NumberPiece number) =>
        number.Terms is [.., var outer, var inner] && inner.Times * OwnDigits is var from && from < outer.Times && number.Offset >= 0
            ? new(from, outer.Times, number.Offset / from % (outer.Times / from))
            : null;

    /// <summary>Whether a number has them.</summary>
    public bool IsIn(long number) => number / From % (Upto / From) == Digits;
}
