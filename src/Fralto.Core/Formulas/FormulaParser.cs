using System.Collections.Immutable;

namespace Fralto.Core.Formulas;

/// <summary>Reads the pieces of a formula into a tree.</summary>
/// <remarks>
/// From what binds loosest: else, or, and, not, comparisons and is, + and -, × and /, sign, power. A function is written with parentheses,
/// or read aloud: mean of Level last 1 h.
/// </remarks>
internal sealed class FormulaParser(string text, IReadOnlyList<FormulaToken> tokens)
{
    private const int Deepest = 60;

    private static readonly HashSet<string> Reserved = new(StringComparer.OrdinalIgnoreCase)
    {
        "and",
        "or",
        "not",
        "is",
        "if",
        "then",
        "else",
        "below",
        "which",
        "true",
        "false",
        "last",
        "every",
        "each",
        "reset",
        "when",
        "from",
        "by",
        "sloped",
        "stepped",
        "with",
    };

    private int _at;
    private int _depth;

    private FormulaToken Now => tokens[_at];

    private int LastEnd => _at == 0 ? 0 : tokens[_at - 1].End;

    /// <summary>The tree, or the first thing that is wrong.</summary>
    public (FormulaNode? Root, FormulaProblem? Problem) Read()
    {
        try
        {
            var root = Else();
            if (Now.Kind == TokenKind.End)
                return (root, null);
            return (null, Trailing());
        }
        catch (Wrong wrong)
        {
            return (null, wrong.Problem);
        }
    }

    private FormulaProblem Trailing() =>
        Now.Is(")") ? new(Now.At, Now.Length, "This parenthesis was never opened.")
        : Now.Is(",") ? new(Now.At, Now.Length, "A comma stands only between the arguments of a function.")
        : new(Now.At, Math.Max(1, Now.Length), $"{Quoted(Now)} cannot stand here; expected a sign such as + - × /, or the end.");

    private FormulaNode Else()
    {
        Deeper();
        var left = Or();
        if (Take("else"))
            left = new SignNode(left.At, 0, "else", left, Else()) is var node ? node with { End = LastEnd } : left;
        _depth--;
        return left;
    }

    private FormulaNode Or() => Chain(And, "or");

    private FormulaNode And() => Chain(Not, "and");

    private FormulaNode Chain(Func<FormulaNode> below, string word)
    {
        var left = below();
        while (Take(word))
            left = new SignNode(left.At, 0, word, left, below()) is var node ? node with { End = LastEnd } : left;
        return left;
    }

    private FormulaNode Not()
    {
        var at = Now.At;
        if (!Take("not"))
            return Comparison();
        Deeper();
        var inner = Not();
        _depth--;
        return new SignNode(at, LastEnd, "not", inner, null);
    }

    private FormulaNode Comparison()
    {
        var left = Sum();
        if (Now.Kind == TokenKind.Sign && Now.Word is "<" or "<=" or ">" or ">=" or "=" or "<>")
        {
            var sign = tokens[_at++].Word;
            var right = Sum();
            if (Now.Kind == TokenKind.Sign && Now.Word is "<" or "<=" or ">" or ">=" or "=" or "<>")
                throw new Wrong(Now.At, Now.Length, "Two comparisons are joined by and: 2 m < Level and Level < 3 m.");
            return new SignNode(left.At, LastEnd, sign, left, right);
        }
        if (!Take("is"))
            return left;
        var isNot = Take("not");
        var (state, at, end) = State();
        return new IsNode(left.At, LastEnd, left, state, at, end, isNot);
    }

    private (string State, int At, int End) State()
    {
        var first = Now;
        if (first.Kind == TokenKind.Text)
        {
            _at++;
            return (first.Word, first.At, first.End);
        }
        if (first.IsWord("true") || first.IsWord("false"))
        {
            _at++;
            return (first.Word.ToLowerInvariant(), first.At, first.End);
        }
        while (
            Now.Kind == TokenKind.Name && !Reserved.Contains(Now.Word)
            || Now.Kind == TokenKind.Number
            || _at > 0 && Now.Is("-") && Now.At == LastEnd && tokens[_at + 1].Kind == TokenKind.Name && tokens[_at + 1].At == Now.End
        )
            _at++;
        if (LastEnd <= first.At)
            throw Expected("the name of a state, true or false");
        return (text[first.At..LastEnd], first.At, LastEnd);
    }

