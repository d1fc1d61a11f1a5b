using System.Collections.Immutable;
using Fralto.Core.Basics;
using Fralto.Core.Properties;
using Fralto.Core.Scaling;
using Fralto.Core.Units;

namespace Fralto.Core.Formulas;

/// <summary>Makes a formula ready for running: finds out what each piece measures, converts where units differ, and says what does not
/// fit, at its place.</summary>
public sealed class FormulaCompiler
{
    private const int MostSteps = 2000;
    private const int MostPanes = 1000;
    private const int UsualPanes = 60;
    private readonly IFormulaNames _names;
    private readonly string _text;
    private readonly List<FormulaProblem> _problems = [];
    private readonly List<FormulaStep> _steps = [];
    private readonly List<FormulaType> _types = [];
    private readonly List<(int At, int End)> _places = [];
    private readonly List<FormulaReference> _operands = [];
    private readonly Dictionary<FormulaReference, int> _operandSteps = [];
    private readonly List<SetUse> _sets = [];
    private readonly List<TimeUse> _times = [];
    private readonly List<int[]> _lists = [];
    private readonly List<string> _texts = [];
    private readonly bool _isInner;

    private FormulaCompiler(IFormulaNames names, string text, bool isInner) => (_names, _text, _isInner) = (names, text, isInner);

    private UnitSet Units => _names.Units;

    /// <summary>Compiles a formula.</summary>
    /// <param name="formula">The formula.</param>
    /// <param name="names">What its names stand for.</param>
    /// <param name="target">What it has to give; null when anything will do.</param>
    /// <returns>The program; null with all that is wrong, in the order of the text, when there is none.</returns>
    public static (FormulaProgram? Program, ImmutableArray<FormulaProblem> Problems) Compile(
        Formula formula,
        IFormulaNames names,
        FormulaTarget? target
    )
    {
        if (formula.Root is not { } root)
            return (null, [formula.Problem!]);
        var compiler = new FormulaCompiler(names, formula.Text, false);
        var result = compiler.Piece(root);
        if (result is { } piece && target is not null)
            result = compiler.Fit(piece, target, root);
        return compiler.End(result, root);
    }

    /// <summary>Compiles what a set takes of one member, to give what the set wants.</summary>
    internal static (FormulaProgram? Program, ImmutableArray<FormulaProblem> Problems) CompileInner(
        FormulaProgram inner,
        IFormulaNames names
    )
    {
        var compiler = new FormulaCompiler(names, inner.Text, true);
        var result = compiler.Piece(inner.Root);
        if (result is { } piece && inner.Result.Kind == FormulaKind.Number)
            result =
                compiler._types[piece].Measure.Dimension == inner.Result.Measure.Dimension
                    ? compiler.Convert(piece, inner.Result.Measure, inner.Root)
                    : compiler.Wrong(
                        inner.Root,
                        $"It is {compiler.In(piece)}; the others are in {inner.Result.Measure.Symbol(names.Units)}."
                    );
        return compiler.End(result, inner.Root);
    }

    private (FormulaProgram?, ImmutableArray<FormulaProblem>) End(int? result, FormulaNode root)
    {
        if (_steps.Count > MostSteps)
            _problems.Add(new(root.At, root.End - root.At, "It is too long to be run; give a piece of it a property of its own."));
        if (_problems.Count > 0 || result is not { } last)
            return (null, [.. _problems.OrderBy(p => p.At)]);
        // The result is the last step.
        if (last != _steps.Count - 1)
            Emit(new(StepKind.Convert, last, K: 1), _types[last], (root.At, root.At));
        return (
            new([.. _steps], [.. _types], [.. _places], [.. _operands], [.. _sets], [.. _times], [.. _lists], [.. _texts], _text, root),
            []
        );
    }

    private int Emit(FormulaStep step, FormulaType type, (int, int) place)
    {
        _steps.Add(step);
        _types.Add(type);
        _places.Add(place);
        return _steps.Count - 1;
    }

    private int Emit(FormulaStep step, FormulaType type, FormulaNode node) => Emit(step, type, (node.At, node.End));

    private int? Wrong(FormulaNode node, string words, string? instead = null) => Wrong(node.At, node.End, words, instead);

    private int? Wrong(int at, int end, string words, string? instead = null)
    {
        _problems.Add(new(at, Math.Max(1, end - at), words, instead));
        return null;
    }

    private string Of(FormulaNode node) => _text[node.At..Math.Min(node.End, _text.Length)];

