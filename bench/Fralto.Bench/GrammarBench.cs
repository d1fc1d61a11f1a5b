using System.Diagnostics;
using System.Globalization;
using Fralto.Bench.Naming;
using Fralto.Core.Bindings;
using Fralto.Core.Plant;
using Fralto.Core.Proposals;

namespace Fralto.Bench;

/// <summary>How right proposals are on plants drawn by chance, seeds drawn anew each time and printed: precision, recall, what one more
/// right example does, and whether what is said to be certain is.</summary>
internal static class GrammarBench
{
    private const int Bins = 10;

    /// <param name="count">How many plants.</param>
    /// <param name="first">The first seed; null draws one.</param>
    /// <param name="tell">True to list what is wrong and missed.</param>
    public static void Run(int count, int? first, bool tell)
    {
        var seed = first ?? Random.Shared.Next(1, 1_000_000);
        Console.WriteLine($"plants {seed} to {seed + count - 1}");
        var watch = Stopwatch.StartNew();
        var results = new Result[count];
        Parallel.For(0, count, i => results[i] = Look(seed + i, tell));
        foreach (
            var bad in results
                .Where(r => r.One.Precision < 0.99 || r.None.Precision < 0.97 || r.Recall < 0.95 || r.Lost > 0)
                .OrderBy(r => Math.Min(r.One.Precision, r.None.Precision))
                .ThenBy(r => r.Recall)
        )
            Console.WriteLine(
                string.Create(
                    CultureInfo.InvariantCulture,
                    $"{bad.Seed}: one {bad.One.Precision:0.000} ({bad.One.Wrong} wrong) recall {bad.Recall:0.000} none "
                        + $"{bad.None.Precision:0.000} ({bad.None.Wrong} wrong, {bad.None.Right} right) lost {bad.Lost}  {bad.Words}"
                )
            );
        static ProposalScore Sum(IEnumerable<ProposalScore> all) =>
            all.Aggregate(new ProposalScore(0, 0, 0), (a, b) => new(a.Right + b.Right, a.Wrong + b.Wrong, a.Missed + b.Missed));
        var (one, none) = (Sum(results.Select(r => r.One)), Sum(results.Select(r => r.None)));
        Figure("lowest precision of a plant after one example", results.Min(r => r.One.Precision), "of 1", "0.99");
        Figure("plants below that", results.Count(r => r.One.Precision < 0.99), "plants", "0");
        Figure("precision after one example over all", one.Precision, "of 1", "0.998");
        Figure("mean recall after one example where it is told", results.Average(r => r.Recall), "of 1", "0.95");
        Figure("plants with recall below 0.95 there", results.Count(r => r.Recall < 0.95), "plants", "0");
        Figure("plants that lose more than a cell in a hundred by one more right example", results.Count(r => r.Lost > 0), "plants", "0");
        Figure("lowest precision of a plant without an example", results.Min(r => r.None.Precision), "of 1", "0.97");
        Figure("plants below that without an example", results.Count(r => r.None.Precision < 0.97), "plants", "0");
        Figure("precision without an example over all", none.Precision, "of 1", "0.97");
        Figure("recall without an example", none.Recall, "of 1", "none");
        Calibration([.. results.SelectMany(r => r.Said)]);
        Console.WriteLine($"{watch.Elapsed.TotalSeconds:0} s");
    }

    /// <summary>Of what is said to be so certain, how much is right.</summary>
    private static void Calibration((double Certainty, bool IsRight)[] said)
    {
        var (error, worst) = (0.0, 0.0);
        Console.WriteLine("certainty     said    right");
        for (var bin = 0; bin < Bins; bin++)
        {
            var its = said.Where(s => Math.Min(Bins - 1, (int)(s.Certainty * Bins)) == bin).ToArray();
            if (its.Length == 0)
                continue;
            var (mean, right) = (its.Average(s => s.Certainty), its.Average(s => s.IsRight ? 1.0 : 0));
            error += Math.Abs(mean - right) * its.Length / said.Length;
            if (its.Length > 50)
                worst = Math.Max(worst, Math.Abs(mean - right));
            Console.WriteLine(string.Create(CultureInfo.InvariantCulture, $"{mean, 9:0.000} {its.Length, 8} {right, 8:0.000}"));
        }
        Figure("expected calibration error", error, "of 1", "0.03");
        Figure("largest error of a tenth", worst, "of 1", "0.1");
    }

