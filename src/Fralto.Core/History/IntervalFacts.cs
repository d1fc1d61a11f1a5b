using Fralto.Core.Quality;

namespace Fralto.Core.History;

/// <summary>What there is to say of the values of one interval, found in one walk: every aggregate follows from it.</summary>
/// <remarks>
/// OPC UA Part 13 (v1.04 and 1.05), clause 5.4. Intervals are half-open. A region begins at a value and ends at the next one, and is as
/// good as the
/// value it begins with. The line of the aggregates with interpolated bounds runs through what is not Bad, and past what is; that of the
/// ones
/// with simple bounds ends where something Bad begins.
/// </remarks>
public struct IntervalFacts
{
    /// <summary>Where it begins, in ticks.</summary>
    public long Start { get; private set; }

    /// <summary>Where it ends, in ticks.</summary>
    public long End { get; private set; }

    /// <summary>How many Good values came.</summary>
    public int Good { get; private set; }

    /// <summary>How many values came, whatever their quality.</summary>
    public int Raw { get; private set; }

    /// <summary>Sum of the Good values.</summary>
    public double Sum { get; private set; }

    /// <summary>Sum of the squared distances of the Good values from their mean.</summary>
    public double Squares { get; private set; }

    /// <summary>The smallest Good value.</summary>
    public HistorySample Minimum { get; private set; }

    /// <summary>The largest Good value.</summary>
    public HistorySample Maximum { get; private set; }

    /// <summary>True where the smallest came more than once.</summary>
    public bool ManyMinimum { get; private set; }

    /// <summary>True where the largest came more than once.</summary>
    public bool ManyMaximum { get; private set; }

    /// <summary>The first value, whatever its quality.</summary>
    public HistorySample First { get; private set; }

    /// <summary>The last value, whatever its quality.</summary>
    public HistorySample Last { get; private set; }

    /// <summary>The first Good value.</summary>
    public double FirstGood { get; private set; }

    /// <summary>The last Good value.</summary>
    public double LastGood { get; private set; }

    /// <summary>How often a value that is not Bad differed from the one before.</summary>
    public int Transitions { get; private set; }

    /// <summary>Area under the line through all that is not Bad, in units times seconds.</summary>
    public double Area { get; private set; }

    /// <summary>How much of the interval that line covers, in seconds.</summary>
    public double AreaSeconds { get; private set; }

    /// <summary>Area under what is not Bad, where it is not Bad, in units times seconds.</summary>
    public double HeldArea { get; private set; }

    /// <summary>Seconds of regions that begin with a Good value.</summary>
    public double GoodSeconds { get; private set; }

    /// <summary>Seconds of regions that begin with an Uncertain value.</summary>
    public double UncertainSeconds { get; private set; }

    /// <summary>Seconds during which the held value is zero.</summary>
    public double ZeroSeconds { get; private set; }

    /// <summary>The worst quality of the values that came.</summary>
    public StatusCode Worst { get; private set; }

    /// <summary>The interpolated value at the start.</summary>
    public BoundValue StartInterpolated { get; private set; }

    /// <summary>The simple bound at the start.</summary>
    public BoundValue StartBound { get; private set; }

    /// <summary>The simple bound at the end.</summary>
    public BoundValue EndBound { get; private set; }

    /// <summary>Smallest value that is not Bad, of values and of the bound at the start; not-a-number where there is none.</summary>
    public double Lowest { get; private set; }

    /// <summary>Largest value that is not Bad, of values and of the bound at the start; not-a-number where there is none.</summary>
    public double Highest { get; private set; }

    /// <summary>True where the archive begins or ends within the interval.</summary>
    public bool IsPartial { get; private set; }

    /// <summary>How long the interval is, in seconds.</summary>
    public readonly double Seconds => (End - Start) / (double)TimeSpan.TicksPerSecond;

    /// <summary>Seconds of regions that are not Bad.</summary>
    public readonly double HeldSeconds => GoodSeconds + UncertainSeconds;

    /// <summary>Mean over what is not Bad, weighted by time; not-a-number where nothing is.</summary>
    public readonly double HeldMean => HeldSeconds > 0 ? HeldArea / HeldSeconds : double.NaN;