    private string In(int step) =>
        _types[step] is { Kind: FormulaKind.Number } number
            ? number.Measure.Symbol(Units) is { Length: > 0 } symbol
                ? $"in {symbol}"
                : "without unit"
            : _types[step].Words(Units);

    private int? Piece(FormulaNode node) =>
        node switch
        {
            NumberNode number => Emit(
                new(StepKind.Constant, K: number.Value),
                FormulaType.Number(number.Unit ?? Measure.One) with
                {
                    IsBare = number.Unit is null,
                },
                number
            ),
            TruthNode truth => Emit(new(StepKind.Constant, K: truth.Value ? 1 : 0), FormulaType.Truth, truth),
            ReferenceNode reference => Reference(reference),
            SignNode sign => Sign(sign),
            IfNode choice => Choice(choice),
            IsNode state => State(state),
            CallNode call => Call(call),
            SetNode set => Set(set),
            OverTimeNode timed => Timed(timed),
            _ => throw new InvalidOperationException($"{node.GetType().Name} has no meaning."),
        };

    private int? Reference(ReferenceNode node)
    {
        if (_operandSteps.TryGetValue(node.Reference, out var known))
            return known;
        if (_names.TypeOf(node.Reference) is not { } type)
        {
            _problems.Add(_names.Unknown(node.Reference, node.At, node.End));
            return null;
        }
        _operands.Add(node.Reference);
        return _operandSteps[node.Reference] = Emit(new(StepKind.Operand, _operands.Count - 1), type, node);
    }

    private int? Sign(SignNode node)
    {
        var left = Piece(node.Left);
        var right = node.Right is null ? left : Piece(node.Right);
        if (left is not { } a || right is not { } b)
            return null;
        return node.Sign switch
        {
            "+" or "-" => Sum(node, a, b),
            "*" or "/" => Product(node, a, b),
            "^" => Power(node, a, b),
            "negate" => IsNumber(node.Left, a, out var why)
                ? _types[a].Measure.Warmth == Warmth.Temperature && node.Left is not NumberNode
                    ? Wrong(node, $"{Of(node.Left)} is a temperature with a zero of its own; its sign cannot be turned.")
                    : Emit(new(StepKind.Negate, a), _types[a], node)
                : why,
            "and" or "or" => IsTruth(node.Left, a) & IsTruth(node.Right!, b)
                ? Emit(new(node.Sign == "and" ? StepKind.And : StepKind.Or, a, b), FormulaType.Truth, node)
                : null,
            "not" => IsTruth(node.Left, a) ? Emit(new(StepKind.Not, a), FormulaType.Truth, node) : null,
            "else" => Alike(node, [(node.Left, a), (node.Right!, b)]) is { } both
                ? Emit(new(StepKind.Else, both.Steps[0], both.Steps[1]), both.Type, node)
                : null,
            _ => Comparison(node, a, b),
        };
    }

    private bool IsNumber(FormulaNode node, int step, out int? why)
    {
        why = null;
        if (_types[step].Kind == FormulaKind.Number)
            return true;
        why = Wrong(
            node,
            _types[step].Kind == FormulaKind.Text
                ? $"{Of(node)} is text; a number is expected here."
                : $"{Of(node)} is {_types[step].Words(Units)}; a number is expected here, for example if {Of(node)}"
                    + $"{(_types[step].Kind == FormulaKind.State ? " is ..." : "")} then 1 else 0."
        );
        return false;
    }

    private bool IsTruth(FormulaNode node, int step)
    {
        if (_types[step].Kind == FormulaKind.Truth)
            return true;
        Wrong(
            node,
            $"{Of(node)} is {_types[step].Words(Units)}; true or false is expected here, for example "
                + (_types[step].Kind == FormulaKind.State ? $"{Of(node)} is {ExampleOf(_types[step].States)}." : $"{Of(node)} > 0.")
        );
        return false;
    }

    private int? Sum(SignNode node, int a, int b)
    {
        if (!IsNumber(node.Left, a, out var why) | !IsNumber(node.Right!, b, out var other))
            return why ?? other;
        var isPlus = node.Sign == "+";
        if (Unified(node, (node.Left, a), (node.Right!, b), true) is not { } pair)
            return null;
        var (one, two) = (_types[pair.A].Measure, _types[pair.B].Measure);
        if (one.Warmth == Warmth.Temperature && two.Warmth == Warmth.Temperature && isPlus)
            return Wrong(
                node,
                $"{Of(node.Left)} and {Of(node.Right!)} are temperatures, each with a zero of its own; they cannot be added. Take a "
                    + "difference, or mean(...)."
            );
        if (one.Warmth != Warmth.Temperature && two.Warmth == Warmth.Temperature && !isPlus)
            return Wrong(node, $"{Of(node.Right!)} is a temperature and {Of(node.Left)} a difference: turn them round.");
        // A difference is converted by its size alone, a temperature with its zero.
        var measure =
            one.Warmth == Warmth.Temperature && two.Warmth == Warmth.Temperature ? one.Apart()
            : two.Warmth == Warmth.Temperature ? two
            : one;
        return Emit(
            new(isPlus ? StepKind.Add : StepKind.Subtract, pair.A, pair.B),
            FormulaType.Number(measure) with
            {
                IsBare = _types[a].IsBare && _types[b].IsBare,
            },
            node
        );
    }

