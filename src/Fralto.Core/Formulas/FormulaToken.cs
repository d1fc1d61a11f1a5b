namespace Fralto.Core.Formulas;

/// <summary>What a piece of a formula's text is.</summary>
internal enum TokenKind
{
    Number,
    Name,
    Text,
    Sign,
    End,
}

/// <summary>One piece of a formula's text.</summary>
/// <param name="Kind">What it is.</param>
/// <param name="At">Its first character.</param>
/// <param name="Length">How many characters it has.</param>
/// <param name="Word">A name as it stands, a sign in its plain spelling, what stands between quotes.</param>
/// <param name="Number">A number.</param>
/// <param name="Unit">The unit behind a number; null for none.</param>
internal sealed record FormulaToken(TokenKind Kind, int At, int Length, string Word, double Number = 0, Measure? Unit = null)
{
    public int End => At + Length;

    public bool Is(string sign) => Kind == TokenKind.Sign && Word == sign;

    public bool IsWord(string word) => Kind == TokenKind.Name && Word.Equals(word, StringComparison.OrdinalIgnoreCase);
}
