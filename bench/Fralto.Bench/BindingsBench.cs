using System.Diagnostics;
using System.Globalization;
using Fralto.Bench.Naming;
using Fralto.Core.Controllers;
using Fralto.Core.Modbus;
using Fralto.Core.Plant;
using Fralto.Core.Properties;
using Fralto.Core.Proposals;
using Fralto.Core.Scaling;

namespace Fralto.Bench;

/// <summary>How right and how fast proposals are, on generated plants of many naming styles.</summary>
internal static class BindingsBench
{
    private const int RandomStyles = 150;
    private static readonly int[] Seeds = [11, 23, 37];

    private static IEnumerable<(string Name, bool IsSaid, Func<int, NamingPlant> Make)> Plants =>
        [
            .. NamingStyle.All.Select(s => (s.Name, true, (Func<int, NamingPlant>)(seed => PlantMaker.Make(s, seed)))),
            .. WaterStyle.All.Select(s => (s.Name, s.IsSaid, (Func<int, NamingPlant>)(seed => Waterworks.Make(s, seed)))),
        ];

    /// <summary>Prints precision and recall of every style.</summary>
    /// <param name="tell">Part of the name of a style whose errors are listed; "speed" for the times alone.</param>
    public static void Run(string? tell = null)
    {
        if (tell == "speed")
        {
            Speed();
            return;
        }
        Console.WriteLine("style                                  one example: precision  recall  of cells    none: precision  recall");
        var (recalls, lowest) = (new List<double>(), 1.0);
        foreach (var (name, isSaid, make) in Plants)
        {
            if (tell is not null && !name.Contains(tell, StringComparison.OrdinalIgnoreCase))
                continue;
            var told = 0;
            void Tell(NamingPlant plant, Proposal p)
            {
                if (tell is null || (p.Kind != ProposalKind.Proposed && told++ > 6))
                    return;
                var model = plant.Model;
                var truth = plant.Truth.TryGetValue((p.EquipmentId, p.PropertyId), out var tag) ? model.Tags[tag].Name : "none";
                Console.WriteLine(
                    $"  {p.Kind} {model.Index.PathOf(p.EquipmentId)} {p.PropertyId}: "
                        + $"{(p.TagId is { } id ? model.Tags[id].Name : "-")} for {truth} {p.Certainty} {p.Reason} "
                        + $"[{string.Join("; ", p.Parts.Select(x => $"{x.Kind} {x.Weight:0.0} {x.Words}"))}]"
                );
            }
            var each = Seeds.Select(make).Select(p => ProposalScore.Of(p, 1, x => Tell(p, x))).ToArray();
            var one = Sum(each);
            lowest = Math.Min(lowest, each.Min(s => s.Precision));
            told = 0;
            var none = Sum(Seeds.Select(make).Select(p => ProposalScore.Of(p, 0, x => Tell(p, x))));
            if (isSaid)
                recalls.Add(one.Recall);
            Console.WriteLine(
                string.Create(
                    CultureInfo.InvariantCulture,
                    $"{name, -40} {one.Precision, 16:0.000} {one.Recall, 9:0.000} {one.Right + one.Missed, 9:#,##0} "
                        + $"{none.Precision, 17:0.000} {none.Recall, 9:0.000}{(isSaid ? "" : "   parts are not said")}"
                )
            );
        }
        // Of styles that say nothing there is none.
        double[] those = [.. recalls.DefaultIfEmpty(double.NaN)];
        Console.WriteLine(
            string.Create(
                CultureInfo.InvariantCulture,
                $"mean recall after one example, where names or descriptions say what is what, {those.Average():0.000}, lowest "
                    + $"{those.Min():0.000}; lowest precision of a single plant {lowest:0.000}"
            )
        );
        if (tell is not null)
            return;
        ByChance();
        Speed();
    }

    /// <summary>Naming styles that nobody thought of.</summary>
    private static void ByChance()
    {
        var scores = Enumerable
            .Range(1000, RandomStyles)
            .Select(seed => PlantMaker.Make(RandomStyle.Of(seed), seed))
            .Select(p => (One: ProposalScore.Of(p, 1), None: ProposalScore.Of(p, 0)))
            .ToArray();
        var none = Sum(scores.Select(s => s.None));
        Console.WriteLine(
            string.Create(
                CultureInfo.InvariantCulture,
                $"{scores.Length} random styles after one example: lowest precision {scores.Min(s => s.One.Precision):0.000}, mean "
                    + $"recall {scores.Average(s => s.One.Recall):0.000}, recall below 0.95 in {scores.Count(s => s.One.Recall < 0.95)}"
            )
        );
        Console.WriteLine(
            string.Create(
                CultureInfo.InvariantCulture,
                $"without an example: precision {none.Precision:0.000} over all, below 0.95 in "
                    + $"{scores.Count(s => s.None.Precision < 0.95)}; {none.Wrong} wrong of {none.Right + none.Wrong:#,##0} proposed"
            )
        );
    }