    /// <summary>Two numbers in the size of one of them.</summary>
    private (int A, int B)? Unified(FormulaNode whole, (FormulaNode Node, int Step) one, (FormulaNode Node, int Step) two, bool isSum)
    {
        var (left, right) = (_types[one.Step], _types[two.Step]);
        if (left.IsBare && right.IsBare)
            return (one.Step, two.Step);
        if (left.IsBare || right.IsBare)
        {
            var (bare, its) = left.IsBare ? (one, right) : (two, left);
            if (!its.Measure.Terms.IsEmpty)
            {
                if (bare.Node is NumberNode { Value: 0 } && its.Measure.Warmth is not Warmth.Temperature)
                    return (one.Step, two.Step);
                var symbol = its.Measure.Symbol(Units);
                Wrong(
                    bare.Node,
                    $"{Of(bare.Node)} has no unit, {Of(left.IsBare ? two.Node : one.Node)} is in {symbol}: write {Of(bare.Node)} {symbol}.",
                    bare.Node is NumberNode ? $"{Of(bare.Node)} {symbol}" : null
                );
                return null;
            }
            return (one.Step, two.Step);
        }
        var (from, to) = (right.Measure, left.Measure);
        if (from.Dimension != to.Dimension)
        {
            Wrong(
                whole,
                whole is SignNode sign
                    ? $"{Of(one.Node)} is {In(one.Step)}, {Of(two.Node)} is {In(two.Step)}: {Verb(sign.Sign)}."
                    : $"{Of(one.Node)} is {In(one.Step)}, {Of(two.Node)} is {In(two.Step)}: they do not go together."
            );
            return null;
        }
        if (to.Warmth is Warmth.Difference or Warmth.Either && from.Warmth == Warmth.Temperature && isSum)
            return (Convert(one.Step, from.Apart(), one.Node), two.Step);
        if (to.Warmth == Warmth.Temperature && from.Warmth is Warmth.Difference or Warmth.Either && isSum)
            return (one.Step, Convert(two.Step, to.Apart(), two.Node));
        if (
            !isSum
            && (to.Warmth == Warmth.Difference) != (from.Warmth == Warmth.Difference)
            && to.Warmth != Warmth.Either
            && from.Warmth != Warmth.Either
        )
        {
            Wrong(
                whole,
                $"{Of(one.Node)} is {_types[one.Step].Words(Units)}, {Of(two.Node)} is {_types[two.Step].Words(Units)}: "
                    + "one is a temperature, the other a difference of two."
            );
            return null;
        }
        return (one.Step, Convert(two.Step, to, two.Node));
    }

    private static string Verb(string sign) =>
        sign switch
        {
            "+" => "they cannot be added",
            "-" => "one cannot be taken from the other",
            _ => "they cannot be compared",
        };

    private int Convert(int step, Measure to, FormulaNode node)
    {
        var conversion = _types[step].Measure.To(to);
        if (conversion.IsNone)
            return _types[step].Measure == to ? step : Retype(step, to, node);
        // A constant is converted once.
        if (_steps[step] is { Kind: StepKind.Constant } constant)
            return Emit(new(StepKind.Constant, K: conversion.Of(constant.K)), FormulaType.Number(to), (node.At, node.At));
        return Emit(new(StepKind.Convert, step, K: conversion.Factor, L: conversion.Offset), FormulaType.Number(to), (node.At, node.At));
    }

    // The number stays, what it is called changes: no step is needed, but the type of the step may be another's.
    private int Retype(int step, Measure to, FormulaNode node) =>
        _types[step].Measure.Warmth == to.Warmth
            ? step
            : Emit(new(StepKind.Convert, step, K: 1), FormulaType.Number(to), (node.At, node.At));

