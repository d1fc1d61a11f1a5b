using System.Text.Json.Nodes;

namespace Fralto.StandIns.Maltings;

/// <summary>Compressed air, water and the heat recovery loop: two compressors that load and unload, pumps that take turns, and water that
/// warms in the kiln house.</summary>
/// <remarks>Invented but plausible numbers, worked out for a time: the same seed and time always give the same state.</remarks>
public sealed class Utilities(ulong seed)
{
    /// <summary>Simulated seconds between two states.</summary>
    private const double Step = 20;

    private readonly Noise _noise = new(seed);

    /// <summary>The pressure each compressor holds, bar; operators set it.</summary>
    public double[] Setpoints { get; } = [7.2, 6.9];

    /// <summary>What everything is at a time since the beginning, by the names the server gives it.</summary>
    public JsonObject At(TimeSpan elapsed)
    {
        var (hours, tick) = (elapsed.TotalHours, (long)(elapsed.TotalSeconds / Step));
        var all = new JsonObject();
        for (var i = 0; i < 2; i++)
        {
            // Half an hour under load, a quarter unloaded; the second rests at night.
            var cycle = (hours * 60 + 20 * i) % 45;
            var rests = i == 1 && hours % 24 is < 5 or > 22;
            var isLoaded = !rests && cycle < 30;
            var name = $"CMP{i + 1}";
            all[$"{name}.State"] =
                rests ? 0
                : isLoaded ? 2
                : 3;
            all[$"{name}.Run"] = !rests;
            all[$"{name}.Current"] = Round(rests ? 0 : (isLoaded ? 41 : 17) + _noise.At(tick, 1 + (ulong)i));
            all[$"{name}.Pressure"] = Round(
                Setpoints[i] + (isLoaded ? -0.25 + cycle / 60 : 0.25 - (cycle - 30) / 30) + 0.02 * _noise.At(tick, 3 + (ulong)i)
            );
            all[$"{name}.Setpoint"] = Setpoints[i];
            all[$"{name}.Hours"] = (long)(4000 + 1300 * i + hours);
            var stages = new JsonArray();
            for (var stage = 0; stage < 3; stage++)
                stages.Add(Round((rests ? 22 : 60 + 25 * stage) + (isLoaded ? 8 : 0) + 0.5 * _noise.At(tick, 5 + (ulong)(3 * i + stage))));
            all[$"{name}.Stages"] = stages;
        }
        foreach (
            var (name, channel, flow) in new[] { ("RWP1", 20UL, 46.0), ("RWP2", 21UL, 44.0), ("LP1", 22UL, 72.0), ("LP2", 23UL, 70.0) }
        )
        {
            // They take turns every six hours.
            var runs = (long)(hours / 6) % 2 == (name[^1] == '1' ? 0 : 1);
            all[$"{name}.Run"] = runs;
            all[$"{name}.Current"] = Round(runs ? flow / 4 + 0.3 * _noise.At(tick, channel) : 0);
            all[$"{name}.Flow"] = Round(runs ? flow + 0.8 * _noise.At(tick, channel + 10) : 0);
        }
        all["Brine.Level"] = Round(2.6 + 1.4 * Math.Sin(hours / 7) + 0.01 * _noise.At(tick, 40));
        all["Brine.Temperature"] = Round(18 + 2 * Math.Sin(hours / 24 * 2 * Math.PI) + 0.05 * _noise.At(tick, 41));
        var supply = 82 + 6 * Math.Sin(hours / 5) + 0.2 * _noise.At(tick, 42);
        all["Loop.Supply"] = Round(supply);
        all["Loop.Return"] = Round(supply - 14 - 3 * Math.Sin(hours / 3) + 0.2 * _noise.At(tick, 43));
        return all;
    }

    /// <summary>Takes what somebody writes at the server.</summary>
    public void Take(string name, double value)
    {
        for (var i = 0; i < Setpoints.Length; i++)
            if (name == $"CMP{i + 1}.Setpoint")
                Setpoints[i] = value;
    }

    private static double Round(double value) => Math.Round(value, 2);
}