    /// <summary>Walks the values of an interval.</summary>
    /// <param name="samples">Values by time; those around the interval are needed for its bounds.</param>
    /// <param name="from">Index of the first value that is not before the interval; how many there are when none is.</param>
    /// <param name="start">Where the interval begins, in ticks.</param>
    /// <param name="end">Where it ends, in ticks.</param>
    /// <param name="isStepped">True where a value holds until the next; false where it moves on a straight line.</param>
    /// <param name="next">Index of the first value that is not before the end.</param>
    public static IntervalFacts Of(ReadOnlySpan<HistorySample> samples, int from, long start, long end, bool isStepped, out int next)
    {
        var facts = new IntervalFacts
        {
            Start = start,
            End = end,
            FirstGood = double.NaN,
            LastGood = double.NaN,
            Lowest = double.NaN,
            Highest = double.NaN,
            Worst = StatusCode.Good,
        };
        next = from;
        while (next < samples.Length && samples[next].Ticks < end)
            facts.Add(in samples[next++]);
        // What is not Bad before, and how often a value differs from the one before that was not Bad.
        var before = from - 1;
        while (before >= 0 && samples[before].Status.IsBad)
            before--;
        var held = before;
        for (var i = from; i < next; i++)
            if (!samples[i].Status.IsBad)
            {
                if (held >= 0 && !AreEqual(in samples[held], in samples[i]))
                    facts.Transitions++;
                held = i;
            }
        facts.Regions(samples, from, next, isStepped);
        facts.Line(samples, before, from, next, isStepped);
        facts.StartInterpolated = BoundValue.Interpolated(samples, from, start, isStepped);
        facts.StartBound = BoundValue.Simple(samples, from, start, isStepped);
        facts.EndBound = BoundValue.Simple(samples, next, end, isStepped);
        if (!facts.StartBound.Status.IsBad)
            facts.Reach(facts.StartBound.Number);
        facts.IsPartial =
            samples.Length == 0
            || (from == 0 && (samples[0].Ticks > start || samples[0].Status.IsSame(StatusCode.BadNoData)))
            || (next == samples.Length && next > from);
        return facts;
    }

    private void Add(in HistorySample sample)
    {
        if (Raw++ == 0)
            First = sample;
        Last = sample;
        if (Severity(sample.Status) > Severity(Worst))
            Worst = sample.Status;
        if (!sample.Status.IsBad)
            Reach(sample.Number);
        if (!sample.Status.IsGood || double.IsNaN(sample.Number))
            return;
        var value = sample.Number;
        var mean = Good == 0 ? 0 : Sum / Good;
        Sum += value;
        if (Good++ == 0)
        {
            (Minimum, Maximum, FirstGood) = (sample, sample, value);
        }
        else
        {
            // Welford's update, in the form of West (1979): no difference of large sums.
            Squares += (value - mean) * (value - Sum / Good);
            if (value < Minimum.Number)
                (Minimum, ManyMinimum) = (sample, false);
            else if (value == Minimum.Number)
                ManyMinimum = true;
            if (value > Maximum.Number)
                (Maximum, ManyMaximum) = (sample, false);
            else if (value == Maximum.Number)
                ManyMaximum = true;
        }
        LastGood = value;
    }

    private void Reach(double value)
    {
        if (!(value >= Lowest))
            Lowest = value;
        if (!(value <= Highest))
            Highest = value;
    }

    /// <summary>Regions by their quality, and the area under what is not Bad.</summary>
    private void Regions(ReadOnlySpan<HistorySample> samples, int from, int next, bool isStepped)
    {
        for (var i = from - 1; i < next; i++)
        {
            if (i < 0)
                continue;
            ref readonly var sample = ref samples[i];
            var (begin, until) = (Math.Max(Start, sample.Ticks), i + 1 < samples.Length ? Math.Min(End, samples[i + 1].Ticks) : End);
            if (until <= begin || sample.Status.IsBad)
                continue;
            var seconds = SecondsOf(until - begin);
            if (sample.Status.IsGood)
                GoodSeconds += seconds;
            else
                UncertainSeconds += seconds;
            if (sample.Number == 0)
                ZeroSeconds += seconds;
            var slopes = !isStepped && i + 1 < samples.Length && !samples[i + 1].Status.IsBad;
            HeldArea += slopes
                ? (At(in sample, in samples[i + 1], begin) + At(in sample, in samples[i + 1], until)) / 2 * seconds
                : sample.Number * seconds;
        }
    }

    /// <summary>The area under the line through all that is not Bad; the last value is held.</summary>
    private void Line(ReadOnlySpan<HistorySample> samples, int before, int from, int next, bool isStepped)
    {
        var at = before >= 0 ? before : NotBad(samples, from, next);
        while (at >= 0 && at < samples.Length && samples[at].Ticks < End)
        {
            var after = NotBad(samples, at + 1, samples.Length);
            var (begin, until) = (Math.Max(Start, samples[at].Ticks), after >= 0 ? Math.Min(End, samples[after].Ticks) : End);
            if (until > begin)
            {
                var seconds = SecondsOf(until - begin);
                AreaSeconds += seconds;
                Area +=
                    isStepped || after < 0
                        ? samples[at].Number * seconds
                        : (At(in samples[at], in samples[after], begin) + At(in samples[at], in samples[after], until)) / 2 * seconds;
            }
            at = after;
        }
    }

    private static int NotBad(ReadOnlySpan<HistorySample> samples, int from, int until)
    {
        for (var i = from; i < until; i++)
            if (!samples[i].Status.IsBad)
                return i;
        return -1;
    }

    /// <summary>The line between two values at a time.</summary>
    internal static double At(in HistorySample one, in HistorySample other, long ticks) =>
        other.Ticks == one.Ticks
            ? other.Number
            : one.Number + (other.Number - one.Number) * ((ticks - one.Ticks) / (double)(other.Ticks - one.Ticks));

    private static double SecondsOf(long ticks) => ticks / (double)TimeSpan.TicksPerSecond;

    private static bool AreEqual(in HistorySample one, in HistorySample other) =>
        one.Text == other.Text && (one.Number == other.Number || (double.IsNaN(one.Number) && double.IsNaN(other.Number)));

    private static uint Severity(StatusCode status) => status.Value >> 30;
}