    private int? Product(SignNode node, int a, int b)
    {
        if (!IsNumber(node.Left, a, out var why) | !IsNumber(node.Right!, b, out var other))
            return why ?? other;
        foreach (var (piece, step) in new[] { (node.Left, a), (node.Right!, b) })
            if (_types[step].Measure.Warmth == Warmth.Temperature)
                return Wrong(
                    piece,
                    $"{Of(piece)} is a temperature {In(step)} with a zero of its own; it cannot be "
                        + $"{(node.Sign == "*" ? "multiplied" : "divided")}. Take a difference of two temperatures, "
                        + $"or kelvin({Of(piece)}).",
                    $"kelvin({Of(piece)})"
                );
        if (node.Sign == "/" && _steps[b] is { Kind: StepKind.Constant, K: 0 })
            return Wrong(node.Right!, "Nothing can be divided by 0.");
        var measure = _types[a].Measure.Times(_types[b].Measure, node.Sign == "*" ? 1 : -1);
        return Emit(
            new(node.Sign == "*" ? StepKind.Multiply : StepKind.Divide, a, b),
            FormulaType.Number(measure) with
            {
                IsBare = _types[a].IsBare && _types[b].IsBare,
            },
            node
        );
    }

    private int? Power(SignNode node, int a, int b)
    {
        if (!IsNumber(node.Left, a, out var why) | !IsNumber(node.Right!, b, out var other))
            return why ?? other;
        if (_types[b].Measure.Dimension != Dimension.None)
            return Wrong(node.Right!, $"{Of(node.Right!)} is {In(b)}; an exponent is a pure number.");
        if (_types[a].Measure.Warmth == Warmth.Temperature)
            return Wrong(node.Left, $"{Of(node.Left)} is a temperature with a zero of its own; write kelvin({Of(node.Left)}).");
        var exponent = Plain(b, node.Right!);
        if (_types[a].Measure.Terms.IsEmpty)
            return Emit(new(StepKind.Power, a, exponent), _types[a] with { IsBare = _types[a].IsBare && _types[b].IsBare }, node);
        if (ConstantOf(exponent) is not { } power)
            return _types[a].Measure.Dimension == Dimension.None
                ? Emit(new(StepKind.Power, Plain(a, node.Left), exponent), FormulaType.Number(Measure.One), node)
                : Wrong(node.Right!, $"{Of(node.Left)} is {In(a)}: its exponent has to be a whole number, so that the unit is known.");
        if (power == 0.5)
            return _types[a].Measure.Root() is { } root
                ? Emit(new(StepKind.Sqrt, a), FormulaType.Number(root), node)
                : Wrong(node, $"{Of(node.Left)} is {In(a)}, which has no square root.");
        if (power != Math.Floor(power) || Math.Abs(power) > 9)
            return Wrong(node.Right!, $"{Of(node.Left)} is {In(a)}: its exponent has to be a whole number from -9 to 9.");
        return Emit(new(StepKind.Power, a, exponent), FormulaType.Number(_types[a].Measure.ToThe((int)power)), node);
    }

    private double? ConstantOf(int step) =>
        _steps[step] switch
        {
            { Kind: StepKind.Constant, K: var k } => k,
            { Kind: StepKind.Negate, A: var a } when ConstantOf(a) is { } k => -k,
            _ => null,
        };

    private int Plain(int step, FormulaNode node) => Convert(step, Measure.One, node);

    private int? Comparison(SignNode node, int a, int b)
    {
        var kind = node.Sign switch
        {
            "<" => StepKind.Less,
            "<=" => StepKind.LessOrEqual,
            ">" => StepKind.Greater,
            ">=" => StepKind.GreaterOrEqual,
            "=" => StepKind.Equal,
            _ => StepKind.NotEqual,
        };
        var (left, right) = (_types[a], _types[b]);
        if (kind is StepKind.Equal or StepKind.NotEqual && left.Kind == right.Kind && left.Kind is FormulaKind.Truth or FormulaKind.State)
            return left.States?.Id == right.States?.Id || left.Kind == FormulaKind.Truth
                ? Emit(new(kind, a, b), FormulaType.Truth, node)
                : Wrong(node, $"{Of(node.Left)} and {Of(node.Right!)} are states of different lists.");
        if (left.Kind == FormulaKind.State)
            return Wrong(node, $"{Of(node.Left)} is {left.Words(Units)}; write {Of(node.Left)} is {ExampleOf(left.States)}.");
        if (!IsNumber(node.Left, a, out var why) | !IsNumber(node.Right!, b, out var other))
            return why ?? other;
        return Unified(node, (node.Left, a), (node.Right!, b), false) is { } pair
            ? Emit(new(kind, pair.A, pair.B), FormulaType.Truth, node)
            : null;
    }

