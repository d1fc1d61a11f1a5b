using System.Globalization;
using Fralto.Core.Formulas;
using Fralto.Core.Planning;
using Fralto.Core.Quality;

namespace Fralto.Core.Engine;

/// <summary>Works out the formulas of a plan: those whose operands have moved, each once, after those it needs.</summary>
internal sealed class FormulaRunner
{
    private const int MostDue = 20_000;
    private const string NotThere = "has no value here: it is not bound, or not there";
    private readonly PriorityQueue<int, int> _queue = new();
    private readonly FormulaMachine _machine = new();
    private readonly List<int> _due = [];
    private readonly Plan _plan;
    private readonly HotPoint[] _points;
    private readonly HotTag[] _tags;
    private readonly OverTimeState[][] _states;
    private readonly SetTree[] _sets;
    private readonly bool[] _isQueued;
    private readonly (int Why, StatusCode Status, object? About)[] _reasonOf;
    private readonly string?[] _reasons;
    private readonly DueWheel _wheel;
    private readonly FormulaValue[] _operands;
    private readonly FormulaValue[] _setValues;
    private bool _hasEager;

    /// <summary>A runner of a plan's formulas.</summary>
    /// <param name="plan">The plan.</param>
    /// <param name="points">The engine's points.</param>
    /// <param name="tags">The engine's tags.</param>
    /// <param name="before">What ran before, whose states are taken over; null for none.</param>
    /// <param name="map">From the plan before to this one; null for none.</param>
    /// <param name="isBeside">True when what ran before goes on: its states are copied.</param>
    public FormulaRunner(Plan plan, HotPoint[] points, HotTag[] tags, FormulaRunner? before, PlanMap? map, bool isBeside = false)
    {
        (_plan, _points, _tags) = (plan, points, tags);
        var count = plan.Formulas.Length;
        _states = new OverTimeState[count][];
        _isQueued = new bool[count];
        _reasonOf = new (int, StatusCode, object?)[count];
        _reasons = new string?[count];
        _wheel = new(count);
        _isTimed = new bool[count];
        _sets = [.. plan.Sets.Select(s => new SetTree(s.Use, s.Names.Length))];
        for (var f = 0; f < count; f++)
            _states[f] = StatesFor(plan.Formulas[f], before, map, isBeside);
        _operands = new FormulaValue[count == 0 ? 0 : plan.Formulas.Max(f => f.Operands.Length)];
        _setValues = new FormulaValue[count == 0 ? 0 : plan.Formulas.Max(f => f.Sets.Length)];
        for (var i = 0; i < points.Length && count > 0; i++)
            points[i].Feeds = plan.DependentsOf(i).Length > 0;
    }

    /// <summary>Called with a place, a value, its status, its time, why and its text, for each point that is worked out.</summary>
    public Action<int, double, StatusCode, long, string?, string?> Give { get; init; } = (_, _, _, _, _, _) => { };

    /// <summary>Says why a point is less than Good.</summary>
    public Func<int, string?> WhyOf { get; init; } = _ => null;

    /// <summary>True while something waits that must not wait for the end of a batch.</summary>
    public bool IsUrgent => _hasEager;

    public bool HasWork => _queue.Count > 0;

    /// <summary>Queues all that take a point.</summary>
    public void Moved(int point)
    {
        foreach (var formula in _plan.DependentsOf(point))
            Queue(formula);
    }

    /// <summary>Queues all there are.</summary>
    public void QueueAll()
    {
        for (var f = 0; f < _states.Length; f++)
            Queue(f);
    }

    /// <summary>Works out what waits.</summary>
    /// <param name="now">When.</param>
    /// <param name="sourceTicks">The time of the sample that set it off, in UTC ticks; 0 for now.</param>
    public void Run(in Moment now, long sourceTicks = 0)
    {
        var moment = MomentOf(in now, sourceTicks);
        while (_queue.TryDequeue(out var formula, out _))
        {
            _isQueued[formula] = false;
            WorkOut(formula, in moment);
        }
        _hasEager = false;
    }

