namespace Fralto.Core.History;

/// <summary>What is worked out of the values of an interval.</summary>
/// <param name="Name">Its name in OPC UA Part 13.</param>
/// <param name="NodeId">Its node in the standard's address space, namespace 0.</param>
/// <param name="Words">What it is, in words.</param>
/// <param name="Of">What it is of the facts of an interval.</param>
public sealed record Aggregate(string Name, int NodeId, string Words, Func<IntervalFacts, AggregateValue> Of)
{
    /// <summary>All of them, by the names and node ids of the standard's nodeset 1.05.</summary>
    /// <remarks>AnnotationCount is not among them: there are no annotations here.</remarks>
    public static IReadOnlyList<Aggregate> All { get; } =
    [
        new("Interpolative", 2341, "the value at the start, between the values around it", f => AggregateValue.Bound(f.StartInterpolated)),
        new("Average", 2342, "mean of the Good values, however long each held", f => Good(f, f.Sum / f.Good)),
        new("TimeAverage", 2343, "mean weighted by time", f => Area(f, f.AreaSeconds > 0 ? f.Area / f.AreaSeconds : double.NaN)),
        new("TimeAverage2", 11285, "mean weighted by time, where nothing is Bad", f => Area(f, f.HeldMean)),
        new("Total", 2344, "the value times seconds", f => Area(f, f.AreaSeconds > 0 ? f.Area : double.NaN)),
        new("Total2", 11304, "the value times seconds, where nothing is Bad", f => Area(f, f.HeldSeconds > 0 ? f.HeldArea : double.NaN)),
        new("Minimum", 2346, "smallest Good value", f => Good(f, f.Minimum.Number, f.ManyMinimum)),
        new("Maximum", 2347, "largest Good value", f => Good(f, f.Maximum.Number, f.ManyMaximum)),
        new("MinimumActualTime", 2348, "smallest Good value, and when", f => Good(f, f.Minimum.Number, f.ManyMinimum, f.Minimum.Ticks)),
        new("MaximumActualTime", 2349, "largest Good value, and when", f => Good(f, f.Maximum.Number, f.ManyMaximum, f.Maximum.Ticks)),
        new("Minimum2", 11286, "smallest value with the bounds", f => Area(f, Least(f))),
        new("Maximum2", 11287, "largest value with the bounds", f => Area(f, Most(f))),
        new("Range", 2350, "largest less smallest Good value", f => Good(f, f.Maximum.Number - f.Minimum.Number)),
        new("Range2", 11288, "largest less smallest value with the bounds", f => Area(f, Most(f) - Least(f))),
        new("Count", 2352, "how many Good values came", f => AggregateValue.Calculated(f, f.Good)),
        new("NumberOfTransitions", 2355, "how often the value changed", f => AggregateValue.Calculated(f, f.Transitions)),
        new("Start", 2357, "first value, whatever its quality", f => AggregateValue.Raw(f.Raw > 0, f.First)),
        new("End", 2358, "last value, whatever its quality", f => AggregateValue.Raw(f.Raw > 0, f.Last)),
        new("Delta", 2359, "last less first Good value", f => Good(f, f.LastGood - f.FirstGood)),
        new("StartBound", 11505, "the value at the start", f => AggregateValue.Bound(f.StartBound)),
        new("EndBound", 11506, "the value at the end", f => AggregateValue.Bound(f.EndBound, f.End)),
        new("DeltaBounds", 11507, "the value at the end less that at the start", f => Area(f, f.EndBound.Number - f.StartBound.Number)),
        new("DurationGood", 2360, "milliseconds that were Good", f => AggregateValue.Calculated(f, f.GoodSeconds * 1000)),
        new("DurationBad", 2361, "milliseconds that were Bad", f => AggregateValue.Calculated(f, (f.Seconds - f.HeldSeconds) * 1000)),
        new("PercentGood", 2362, "share that was Good", f => AggregateValue.Calculated(f, f.GoodSeconds / f.Seconds * 100)),
        new("PercentBad", 2363, "share that was Bad", f => AggregateValue.Calculated(f, (1 - f.HeldSeconds / f.Seconds) * 100)),
        new("WorstQuality", 2364, "worst quality of the values", f => AggregateValue.Calculated(f, f.Worst.Value)),
        new("WorstQuality2", 11292, "worst quality, also of what held at the start", f => AggregateValue.Calculated(f, Worst2(f))),
        new("DurationInStateZero", 11307, "milliseconds the value was zero", f => AggregateValue.Calculated(f, f.ZeroSeconds * 1000)),
        new("DurationInStateNonZero", 11308, "milliseconds the value was not zero", f =>
            AggregateValue.Calculated(f, (f.HeldSeconds - f.ZeroSeconds) * 1000)
        ),
        new("StandardDeviationSample", 11426, "spread of the Good values, by n - 1", f => Good(f, Math.Sqrt(f.Squares / (f.Good - 1)))),
        new("StandardDeviationPopulation", 11427, "spread of the Good values, by n", f => Good(f, Math.Sqrt(f.Squares / f.Good))),
        new("VarianceSample", 11428, "squared spread of the Good values, by n - 1", f => Good(f, f.Squares / (f.Good - 1))),
        new("VariancePopulation", 11429, "squared spread of the Good values, by n", f => Good(f, f.Squares / f.Good)),
    ];

    /// <summary>The aggregate of a name; null when there is none.</summary>
    public static Aggregate? Find(string name) => All.FirstOrDefault(a => a.Name.Equals(name, StringComparison.OrdinalIgnoreCase));

    private static AggregateValue Good(in IntervalFacts facts, double value, bool isMany = false, long? ticks = null) =>
        facts.Good == 0 || !double.IsFinite(value)
            ? AggregateValue.None(facts)
            : AggregateValue.Calculated(facts, value, isMany, ticks, byTime: true);

    private static AggregateValue Area(in IntervalFacts facts, double value) =>
        double.IsFinite(value) ? AggregateValue.Calculated(facts, value, byTime: true) : AggregateValue.None(facts);

    private static double Least(in IntervalFacts facts) =>
        Ends(facts).Append(facts.Lowest).Where(double.IsFinite).DefaultIfEmpty(double.NaN).Min();

    private static double Most(in IntervalFacts facts) =>
        Ends(facts).Append(facts.Highest).Where(double.IsFinite).DefaultIfEmpty(double.NaN).Max();

    private static double[] Ends(in IntervalFacts facts) => [facts.StartBound.Number, facts.EndBound.Number];

    private static uint Worst2(in IntervalFacts facts) =>
        facts.StartBound.Status.Value >> 30 > facts.Worst.Value >> 30 ? facts.StartBound.Status.Value : facts.Worst.Value;
}