    /// <summary>Pieces of one kind, numbers in the size of the first that has one.</summary>
    private (int[] Steps, FormulaType Type)? Alike(FormulaNode whole, (FormulaNode Node, int Step)[] pieces)
    {
        var first = pieces[0];
        var kind = _types[first.Step].Kind;
        foreach (var piece in pieces)
            if (
                _types[piece.Step].Kind != kind
                || kind == FormulaKind.State && _types[piece.Step].States?.Id != _types[first.Step].States?.Id
            )
            {
                Wrong(
                    piece.Node,
                    $"{Of(piece.Node)} is {_types[piece.Step].Words(Units)}, {Of(first.Node)} is {_types[first.Step].Words(Units)}: "
                        + "both have to be of one kind."
                );
                return null;
            }
        if (kind == FormulaKind.Text)
        {
            Wrong(whole, "Texts cannot be worked with; a formula of text is which min(...) or which max(...).");
            return null;
        }
        if (kind != FormulaKind.Number)
            return ([.. pieces.Select(p => p.Step)], _types[first.Step]);
        var model = pieces.FirstOrDefault(p => !_types[p.Step].IsBare, first);
        var steps = new int[pieces.Length];
        for (var i = 0; i < pieces.Length; i++)
        {
            if (Unified(whole, model, pieces[i], false) is not { } pair)
                return null;
            steps[i] = pair.B;
        }
        return (steps, _types[model.Step]);
    }

    private int? Choice(IfNode node)
    {
        var (question, then, otherwise) = (Piece(node.If), Piece(node.Then), Piece(node.Else));
        if (question is not { } q || !IsTruth(node.If, q) || then is not { } a || otherwise is not { } b)
            return null;
        return Alike(node, [(node.Then, a), (node.Else, b)]) is { } both
            ? Emit(new(StepKind.If, q, both.Steps[0], both.Steps[1]), both.Type, node)
            : null;
    }

    private int? State(IsNode node)
    {
        if (Piece(node.Left) is not { } left)
            return null;
        var type = _types[left];
        double? value =
            type.Kind == FormulaKind.Truth && node.State is "true" or "false" ? (node.State == "true" ? 1 : 0)
            : type.Kind is FormulaKind.State or FormulaKind.Truth && type.States is { } list ? ValueOf(list, node.State)
            : null;
        if (value is null)
        {
            if (type.Kind == FormulaKind.Number)
                return Wrong(
                    node,
                    $"{Of(node.Left)} is a number; compare it: {Of(node.Left)} = {node.State}.",
                    $"{Of(node.Left)} = {node.State}"
                );
            if (type.Kind == FormulaKind.Text)
                return Wrong(node, $"{Of(node.Left)} is text; formulas work with numbers, states, true and false.");
            var names = type.States?.States.Select(s => s.Name).ToArray() ?? ["true", "false"];
            var near = names.FirstOrDefault(n => Naming.Distance(n.ToLowerInvariant(), node.State.ToLowerInvariant()) <= 2);
            return Wrong(
                node.StateAt,
                node.StateEnd,
                $"'{node.State}' is no state of {type.States?.Name ?? Of(node.Left)}; there are {string.Join(", ", names.Take(12))}.",
                near is null ? null
                    : near.Contains(' ', StringComparison.Ordinal) ? $"\"{near}\""
                    : near
            );
        }
        var constant = Emit(new(StepKind.Constant, K: value.Value), type, (node.StateAt, node.StateAt));
        return Emit(new(node.IsNot ? StepKind.NotEqual : StepKind.Equal, left, constant), FormulaType.Truth, node);
    }

    private static double? ValueOf(StateList list, string text) =>
        list.StateOf(text)?.Value
        ?? list.States.Where(s => s.Name.Equals(text, StringComparison.OrdinalIgnoreCase)).Select(s => (double?)s.Value).FirstOrDefault();

    private static string ExampleOf(StateList? list) => list is { States: [var first, ..] } ? first.Name : "...";

