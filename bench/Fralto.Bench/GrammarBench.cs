using System.Diagnostics;
using System.Globalization;
using Fralto.Bench.Naming;
using Fralto.Core.Proposals;

namespace Fralto.Bench;

/// <summary>How right proposals are on plants drawn by chance, seeds drawn anew each time and printed: precision, recall, what one more
/// right example does, and whether what is said to be certain is.</summary>
internal static class GrammarBench
{
    private const int Bins = 10;
    private const int FewestOfTenth = 50;
    private const int FewestOfFamily = 10;

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
        {
            var parts = string.Join(", ", bad.Parts);
            Console.WriteLine(
                string.Create(
                    CultureInfo.InvariantCulture,
                    $"{bad.Seed}: one {bad.One.Precision:0.000} ({bad.One.Wrong} wrong) recall {bad.Recall:0.000} none "
                        + $"{bad.None.Precision:0.000} ({bad.None.Wrong} wrong, {bad.None.Right} right) lost {bad.Lost}  {parts}"
                )
            );
        }
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
        // A plant is of the family of each part that was drawn; of a family that few are of chance says more than the rules.
        var families = results
            .SelectMany(r => r.Parts.Select(p => (Family: p, r.Said)))
            .GroupBy(f => f.Family, f => f.Said)
            .Where(f => f.Count() >= FewestOfFamily)
            .Select(f => (Family: f.Key, Error: ErrorOf([.. f.SelectMany(s => s)])))
            .OrderByDescending(f => f.Error)
            .ToArray();
        foreach (var (family, wrong) in families.Take(5))
            Console.WriteLine(
                string.Create(CultureInfo.InvariantCulture, $"expected calibration error {wrong:0.000} of plants with: {family}")
            );
        if (families.Length > 0)
            Figure("largest expected calibration error of a family", families[0].Error, "of 1", "0.1");
        Console.WriteLine($"{watch.Elapsed.TotalSeconds:0} s");
    }

    /// <summary>Of what is said to be so certain, how much is right: tenth by tenth.</summary>
    private static IEnumerable<(double Said, double Right, int Count)> Tenths((double Certainty, bool IsRight)[] said) =>
        said.GroupBy(s => Math.Min(Bins - 1, (int)(s.Certainty * Bins)))
            .OrderBy(bin => bin.Key)
            .Select(bin => (bin.Average(s => s.Certainty), bin.Average(s => s.IsRight ? 1.0 : 0), bin.Count()));

    private static double ErrorOf((double Certainty, bool IsRight)[] said) =>
        Tenths(said).Sum(t => Math.Abs(t.Said - t.Right) * t.Count / said.Length);

    private static void Calibration((double Certainty, bool IsRight)[] said)
    {
        Console.WriteLine("certainty     said    right");
        foreach (var (mean, right, count) in Tenths(said))
            Console.WriteLine(string.Create(CultureInfo.InvariantCulture, $"{mean, 9:0.000} {count, 8} {right, 8:0.000}"));
        Figure("expected calibration error", ErrorOf(said), "of 1", "0.03");
        var bold = Tenths(said).Where(t => t.Count > FewestOfTenth).Select(t => t.Said - t.Right);
        Figure("most that a tenth is said above what is right", bold.Append(0).Max(), "of 1", "0.1");
        var large = Tenths(said).Where(t => t.Count > FewestOfTenth).Select(t => Math.Abs(t.Said - t.Right));
        Figure("largest error of a tenth", large.DefaultIfEmpty().Max(), "of 1", "0.1");
    }

    private static Result Look(int seed, bool tell)
    {
        var drawn = GrammarPlant.Make(seed);
        var (plant, lesson) = (drawn.Plant, Lesson.Of(drawn.Plant, seed));
        var (none, one) = (lesson.Untaught(), lesson.Taught());
        var its = drawn.ToldBy(lesson.Shown);
        var told = one.Proposals.Where(p => its.Contains((p.EquipmentId, p.PropertyId))).ToArray();
        var (toldAll, toldRight) = (told.Length, told.Count(lesson.IsRight));
        var lost = 0;
        if (lesson.TaughtMore() is { } two)
        {
            lost = lesson.LostBy(one, two);
            if (tell && lost > 0)
            {
                var beside = lesson.Shown.Single(e => e.TemplateId == lesson.More!.TemplateId);
                Console.WriteLine($"  lost by {plant.Model.Index.PathOf(lesson.More!.Id)} beside {plant.Model.Index.PathOf(beside.Id)}:");
                TellRules(plant, two);
                var right = one.Proposals.Where(lesson.IsRight).Select(p => (p.EquipmentId, p.PropertyId)).ToHashSet();
                foreach (var p in two.Proposals.Where(p => right.Contains((p.EquipmentId, p.PropertyId)) && !lesson.IsRight(p)).Take(40))
                    Tell(plant, p);
                Console.WriteLine("  before:");
            }
        }
        if (tell)
        {
            TellRules(plant, one);
            foreach (
                var p in one.Proposals.Where(p => !lesson.IsRight(p) && (p.Kind == ProposalKind.Proposed || told.Contains(p))).Take(60)
            )
                Tell(plant, p);
            foreach (var p in none.Proposals.Where(p => !lesson.IsRight(p) && p.Kind == ProposalKind.Proposed).Take(20))
                Tell(plant, p);
        }
        return new(
            seed,
            drawn.Parts,
            lesson.ScoreOf(one),
            lesson.ScoreOf(none),
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

    /// <summary>Prints the rules that were learned.</summary>
    public static void TellRules(NamingPlant plant, ProposalMatrix set)
    {
        foreach (var rule in set.Rules.Take(40))
            Console.WriteLine(
                $"  rule {plant.Model.Templates[rule.TemplateId].Code} {rule.Face} {rule.Pattern} {rule.Strength} "
                    + $"{rule.Found}/{rule.Of}"
            );
    }

    /// <summary>Prints a proposal, what is right, and why it was made.</summary>
    public static void Tell(NamingPlant plant, Proposal p)
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

    private static void Figure(string name, double value, string unit, string aim) =>
        Console.WriteLine(string.Create(CultureInfo.InvariantCulture, $"figure: {name} = {value:0.####} {unit} (aim {aim})"));

    private sealed record Result(
        int Seed,
        IReadOnlyList<string> Parts,
        ProposalScore One,
        ProposalScore None,
        double Recall,
        int Lost,
        (double Certainty, bool IsRight)[] Said
    );
}