    private FormulaNode Sum()
    {
        var left = Product();
        while (Now.Is("+") || Now.Is("-"))
        {
            var sign = tokens[_at++].Word;
            var right = Product();
            left = new SignNode(left.At, LastEnd, sign, left, right);
        }
        return left;
    }

    private FormulaNode Product()
    {
        var left = Signed();
        while (Now.Is("*") || Now.Is("/"))
        {
            var sign = tokens[_at++].Word;
            var right = Signed();
            left = new SignNode(left.At, LastEnd, sign, left, right);
        }
        return left;
    }

    private FormulaNode Signed()
    {
        var at = Now.At;
        if (Now.Is("-") || Now.Is("+"))
        {
            var sign = tokens[_at++].Word;
            Deeper();
            var inner = Signed();
            _depth--;
            return sign == "+" ? inner : new SignNode(at, LastEnd, "negate", inner, null);
        }
        var left = Atom();
        if (!Now.Is("^"))
            return left;
        _at++;
        Deeper();
        var right = Signed();
        _depth--;
        return new SignNode(left.At, LastEnd, "^", left, right);
    }

    private FormulaNode Atom()
    {
        var token = Now;
        switch (token.Kind)
        {
            case TokenKind.Number:
                _at++;
                return new NumberNode(token.At, token.End, token.Number, token.Unit);
            case TokenKind.Sign when token.Is("("):
                _at++;
                var inner = Else();
                Close(token);
                return inner;
            case TokenKind.Name:
                return Named(token);
            default:
                throw Expected("a property, a number or (");
        }
    }

    private FormulaNode Named(FormulaToken token)
    {
        var isPath = tokens[_at + 1].Is(".");
        if (!isPath && (token.IsWord("true") || token.IsWord("false")))
        {
            _at++;
            return new TruthNode(token.At, token.End, token.IsWord("true"));
        }
        if (!isPath && token.IsWord("if"))
            return If();
        if (!isPath && token.IsWord("which"))
        {
            _at++;
            if (FormulaFunction.Find(Now.Word) is not { Set: SetKind.Minimum or SetKind.Maximum } which || !tokens[_at + 1].Is("("))
                throw Expected("min( or max( behind which");
            return Call(which, token.At, true);
        }
        if (!isPath && token.IsWord("below"))
            throw new Wrong(token.At, token.Length, "below stands inside a function that takes many: sum(below Silo: Mass).");
        var next = tokens[_at + 1];
        if (next.Is("("))
            return FormulaFunction.Find(token.Word) is { } function
                ? Call(function, token.At, false)
                : throw new Wrong(token.At, token.Length, $"There is no function {token.Word}.", Near(token.Word));
        if ((next.IsWord("of") || next.IsWord("while")) && FormulaFunction.Find(token.Word) is { OverTime: not null } spoken)
        {
            _at += 2;
            var operand = next.IsWord("while") ? Or() : Sum();
            return Timed(spoken, token.At, operand);
        }
        if (!isPath && Reserved.Contains(token.Word))
            throw Expected("a property, a number or (");
        return Reference();
    }

    private static string? Near(string name) =>
        FormulaFunction.All.Select(f => f.Name).FirstOrDefault(n => Basics.Naming.Distance(n, name.ToLowerInvariant()) <= 2);

    private IfNode If()
    {
        var begin = tokens[_at++];
        Deeper();
        var hasArguments = Now.Is("(") && CommaWithin();
        if (hasArguments)
        {
            var open = tokens[_at++];
            var (condition, then) = (Else(), NextArgument());
            var other = NextArgument();
            Close(open);
            _depth--;
            return new IfNode(begin.At, LastEnd, condition, then, other);
        }
        var question = Or();
        if (!Take("then"))
            throw Expected("then");
        var yes = Or();
        if (!Take("else"))
            throw Expected("else: a formula has a value in every case");
        var no = Else();
        _depth--;
        return new IfNode(begin.At, LastEnd, question, yes, no);
    }

    private FormulaNode NextArgument()
    {
        if (!Now.Is(","))
            throw Expected("a comma: if(condition, then, else)");
        _at++;
        return Else();
    }

    private bool CommaWithin()
    {
        var depth = 0;
        for (var i = _at; i < tokens.Count; i++)
        {
            depth +=
                tokens[i].Is("(") ? 1
                : tokens[i].Is(")") ? -1
                : 0;
            if (depth == 0)
                return false;
            if (depth == 1 && tokens[i].Is(","))
                return true;
        }
        return false;
    }