    private int? Call(CallNode node)
    {
        var steps = node.Arguments.Select(a => (Node: a, Step: Piece(a))).ToArray();
        if (steps.Any(s => s.Step is null))
            return null;
        (FormulaNode Node, int Step)[] pieces = [.. steps.Select(s => (s.Node, s.Step!.Value))];
        var (a, first) = (pieces[0].Step, pieces[0].Node);
        if (node.Function.Name == "good")
            return Emit(new(StepKind.Good, a), FormulaType.Truth, node);
        foreach (var (piece, step) in pieces)
            if (!IsNumber(piece, step, out var why))
                return why;
        switch (node.Function.Name)
        {
            case "abs":
            case "round":
            case "floor":
            case "ceil":
                var kind = Enum.Parse<StepKind>(node.Function.Name, true);
                return Emit(new(kind, a), _types[a], node);
            case "min" or "max" when node.IsWhich:
                if (Alike(node, pieces) is not { } which)
                    return null;
                _lists.Add([.. which.Steps, _texts.Count]);
                _texts.AddRange(node.Arguments.Select(Of));
                return Emit(
                    new(node.Function.Name == "min" ? StepKind.WhichMin : StepKind.WhichMax, _lists.Count - 1),
                    FormulaType.Text,
                    node
                );
            case "min":
            case "max":
                return Alike(node, pieces) is { } several
                    ? several
                        .Steps.Skip(1)
                        .Aggregate(several.Steps[0], (before, next) =>
                            Emit(new(node.Function.Name == "min" ? StepKind.Min : StepKind.Max, before, next), several.Type, node)
                        )
                    : null;
            case "sum":
            case "mean":
                return Alike(node, pieces) is { } added ? Together(node, added.Steps, added.Type) : null;
            case "clamp":
                if (Alike(node, pieces) is not { } clamped)
                    return null;
                var raised = Emit(new(StepKind.Max, clamped.Steps[0], clamped.Steps[1]), clamped.Type, (node.At, node.At));
                return Emit(new(StepKind.Min, raised, clamped.Steps[2]), clamped.Type, node);
            case "sqrt":
                return _types[a].Measure.Warmth != Warmth.Temperature && _types[a].Measure.Root() is { } root
                        ? Emit(new(StepKind.Sqrt, a), _types[a] with { Measure = root }, node)
                    : _types[a].Measure.Dimension == Dimension.None
                        ? Emit(new(StepKind.Sqrt, Plain(a, first)), FormulaType.Number(Measure.One), node)
                    : Wrong(first, $"{Of(first)} is {In(a)}, which has no square root.");
            case "kelvin":
                return _types[a].Measure.Warmth is Warmth.Temperature or Warmth.Either
                    ? Emit(
                        new(
                            StepKind.Convert,
                            a,
                            K: _types[a].Measure.To(Measure.Of(Units.Find("KEL")!)).Factor,
                            L: _types[a].Measure.To(Measure.Of(Units.Find("KEL")!)).Offset
                        ),
                        FormulaType.Number(Measure.Of(Units.Find("KEL")!)),
                        node
                    )
                    : Wrong(first, $"{Of(first)} is {_types[a].Words(Units)}; kelvin takes a temperature.");
            case "atan2":
                return Unified(node, pieces[0], pieces[1], true) is { } pair
                    ? Emit(new(StepKind.Atan2, pair.A, pair.B), FormulaType.Number(Measure.One), node)
                    : null;
            case "sin":
            case "cos":
            case "tan":
                if (_types[a].Measure.Dimension == Dimension.Of(BaseQuantity.Angle))
                    a = Convert(a, Measure.Of(Units.Find("C81")!), first);
                else if (_types[a].Measure.Dimension != Dimension.None)
                    return Wrong(first, $"{Of(first)} is {In(a)}; {node.Function.Name} takes an angle.");
                else
                    a = Plain(a, first);
                return Emit(new(Enum.Parse<StepKind>(node.Function.Name, true), a), FormulaType.Number(Measure.One), node);
            default:
                return _types[a].Measure.Dimension == Dimension.None
                    ? Emit(new(Enum.Parse<StepKind>(node.Function.Name, true), Plain(a, first)), FormulaType.Number(Measure.One), node)
                    : Wrong(first, $"{Of(first)} is {In(a)}; {node.Function.Name} takes a pure number.");
        }
    }

    private int? Together(CallNode node, int[] steps, FormulaType type)
    {
        if (type.Measure.Warmth == Warmth.Temperature && node.Function.Name == "sum")
            return Wrong(node, "Temperatures have zeros of their own and cannot be added up; take their mean.");
        var sum = steps[0];
        foreach (var next in steps.Skip(1))
            sum = Emit(new(StepKind.Add, sum, next), type, (node.At, node.At));
        if (node.Function.Name == "sum")
            return Emit(new(StepKind.Convert, sum, K: 1), type, node);
        var count = Emit(new(StepKind.Constant, K: steps.Length), FormulaType.Number(Measure.One), (node.At, node.At));
        return Emit(new(StepKind.Divide, sum, count), type, node);
    }