    /// <summary>Queues what time alone moves.</summary>
    public void Advance(in Moment now)
    {
        if (_states.Length == 0)
            return;
        _due.Clear();
        _wheel.Take(now.Ticks, MostDue, _due);
        foreach (var formula in _due)
            if (DueOf(formula) <= now.Ticks)
                Queue(formula);
        Run(in now);
        foreach (var formula in _due)
            Time(formula, now.Ticks);
    }

    /// <summary>Begins the counters of a point anew.</summary>
    /// <returns>False when it has none.</returns>
    public bool Reset(int point, in Moment now)
    {
        var formula = _plan.FormulaOf(point);
        if (formula < 0 || _plan.Formulas[formula].Program is not { HasCounter: true } program)
            return false;
        var moment = MomentOf(in now, 0);
        // What has come until now belongs to what ends.
        WorkOut(formula, in moment);
        for (var i = 0; i < program.Times.Length; i++)
            if (program.Times[i].IsCounter)
                _states[formula][i].Reset(in moment);
        Queue(formula);
        Run(in now);
        return true;
    }

    /// <summary>What formulas keep and has moved since it was asked last.</summary>
    /// <param name="now">When.</param>
    /// <param name="most">At most so many; the others come the next time.</param>
    public IReadOnlyList<FormulaState> TakeMoved(in Moment now, int most)
    {
        var moved = new List<FormulaState>();
        var moment = MomentOf(in now, 0);
        for (var n = 0; n < _states.Length && moved.Count < most; n++)
        {
            var f = _nextKept = (_nextKept + 1) % _states.Length;
            for (var i = 0; i < _states[f].Length; i++)
            {
                if (!_states[f][i].IsDirty)
                    continue;
                _states[f][i].IsDirty = false;
                using var memory = new MemoryStream();
                using (var writer = new BinaryWriter(memory))
                    _states[f][i].Write(writer, in moment);
                var point = _plan.Points[_plan.Formulas[f].Point];
                moved.Add(new(point.EquipmentId, point.PropertyId, i, _plan.Formulas[f].Program!.Times[i].Signature, memory.ToArray()));
            }
        }
        return moved;
    }

    private int _nextKept;

    /// <summary>Takes up what an earlier run has kept; what does not belong to what there is is passed over.</summary>
    public void Restore(IEnumerable<FormulaState> kept, in Moment now)
    {
        var moment = MomentOf(in now, 0);
        foreach (var one in kept)
        {
            var point = _plan.PointIndexOf(one.EquipmentId, one.PropertyId);
            var formula = point < 0 ? -1 : _plan.FormulaOf(point);
            if (formula < 0 || _plan.Formulas[formula].Program is not { } program)
                continue;
            for (var i = 0; i < program.Times.Length; i++)
            {
                if (
                    program.Times[i].Signature != one.Signature
                    || i != one.Piece && program.Times[one.Piece < program.Times.Length ? one.Piece : 0].Signature == one.Signature
                )
                    continue;
                var state = OverTimeState.For(program.Times[i]);
                try
                {
                    using var reader = new BinaryReader(new MemoryStream(one.State));
                    state.Read(reader, in moment);
                }
                catch (Exception e) when (e is EndOfStreamException or ArgumentException)
                {
                    // Written by a version that kept something else: it begins anew.
                    break;
                }
                _states[formula][i] = state;
                break;
            }
        }
    }

    /// <summary>What each step of a point's formula gives now, with the pieces of text they stand for; null for a point without.</summary>
    public FormulaReading? StepsOf(int point, in Moment now)
    {
        var formula = _plan.FormulaOf(point);
        if (formula < 0 || _plan.Formulas[formula].Program is not { } program)
            return null;
        Calculate(formula, program, MomentOf(in now, 0), isWalked: true);
        var steps = _machine.Steps[..program.Steps.Length].ToArray();
        var reasons = new string?[steps.Length];
        for (var i = 0; i < steps.Length; i++)
            if (!steps[i].Status.IsGood)
                reasons[i] = Reason(formula, program, steps[i].Why);
        return new(program, steps, reasons);
    }

