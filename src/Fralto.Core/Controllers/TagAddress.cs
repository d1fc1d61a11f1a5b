using System.Text.Encodings.Web;
using System.Text.Json;

namespace Fralto.Core.Controllers;

/// <summary>Where a tag is in its controller: one kind for each protocol. Written in one line; the same line reads back.</summary>
/// <remarks>A piece that would not read back as it stands, because it holds what parts the pieces or ends with a space, is written as a
/// JSON string (RFC 8259, section 7).</remarks>
public abstract record TagAddress
{
    /// <summary>Longest address, in characters.</summary>
    public const int Longest = 500;

    /// <summary>The protocol it is an address of.</summary>
    public abstract Protocol Protocol { get; }

    /// <summary>True when it is a single bit on the wire, in a table of bits.</summary>
    public virtual bool IsWireBit => false;

    /// <summary>True when a text there has a length that its place gives it.</summary>
    public virtual bool HasFixedLength => false;

    /// <summary>True when words and bytes there have an order.</summary>
    public virtual bool HasWordOrder => false;

    /// <summary>True when its place is words, which naming rules can read.</summary>
    public virtual bool IsWords => false;

    /// <summary>The address of one element of an array there, counted from 0; null where elements have none of their own.</summary>
    public virtual TagAddress? ElementAt(int index) => null;

    /// <summary>The place alone, without what is said beside it: two addresses of one place are the same value.</summary>
    public virtual string Place => ToString();

    /// <summary>The place as the connection completes it, for telling whether two tags are at one; null where tags have no place.</summary>
    public virtual string? PlaceIn(Connection connection) => Place;

    /// <summary>Why nobody can write a tag there; null when it can be tried.</summary>
    /// <param name="name">The tag's name.</param>
    public virtual string? WhyReadOnly(string name) => null;

    /// <summary>Reads the line it is written as.</summary>
    private protected abstract TagAddress? ReadBack(string line, out string? problem);

    /// <summary>Parts an address from what is said beside it.</summary>
    private protected const string Beside = " | ";

    private static readonly JsonSerializerOptions Quoting = new() { Encoder = JavaScriptEncoder.UnsafeRelaxedJsonEscaping };

    /// <summary>Why an address cannot be kept: what is kept in its place is the line it is written as, and that must lead to the same place
    /// again.</summary>
    /// <returns>What is wrong and what would do; null when the line reads back as this address.</returns>
    public string? KeepingProblem()
    {
        var line = ToString();
        if (line.Length > Longest)
            return $"The address is written with {line.Length} characters; {Longest} is the most.";
        if (!WellFormed(line))
            return "The address holds half of a character pair, which is no text (Unicode, section 3.9): it could not be kept.";
        return Equals(ReadBack(line, out var problem))
            ? null
            : $"The address {line} would not read back as itself{(problem is null ? "." : $": {problem}")}";
    }

    /// <summary>A piece of an address as it stands, or as a JSON string where it would not read back.</summary>
    private protected static string Piece(string text) => IsPlain(text) ? text : Quoted(text);

    /// <summary>A text as a JSON string.</summary>
    private protected static string Quoted(string text) => JsonSerializer.Serialize(text, Quoting);

    /// <summary>What a piece of an address says.</summary>
    private protected static string Said(string piece)
    {
        if (!piece.StartsWith('"'))
            return piece;
        try
        {
            return JsonSerializer.Deserialize<string>(piece) ?? piece;
        }
        catch (JsonException)
        {
            return piece;
        }
    }

    /// <summary>The pieces of a line: parted by " | ", but not inside a JSON string.</summary>
    private protected static List<string> Pieces(string line)
    {
        var (pieces, begin) = (new List<string>(), 0);
        for (var at = 0; at < line.Length; )
        {
            if (line[at] == '"' && (at == begin || line[at - 1] == ' '))
                at = EndOfQuoted(line, at);
            else if (line.AsSpan(at).StartsWith(Beside))
            {
                pieces.Add(line[begin..at]);
                begin = at += Beside.Length;
            }
            else
                at++;
        }
        pieces.Add(line[begin..]);
        return pieces;
    }

    /// <summary>The position after a JSON string that ends a piece; where there is none, the position after the quote.</summary>
    private static int EndOfQuoted(string line, int begin)
    {
        for (var at = begin + 1; at < line.Length; at++)
        {
            if (line[at] == '\\')
                at++;
            else if (line[at] == '"')
                return at + 1 == line.Length || line.AsSpan(at + 1).StartsWith(Beside) ? at + 1 : begin + 1;
        }
        return begin + 1;
    }

    private static bool IsPlain(string text) =>
        text == text.Trim()
        && !text.StartsWith('"')
        && !text.Contains(" \"", StringComparison.Ordinal)
        && !text.Any(char.IsControl)
        && !$" {text} ".Contains(Beside, StringComparison.Ordinal);

    private static bool WellFormed(string text)
    {
        for (var at = 0; at < text.Length; at++)
        {
            if (!char.IsSurrogate(text[at]))
                continue;
            if (!char.IsSurrogatePair(text, at))
                return false;
            at++;
        }
        return true;
    }
}
