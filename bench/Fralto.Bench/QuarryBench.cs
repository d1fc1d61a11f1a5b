using System.Globalization;
using Fralto.Bench.Naming;
using Fralto.Core.Proposals;

namespace Fralto.Bench;

/// <summary>How right proposals are on quarries named by other rules than those by which they were worked on.</summary>
internal static class QuarryBench
{
    public static void Run(int first, int seeds, string? tell)
    {
        foreach (var style in QuarryStyle.All.Where(s => tell is null || s.Name.Contains(tell, StringComparison.OrdinalIgnoreCase)))
        {
            var looked = Enumerable.Range(first, seeds).Select(seed => Look(style, seed, tell is not null)).ToArray();
            Console.WriteLine(
                string.Create(
                    CultureInfo.InvariantCulture,
                    $"{style.Name, -38} one {looked.Min(l => l.One.Precision):0.000} ({looked.Sum(l => l.One.Wrong)} wrong) recall "
                        + $"{looked.Min(l => l.One.Recall):0.000} mean {looked.Average(l => l.One.Recall):0.000}  none {looked.Min(l => l.None.Precision):0.000} ({looked.Sum(l => l.None.Wrong)} wrong) recall {looked.Average(l => l.None.Recall):0.000}  lost {looked.Sum(l => l.Lost)} {(style.IsSaid ? "" : "not said")}"
                )
            );
        }
    }

    private static (ProposalScore One, ProposalScore None, int Lost) Look(QuarryStyle style, int seed, bool tell)
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
        return (lesson.ScoreOf(one), lesson.ScoreOf(none), two is null ? 0 : lesson.LostBy(one, two));
    }
}