    private static OverTimeState[] StatesFor(PlanFormula formula, FormulaRunner? before, PlanMap? map, bool isBeside)
    {
        if (formula.Program is not { HasState: true } program)
            return [];
        var states = new OverTimeState[program.Times.Length];
        var old = map is null || before is null || formula.Point < 0 ? -1 : map.OldPoints[formula.Point];
        var oldFormula = old < 0 ? -1 : before!._plan.FormulaOf(old);
        var taken = new HashSet<OverTimeState>();
        for (var i = 0; i < states.Length; i++)
        {
            if (oldFormula >= 0 && before!._plan.Formulas[oldFormula].Program is { } oldProgram)
                for (var j = 0; j < oldProgram.Times.Length && states[i] is null; j++)
                    if (oldProgram.Times[j].Signature == program.Times[i].Signature && taken.Add(before._states[oldFormula][j]))
                        states[i] = (isBeside ? before._states[oldFormula][j].Copy() : before._states[oldFormula][j]).GoOnFor(
                            program.Times[i]
                        );
            states[i] ??= OverTimeState.For(program.Times[i]);
        }
        return states;
    }

    private void Queue(int formula)
    {
        if (_isQueued[formula])
            return;
        _isQueued[formula] = true;
        _hasEager |= _plan.Formulas[formula].IsEager;
        _queue.Enqueue(formula, _plan.Formulas[formula].Rank);
    }

    private void WorkOut(int number, in OverTimeMoment now)
    {
        var formula = _plan.Formulas[number];
        if (formula.Program is not { } program)
        {
            var broken = new FormulaValue(double.NaN, StatusCode.BadConfigurationError);
            if (formula.Set >= 0)
                Feed(formula, broken, 0);
            else
                Give(_plan.Points[formula.Point].Tag, double.NaN, broken.Status, now.UtcTicks, formula.Broken, null);
            return;
        }
        var (value, ticks) = Calculate(number, program, now);
        if (program.HasState)
            ticks = now.UtcTicks;
        if (formula.Set >= 0)
        {
            Feed(formula, value, ticks);
            return;
        }
        var place = formula.Place >= 0 ? formula.Place : _plan.Points[formula.Point].Tag;
        var reason = value.Status.IsGood ? null : ReasonOf(number, program, value);
        var text = program.Result.Kind == FormulaKind.Text && !value.Status.IsBad ? TextOf(formula, program, (int)value.Value) : null;
        Give(place, text is null ? value.Value : double.NaN, value.Status, ticks == 0 ? now.UtcTicks : ticks, reason, text);
        if (program.HasState && !_isTimed[number])
            Time(number, now.Ticks);
    }

    private (FormulaValue Value, long Ticks) Calculate(int number, FormulaProgram program, OverTimeMoment now, bool isWalked = false)
    {
        var formula = _plan.Formulas[number];
        var (operands, newest) = (formula.Operands, 0L);
        for (var i = 0; i < operands.Length; i++)
        {
            if (operands[i] < 0)
            {
                _operands[i] = new(double.NaN, StatusCode.BadNoData);
                continue;
            }
            ref readonly var point = ref _points[operands[i]];
            _operands[i] = new(point.Value, double.IsNaN(point.Value) && !point.Status.IsBad ? StatusCode.BadNoData : point.Status);
            newest = Math.Max(newest, _tags[_plan.Points[operands[i]].Tag].SourceTicks);
        }
        for (var i = 0; i < formula.Sets.Length; i++)
        {
            _setValues[i] = _sets[formula.Sets[i]].Result;
            newest = Math.Max(newest, _sets[formula.Sets[i]].NewestTicks);
        }
        return (
            isWalked
                ? _machine.Walk(program, _operands, _setValues, _states[number], in now)
                : _machine.Run(program, _operands, _setValues, _states[number], in now),
            newest
        );
    }

    private void Feed(PlanFormula formula, FormulaValue value, long ticks)
    {
        var set = _sets[formula.Set];
        set.NewestTicks = Math.Max(set.NewestTicks, ticks);
        if (set.Update(formula.Member, value.Value, value.Status))
            Queue(_plan.Sets[formula.Set].Formula);
    }