    /// <summary>How long proposals take: 5,000 open cells among ever more tags, and once more after another example.</summary>
    private static void Speed()
    {
        Console.WriteLine();
        Console.WriteLine("tags      open cells   first answer   after one more example   memory held");
        foreach (var tags in new[] { 10_000, 30_000, 100_000 })
        {
            var plant = PlantMaker.Make(NamingStyle.All[2], 5, 6);
            var bound = Crowded(ProposalScore.Bound(plant, 1), tags);
            var before = GC.GetTotalMemory(true);
            var watch = Stopwatch.StartNew();
            var matrix = Proposer.Propose(new(bound));
            var first = watch.ElapsedMilliseconds;
            var held = (GC.GetTotalMemory(true) - before) / 1_000_000;
            var accepted = matrix.Proposals.First(p => p.Kind == ProposalKind.Proposed);
            bound = bound with
            {
                Bindings = bound.Bindings.Add(
                    (accepted.EquipmentId, accepted.PropertyId),
                    new(accepted.EquipmentId, accepted.PropertyId, accepted.TagId!.Value)
                ),
            };
            _ = bound.Index.UsedTagCount;
            watch.Restart();
            matrix = Proposer.Propose(new(bound));
            Console.WriteLine(
                string.Create(
                    CultureInfo.InvariantCulture,
                    $"{bound.Tags.Count, -9:#,##0} {matrix.Proposals.Length, -12:#,##0} {first, 9:#,##0} ms   "
                        + $"{watch.ElapsedMilliseconds, 19:#,##0} ms   {held, 8:#,##0} MB"
                )
            );
        }
        var (one, question) = OneTemplate();
        var sheet = Stopwatch.StartNew();
        var answer = Proposer.Propose(question);
        Console.WriteLine(
            string.Create(
                CultureInfo.InvariantCulture,
                $"one template of {one.Instances} instances x {one.Properties} properties, {answer.Proposals.Length:#,##0} open "
                    + $"cells: {sheet.ElapsedMilliseconds:#,##0} ms after one more example"
            )
        );
        Console.WriteLine($"largest working set {Process.GetCurrentProcess().PeakWorkingSet64 / 1_000_000:#,##0} MB");
    }

    /// <summary>A plant with tags of other equipment beside its own.</summary>
    private static PlantModel Crowded(PlantModel model, int tags)
    {
        var next = model.NextId;
        var more = Enumerable
            .Range(0, Math.Max(0, tags - model.Tags.Count))
            .Select(i => new Tag(
                next + i,
                model.Controllers.Keys.First(),
                $"West.Presses.PR{i / 20:0000}.Value{i % 20:00}",
                new ModbusAddress(RegisterArea.HoldingRegister, i % 60_000),
                RawType.Float32,
                WordOrder.HighFirst,
                ""
            ))
            .ToArray();
        return model with { Tags = model.Tags.AddRange(more.Select(t => KeyValuePair.Create(t.Id, t))), NextId = next + more.Length };
    }

    /// <summary>200 instances of 20 properties with one instance bound, asked for the second time.</summary>
    private static ((int Instances, int Properties) Size, ProposalQuestion Question) OneTemplate()
    {
        var kind = new Kind(
            "Cell",
            "Cell",
            "CE",
            200,
            [
                .. Enumerable
                    .Range(1, 20)
                    .Select(i => new Naming.Signal(
                        $"V{i}",
                        $"Value {i}",
                        $"TT{i:00}",
                        $"Value {i}",
                        "",
                        "",
                        "",
                        "",
                        PropertyType.Number,
                        RawType.Float32,
                        "CEL",
                        100
                    )),
            ]
        );
        var plant = PlantMaker.Make(NamingStyle.All[1], 7, 1, [kind], areas: 1);
        var bound = ProposalScore.Bound(plant, 1);
        Proposer.Propose(new(bound));
        return ((200, 20), new(ProposalScore.Bound(plant, 2)));
    }

    private static ProposalScore Sum(IEnumerable<ProposalScore> scores) =>
        scores.Aggregate(new ProposalScore(0, 0, 0), (a, b) => new(a.Right + b.Right, a.Wrong + b.Wrong, a.Missed + b.Missed));
}
