using System.Globalization;
using Fralto.Bench.Naming;
using Fralto.Core.Proposals;

namespace Fralto.Bench;

/// <summary>How right proposals are on quarries named by other rules than those by which they were worked on.</summary>
internal static class QuarryBench
{
    /// <summary>Prints precision and recall of each style: with one example of each kind, any and the first of each, and with
    /// none.</summary>
    /// <param name="first">The first seed.</param>
    /// <param name="seeds">How many quarries of each style.</param>
    /// <param name="tell">Part of the name of a style whose errors are listed; null for all styles, without errors.</param>
    public static void Run(int first, int seeds, string? tell)
    {
        Console.WriteLine($"{"style", -40} any: precision, recall   first of each       none                lost");
        foreach (var style in QuarryStyle.All.Where(s => tell is null || s.Name.Contains(tell, StringComparison.OrdinalIgnoreCase)))
        {
            var looked = Enumerable.Range(first, seeds).Select(seed => Look(style, seed, tell is not null)).ToArray();
            string Words(Func<Looked, ProposalScore> of) =>
                string.Create(
                    CultureInfo.InvariantCulture,
                    $"{looked.Min(l => of(l).Precision):0.000} ({looked.Sum(l => of(l).Wrong)}) {looked.Average(l => of(l).Recall):0.000}"
                );
            Console.WriteLine(
                $"{style.Name, -40} {Words(l => l.One), -22} {Words(l => l.First), -22} {Words(l => l.None), -22} "
                    + $"{looked.Sum(l => l.Lost)} {(style.IsSaid ? "" : "not said")}"
            );
        }
    }

    private sealed record Looked(ProposalScore One, ProposalScore First, ProposalScore None, int Lost);

    private static Looked Look(QuarryStyle style, int seed, bool tell)
    {
        var plant = Quarry.Make(style, seed);
        var lesson = Lesson.Of(plant, seed);
        var (one, none, two) = (lesson.Taught(), lesson.Untaught(), lesson.TaughtMore());
        if (tell)
        {
            GrammarBench.TellRules(plant, one);
            foreach (var e in lesson.Shown)
                Console.WriteLine($"  shown {plant.Model.Index.PathOf(e.Id)}");
            foreach (
                var p in one
                    .Proposals.Where(p =>
                        !lesson.IsRight(p) && (p.Kind == ProposalKind.Proposed || plant.Truth.ContainsKey((p.EquipmentId, p.PropertyId)))
                    )
                    .OrderBy(p => p.Kind == ProposalKind.Proposed ? 0 : 1)
                    .Take(40)
            )
                GrammarBench.Tell(plant, p);
            Console.WriteLine("  none:");
            foreach (var p in none.Proposals.Where(p => !lesson.IsRight(p) && p.Kind == ProposalKind.Proposed).Take(20))
                GrammarBench.Tell(plant, p);
            if (two is not null && lesson.LostBy(one, two) > 0)
            {
                Console.WriteLine($"  lost by {plant.Model.Index.PathOf(lesson.More!.Id)}");
                GrammarBench.TellRules(plant, two);
                var right = one.Proposals.Where(lesson.IsRight).Select(p => (p.EquipmentId, p.PropertyId)).ToHashSet();
                foreach (var p in two.Proposals.Where(p => right.Contains((p.EquipmentId, p.PropertyId)) && !lesson.IsRight(p)).Take(20))
                    GrammarBench.Tell(plant, p);
            }
        }
        return new(lesson.ScoreOf(one), ProposalScore.Of(plant, 1), lesson.ScoreOf(none), two is null ? 0 : lesson.LostBy(one, two));
    }
}