    private static Result Look(int seed, bool tell)
    {
        var drawn = GrammarPlant.Make(seed);
        var (plant, random) = (drawn.Plant, new Random(seed));
        var first = plant.Model.Templates.Values.ToDictionary(t => t.Id, t => Chosen(plant, t.Id, random));
        var bound = Bound(plant, first.Values.SelectMany(e => e.Take(1)));
        var taught = first
            .Values.SelectMany(e => e.Take(1))
            .ToDictionary(
                e => e.TemplateId!.Value,
                e => drawn.Conventions.Where(c => c.Key.EquipmentId == e.Id).Select(c => c.Value).FirstOrDefault()
            );
        var (none, one) = (Proposer.Propose(new(plant.Model)), Proposer.Propose(new(bound)));
        var places = first
            .Values.SelectMany(e => e.Take(1))
            .ToDictionary(e => e.TemplateId!.Value, e => plant.Model.Index.LineageOf(e.Id).ToArray());
        var told = one.Proposals.Where(p =>
            drawn.IsTold((p.EquipmentId, p.PropertyId))
            // Two sites called alike: only the controllers tell which is which.
            && plant.Model.Index.LineageOf(p.EquipmentId).ElementAt(1) == places[plant.Model.Equipment[p.EquipmentId].TemplateId!.Value][1]
            && taught.GetValueOrDefault(plant.Model.Equipment[p.EquipmentId].TemplateId!.Value)
                == drawn.Conventions[(p.EquipmentId, p.PropertyId)]
        );
        var (toldAll, toldRight) = (told.Count(), told.Count(p => IsRight(plant, p)));
        // One more right example of one template, in another place where there is one.
        var more = first.Values.Where(e => e.Length > 1).OrderByDescending(e => e.Length).FirstOrDefault();
        var lost = 0;
        if (more is not null)
        {
            var two = Proposer.Propose(new(Bound(plant, first.Values.SelectMany(e => e.Take(1)).Append(more[1]))));
            var right = two.Proposals.Where(p => IsRight(plant, p)).Select(p => (p.EquipmentId, p.PropertyId)).ToHashSet();
            var of = one.Proposals.Count(p => p.EquipmentId != more[1].Id);
            var gone = one.Proposals.Count(p =>
                IsRight(plant, p) && p.EquipmentId != more[1].Id && !right.Contains((p.EquipmentId, p.PropertyId))
            );
            lost = gone > Math.Max(1, of / 100) ? gone : 0;
            if (tell && lost > 0)
            {
                Console.WriteLine($"  lost by {plant.Model.Index.PathOf(more[1].Id)} beside {plant.Model.Index.PathOf(more[0].Id)}:");
                TellRules(plant, two);
                foreach (var p in two.Proposals.Where(p => p.EquipmentId != more[1].Id && !IsRight(plant, p)).Take(40))
                    Tell(plant, p);
                Console.WriteLine("  before:");
            }
        }
        if (tell)
            TellRules(plant, one);
        if (tell)
            foreach (
                var p in one.Proposals.Where(p => !IsRight(plant, p) && (p.Kind == ProposalKind.Proposed || told.Contains(p))).Take(60)
            )
                Tell(plant, p);
        if (tell)
            foreach (var p in none.Proposals.Where(p => !IsRight(plant, p) && p.Kind == ProposalKind.Proposed).Take(20))
                Tell(plant, p);
        return new(
            seed,
            drawn.Words,
            ScoreOf(plant, one),
            ScoreOf(plant, none),
            toldAll == 0 ? 1 : (double)toldRight / toldAll,
            lost,
            [
                .. one
                    .Proposals.Concat(none.Proposals)
                    .Where(p => p.TagId is not null)
                    .Select(p => (p.Certainty, plant.Truth.GetValueOrDefault((p.EquipmentId, p.PropertyId)) == p.TagId)),
            ]
        );
    }