    private FormulaNode Call(FormulaFunction function, int at, bool isWhich)
    {
        _at++;
        var open = tokens[_at++];
        Deeper();
        if (function.Set is not null && Now.IsWord("below"))
        {
            var set = Below(function, at, isWhich);
            Close(open);
            _depth--;
            FormulaNode whole = set with { End = LastEnd };
            return whole;
        }
        if (Now.Is(")"))
            throw Expected($"what it is of: {function.Example}");
        var first = Else();
        if (function.OverTime is not null && (IsClause() || Now.Is(",") && IsClauseAt(_at + 1)) || function.Least < 0)
        {
            if (function.OverTime is null)
                throw new Wrong(at, LastEnd - at, $"{function.Name} is worked out of all below: {function.Example}.");
            var timed = Timed(function, at, first);
            Close(open);
            _depth--;
            return timed with { End = LastEnd };
        }
        var arguments = ImmutableArray.CreateBuilder<FormulaNode>();
        arguments.Add(first);
        while (Now.Is(","))
        {
            _at++;
            arguments.Add(Else());
        }
        Close(open);
        _depth--;
        if (arguments.Count < function.Least || arguments.Count > function.Most)
            throw new Wrong(
                at,
                LastEnd - at,
                $"{function.Name} takes {(function.Least == function.Most ? $"{function.Least}" : $"{function.Least} or more")}: "
                    + $"{function.Example}."
            );
        return new CallNode(at, LastEnd, function, arguments.ToImmutable(), isWhich);
    }

    private SetNode Below(FormulaFunction function, int at, bool isWhich)
    {
        _at++;
        var name = Now;
        if (name.Kind is not (TokenKind.Name or TokenKind.Text))
            throw Expected("the code of a template behind below");
        _at++;
        var labels = ImmutableArray.CreateBuilder<(string, string)>();
        if (Take("with"))
            do
            {
                var key = Now.Kind == TokenKind.Name ? tokens[_at++].Word : throw Expected("a label: with medium=air");
                if (!Now.Is("="))
                    throw Expected("= and the value of the label");
                _at++;
                labels.Add(
                    (
                        key,
                        Now.Kind is TokenKind.Name or TokenKind.Text or TokenKind.Number
                            ? tokens[_at++].Word
                            : throw Expected("the value of the label")
                    )
                );
            } while (Take("and"));
        FormulaNode? inner = null;
        if (Now.Is(":"))
        {
            _at++;
            inner = Else();
        }
        else if (function.Set != SetKind.Count)
            throw Expected($": and what is taken of each: {function.Name}(below {name.Word}: ...)");
        return new(at, LastEnd, function, name.Word, name.At, name.End, labels.ToImmutable(), inner, isWhich);
    }

    private bool IsClause() => IsClauseAt(_at);

    private bool IsClauseAt(int at) =>
        tokens[at].Kind == TokenKind.Name
        && tokens[at].Word.ToLowerInvariant()
            is "last"
                or "every"
                or "each"
                or "reset"
                or "when"
                or "from"
                or "by"
                or "sloped"
                or "stepped";

    private OverTimeNode Timed(FormulaFunction function, int at, FormulaNode operand)
    {
        var clauses = new TimeClauses();
        while (IsClause() || Now.Is(",") && IsClauseAt(_at + 1))
        {
            if (Now.Is(","))
                _at++;
            clauses = Clause(clauses);
        }
        return new(at, LastEnd, function, operand, clauses);
    }

    private TimeClauses Clause(TimeClauses clauses)
    {
        var word = tokens[_at++].Word.ToLowerInvariant();
        switch (word)
        {
            case "last" when Span() is { } span:
                return clauses with { LastSpan = span };
            case "last":
                clauses = clauses with { LastSeconds = Seconds("last 1 h, last day or last shift") };
                if ((Now.Is(",") || Now.IsWord("and")) && tokens[_at + 1].Unit?.Dimension == Measure.Second.Dimension)
                    throw new Wrong(
                        Now.At,
                        Now.Length + tokens[_at + 1].Length + 1,
                        "A window has one length here; several at once make as many properties, when a property is added."
                    );
                return clauses;
            case "every":
                return clauses with { EverySeconds = Seconds("every 1 min") };
            case "each":
                return clauses with { Each = Span() ?? throw Expected("hour, day or shift") };
            case "by":
                return clauses with { BySeconds = Seconds("by 30 s") };
            case "from":
                return clauses with { From = Sum() };
            case "when":
                return clauses with { When = Or() };
            case "sloped":
                return clauses with { IsSloped = true };
            case "stepped":
                return clauses with { IsSloped = false };
            default:
                if (Take("when"))
                    return clauses with { ResetWhen = Or() };
                if (Take("each"))
                    return clauses with { Each = Span() ?? throw Expected("hour, day or shift") };
                if (!Take("at"))
                    throw Expected("when, at or each behind reset");
                return clauses with { ResetAt = TimeOfDay() };
        }
    }

