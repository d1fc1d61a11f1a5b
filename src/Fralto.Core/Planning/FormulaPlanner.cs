using System.Collections.Immutable;
using Fralto.Core.Formulas;
using Fralto.Core.Hierarchy;
using Fralto.Core.Plant;
using Fralto.Core.Properties;
using Fralto.Core.Rules;

namespace Fralto.Core.Planning;

/// <summary>Puts the formulas of a model in order: which point each takes, and which come first.</summary>
/// <param name="model">The model.</param>
/// <param name="pointOf">The point of a property of an instance; -1 where it has none.</param>
internal sealed class FormulaPlanner(PlantModel model, Func<(long EquipmentId, long PropertyId), int> pointOf)
{
    private readonly Func<string, bool> _isCode = FormulaNames.Codes(model);
    private readonly Dictionary<string, Formula> _read = [];
    private readonly Dictionary<(string Text, string Types), FormulaProgram> _programs = [];
    private readonly List<PlanFormula> _formulas = [];
    private readonly List<PlanSet> _sets = [];

    /// <summary>Takes what the formulas look at that are added from now on; null where nobody asks.</summary>
    public FormulaSight? Sight { get; set; }

    /// <summary>Each point that is worked out, with a point it takes.</summary>
    public IEnumerable<(int Point, int Takes)> Takes =>
        from formula in _formulas
        let point = formula.Set < 0 ? formula.Point : _formulas[_sets[formula.Set].Formula].Point
        where point >= 0
        from operand in formula.Operands
        where operand >= 0
        select (point, operand);

    /// <summary>The formulas, the first to be worked out first.</summary>
    public ImmutableArray<PlanFormula> Formulas { get; private set; } = [];

    /// <summary>The sets they take.</summary>
    public ImmutableArray<PlanSet> Sets => [.. _sets];

    /// <summary>What formulas take and nothing gives a value to.</summary>
    public List<(Equipment Instance, ResolvedProperty Property, string Reference)> Missing { get; } = [];

    /// <summary>Adds the formula of a point.</summary>
    /// <param name="instance">The instance.</param>
    /// <param name="property">The property, with all that its layers say.</param>
    /// <param name="point">The point it feeds.</param>
    /// <param name="place">Where the value is kept when the point is a command that follows it; -1 when the point is worked out.</param>
    /// <returns>Why it does not hold here; null when it does.</returns>
    public string? Add(Equipment instance, ResolvedProperty property, int point, int place = -1)
    {
        var names = NamesOf(instance);
        var text = property.Facts.Formula!;
        if (!_read.TryGetValue(text, out var formula))
            _read[text] = formula = Formula.Read(text, model.Units, _isCode);
        var (program, broken) = Program(
            formula,
            names,
            FormulaNames.TargetOf(model, property),
            $"{property.Declaration.Type} {property.Facts.Unit} {property.Facts.StateListId}"
        );
        if (program is null)
        {
            if (place < 0)
                _formulas.Add(new(null, point, -1, 0, [], [], 0, broken));
            return broken;
        }
        foreach (var missing in Add(instance, program, names, point, place))
            Missing.Add((instance, property, missing));
        return null;
    }

    /// <summary>The program of a limit's formula at an instance, in whatever unit it comes to, or why there is none.</summary>
    public (FormulaProgram? Program, string? Broken) Watch(Equipment instance, string text)
    {
        if (!_read.TryGetValue(text, out var formula))
            _read[text] = formula = Formula.Read(text, model.Units, _isCode);
        return Program(formula, NamesOf(instance), null, "anything");
    }

    /// <summary>Adds the formula of a limit.</summary>
    /// <returns>What it takes and nothing gives a value to.</returns>
    public IReadOnlyList<string> AddWatch(Equipment instance, FormulaProgram program, int point) =>
        Add(instance, program, NamesOf(instance), point, -1);

    private List<string> Add(Equipment instance, FormulaProgram program, FormulaNames names, int point, int place)
    {
        var number = _formulas.Count;
        _formulas.Add(
            new(program, place < 0 ? point : -1, -1, 0, Operands(program, names), new int[program.Sets.Length], 0)
            {
                Follower = place < 0 ? -1 : point,
                Place = place,
            }
        );
        var (operands, missing) = (_formulas[number].Operands, new List<string>());
        for (var i = 0; i < operands.Length; i++)
            if (operands[i] < 0)
                missing.Add($"{program.Operands[i]}");
        for (var i = 0; i < program.Sets.Length; i++)
            _formulas[number].Sets[i] = AddSet(instance, program.Sets[i], number);
        return missing;
    }

