using System.Diagnostics;
using System.Globalization;
using Fralto.Core.Engine;
using Fralto.Core.Planning;
using Fralto.Core.Quality;

namespace Fralto.Bench;

/// <summary>Samples per second through the engine: one thread, points in random order, each with a scale and four limits.</summary>
internal static class EngineThroughput
{
    private const int Points = 100_000;

    public static void Run(int rounds)
    {
        var model = LargePlant.Of(Points);
        var compiling = Stopwatch.StartNew();
        var plan = Planner.Compile(model).Plan;
        Console.WriteLine(string.Create(CultureInfo.InvariantCulture, $"plan of {plan.Points.Length:N0} points compiled in {compiling.ElapsedMilliseconds} ms"));

        var random = new Random(1);
        var samples = new Sample[Points];
        for (var i = 0; i < Points; i++) samples[i] = new Sample(LargePlant.TagOf(i, Points), random.Next(2000, 31000), StatusCode.Good, 0);
        random.Shuffle(samples);

        var engine = new PlantEngine(plan);
        var events = new List<AlarmEvent>();
        // Rounds nobody counts, until the code has been compiled for speed.
        for (var round = 0; round < 30; round++) engine.Step(samples, events);
        var rates = new List<double>();
        long alarms = 0;
        for (var round = 0; round < rounds; round++)
        {
            // A tenth of the values move between rounds, as in a plant; the others are read again as they were.
            for (var i = 0; i < Points; i += 10) samples[i] = samples[i] with { Raw = random.Next(2000, 31000), TimeTicks = round };
            events.Clear();
            var watch = Stopwatch.StartNew();
            engine.Step(samples, events);
            rates.Add(Points / watch.Elapsed.TotalSeconds);
            alarms += events.Count;
        }
        rates.Sort();
        Console.WriteLine(string.Create(
            CultureInfo.InvariantCulture,
            $"engine: {rates[rates.Count / 2]:N0} samples/s (median of {rounds} rounds of {Points:N0}, slowest {rates[0]:N0}), {alarms / rounds:N0} alarm events a round"));
    }
}