    private string TextOf(PlanFormula formula, FormulaProgram program, int number)
    {
        // The name of a member of the set, or of one of the arguments.
        for (var i = program.Steps.Length - 1; i >= 0; i--)
            if (program.Steps[i].Kind == StepKind.Set)
                return _plan.Sets[formula.Sets[program.Steps[i].A]].Names[number];
            else if (program.Steps[i].Kind is StepKind.WhichMin or StepKind.WhichMax)
                break;
        return program.Names[number];
    }

    private string? ReasonOf(int number, FormulaProgram program, FormulaValue value)
    {
        var about = AboutOf(number, program, value.Why);
        ref var key = ref _reasonOf[number];
        if (key.Why != value.Why || key.Status != value.Status || !Equals(key.About, about) || _reasons[number] is null)
            (key, _reasons[number]) = ((value.Why, value.Status, about), Reason(number, program, value.Why));
        return _reasons[number];
    }

    /// <summary>What the words of a reason depend on.</summary>
    private object? AboutOf(int number, FormulaProgram program, int why)
    {
        if (why < 0)
            return null;
        var step = program.Steps[why];
        return step.Kind switch
        {
            StepKind.Operand => _plan.Formulas[number].Operands[step.A] is >= 0 and var point ? WhyOf(point) : null,
            StepKind.Set => (_sets[_plan.Formulas[number].Sets[step.A]].Bad, _sets[_plan.Formulas[number].Sets[step.A]].FirstOdd),
            StepKind.OverTime => Math.Floor(_states[number][step.A].Covered * 100),
            _ => null,
        };
    }

    private string? Reason(int number, FormulaProgram program, int why)
    {
        if (why < 0)
            return null;
        var step = program.Steps[why];
        var place = program.Places[why];
        var text = place.End > place.At ? program.Text[place.At..place.End] : program.Text;
        switch (step.Kind)
        {
            case StepKind.Operand:
                var point = _plan.Formulas[number].Operands[step.A];
                return $"{program.Operands[step.A]}: {(point < 0 ? NotThere : WhyOf(point) ?? "is not Good")}";
            case StepKind.Set:
                var (tree, set) = (_sets[_plan.Formulas[number].Sets[step.A]], _plan.Sets[_plan.Formulas[number].Sets[step.A]]);
                return tree.Members == 0
                    ? $"there is no {set.Use.Template} below"
                    : string.Create(
                        CultureInfo.InvariantCulture,
                        $"{(tree.Bad > 0 ? $"{tree.Bad} of {tree.Members} are Bad" : "not all are Good")}, the first "
                            + $"{set.Names[Math.Max(0, tree.FirstOdd)]}"
                    );
            case StepKind.OverTime:
                var state = _states[number][step.A];
                return program.Times[step.A] is not ({ Window: > 0 } or { Span: not null }) ? $"nothing has come yet: {text}"
                    : state.Covered == 0 ? $"its window has only begun, or nothing came in it: {text}"
                    : string.Create(CultureInfo.InvariantCulture, $"covers {Math.Floor(state.Covered * 100)} % of its window: {text}");
            default:
                return step.Kind switch
                {
                    StepKind.Divide => $"division by zero: {text}",
                    StepKind.Sqrt => $"square root of a negative number: {text}",
                    StepKind.Ln or StepKind.Log10 => $"logarithm of what is not above 0: {text}",
                    _ => $"too large, or no number: {text}",
                };
        }
    }

    private long DueOf(int formula)
    {
        var due = long.MaxValue;
        foreach (var state in _states[formula])
            due = Math.Min(due, state.Due);
        return due;
    }

    private readonly bool[] _isTimed;

    /// <summary>Looks again when it moves by itself, and once a second while that could come sooner than it is known now.</summary>
    private void Time(int formula, long now)
    {
        _isTimed[formula] = true;
        var due = DueOf(formula);
        _wheel.Add(formula, Math.Min(due, now + TimeSpan.TicksPerSecond), now);
    }

    private OverTimeMoment MomentOf(in Moment now, long sourceTicks)
    {
        // What waited on the way is counted from when its source saw it; a source whose clock is ahead, or far behind, is not believed.
        var late = sourceTicks == 0 ? 0 : Math.Clamp(now.UtcTicks - sourceTicks, 0, TimeSpan.TicksPerMinute);
        return new(now.Ticks - late, now.UtcTicks - late, _plan.Calendar);
    }
}