    private static void TellRules(NamingPlant plant, ProposalMatrix set)
    {
        foreach (var rule in set.Rules.Take(40))
            Console.WriteLine(
                $"  rule {plant.Model.Templates[rule.TemplateId].Code} {rule.Face} {rule.Pattern} {rule.Strength} "
                    + $"{rule.Found}/{rule.Of}"
            );
    }

    private static void Tell(NamingPlant plant, Proposal p)
    {
        var model = plant.Model;
        var truth = plant.Truth.TryGetValue((p.EquipmentId, p.PropertyId), out var tag) ? model.Tags[tag].Name : "none";
        Console.WriteLine(
            $"  {p.Kind} {model.Index.PathOf(p.EquipmentId)} "
                + $"{model.Index.PropertiesOf(model.Equipment[p.EquipmentId]).First(x => x.Id == p.PropertyId).Code}: "
                + $"{(p.TagId is { } id ? model.Tags[id].Name : "-")}{OwnerOf(plant, p)} for {truth} {p.Certainty} {p.Reason} "
                + $"[{string.Join("; ", p.Parts.Select(Words))}]"
        );
    }

    /// <summary>Whose the proposed tag is.</summary>
    private static string OwnerOf(NamingPlant plant, Proposal p) =>
        plant.Truth.FirstOrDefault(t => t.Value == p.TagId) is { Value: > 0 } owner && owner.Key != (p.EquipmentId, p.PropertyId)
            ? $" (of {plant.Model.Index.PathOf(owner.Key.EquipmentId)}, "
                + $"{plant.Model.Controllers[plant.Model.Tags[owner.Value].ControllerId].Name})"
            : "";

    private static string Words(ScorePart part) =>
        string.Create(CultureInfo.InvariantCulture, $"{part.Kind} {part.Weight:0.0} {part.Words}");

    private static bool IsRight(NamingPlant plant, Proposal p) =>
        p.Kind == ProposalKind.Proposed && plant.Truth.TryGetValue((p.EquipmentId, p.PropertyId), out var tag) && tag == p.TagId;

    private static ProposalScore ScoreOf(NamingPlant plant, ProposalMatrix matrix) =>
        new(
            matrix.Proposals.Count(p => IsRight(plant, p)),
            matrix.Proposals.Count(p => p.Kind == ProposalKind.Proposed && !IsRight(plant, p)),
            matrix.Proposals.Count(p => plant.Truth.ContainsKey((p.EquipmentId, p.PropertyId)) && !IsRight(plant, p))
        );

    /// <summary>Instances a person would begin with: of those that have most of their tags, any; then one elsewhere.</summary>
    private static Core.Hierarchy.Equipment[] Chosen(NamingPlant plant, long template, Random random)
    {
        var most = plant
            .Model.Index.InstancesOf(template)
            .GroupBy(e => plant.Model.Templates[template].Properties.Count(p => plant.Truth.ContainsKey((e.Id, p.Id))))
            .Where(g => g.Key > 0)
            .MaxBy(g => g.Key)
            ?.OrderBy(_ => random.Next())
            .ToArray();
        if (most is null)
            return [];
        var elsewhere = most.Skip(1).FirstOrDefault(e => e.ParentId != most[0].ParentId) ?? most.Skip(1).FirstOrDefault();
        return elsewhere is null ? [most[0]] : [most[0], elsewhere];
    }

    private static PlantModel Bound(NamingPlant plant, IEnumerable<Core.Hierarchy.Equipment> chosen) =>
        plant.Model with
        {
            Bindings = plant.Model.Bindings.AddRange(
                chosen.SelectMany(e =>
                    plant
                        .Model.Templates[e.TemplateId!.Value]
                        .Properties.Where(p => plant.Truth.ContainsKey((e.Id, p.Id)))
                        .Select(p => KeyValuePair.Create((e.Id, p.Id), new PropertyBinding(e.Id, p.Id, plant.Truth[(e.Id, p.Id)])))
                )
            ),
        };

    private static void Figure(string name, double value, string unit, string aim) =>
        Console.WriteLine(string.Create(CultureInfo.InvariantCulture, $"figure: {name} = {value:0.####} {unit} (aim {aim})"));

    private sealed record Result(
        int Seed,
        string Words,
        ProposalScore One,
        ProposalScore None,
        double Recall,
        int Lost,
        (double Certainty, bool IsRight)[] Said
    );
}
