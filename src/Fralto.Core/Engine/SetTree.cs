using Fralto.Core.Formulas;
using Fralto.Core.Quality;

namespace Fralto.Core.Engine;

/// <summary>What is worked out of all members of a set, kept as a tree: one member that moves costs as much as the tree is high.</summary>
/// <remarks>A member that is Bad is left out, and the result is Uncertain; where all are, it is Bad. Sums are added in the same order
/// whatever moved last, so that they do not drift.</remarks>
internal sealed class SetTree
{
    private readonly SetUse _use;
    private readonly int _leaves;
    private readonly double[] _values;
    private readonly StatusCode[] _status;
    private readonly double[] _sums;
    private readonly int[] _best;
    private int _bad;
    private int _uncertain;

    public SetTree(SetUse use, int members)
    {
        (_use, Members) = (use, members);
        _leaves = 1;
        while (_leaves < members)
            _leaves *= 2;
        _values = new double[members];
        _status = new StatusCode[members];
        Array.Fill(_status, use.Inner is null ? StatusCode.Good : StatusCode.BadWaitingForInitialData);
        _bad = use.Inner is null ? 0 : members;
        var isOrder = use.Kind is SetKind.Minimum or SetKind.Maximum;
        _sums = isOrder ? [] : new double[_leaves * 2];
        _best = isOrder ? new int[_leaves * 2] : [];
        Array.Fill(_best, -1);
    }

    public int Members { get; }

    public int Bad => _bad;

    /// <summary>The newest time of a member, in UTC ticks.</summary>
    public long NewestTicks { get; set; }

    /// <summary>The member a result comes from; -1 where it comes from all.</summary>
    public int Which => _best.Length == 0 ? -1 : _best[1];

    /// <summary>The first member that is less than Good; -1 for none.</summary>
    public int FirstOdd => Array.FindIndex(_status, s => !s.IsGood);

    public FormulaValue Result
    {
        get
        {
            if (_use.Kind == SetKind.Count && _use.Inner is null)
                return FormulaValue.Good(Members);
            var good = Members - _bad;
            if (good == 0)
                return Members == 0 && _use.Kind is SetKind.Sum or SetKind.Count
                    ? FormulaValue.Good(0)
                    : new(double.NaN, StatusCode.BadNoData);
            var value = _use.Kind switch
            {
                SetKind.Mean => _sums[1] / good,
                SetKind.Sum or SetKind.Count => _sums[1],
                _ => _use.IsWhich ? _best[1] : _values[_best[1]],
            };
            return new(value, _bad > 0 || _uncertain > 0 ? StatusCode.UncertainDataSubNormal : StatusCode.Good);
        }
    }

    /// <summary>Takes what a member gives.</summary>
    /// <returns>True when the result is another.</returns>
    public bool Update(int member, double value, StatusCode status)
    {
        var before = Result;
        _bad += (status.IsBad ? 1 : 0) - (_status[member].IsBad ? 1 : 0);
        _uncertain += (status.IsUncertain ? 1 : 0) - (_status[member].IsUncertain ? 1 : 0);
        (_values[member], _status[member]) = (value, status);
        if (_sums.Length > 0)
        {
            var at = _leaves + member;
            _sums[at] = status.IsBad ? 0 : value;
            for (at /= 2; at >= 1; at /= 2)
                _sums[at] = _sums[2 * at] + _sums[2 * at + 1];
        }
        else
        {
            var at = _leaves + member;
            _best[at] = status.IsBad ? -1 : member;
            for (at /= 2; at >= 1; at /= 2)
                _best[at] = Better(_best[2 * at], _best[2 * at + 1]);
        }
        return !Result.Equals(before);
    }

    // Of two alike the first, so that the name does not jump.
    private int Better(int one, int other) =>
        one < 0 ? other
        : other < 0 ? one
        : (_use.Kind == SetKind.Maximum ? _values[other] > _values[one] : _values[other] < _values[one]) ? other
        : one;
}
