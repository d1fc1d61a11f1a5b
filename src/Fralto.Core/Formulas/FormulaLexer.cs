using System.Globalization;
using System.Text;
using Fralto.Core.Units;

namespace Fralto.Core.Formulas;

/// <summary>Cuts the text of a formula into its pieces; a number takes the unit behind it along.</summary>
internal sealed class FormulaLexer(string text, UnitSet units, Func<string, bool> isCode)
{
    /// <summary>Words that are never a unit behind a number.</summary>
    private static readonly HashSet<string> Joining = new(StringComparer.OrdinalIgnoreCase)
    {
        "and",
        "or",
        "not",
        "is",
        "then",
        "else",
        "last",
        "every",
        "each",
        "reset",
        "when",
        "at",
        "by",
        "from",
        "with",
    };

    private const string Opening = "\"'“”„‘’«»";
    private const string Superscript = "⁰¹²³⁴⁵⁶⁷⁸⁹";
    private readonly List<FormulaToken> _tokens = [];
    private int _at;
    private int _calls;
    private readonly Stack<bool> _open = new();

    /// <summary>The pieces, the end last; where the text holds a piece that is none, all before it and the problem.</summary>
    public (IReadOnlyList<FormulaToken> Tokens, FormulaProblem? Problem) Read()
    {
        FormulaProblem? problem = null;
        while (problem is null && _at < text.Length)
        {
            var c = text[_at];
            if (char.IsWhiteSpace(c))
                _at++;
            else if (char.IsAsciiDigit(c) || c == '.' && _at + 1 < text.Length && char.IsAsciiDigit(text[_at + 1]))
                problem = Number();
            else if (char.IsLetter(c) || c == '_')
                Name();
            else if (Superscript.Contains(c, StringComparison.Ordinal))
                Power();
            else if (Opening.Contains(c, StringComparison.Ordinal))
                problem = Quoted();
            else
                problem = Sign();
        }
        _tokens.Add(new(TokenKind.End, text.Length, 0, ""));
        return (_tokens, problem);
    }

    private FormulaProblem? Number()
    {
        var begin = _at;
        var digits = new StringBuilder();
        Digits(digits);
        // Thousands may stand in groups: 270 000.
        while (digits.Length > 0 && !digits.ToString().Contains('.', StringComparison.Ordinal) && IsGroup())
        {
            digits.Append(text, _at + 1, 3);
            _at += 4;
        }
        if (_at < text.Length && text[_at] == '.')
        {
            digits.Append('.');
            _at++;
            Digits(digits);
        }
        else if (_at + 1 < text.Length && text[_at] == ',' && char.IsAsciiDigit(text[_at + 1]) && _calls == 0)
        {
            var end = _at + 1;
            while (end < text.Length && char.IsAsciiDigit(text[end]))
                end++;
            return new(
                begin,
                end - begin,
                "Decimals are written with a point.",
                text[begin..end].Replace(',', '.').Replace(" ", "", StringComparison.Ordinal)
            );
        }
        if (
            _at + 1 < text.Length
            && text[_at] is 'e' or 'E'
            && (
                char.IsAsciiDigit(text[_at + 1]) || text[_at + 1] is '+' or '-' && _at + 2 < text.Length && char.IsAsciiDigit(text[_at + 2])
            )
        )
        {
            digits.Append('e').Append(text[_at + 1]);
            _at += 2;
            Digits(digits);
        }
        var number = double.Parse(digits.ToString(), NumberStyles.Float, CultureInfo.InvariantCulture);
        if (!double.IsFinite(number))
            return new(begin, _at - begin, "This number is too large.");
        var (unit, problem) = Unit();
        _tokens.Add(new(TokenKind.Number, begin, _at - begin, text[begin.._at], number, unit));
        return problem;
    }

    private void Digits(StringBuilder into)
    {
        while (_at < text.Length && char.IsAsciiDigit(text[_at]))
            into.Append(text[_at++]);
    }

    private bool IsGroup() =>
        _at + 3 < text.Length
        && text[_at] is ' ' or '\u00a0' or '\u2009' or '\u202f'
        && text.AsSpan(_at + 1, 3).IndexOfAnyExceptInRange('0', '9') < 0
        && (_at + 4 == text.Length || !char.IsAsciiDigit(text[_at + 4]));

    /// <summary>The unit that stands behind a number, if one does.</summary>
    private (Measure? Unit, FormulaProblem? Problem) Unit()
    {
        var begin = _at;
        while (begin < text.Length && char.IsWhiteSpace(text[begin]))
            begin++;
        var end = PieceEnd(begin);
        if (end == begin || Joining.Contains(text[begin..end]))
            return (null, null);
        if (Known(text[begin..end]) is not { } measure)
            return (
                null,
                new(
                    begin,
                    end - begin,
                    units.Unknown(text[begin..end]),
                    units.Nearest(text[begin..end]).FirstOrDefault() is { } near ? near.Symbol : null
                )
            );
        while (end < text.Length && text[end] is '/' or '·' or '⋅')
        {
            var over = text[end] == '/';
            if (over && end + 1 < text.Length && text[end + 1] == '(' && Group(end + 2) is { } group)
            {
                (measure, end) = (measure.Times(group.Measure, -1), group.End);
                continue;
            }
            var next = PieceEnd(end + 1);
            // A slash with no unit behind it divides.
            if (next == end + 1 || Known(text[(end + 1)..next]) is not { } other || isCode(text[(end + 1)..next]))
                break;
            (measure, end) = (measure.Times(other, over ? -1 : 1), next);
        }
        _at = end;
        // What the catalogue knows as a whole has its own zero and kind.
        return (units.Match(text[begin..end]) is { } whole ? Measure.Of(whole) : measure, null);
    }

