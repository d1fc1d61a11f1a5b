using System.Collections.Immutable;
using Fralto.Core.Alarms;
using Fralto.Core.Formulas;
using Fralto.Core.Limits;
using Fralto.Core.Rules;

namespace Fralto.Core.Planning;

/// <summary>A model compiled for running: flat arrays indexed by point and by tag number. Never changed; a new model gets a new
/// plan.</summary>
public sealed class Plan
{
    private readonly int[] _formulaOfPoint = [];
    private readonly int[] _firstDependent = [];
    private readonly int[] _dependents = [];
    private readonly Func<long, string, (long EquipmentId, long PropertyId)?>? _named;
    private readonly int[] _tagOfId;
    private readonly int[] _firstPoint;
    private readonly int[] _pointsByTag;
    private readonly Dictionary<(long EquipmentId, long PropertyId), int> _pointOf;

    /// <summary>A plan with formulas.</summary>
    /// <param name="points">The points; each names its tag by index into <paramref name="tags"/>.</param>
    /// <param name="setups">The hot part of each point, in the same order.</param>
    /// <param name="tags">All tags, bound or not, and places of points without a tag.</param>
    /// <param name="formulas">The formulas, each after those it needs.</param>
    /// <param name="sets">The sets they take.</param>
    /// <param name="fixedValues">What the model itself says, by place among the tags.</param>
    /// <param name="calendar">Hours, days and shifts of the plant.</param>
    /// <param name="shown">How many of the points, the first ones, are properties; the others watch for limits. Null for all.</param>
    /// <param name="named">The property a reference of a formula means at an instance; null for none.</param>
    internal Plan(
        ImmutableArray<PlanPoint> points,
        ImmutableArray<PointSetup> setups,
        ImmutableArray<PlanTag> tags,
        ImmutableArray<PlanFormula> formulas,
        ImmutableArray<PlanSet> sets,
        ImmutableArray<(int Tag, double Value)> fixedValues,
        PlantCalendar calendar,
        int? shown = null,
        Func<long, string, (long EquipmentId, long PropertyId)?>? named = null
    )
        : this(points, setups, tags)
    {
        Shown = shown ?? points.Length;
        _named = named;
        (Formulas, Sets, FixedValues, Calendar) = (formulas, sets, fixedValues, calendar);
        _formulaOfPoint = Filled(points.Length);
        _firstDependent = new int[points.Length + 1];
        for (var f = 0; f < formulas.Length; f++)
        {
            if (formulas[f].Point >= 0)
                _formulaOfPoint[formulas[f].Point] = f;
            foreach (var operand in formulas[f].Operands)
                if (operand >= 0)
                    _firstDependent[operand + 1]++;
        }
        for (var i = 0; i < points.Length; i++)
            _firstDependent[i + 1] += _firstDependent[i];
        _dependents = new int[_firstDependent[^1]];
        var next = _firstDependent[..^1];
        for (var f = 0; f < formulas.Length; f++)
            foreach (var operand in formulas[f].Operands)
                if (operand >= 0)
                    _dependents[next[operand]++] = f;
        Followed = [.. Enumerable.Range(0, formulas.Length).Where(f => formulas[f].Follower >= 0)];
        Entered = [.. Enumerable.Range(0, points.Length).Where(i => points[i].Source == PointSource.Entered)];
    }

    /// <param name="points">The points; each names its tag by index into <paramref name="tags"/>.</param>
    /// <param name="setups">The hot part of each point, in the same order.</param>
    /// <param name="tags">All tags, bound or not.</param>
    public Plan(ImmutableArray<PlanPoint> points, ImmutableArray<PointSetup> setups, ImmutableArray<PlanTag> tags)
    {
        Points = points;
        Shown = points.Length;
        Setups = setups;
        Tags = tags;
        _pointOf = new(points.Length);
        for (var i = 0; i < points.Length; i++)
            _pointOf[(points[i].EquipmentId, points[i].PropertyId)] = i;

        _tagOfId = new int[tags.Length == 0 ? 0 : Math.Max(0, tags.Max(t => t.TagId) + 1)];
        Array.Fill(_tagOfId, -1);
        for (var i = tags.Length - 1; i >= 0; i--)
            if (tags[i].TagId != PlanTag.NoTag)
                _tagOfId[tags[i].TagId] = i;

        Controllers = [.. tags.Select(t => t.ControllerId).Distinct()];
        var order = Controllers.Select((id, at) => (id, at)).ToDictionary(c => c.id, c => c.at);
        ControllerOfTag = [.. tags.Select(t => order[t.ControllerId])];

        _firstPoint = new int[tags.Length + 1];
        foreach (var point in points)
            _firstPoint[point.Tag + 1]++;
        for (var i = 0; i < tags.Length; i++)
            _firstPoint[i + 1] += _firstPoint[i];
        _pointsByTag = new int[points.Length];
        var next = _firstPoint[..^1];
        for (var i = 0; i < points.Length; i++)
            _pointsByTag[next[points[i].Tag]++] = i;

        OnlyPoints = new int[tags.Length];
        for (var i = 0; i < tags.Length; i++)
            OnlyPoints[i] =
                PointsOfTag(i) is var feeds && feeds.Length == 1 ? feeds[0]
                : feeds.Length == 0 ? FeedsNone
                : FeedsMany;
        Delays = new LimitDelays(points);
        (TagOfPoint, IsRecorded, StaleTicks) = (new int[points.Length], new bool[points.Length], new long[tags.Length]);
        for (var i = 0; i < points.Length; i++)
        {
            (TagOfPoint[i], IsRecorded[i]) = (points[i].Tag, points[i].Recording is not null);
            Recorded += IsRecorded[i] ? 1 : 0;
        }
        for (var i = 0; i < tags.Length; i++)
            StaleTicks[i] = tags[i].StaleAfter.Ticks;
    }

