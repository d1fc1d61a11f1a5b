using System.Collections.Immutable;
using System.Globalization;
using Fralto.Core.Hierarchy;
using Fralto.Core.Scaling;

namespace Fralto.Core.NamingRules;

/// <summary>A naming rule: fixed text and parts that follow the instance and the places above it.</summary>
/// <remarks>
/// Written with the parts in braces: <c>KLN{number}_TT11</c>, <c>{site.code}/{code}/temp</c>, <c>LT-{number*100+1:000}</c>,
/// <c>{parent.name:initials}</c>; an element of an array or bits of a word stand after " | ", as in <c>CONTACTS | [{number*16-16}]</c>.
/// Names are compared by their words and numbers: neither capitals nor separators nor leading zeros count.
/// </remarks>
/// <param name="Pieces">The name, piece by piece.</param>
/// <param name="Element">Which element of an array; null for none.</param>
/// <param name="FirstBit">Which first bit of a word; null for none.</param>
/// <param name="BitCount">How many bits.</param>
public sealed record NamePattern(
    ImmutableArray<PatternPiece> Pieces,
    NumberPiece? Element = null,
    NumberPiece? FirstBit = null,
    int BitCount = 1
)
{
    /// <summary>Longest pattern, in characters.</summary>
    public const int Longest = 300;

    private const string Beside = " | ";

    /// <inheritdoc/>
    public bool Equals(NamePattern? other) =>
        other is not null
        && Pieces.SequenceEqual(other.Pieces)
        && Element == other.Element
        && FirstBit == other.FirstBit
        && BitCount == other.BitCount;

    /// <inheritdoc/>
    public override int GetHashCode() => HashCode.Combine(Pieces.Length, Element, FirstBit, BitCount);

    /// <summary>True when something in it follows the instance or a place.</summary>
    public bool Follows =>
        Element is { Terms.IsEmpty: false } || FirstBit is { Terms.IsEmpty: false } || Pieces.Any(p => p is not FixedPiece);

    /// <summary>True when it follows what the instance is called, its number as it is or its words, and not only where it stands among
    /// others or what can be calculated from it.</summary>
    internal bool FollowsName =>
        Pieces.Any(p =>
            p is TextPiece { Cut: not TextCut.OrderLetter } text && text.Place == PlaceRef.Self || p is NumberPiece { IsWritten: true }
        );

    /// <summary>True when it says what the instance is called and nothing is reckoned, nor added to a number.</summary>
    internal bool IsSaid =>
        FollowsName && Reckoned == 0 && !NamesPart && Pieces.All(p => p is not NumberPiece { Terms.IsEmpty: false, Offset: not 0 });

    /// <summary>The same with the number of the instance as it is, where something is added to it; null where nothing is.</summary>
    internal NamePattern? Plain =>
        Pieces.Any(IsAdded)
            ? this with
            {
                Pieces = [.. Pieces.Select(p => IsAdded(p) && p is NumberPiece number ? number with { Offset = 0 } : p)],
            }
            : null;

    private static bool IsAdded(PatternPiece piece) =>
        piece is NumberPiece { Terms: [{ Kind: NumberKind.Number, Times: 1 } own], Offset: not 0 } && own.Place == PlaceRef.Self;

    /// <summary>True when a number in it is that of the instance times something, and nothing is added.</summary>
    internal bool IsMultiple =>
        Pieces.OfType<NumberPiece>().Any(n => n is { Terms: [{ Kind: NumberKind.Number } own], Offset: 0 } && own.Place == PlaceRef.Self);

    /// <summary>How many parts of it follow where something stands among others, or are reckoned from its number, and do not say what it
    /// is called.</summary>
    internal int Reckoned =>
        Pieces.Count(p => p is TextPiece { Cut: TextCut.OrderLetter } || p is NumberPiece { Terms.IsEmpty: false, IsReckoned: true });

    /// <summary>How many numbers in it follow where the instance itself stands among others.</summary>
    internal int Positions => Pieces.Count(p => p is NumberPiece number && number.Terms.Any(t => !t.IsSaid && t.Place == PlaceRef.Self));

    /// <summary>True when it names a part of a tag.</summary>
    public bool NamesPart => Element is not null || FirstBit is not null;

    /// <summary>True when the name of the tag follows the instance itself.</summary>
    internal bool NamesInstance =>
        Pieces.Any(p =>
            p is TextPiece text && text.Place == PlaceRef.Self || p is NumberPiece number && number.Terms.Any(t => t.Place == PlaceRef.Self)
        );

    /// <summary>True when the part of the tag follows the instance itself.</summary>
    internal bool CountsParts => new[] { Element, FirstBit }.Any(p => p is { } part && part.Terms.Any(t => t.Place == PlaceRef.Self));

    /// <summary>The key of the name for an instance; empty when the instance lacks what the pattern follows.</summary>
    internal void Write(IFollowed instance, ref KeyWriter key, out bool whole)
    {
        whole = true;
        foreach (var piece in Pieces)
            if (!piece.Write(instance, ref key))
                whole = false;
    }

    /// <summary>The name it gives an instance, as people write it; null when the instance lacks what it follows.</summary>
    internal string? TextFor(IFollowed instance)
    {
        var parts = Pieces.Select(p => p.TextFor(instance)).ToArray();
        return parts.Contains(null) ? null : string.Concat(parts) + (NamesPart ? SliceFor(instance)?.ToString() : "");
    }

    /// <summary>The part of the tag for an instance; null for all of it, or when there is none.</summary>
    internal Slice? SliceFor(IFollowed instance)
    {
        var (element, bit) = (Element?.ValueFor(instance), FirstBit?.ValueFor(instance));
        if (
            (Element is not null && element is not (>= 0 and < int.MaxValue))
            || (FirstBit is not null && bit is not (>= 0 and < Slice.MostBits))
        )
            return null;
        return NamesPart ? new Slice((int?)element, (int?)bit, BitCount) : null;
    }

    /// <summary>Reads a rule as people write it.</summary>
    /// <returns>The rule; null when it cannot be read, and then <paramref name="problem"/> says why.</returns>
    public static NamePattern? Parse(string text, out string? problem)
    {
        problem =
            text.Trim().Length == 0 ? "Write the rule, as in KLN{number}_TT11."
            : text.Length > Longest ? $"The rule has {text.Length} characters; {Longest} is the most."
            : null;
        if (problem is not null)
            return null;
        var beside = text.LastIndexOf(Beside, StringComparison.Ordinal);
        var pieces = ImmutableArray.CreateBuilder<PatternPiece>();
        var fixedText = "";
        var name = (beside < 0 ? text : text[..beside]).Trim();
        for (var at = 0; at < name.Length; at++)
        {
            if (name[at] is '{' or '}' && at + 1 < name.Length && name[at + 1] == name[at])
                fixedText += name[at++];
            else if (name[at] == '}')
                problem = "A } stands without its {; write }} for one that is part of the name.";
            else if (name[at] != '{')
                fixedText += name[at];
            else
            {
                var end = name.IndexOf('}', at);
                if (end < 0)
                {
                    problem = "A { stands without its }; write {{ for one that is part of the name.";
                    break;
                }
                if (fixedText.Length > 0)
                    pieces.Add(new FixedPiece(fixedText));
                fixedText = "";
                if (PieceOf(name[(at + 1)..end], out problem) is not { } piece)
                    break;
                pieces.Add(piece);
                at = end;
            }
            if (problem is not null)
                return null;
        }
        if (problem is not null)
            return null;
        if (fixedText.Length > 0)
            pieces.Add(new FixedPiece(fixedText));
        var pattern = new NamePattern(pieces.ToImmutable());
        return beside < 0 ? pattern : WithPart(pattern, text[(beside + Beside.Length)..].Trim(), out problem);
    }

    /// <inheritdoc/>
    public override string ToString()
    {
        var name = string.Concat(Pieces);
        if (!NamesPart)
            return name;
        var last = BitCount > 1 && FirstBit is { } bit ? bit with { Offset = bit.Offset + BitCount - 1 } : null;
        return $"{name}{Beside}{(Element is { } element ? $"[{Bare(element)}]" : "")}"
            + $"{(FirstBit is { } first ? $".{Bare(first)}" : "")}{(last is null ? "" : $"-{Bare(last)}")}";
    }

    private static string Bare(NumberPiece piece) =>
        piece.Terms.IsEmpty ? piece.Offset.ToString(CultureInfo.InvariantCulture) : piece.ToString();

    private static NamePattern? WithPart(NamePattern pattern, string part, out string? problem)
    {
        problem = $"'{part}' is no part of a tag; write an element as [3] or [{{number}}], bits as .4 or .4-6.";
        var rest = part;
        NumberPiece? element = null,
            first = null,
            last = null;
        if (rest.StartsWith('['))
        {
            var end = rest.IndexOf(']', StringComparison.Ordinal);
            if (end < 0 || NumberOf(rest[1..end]) is not { } at)
                return null;
            (element, rest) = (at, rest[(end + 1)..]);
        }
        if (rest.StartsWith('.'))
        {
            var close = rest.IndexOf('}', StringComparison.Ordinal);
            var dash = rest.IndexOf('-', Math.Max(0, rest.StartsWith(".{", StringComparison.Ordinal) ? close : 0));
            if (NumberOf(dash < 0 ? rest[1..] : rest[1..dash]) is not { } bit)
                return null;
            if (dash >= 0 && NumberOf(rest[(dash + 1)..]) is not { } to)
                return null;
            else if (dash >= 0)
                last = NumberOf(rest[(dash + 1)..]);
            (first, rest) = (bit, "");
        }
        if (rest.Length > 0 || (element is null && first is null))
            return null;
        if (
            last is not null
            && (!last.Terms.SequenceEqual(first!.Terms) || last.Offset < first.Offset || last.Offset - first.Offset >= Slice.MostBits)
        )
            return null;
        problem = null;
        return pattern with { Element = element, FirstBit = first, BitCount = last is null ? 1 : (int)(last.Offset - first!.Offset + 1) };
    }

    private static NumberPiece? NumberOf(string text) =>
        long.TryParse(text, NumberStyles.None, CultureInfo.InvariantCulture, out var number) ? new([], number, 0)
        : text.StartsWith('{') && text.EndsWith('}') ? PieceOf(text[1..^1], out _) as NumberPiece
        : null;

    private static PatternPiece? PieceOf(string inner, out string? problem)
    {
        problem =
            $"{{{inner}}} is not understood. Parts are {{number}}, {{order}}, {{code}} and {{name}}, of a place above as "
            + $"{{parent.code}} or {{site.name}}; numbers take *10, +5 and :00, texts :initials, :first, :last, :letters3, :consonants3.";
        var colon = inner.IndexOf(':', StringComparison.Ordinal);
        var (body, format) = colon < 0 ? (inner.Trim(), "") : (inner[..colon].Trim(), inner[(colon + 1)..].Trim());
        PatternPiece? piece = TextOf(body, format) as PatternPiece ?? NumbersOf(body, format);
        if (piece is not null)
            problem = null;
        return piece;
    }

    private static TextPiece? TextOf(string body, string format)
    {
        var dot = body.LastIndexOf('.');
        var what = body[(dot + 1)..];
        if (what == "order" && format == "letter" && PlaceRef.Parse(dot < 0 ? "" : body[..dot]) is { } ordered)
            return new(ordered, false, TextCut.OrderLetter);
        if (what is not ("code" or "name") || PlaceRef.Parse(dot < 0 ? "" : body[..dot]) is not { } place)
            return null;
        var digits = format.Length - format.AsSpan().TrimEnd("0123456789").Length;
        var length = digits > 0 && digits < 4 ? int.Parse(format.AsSpan(format.Length - digits), CultureInfo.InvariantCulture) : 0;
        var word = format[..(format.Length - digits)];
        if (word.Length == 0)
            return digits == 0 ? new(place, what == "name", TextCut.Whole) : null;
        return
            Enum.TryParse<TextCut>(word, ignoreCase: true, out var cut)
            && char.IsLetter(word[0])
            && cut is not (TextCut.Whole or TextCut.OrderLetter)
            && (length > 0) == (cut is TextCut.Letters || (cut is TextCut.Consonants && digits > 0))
            ? new(place, what == "name", cut, length)
            : null;
    }

    private static NumberPiece? NumbersOf(string body, string format)
    {
        if (format.Any(c => c != '0') || format.Length > 9)
            return null;
        var (terms, offset) = (ImmutableArray.CreateBuilder<NumberTerm>(), 0L);
        foreach (var (sign, part) in Summands(body))
        {
            if (long.TryParse(part, NumberStyles.None, CultureInfo.InvariantCulture, out var number) && number < 1_000_000_000)
                offset += sign * number;
            else if (sign > 0 && TermOf(part) is { } term)
                terms.Add(term);
            else
                return null;
        }
        return terms.Count == 0 ? null : new(terms.ToImmutable(), offset, format.Length);
    }

    private static IEnumerable<(int Sign, string Part)> Summands(string body)
    {
        var (sign, start) = (1, 0);
        for (var at = 0; at <= body.Length; at++)
        {
            if (at < body.Length && body[at] is not ('+' or '-'))
                continue;
            yield return (sign, body[start..at].Trim());
            (sign, start) = (at < body.Length && body[at] == '-' ? -1 : 1, at + 1);
        }
    }

    private static NumberTerm? TermOf(string part)
    {
        var star = part.IndexOf('*', StringComparison.Ordinal);
        var times = 1L;
        if (
            star >= 0
            && (
                !long.TryParse(part.AsSpan(star + 1), NumberStyles.None, CultureInfo.InvariantCulture, out times)
                || times is < 1 or > 100_000_000
            )
        )
            return null;
        var body = star < 0 ? part : part[..star].Trim();
        var dot = body.LastIndexOf('.');
        NumberKind? kind = body[(dot + 1)..] switch
        {
            "number" => NumberKind.Number,
            "tail" => NumberKind.Tail,
            "head" => NumberKind.Head,
            "order" => NumberKind.Order,
            "position" => NumberKind.Position,
            "count" => NumberKind.Count,
            "sitecount" => NumberKind.SiteCount,
            _ => null,
        };
        return kind is { } its && PlaceRef.Parse(dot < 0 ? "" : body[..dot]) is { } place ? new(place, its, times) : null;
    }
}