    /// <summary>Puts all in order.</summary>
    /// <returns>Points that would be worked out of themselves, each with the way.</returns>
    public IReadOnlyList<(int Point, string Way)> Order(Func<int, string> pathOf)
    {
        var ofPoint = new Dictionary<int, int>();
        for (var i = 0; i < _formulas.Count; i++)
            if (_formulas[i].Point >= 0)
                ofPoint[_formulas[i].Point] = i;
        var membersOf = _sets.Select(_ => new List<int>()).ToArray();
        for (var i = 0; i < _formulas.Count; i++)
            if (_formulas[i].Set >= 0)
                membersOf[_formulas[i].Set].Add(i);
        var ranks = new int[_formulas.Count];
        var (open, circles) = (new List<int>(), new List<(int, string)>());
        var inCircle = new HashSet<int>();
        // Depth first, without recursion: a chain of formulas may be as long as the plant is wide.
        var stack = new Stack<(int Formula, IEnumerator<int> Needs)>();
        for (var i = 0; i < _formulas.Count; i++)
        {
            if (ranks[i] != 0)
                continue;
            Enter(i);
            while (stack.TryPeek(out var at))
            {
                if (at.Needs.MoveNext())
                {
                    var need = at.Needs.Current;
                    if (ranks[need] == 0)
                        Enter(need);
                    else if (ranks[need] < 0)
                    {
                        var way = open[open.IndexOf(need)..];
                        var names = way.Where(f => _formulas[f].Point >= 0)
                            .Select(f => pathOf(_formulas[f].Point))
                            .Append(pathOf(PointOf(need, way)));
                        var words = $"is worked out of itself: {string.Join(" ← ", names)}";
                        foreach (var f in way.Where(f => _formulas[f].Point >= 0 && inCircle.Add(f)))
                            circles.Add((_formulas[f].Point, words));
                    }
                    continue;
                }
                stack.Pop();
                open.RemoveAt(open.Count - 1);
                ranks[at.Formula] = 1 + Needs(at.Formula).Select(n => Math.Max(0, ranks[n])).DefaultIfEmpty(0).Max();
            }
        }
        // From what keeps something back to all it is worked out of.
        var eager = new bool[_formulas.Count];
        foreach (var f in Enumerable.Range(0, ranks.Length).OrderByDescending(f => ranks[f]))
        {
            eager[f] |= _formulas[f].Program is { HasState: true };
            if (eager[f])
                foreach (var need in Needs(f))
                    eager[need] = true;
        }
        for (var i = 0; i < _formulas.Count; i++)
            _formulas[i] = inCircle.Contains(i)
                ? _formulas[i] with
                {
                    Program = null,
                    Operands = [],
                    Sets = [],
                    Rank = ranks[i],
                    Broken = circles.First(c => c.Item1 == _formulas[i].Point).Item2,
                }
                : _formulas[i] with
                {
                    Rank = ranks[i],
                    IsEager = eager[i],
                };
        Formulas = [.. _formulas];
        return circles;

        void Enter(int formula)
        {
            ranks[formula] = -1;
            open.Add(formula);
            stack.Push((formula, Needs(formula).GetEnumerator()));
        }

        IEnumerable<int> Needs(int formula)
        {
            foreach (var operand in _formulas[formula].Operands)
                if (operand >= 0 && ofPoint.TryGetValue(operand, out var need))
                    yield return need;
            foreach (var set in _formulas[formula].Sets)
            foreach (var member in membersOf[set])
                yield return member;
        }

        int PointOf(int formula, List<int> way) =>
            _formulas[formula].Point >= 0 ? _formulas[formula].Point : _formulas[way.First(f => _formulas[f].Point >= 0)].Point;
    }

    private int[] Operands(FormulaProgram program, FormulaNames names) =>
        [.. program.Operands.Select(r => names.Find(r) is { At: { } at } found ? pointOf((at.Id, found.Property.Id)) : -1)];

    private int AddSet(Equipment place, SetUse use, int formula)
    {
        if (Sight is { } sight)
        {
            // A program that is known is not compiled again, and does not say what that would look at.
            sight.Below.Add(place.Id);
            sight.Nodes.Add(FormulaNames.AnyTemplate);
            if (use.Inner?.Operands.Any(o => o.Place != ReferencePlace.Own) == true)
                sight.Nodes.Add(FormulaNames.AnyInstance);
        }
        var members = SetMembers.Of(model, place, use);
        var set = _sets.Count;
        _sets.Add(new(use, formula, [.. members.Select(m => m.Name)]));
        for (var i = 0; i < members.Length; i++)
        {
            if (use.Inner is null)
                continue;
            var names = NamesOf(members[i]);
            // Where a member measures in another unit, it is converted for itself.
            var (program, broken) = Inner(use, names);
            _formulas.Add(new(program, -1, set, i, program is null ? [] : Operands(program, names), [], 0, broken));
        }
        return set;
    }

    private (FormulaProgram? Program, string? Broken) Inner(SetUse use, FormulaNames names)
    {
        var types = string.Join('|', use.Inner!.Operands.Select(r => Typed(names.TypeOf(r))));
        var key = ($"set {use.Inner.Text}", $"{types}>{use.Inner.Result.Words(model.Units)} {use.Inner.Places[^1]}");
        if (_programs.TryGetValue(key, out var known))
            return (known, null);
        var (program, problems) = FormulaCompiler.CompileInner(use.Inner, names);
        return Known(key, program, problems);
    }

    private (FormulaProgram? Program, string? Broken) Program(Formula formula, FormulaNames names, FormulaTarget? target, string wanted)
    {
        if (formula.Problem is { } unread)
            return (null, unread.Words);
        var types = string.Join('|', formula.References.Select(r => Typed(names.TypeOf(r.Reference))));
        var key = (formula.Text, $"{types}>{wanted}");
        if (_programs.TryGetValue(key, out var known))
            return (known, null);
        var (program, problems) = FormulaCompiler.Compile(formula, names, target);
        return Known(key, program, problems);
    }

    /// <summary>Programs are shared; why there is none names the instance, and is not.</summary>
    private (FormulaProgram? Program, string? Broken) Known(
        (string, string) key,
        FormulaProgram? program,
        IReadOnlyList<FormulaProblem> problems
    )
    {
        if (program is null)
            return (null, problems[0].Words);
        _programs[key] = program;
        return (program, null);
    }

    private FormulaNames NamesOf(Equipment instance) => FormulaNames.Of(model, instance, Sight?.Nodes);

    private static string Typed(FormulaType? type) =>
        type is null ? "?" : $"{type.Kind}{type.Measure.Product()}{type.States?.Id}{type.Measure.Warmth}";
}
