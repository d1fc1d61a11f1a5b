using Fralto.Core.Alarms;
using Fralto.Core.Controllers;
using Fralto.Core.Engine;
using Fralto.Core.Planning;

namespace Fralto.Core.Tests;

/// <summary>Calls of the engine for tests in which all clocks agree: what is sampled at a time arrives at that time.</summary>
internal static class EngineCalls
{
    public static void Step(this PlantEngine engine, params Sample[] samples)
    {
        foreach (var sample in samples)
            engine.Step([sample], Moment.At(new(sample.TimeTicks, TimeSpan.Zero)));
    }

    public static void Advance(this PlantEngine engine, DateTimeOffset now) => engine.Advance(Moment.At(now));

    public static void Swap(this PlantEngine engine, Plan plan, DateTimeOffset now) => engine.Swap(plan, Moment.At(now));

    public static bool Acknowledge(this PlantEngine engine, AlarmKey key, string who, DateTimeOffset now) =>
        engine.Do(new(key, AlarmCause.AcknowledgedByOperator, who), Moment.At(now)) is null;

    public static void Restore(this PlantEngine engine, IEnumerable<Alarm> alarms, DateTimeOffset now) =>
        engine.Restore(alarms, Moment.At(now));
}
