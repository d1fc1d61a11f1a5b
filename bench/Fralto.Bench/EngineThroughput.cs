using System.Diagnostics;
using System.Globalization;
using System.Runtime.Intrinsics;
using Fralto.Core.Controllers;
using Fralto.Core.Engine;
using Fralto.Core.Planning;
using Fralto.Core.Quality;
using Fralto.Core.Scaling;

namespace Fralto.Bench;

/// <summary>Samples per second through the engine: one thread, points in random order, each with a scale and four limits with deadband and
/// delays; and a plain loop beside it to compare with.</summary>
internal static class EngineThroughput
{
    private const int Points = 100_000;

    public static void Run(int rounds)
    {
        var model = LargePlant.Of(Points);
        var compiling = Stopwatch.StartNew();
        var plan = Planner.Compile(model).Plan;
        Console.WriteLine(
            string.Create(
                CultureInfo.InvariantCulture,
                $"plan of {plan.Points.Length:N0} points compiled in {compiling.ElapsedMilliseconds} ms"
            )
        );

        var random = new Random(1);
        var samples = new Sample[Points];
        for (var i = 0; i < Points; i++)
            samples[i] = new Sample(LargePlant.TagOf(i, Points), random.Next(2000, 31000), StatusCode.Good, 0);
        random.Shuffle(samples);

        var engine = new PlantEngine(plan);
        var plain = new PlainLoop(plan);
        // Rounds nobody counts, until the code has been compiled for speed.
        for (var round = 0; round < 100; round++)
        {
            engine.Step(samples, default);
            plain.Step(samples);
        }
        var (rates, plainRates) = (new List<double>(), new List<double>());
        long alarms = 0;
        for (var round = 0; round < rounds; round++)
        {
            // A tenth of the values move between rounds, as in a plant; the others are read again as they were. A round is a second.
            var at = round * TimeSpan.TicksPerSecond;
            for (var i = 0; i < Points; i++)
                samples[i] =
                    i % 10 == 0 ? samples[i] with { Raw = random.Next(2000, 31000), TimeTicks = at } : samples[i] with { TimeTicks = at };
            engine.Output.Events.Clear();
            engine.Output.ClearChanges();
            rates.Add(RateOf(() => engine.Step(samples, new(at, at))));
            plainRates.Add(RateOf(() => plain.Step(samples)));
            engine.Advance(new(at, at));
            alarms += engine.Output.Events.Count;
        }
        rates.Sort();
        plainRates.Sort();
        var (median, plainMedian) = (rates[rates.Count / 2], plainRates[rates.Count / 2]);
        Console.WriteLine(
            string.Create(
                CultureInfo.InvariantCulture,
                $"engine: {median:N0} samples/s (median of {rounds} rounds of {Points:N0}, slowest {rates[0]:N0}), "
                    + $"{alarms / rounds:N0} alarm events a round"
            )
        );
        Console.WriteLine(
            string.Create(
                CultureInfo.InvariantCulture,
                $"plain loop over the same arrays: {plainMedian:N0} samples/s; the engine reaches {median / plainMedian * 100:N0} % of it"
            )
        );
    }

    private static double RateOf(Action step)
    {
        var watch = Stopwatch.StartNew();
        step();
        return Points / watch.Elapsed.TotalSeconds;
    }

    /// <summary>The least anybody could do with the same samples and an array of points of the same size: one hard-coded scale and four
    /// compares; no quality, no deadband, no delay, no events.</summary>
    private sealed class PlainLoop(Plan plan)
    {
        private readonly Point[] _points =
        [
            .. plan.Setups.Select(s => new Point
            {
                Raw = s.Raw,
                Engineering = s.Engineering,
                Window = new(s.WindowLow, s.WindowHigh),
                HighHigh = 110,
                High = 100,
                Low = 20,
                LowLow = 10,
            }),
        ];

        public void Step(ReadOnlySpan<Sample> samples)
        {
            foreach (ref readonly var sample in samples)
            {
                ref var point = ref _points[plan.TagIndexOf(sample.TagId)];
                var value = sample.Raw * 120 / 32767;
                point.Value = value;
                point.Exceeded = (byte)(
                    (value >= point.HighHigh ? 1 : 0)
                    | (value >= point.High ? 2 : 0)
                    | (value <= point.Low ? 4 : 0)
                    | (value <= point.LowLow ? 8 : 0)
                );
            }
        }

        private struct Point
        {
            public Span Raw;
            public Span Engineering;
            public Span Window;
            public double HighHigh;
            public double High;
            public double Low;
            public double LowLow;
            public Vector256<double> Clear;
            public double Value;
            public byte Exceeded;
        }
    }
}