    private CalendarSpan? Span()
    {
        if (Now.Kind != TokenKind.Name || !Enum.TryParse<CalendarSpan>(Now.Word, true, out var span))
            return null;
        _at++;
        return span;
    }

    private double Seconds(string example)
    {
        if (Now.Kind != TokenKind.Number)
            throw Expected($"a time: {example}");
        if (Now.Unit?.Dimension != Measure.Second.Dimension)
            throw new Wrong(Now.At, Now.Length, $"This is no time; write for example {example}.");
        var seconds = Now.Number * Now.Unit.Factor;
        if (seconds is < 0.1 or > 366 * 86400d)
            throw new Wrong(Now.At, Now.Length, "A time here lies between 0.1 s and 366 d.");
        _at++;
        return seconds;
    }

    private TimeSpan TimeOfDay()
    {
        var hour = Now;
        if (
            hour.Kind == TokenKind.Number
            && tokens[_at + 1].Is(":")
            && tokens[_at + 2] is { Kind: TokenKind.Number } minute
            && hour.Number is >= 0 and <= 23
            && minute.Number is >= 0 and <= 59
            && hour.Number % 1 == 0
            && minute.Number % 1 == 0
        )
        {
            _at += 3;
            return new((int)hour.Number, (int)minute.Number, 0);
        }
        throw Expected("a time of day: reset at 06:00");
    }

    private ReferenceNode Reference()
    {
        var begin = Now;
        var (place, up) = (ReferencePlace.Own, 0);
        while (Now.IsWord("above") && tokens[_at + 1].Is(".") && place != ReferencePlace.Nearest)
        {
            (place, up) = (ReferencePlace.Above, up + 1);
            _at += 2;
        }
        if (up == 0 && Now.IsWord("nearest") && tokens[_at + 1].Is("."))
        {
            place = ReferencePlace.Nearest;
            _at += 2;
        }
        else if (up == 0 && Now.IsWord("own") && tokens[_at + 1].Is("."))
            _at += 2;
        var path = new List<string>();
        while (true)
        {
            if (Now.Kind != TokenKind.Name)
                throw Expected("the code of a part or property");
            path.Add(tokens[_at++].Word);
            if (!Now.Is("."))
                break;
            _at++;
        }
        return new(begin.At, LastEnd, new(place, up, string.Join('.', path)));
    }

    private void Close(FormulaToken open)
    {
        if (!Now.Is(")"))
            throw Now.Kind == TokenKind.End
                ? new Wrong(open.At, open.Length, "The closing parenthesis is missing.")
                : Expected("a sign such as + - × /, a comma or )");
        _at++;
    }

    private bool Take(string word)
    {
        if (!Now.IsWord(word))
            return false;
        _at++;
        return true;
    }

    private void Deeper()
    {
        if (++_depth > Deepest)
            throw new Wrong(
                Now.At,
                Math.Max(1, Now.Length),
                $"It is nested deeper than {Deepest}; give a piece of it a property of its own."
            );
    }

    private Wrong Expected(string what) =>
        Now.Kind == TokenKind.End
            ? new(Math.Max(0, LastEnd - 1), 1, $"The formula ends where {what} is expected.")
            : new(Now.At, Math.Max(1, Now.Length), $"{Quoted(Now)} cannot stand here; expected {what}.");

    private string Quoted(FormulaToken token) => $"'{text[token.At..Math.Min(text.Length, token.At + Math.Max(1, token.Length))]}'";

    /// <summary>Ends the reading at the first thing that is wrong; never leaves this class.</summary>
    private sealed class Wrong(int at, int length, string words, string? instead = null) : Exception
    {
        public FormulaProblem Problem => new(at, Math.Max(1, length), words, instead);
    }
}
