using Fralto.Core.NamingRules;

namespace Fralto.Core.Proposals;

/// <summary>The tokens of a name with words that are run together cut apart.</summary>
/// <param name="Tokens">The tokens; together they have the key of the uncut ones.</param>
/// <param name="Whole">For each the position of the token it was cut from.</param>
internal sealed record CutTokens(NameToken[] Tokens, int[] Whole)
{
    /// <summary>True when the border before a token lies inside an uncut one.</summary>
    public bool IsInside(int at) => at > 0 && at < Whole.Length && Whole[at] == Whole[at - 1];

    /// <summary>The position of the uncut token a token belongs to.</summary>
    public int WholeOf(int at) => Whole[at];
}