    /// <summary>The tag of each point: what a swap asks of every point stands side by side.</summary>
    internal int[] TagOfPoint { get; }

    /// <summary>Whether each point is recorded.</summary>
    internal bool[] IsRecorded { get; }

    /// <summary>Without an update for so many ticks each tag counts as stale; the longest time there is for never.</summary>
    internal long[] StaleTicks { get; }

    /// <summary>In place of the one point a tag feeds: it feeds none.</summary>
    public const int FeedsNone = -1;

    /// <summary>In place of the one point a tag feeds: it feeds several.</summary>
    public const int FeedsMany = -2;

    /// <summary>How many points are recorded.</summary>
    public int Recorded { get; }

    /// <summary>A plan of nothing.</summary>
    public static Plan Empty { get; } = new([], [], []);

    /// <summary>Everything that has a value.</summary>
    public ImmutableArray<PlanPoint> Points { get; }

    /// <summary>How many of the points, the first ones, are properties; those behind them watch for limits.</summary>
    public int Shown { get; }

    /// <summary>The point a reference of a formula means at an instance; -1 for none.</summary>
    /// <param name="equipmentId">The instance.</param>
    /// <param name="reference">The reference, as formulas write it.</param>
    public int PointNamed(long equipmentId, string reference) =>
        _named?.Invoke(equipmentId, reference) is var (at, property) ? PointIndexOf(at, property) : -1;

    /// <summary>Of each tag the one point it feeds, or <see cref="FeedsNone"/> or <see cref="FeedsMany"/>. Never changed.</summary>
    internal int[] OnlyPoints { get; }

    /// <summary>The delays of all limits.</summary>
    internal LimitDelays Delays { get; }

    /// <summary>How each point's value is worked out; by the place of the point.</summary>
    public ImmutableArray<PointSetup> Setups { get; }

    /// <summary>Every tag, and every element of an array, that feeds a point or is read.</summary>
    public ImmutableArray<PlanTag> Tags { get; }

    /// <summary>The controllers that have a tag, each once; 0 for simulations.</summary>
    public ImmutableArray<long> Controllers { get; }

    /// <summary>Of each tag, which of <see cref="Controllers"/> it lives in.</summary>
    public ImmutableArray<int> ControllerOfTag { get; }

    /// <summary>The formulas, each after those it needs.</summary>
    public ImmutableArray<PlanFormula> Formulas { get; } = [];

    /// <summary>Formulas that a command follows.</summary>
    public ImmutableArray<int> Followed { get; } = [];

    /// <summary>Points that people enter.</summary>
    public ImmutableArray<int> Entered { get; } = [];

    /// <summary>Hours, days and shifts of the plant.</summary>
    public PlantCalendar Calendar { get; } = PlantCalendar.Utc;

    internal ImmutableArray<PlanSet> Sets { get; } = [];

    internal ImmutableArray<(int Tag, double Value)> FixedValues { get; } = [];

    /// <summary>The formula that feeds a point; -1 for none.</summary>
    public int FormulaOf(int point) => _formulaOfPoint.Length == 0 ? -1 : _formulaOfPoint[point];

    /// <summary>The formulas that take a point.</summary>
    public ReadOnlySpan<int> DependentsOf(int point) =>
        _firstDependent.Length == 0 ? [] : _dependents.AsSpan(_firstDependent[point], _firstDependent[point + 1] - _firstDependent[point]);

    private static int[] Filled(int count)
    {
        var all = new int[count];
        Array.Fill(all, -1);
        return all;
    }

    /// <summary>Index of a tag, or of the first element of an array, by the tag's id; -1 when the plan does not know it.</summary>
    public int TagIndexOf(long tagId) => tagId >= 0 && tagId < _tagOfId.Length ? _tagOfId[tagId] : -1;

    /// <summary>Index of the point of a property; -1 when it is not bound.</summary>
    public int PointIndexOf(long equipmentId, long propertyId) => _pointOf.GetValueOrDefault((equipmentId, propertyId), -1);

    /// <summary>The alarm of a limit of a property, by the limit's code; null where there is no such limit.</summary>
    /// <param name="equipmentId">The instance.</param>
    /// <param name="propertyId">The property.</param>
    /// <param name="code">HH, H, L, LL, or the limit's own code.</param>
    public AlarmKey? KeyOf(long equipmentId, long propertyId, string code)
    {
        if (
            LimitConditions.Find(code) is { } condition
            && PointIndexOf(equipmentId, propertyId) is >= 0 and var level
            && Points[level].LimitOf(condition) is not null
        )
            return new(equipmentId, propertyId, condition);
        var id = LimitFormula.IdOf(propertyId, code);
        return PointIndexOf(equipmentId, id) is >= 0 and var point ? new(equipmentId, id, Points[point].Limits[0].Condition) : null;
    }

    /// <summary>The points a tag feeds.</summary>
    public ReadOnlySpan<int> PointsOfTag(int tag) => _pointsByTag.AsSpan(_firstPoint[tag], _firstPoint[tag + 1] - _firstPoint[tag]);
}