    private int? Set(SetNode node)
    {
        if (_isInner)
            return Wrong(node, "A set inside a set needs a property of its own at each instance.");
        if (_names.Below(node.Template) is not { } below)
        {
            _problems.Add(_names.UnknownTemplate(node.Template, node.TemplateAt, node.TemplateEnd));
            return null;
        }
        FormulaProgram? inner = null;
        if (node.Inner is { } each)
        {
            var compiler = new FormulaCompiler(below, _text, true);
            var (program, problems) = compiler.End(compiler.Piece(each), each);
            if (program is null)
            {
                _problems.AddRange(problems);
                return null;
            }
            inner = program;
        }
        var kind = node.Function.Set!.Value;
        if (inner is not null && (inner.Result.Kind == FormulaKind.Truth) != (kind == SetKind.Count))
            return Wrong(
                node.Inner!,
                kind == SetKind.Count
                    ? $"{Of(node.Inner!)} is {inner.Result.Words(Units)}; count takes what is true or false, "
                        + $"for example {Of(node.Inner!)} > 0."
                    : $"{Of(node.Inner!)} is {inner.Result.Words(Units)}; {node.Function.Name} takes numbers."
            );
        if (inner is not null && inner.Result.Kind is FormulaKind.State or FormulaKind.Text)
            return Wrong(node.Inner!, $"{Of(node.Inner!)} is {inner.Result.Words(Units)}; {node.Function.Name} takes numbers.");
        if (kind == SetKind.Sum && inner!.Result.Measure.Warmth == Warmth.Temperature)
            return Wrong(node, "Temperatures have zeros of their own and cannot be added up; take their mean.");
        _sets.Add(new(kind, node.Template, node.Labels, inner, node.IsWhich));
        return Emit(
            new(StepKind.Set, _sets.Count - 1),
            node.IsWhich ? FormulaType.Text
                : kind == SetKind.Count ? FormulaType.Number(Measure.One)
                : FormulaType.Number(inner!.Result.Measure),
            node
        );
    }

    private int? Timed(OverTimeNode node)
    {
        if (_isInner)
            return Wrong(node, $"{node.Function.Name} inside a set needs a property of its own at each instance; then take that.");
        var kind = node.Function.OverTime!.Value;
        var clauses = node.Clauses;
        if (Complaint(node, kind) is { } complaint)
            return Wrong(node, complaint);
        if (Piece(node.Operand) is not { } input)
            return null;
        var type = _types[input];
        var isCondition = kind is OverTimeKind.Time || kind is OverTimeKind.Starts && type.Kind != FormulaKind.Number;
        if (
            isCondition
                ? !IsTruth(node.Operand, input)
                : kind is not (OverTimeKind.Held or OverTimeKind.Value) && !IsNumber(node.Operand, input, out _)
        )
            return null;
        if (type.Kind == FormulaKind.Text)
            return Wrong(node.Operand, $"{Of(node.Operand)} is text; formulas work with numbers, states, true and false.");
        if (kind is OverTimeKind.Total && type.Measure.Warmth == Warmth.Temperature)
            return Wrong(
                node.Operand,
                $"{Of(node.Operand)} is a temperature with a zero of its own; total a difference: {Of(node.Operand)} - 5 °C."
            );
        var (reset, when, from) = (Condition(clauses.ResetWhen), Condition(clauses.When), -1);
        if (reset is null || when is null)
            return null;
        if (clauses.From is { } least)
        {
            if (
                Piece(least) is not { } cut
                || !IsNumber(least, cut, out _)
                || Unified(node, (node.Operand, input), (least, cut), false) is not { } pair
            )
                return null;
            from = pair.B;
        }
        var hour = TimeUnitOf(type.Measure);
        var result = kind switch
        {
            OverTimeKind.Starts => FormulaType.Number(Measure.One),
            OverTimeKind.Time or OverTimeKind.Held => FormulaType.Number(Measure.Second),
            OverTimeKind.Range or OverTimeKind.Deviation => FormulaType.Number(type.Measure.Apart()),
            OverTimeKind.Rate => FormulaType.Number(type.Measure.Apart().Times(Measure.Second, -1)),
            OverTimeKind.Total => FormulaType.Number(type.Measure.Times(hour)),
            _ => type,
        };
        var window = (long)((clauses.LastSeconds ?? 0) * TimeSpan.TicksPerSecond);
        var pane = clauses.EverySeconds is { } every ? (long)(every * TimeSpan.TicksPerSecond) : UsualPane(window);
        if (window > 0 && (pane > window || window % pane != 0 || window / pane > MostPanes))
            return Wrong(
                node,
                pane > window ? "A window cannot move on by more than it is long."
                    : window / pane > MostPanes ? $"A window has at most {MostPanes} steps; let it move on less often."
                    : "A window is a whole number of steps long: last 1 h every 5 min."
            );
        _times.Add(
            new(
                kind,
                input,
                reset.Value,
                when.Value,
                from,
                window,
                window > 0 ? pane : 0,
                clauses.LastSpan,
                clauses.Each,
                clauses.ResetAt,
                kind == OverTimeKind.Filter ? clauses.BySeconds!.Value : hour.Factor,
                clauses.IsSloped,
                $"{Of(node)} {type.Measure.Product()}"
            )
        );
        return Emit(new(StepKind.OverTime, _times.Count - 1, input), result with { IsBare = false }, node);

        int? Condition(FormulaNode? at) =>
            at is null ? -1
            : Piece(at) is { } step && IsTruth(at, step) ? step
            : null;
    }

