using System.Diagnostics;
using System.Globalization;
using Fralto.Core.Diagnosis;
using Fralto.Core.Edits;
using Fralto.Core.Engine;
using Fralto.Core.Planning;
using Fralto.Core.Plant;
using Fralto.Core.Properties;
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
        FindingBook? book = null;
        Figure("findings of a model, all of them, at the start", Timed(() => book = new FindingBook(model), 1), "s", "none");
        _ = book!.BySeverity;
        var last = model;
        // A template of 500 instances, whose limits, name and all are looked at again.
        foreach (
            var (name, make) in new (string, Func<PlantModel, int, Edit>)[]
            {
                ("a name", (m, i) =>
                    m.Equipment[node.Id] is var it
                        ? new SaveEquipment(it.Id, it.Code, $"{it.Name} {i}", it.Level, it.ParentId, it.TemplateId)
                        : null!
                ),
                ("a template", (m, i) =>
                    m.Templates[node.TemplateId!.Value] is var it
                        ? new SaveTemplate(it.Id, it.Code, $"{it.Name} {i}", it.ParentId, it.Description)
                        : null!
                ),
                ("a binding", (m, i) =>
                    new Unbind(m.Bindings.Keys.Skip(i).First().EquipmentId, m.Bindings.Keys.Skip(i).First().PropertyId)
                ),
            }
        )
            Figure(
                $"findings after an edit of {name}",
                Enumerable
                    .Range(0, 3)
                    .Min(i =>
                    {
                        var outcome = make(last, i).On(last);
                        if (outcome.IsRefused)
                            throw new InvalidOperationException(outcome.Problems[0].Message);
                        var next = last.Apply(outcome.Changes);
                        var watch = Stopwatch.StartNew();
                        book.Follow(next, outcome.Changes);
                        GC.KeepAlive(book.BySeverity);
                        last = next;
                        return watch.Elapsed.TotalMilliseconds;
                    }),
                "ms",
                "200"
            );

        // The same plant with a formula at each of its instances: an edit of what they look at goes through all of them.
        var worked = last;
        foreach (var root in last.Templates.Values.Where(t => t.ParentId is null))
        {
            var made = new SaveProperty(
                root.Id,
                null,
                "Twice",
                "Twice",
                PropertyKind.Calculated,
                PropertyType.Number,
                new() { Unit = "CEL", Formula = "P0" }
            ).On(worked);
            if (made.IsRefused)
                throw new InvalidOperationException(made.Problems[0].Message);
            worked = worked.Apply(made.Changes);
        }
        var formulas = new FindingBook(worked);
        var cell = worked.Bindings.Keys.First();
        var unbound = new Unbind(cell.EquipmentId, cell.PropertyId).On(worked);
        var without = worked.Apply(unbound.Changes);
        var pass = Stopwatch.StartNew();
        formulas.Follow(without, unbound.Changes);
        GC.KeepAlive(formulas.BySeverity);
        Figure(
            $"findings after an edit that {worked.Index.EquipmentInOrder.Length} formulas may look at",
            pass.Elapsed.TotalMilliseconds,
            "ms",
            "200"
        );

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
