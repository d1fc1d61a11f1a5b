using Fralto.Core.Controllers;

namespace Fralto.Core.Memory;

/// <summary>What a tag of memory holds at the beginning, and whether it keeps it.</summary>
/// <param name="Start">Value at the beginning, as text; null for none.</param>
/// <param name="IsRetained">True when the value last written comes back after a restart.</param>
public sealed record MemoryAddress(string? Start = null, bool IsRetained = false) : TagAddress
{
    /// <summary>Longest start value, in characters.</summary>
    public const int LongestStart = Tag.LongestText;

    private const string StartWord = "start ",
        RetainedWord = "retained";

    /// <inheritdoc/>
    public override Protocol Protocol => Protocol.Memory;

    /// <inheritdoc/>
    public override string? PlaceIn(Connection connection) => null;

    private protected override TagAddress? ReadBack(string line, out string? problem) => Parse(line, out problem);

    /// <summary>Reads "", "retained", "start 20" and "start 20, retained".</summary>
    public static MemoryAddress? Parse(string text, out string? problem)
    {
        problem = null;
        var rest = text.Trim();
        var retained = rest == RetainedWord || rest.EndsWith(", " + RetainedWord, StringComparison.Ordinal);
        if (retained)
            rest = rest == RetainedWord ? "" : rest[..^(RetainedWord.Length + 2)];
        if (rest.Length == 0)
            return new(null, retained);
        if (rest.StartsWith(StartWord, StringComparison.Ordinal) && rest.Length <= LongestStart)
            return new(Said(rest[StartWord.Length..].Trim()), retained);
        problem = $"'{text}' is not understood; a tag of memory says nothing, or: start 20, retained.";
        return null;
    }

    /// <inheritdoc/>
    public override string ToString() =>
        Start is null
            ? IsRetained
                ? RetainedWord
                : ""
            : $"{StartWord}"
                + $"{(Start.Length > 0 && !Start.EndsWith(", " + RetainedWord, StringComparison.Ordinal) ? Piece(Start) : Quoted(Start))}"
                + $"{(IsRetained ? ", " + RetainedWord : "")}";
}