    private static long UsualPane(long window)
    {
        var panes = Math.Clamp(window / TimeSpan.TicksPerSecond, 1, UsualPanes);
        while (window % panes != 0)
            panes--;
        return window / panes;
    }

    private Measure TimeUnitOf(Measure rate)
    {
        foreach (var code in (string[])["HUR", "MIN", "SEC", "DAY"])
            if (Units.Find(code) is { } unit && rate.Terms.GetValueOrDefault(unit.Symbol) == -1)
                return Measure.Of(unit);
        // A rate that does not say per what, as kW, counts hours.
        return Measure.Of(Units.Find("HUR")!);
    }

    private static string? Complaint(OverTimeNode node, OverTimeKind kind)
    {
        var (clauses, name, example) = (node.Clauses, node.Function.Name, node.Function.Example);
        var counts = kind is OverTimeKind.Total or OverTimeKind.Starts or OverTimeKind.Time;
        if (node.Function.NeedsWindow && !clauses.HasWindow)
            return $"{name} needs a window: {example}.";
        if (clauses.HasWindow && !node.Function.NeedsWindow && !counts)
            return $"{name} has no window: {example}.";
        if (clauses.EverySeconds is not null && clauses.LastSeconds is null)
            return "every says how often a window moves on: last 1 h every 1 min.";
        if (clauses.HasReset && (!counts || clauses.HasWindow))
            return counts ? "A window moves on by itself; it is not reset." : $"{name} is not reset: {example}.";
        if (kind == OverTimeKind.Filter != clauses.BySeconds is not null)
            return kind == OverTimeKind.Filter ? $"filter needs its time constant: {example}." : $"by is for filter; {example}.";
        if (kind == OverTimeKind.Value != clauses.When is not null)
            return kind == OverTimeKind.Value ? $"value needs when: {example}." : $"when is for value; {example}.";
        return (clauses.From is not null || clauses.IsSloped) && kind != OverTimeKind.Total ? "from and sloped are for total." : null;
    }

    /// <summary>The result in the property's type and unit.</summary>
    private int? Fit(int step, FormulaTarget target, FormulaNode root)
    {
        var (type, wanted) = (_types[step], FormulaType.Of(target.Type, target.Unit, target.States));
        if (type.Kind != wanted.Kind || target.Type == PropertyType.Time)
            return Wrong(root, $"It gives {type.Words(Units)}, the property is {target.Type.Words()}.");
        if (type.Kind == FormulaKind.State && type.States?.Id != wanted.States?.Id)
            return Wrong(root, $"It gives {type.Words(Units)}, the property is {wanted.Words(Units)}.");
        if (type.Kind != FormulaKind.Number)
            return step;
        var (from, to) = (type.Measure, wanted.Measure);
        if (from.Dimension != to.Dimension || type.IsBare && !to.Terms.IsEmpty)
            return Wrong(
                root,
                type.IsBare && !to.Terms.IsEmpty ? $"It gives a number without unit, the property is in {to.Symbol(Units)}."
                    : to.Terms.IsEmpty ? $"It gives {type.Words(Units)}; give the property that unit."
                    : $"It gives {type.Words(Units)}, the property is in {to.Symbol(Units)}."
            );
        if (from.Warmth == Warmth.Difference && to.Warmth == Warmth.Temperature)
            return Wrong(
                root,
                $"It gives a difference of temperatures; {to.Symbol(Units)} has a zero of its own. Give the property the unit K."
            );
        if (from.Warmth == Warmth.Temperature && to.Warmth == Warmth.Difference)
            return Wrong(root, $"It gives a temperature, the property is a difference of two.");
        step = Convert(step, to, root);
        return target.Type == PropertyType.Integer ? Emit(new(StepKind.Round, step), FormulaType.Number(to), (root.At, root.At)) : step;
    }
}
