using System.Diagnostics;
using System.Globalization;
using Fralto.Core.Diagnosis;
using Fralto.Core.Edits;
using Fralto.Core.Engine;
using Fralto.Core.Planning;
using Fralto.Core.Review;
using Fralto.Store;

namespace Fralto.Bench;

/// <summary>What a release costs at 100,000 pieces of equipment: compiling, telling apart, freezing, reading again, and how long the plant
/// stands still at 500,000 points.</summary>
internal static class ReleaseBench
{
    public static void Run()
    {
        var model = HugePlant.Make();
        Console.WriteLine($"{model.Equipment.Count} pieces of equipment, {model.Bindings.Count} bindings");
        Figure("compile", Timed(() => Planner.Compile(model)), "s", "5");
        var node = model.Equipment.Values.First(e => e.TemplateId is not null);
        var edit = new SaveEquipment(node.Id, node.Code, $"{node.Name} two", node.Level, node.ParentId, node.TemplateId).On(model);
        var after = model.Apply(edit.Changes);
        _ = after.Index.EquipmentInOrder;
        Figure(
            "diff of one edit, carried along",
            Timed(() => ReviewList.Of(model, after, NetChanges.None.After(edit.Changes, "", default))) * 1000,
            "ms",
            "200"
        );
        Figure("diff of two whole models", Timed(() => ReviewList.Of(model, after)), "s", "5");
        FrozenModel? frozen = null;
        Figure("freeze", Timed(() => frozen = FrozenModel.Of(model)), "s", "5");
        Figure("frozen size", frozen!.Content.Length / 1e6, "MB", "none");
        Figure("thaw", Timed(() => frozen.Thaw()), "s", "5");
        Figure("findings of the model as it is written", Timed(() => _ = ModelFindings.Of(model)) * 1000, "ms", "200");

        var large = LargePlant.Of(500_000);
        var (plan, other) = (Planner.Compile(large).Plan, Planner.Compile(large with { }).Plan);
        var engine = new PlantEngine(plan);
        var map = PlanMap.Between(plan, other);
        var before = GC.GetTotalMemory(true);
        PlantEngine? beside = null;
        Figure(
            "beginning beside at 500,000 points",
            Timed(() => beside = engine.Beside(map, Moment.At(DateTimeOffset.UnixEpoch.AddDays(1))), 1) * 1000,
            "ms",
            "50"
        );
        Figure("memory of the second engine", (GC.GetTotalMemory(true) - before) / 1e6, "MB", "that of the first");
        Figure(
            "pause of a swap at 500,000 points",
            Timed(() => engine.Swap(map, Moment.At(DateTimeOffset.UnixEpoch.AddDays(1))), 1) * 1000,
            "ms",
            "50"
        );
        GC.KeepAlive(beside);
    }

    private static double Timed(Action act, int times = 3)
    {
        var best = double.MaxValue;
        for (var i = 0; i < times; i++)
        {
            var watch = Stopwatch.StartNew();
            act();
            best = Math.Min(best, watch.Elapsed.TotalSeconds);
        }
        return best;
    }

    private static void Figure(string name, double value, string unit, string aim) =>
        Console.WriteLine(string.Create(CultureInfo.InvariantCulture, $"figure: {name} = {value:0.###} {unit} (aim {aim})"));
}
