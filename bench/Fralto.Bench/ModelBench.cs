using System.Diagnostics;
using System.Text.Json;
using Fralto.Core.Basics;
using Fralto.Core.Edits;
using Fralto.Core.Exchange;
using Fralto.Core.Planning;
using Fralto.Core.Plant;
using Fralto.Core.Proposals;
using Fralto.Core.Quality;

namespace Fralto.Bench;

/// <summary>What a plant of 100,000 pieces of equipment costs, in ratios to a plain System.Text.Json round trip of the same
/// model.</summary>
internal static class ModelBench
{
    public static void Run()
    {
        var before = Memory();
        var model = HugePlant.Make();
        var bare = Memory() - before;
        // What is set aside while look-ups are built counts with the equipment: nobody works without them.
        _ = model.Index.TaggedBelow(1);
        _ = model.Index.BindingsOf(1).Any();
        var perNode = (double)(Memory() - before) / model.Equipment.Count;
        var properties = model.Templates.Keys.Sum(t => (long)model.Index.PropertiesOf(t).Length * model.Index.InstanceCountOf(t));
        Line(
            $"{model.Equipment.Count:N0} pieces of equipment, {model.Templates.Count} templates, {properties:N0} resolved properties, "
                + $"{model.Tags.Count:N0} tags, {model.Bindings.Count:N0} bindings"
        );
        Line(
            $"memory: {perNode:N0} B a piece of equipment with its tags, bindings and look-ups "
                + $"({(double)bare / model.Equipment.Count:N0} B before look-ups)"
        );

        var document = ModelFormat.DocumentOf(model);
        var json = Median(3, () =>
            JsonSerializer.Deserialize<ModelDocument>(JsonSerializer.SerializeToUtf8Bytes(document, ModelFormat.Json), ModelFormat.Json)
        );
        Line($"plain JSON round trip of the model: {json:N0} ms = 1");

        PlanResult? plan = Planner.Compile(model with { });
        var compile = Median(3, () => Planner.Compile(model with { }));
        Line(
            $"compile to plan with {plan.Findings.Count:N0} findings, look-ups built anew: {compile / json:N2} of a round trip "
                + $"({compile:N0} ms)"
        );
        var warm = Median(3, () => Planner.Compile(model));
        Line($"compile again after an edit, look-ups carried over: {warm / json:N2} of a round trip ({warm:N0} ms)");
        plan = null;
        var beforePlan = Memory();
        plan = Planner.Compile(model);
        Line($"memory of the plan and its findings: {(double)(Memory() - beforePlan) / properties:N0} B a resolved property");
        GC.KeepAlive(plan);

        var random = new Random(1);
        var nodes = model.Index.EquipmentInOrder;
        var latencies = new List<double>();
        var at = model;
        for (var i = 0; i < 60; i++)
        {
            var node = nodes[random.Next(1000, nodes.Length)];
            var watch = Stopwatch.StartNew();
            Edit edit = (i % 3) switch
            {
                0 => new SaveEquipment(node.Id, node.Code + "x", node.Name, node.Level, node.ParentId, node.TemplateId),
                1 => new SaveEquipment(
                    null,
                    $"New{i}",
                    $"New {i}",
                    EquipmentLevel.Unit,
                    nodes[random.Next(nodes.Length)] is { Level: EquipmentLevel.ProcessCell } cell
                        ? cell.Id
                        : nodes.First(n => n.Level == EquipmentLevel.ProcessCell).Id,
                    nodes.Last(n => n.TemplateId is not null).TemplateId
                ),
                _ => new MoveEquipment(
                    nodes.Last(n => n.TemplateId is not null).Id,
                    nodes.Where(n => n.Level == EquipmentLevel.ProcessCell).ElementAt(i).Id
                ),
            };
            watch.Restart();
            var outcome = edit.On(at);
            if (outcome.IsRefused)
                continue;
            at = at.Apply(outcome.Changes);
            // What a page of the plant asks for: a column, its gauges, the sheet.
            foreach (var child in at.Index.ChildrenOf(at.Index.ChildrenOf(null).First().Id))
                _ = at.Index.TaggedBelow(child.Id);
            _ = at.Index.PropertiesOf(at.Equipment[node.Id]);
            latencies.Add(watch.Elapsed.TotalMilliseconds);
        }
        latencies.Sort();
        Line(
            $"an edit and the look-ups its page needs: median {latencies[latencies.Count / 2]:N0} ms, p95 "
                + $"{latencies[latencies.Count * 95 / 100]:N0} ms"
        );

        var finds = new List<double>();
        foreach (
            var text in Enumerable.Repeat(new[] { "unit", "TT0420", "Area3 Unit 7", "property 4", "nothing at all" }, 8).SelectMany(t => t)
        )
        {
            var watch = Stopwatch.StartNew();
            _ = Finder.Find(at, text, 30);
            finds.Add(watch.Elapsed.TotalMilliseconds);
        }
        finds.Sort();
        Line($"find: median {finds[finds.Count / 2]:N0} ms, p95 {finds[finds.Count * 95 / 100]:N0} ms");
        Checks(model, json);
    }

    /// <summary>The list of bindings to check: what is worked out once beside the pages, and what a page costs then.</summary>
    private static void Checks(PlantModel model, double json)
    {
        static LiveReading? Live((long EquipmentId, long PropertyId) cell) =>
            new LiveReading(20 + (cell.EquipmentId % 60), StatusCode.Good, "");
        var list = Median(3, () => CheckList.Of(model));
        var doubts = new BindingDoubts(model);
        var steady = Median(1, () => model.Templates.Values.Select(doubts.Steady).ToArray());
        IReadOnlyList<BindingDoubt> found = [];
        var moving = Median(3, () => found = [.. model.Templates.Values.SelectMany(t => doubts.Moving(t, Live))]);
        var marked = CheckList
            .Of(model)
            .Marked(found.GroupBy(d => (d.EquipmentId, d.PropertyId)).ToDictionary(g => g.Key, g => g.ToArray()));
        var page = new[] { 1, 700, 1900 }.Max(number => Median(5, () => marked.Page(null, null, CheckFilter.All, number, 100)));
        Line(
            $"bindings to check, listed: {list / json:N2} of a round trip; looked through by name {steady / json:N2}, by value "
                + $"{moving / json:N2}"
        );
        Line($"figure: a page of the bindings to check among {model.Bindings.Count} = {page:N1} ms (aim 50)");
    }

    /// <summary>Writes the generated model to a file, for the application to take in.</summary>
    public static void Write(string file) => File.WriteAllBytes(file, ModelFormat.Write(HugePlant.Make()));

    private static long Memory() => GC.GetTotalMemory(forceFullCollection: true);

    private static double Median(int times, Func<object?> work)
    {
        var took = new List<double>();
        for (var i = 0; i < times; i++)
        {
            GC.Collect();
            var watch = Stopwatch.StartNew();
            GC.KeepAlive(work());
            took.Add(watch.Elapsed.TotalMilliseconds);
        }
        took.Sort();
        return took[times / 2];
    }

    private static void Line(string text) => Console.WriteLine(text);
}