    private (Measure Measure, int End)? Group(int at)
    {
        Measure? product = null;
        while (true)
        {
            var end = PieceEnd(at);
            if (end == at || Known(text[at..end]) is not { } measure)
                return null;
            product = product is null ? measure : product.Times(measure);
            if (end >= text.Length)
                return null;
            if (text[end] == ')')
                return (product, end + 1);
            if (text[end] is not ('·' or '⋅' or '*' or ' '))
                return null;
            at = end + 1;
        }
    }

    private int PieceEnd(int at)
    {
        var begin = at;
        while (at < text.Length && (char.IsLetter(text[at]) || text[at] is '°' or 'º' or '%' or '‰' or '_'))
            at++;
        if (at == begin)
            return at;
        while (at < text.Length && (char.IsAsciiDigit(text[at]) || Superscript.Contains(text[at], StringComparison.Ordinal)))
            at++;
        return at;
    }

    private Measure? Known(string piece)
    {
        var plain = piece.EndsWith('s') && piece.Length > 3 ? piece[..^1] : piece;
        if ((units.Match(piece) ?? units.Match(plain)) is { } unit)
            return Measure.Of(unit);
        var name = piece.TrimEnd("0123456789⁰¹²³⁴⁵⁶⁷⁸⁹".ToCharArray());
        return
            name.Length < piece.Length
            && name.Length > 0
            && units.Match(name) is { } based
            && string.Concat(piece[name.Length..].Select(Digit)) is { Length: 1 } power
            ? Measure.Of(based).ToThe(power[0] - '0')
            : null;
    }

    private static char Digit(char c) => Superscript.IndexOf(c, StringComparison.Ordinal) is >= 0 and var digit ? (char)('0' + digit) : c;

    private void Name()
    {
        var begin = _at;
        while (_at < text.Length && (char.IsLetterOrDigit(text[_at]) || text[_at] == '_'))
            _at++;
        // A hyphen belongs to a name only where there is such a name: AirOn-AirOff is a difference.
        for (var end = HyphenEnd(_at); end > _at; end = text.LastIndexOf('-', end - 1))
            if (isCode(text[begin..end]))
            {
                _at = end;
                break;
            }
        _tokens.Add(new(TokenKind.Name, begin, _at - begin, text[begin.._at]));
    }

    private int HyphenEnd(int at)
    {
        var end = at;
        while (end + 1 < text.Length && text[end] == '-' && (char.IsLetterOrDigit(text[end + 1]) || text[end + 1] == '_'))
        {
            end++;
            while (end < text.Length && (char.IsLetterOrDigit(text[end]) || text[end] == '_'))
                end++;
        }
        return end;
    }

    private void Power()
    {
        var begin = _at;
        var number = 0d;
        while (_at < text.Length && Superscript.IndexOf(text[_at], StringComparison.Ordinal) is >= 0 and var digit)
            (number, _at) = (number * 10 + digit, _at + 1);
        _tokens.Add(new(TokenKind.Sign, begin, 0, "^"));
        _tokens.Add(new(TokenKind.Number, begin, _at - begin, text[begin.._at], number));
    }

    private FormulaProblem? Quoted()
    {
        var begin = _at++;
        while (_at < text.Length && !Opening.Contains(text[_at], StringComparison.Ordinal))
            _at++;
        if (_at == text.Length)
            return new(begin, text.Length - begin, "The closing quote is missing.");
        _at++;
        _tokens.Add(new(TokenKind.Text, begin, _at - begin, text[(begin + 1)..(_at - 1)]));
        return null;
    }

    private FormulaProblem? Sign()
    {
        var (sign, length) = text[_at] switch
        {
            '+' => ("+", 1),
            '-' or '−' or '–' or '—' => ("-", 1),
            '*' or '×' or '·' or '⋅' => ("*", 1),
            '/' or '÷' => ("/", 1),
            '^' => ("^", 1),
            '(' => ("(", 1),
            ')' => (")", 1),
            ',' or ';' => (",", 1),
            ':' => (":", 1),
            '.' => (".", 1),
            '≤' => ("<=", 1),
            '≥' => (">=", 1),
            '≠' => ("<>", 1),
            '<' when Next('=') => ("<=", 2),
            '<' when Next('>') => ("<>", 2),
            '>' when Next('=') => (">=", 2),
            '<' => ("<", 1),
            '>' => (">", 1),
            '=' => ("=", Next('=') ? 2 : 1),
            '!' when Next('=') => ("<>", 2),
            _ => ("", 1),
        };
        if (sign.Length == 0)
            return new(_at, 1, $"'{text[_at]}' has no meaning in a formula.");
        if (sign == "(")
        {
            var isCall = _tokens.Count > 0 && _tokens[^1].Kind == TokenKind.Name;
            _open.Push(isCall);
            _calls += isCall ? 1 : 0;
        }
        else if (sign == ")" && _open.TryPop(out var wasCall))
            _calls -= wasCall ? 1 : 0;
        _tokens.Add(new(TokenKind.Sign, _at, length, sign));
        _at += length;
        return null;
    }

    private bool Next(char c) => _at + 1 < text.Length && text[_at + 1] == c;
}
