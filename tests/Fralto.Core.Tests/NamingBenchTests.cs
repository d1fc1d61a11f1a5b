using Fralto.Bench.Naming;

namespace Fralto.Core.Tests;

/// <summary>Proposals on generated plants, made from other seeds than the bench reports.</summary>
public sealed class NamingBenchTests
{
    public static TheoryData<string> Styles => [.. NamingStyle.All.Select(s => s.Name)];

    [Theory]
    [MemberData(nameof(Styles))]
    public void One_instance_bound_by_hand_leads_to_the_rest(string style)
    {
        var plant = PlantMaker.Make(NamingStyle.All.Single(s => s.Name == style), 4711, areas: 2);
        var score = ProposalScore.Of(plant, 1);
        score.Precision.ShouldBeGreaterThanOrEqualTo(0.99);
        score.Recall.ShouldBeGreaterThanOrEqualTo(0.95);
        (score.Right + score.Missed).ShouldBeGreaterThan(400);
    }

    [Theory]
    [MemberData(nameof(Styles))]
    public void Without_any_example_what_is_proposed_is_right(string style) =>
        ProposalScore
            .Of(PlantMaker.Make(NamingStyle.All.Single(s => s.Name == style), 815, areas: 2), 0)
            .Precision.ShouldBeGreaterThanOrEqualTo(0.95);

    [Fact]
    public void Descriptions_and_plain_words_suffice_without_an_example() =>
        ProposalScore
            .Of(PlantMaker.Make(NamingStyle.All.Single(s => s.Name == "Hierarchy with dots"), 815), 0)
            .Recall.ShouldBeGreaterThan(0.9);

    public static TheoryData<string> Waters => [.. WaterStyle.All.Select(s => s.Name)];

    [Theory]
    [MemberData(nameof(Waters))]
    public void Waterworks_with_parts_and_gaps_follow_one_instance_of_each_template(string style)
    {
        var its = WaterStyle.All.Single(s => s.Name == style);
        var score = ProposalScore.Of(Waterworks.Make(its, 4711), 1);
        score.Precision.ShouldBeGreaterThanOrEqualTo(0.99);
        score.Recall.ShouldBeGreaterThanOrEqualTo(its.IsSaid ? 0.95 : 0.2);
        (score.Right + score.Missed).ShouldBeGreaterThan(1000);
    }

    [Theory]
    [MemberData(nameof(Waters))]
    public void Without_any_example_what_is_proposed_for_waterworks_is_right(string style) =>
        ProposalScore.Of(Waterworks.Make(WaterStyle.All.Single(s => s.Name == style), 815), 0).Precision.ShouldBeGreaterThanOrEqualTo(0.95);

    public static TheoryData<string> Quarries => [.. QuarryStyle.All.Select(s => s.Name)];

    [Theory]
    [MemberData(nameof(Quarries))]
    public void Quarries_that_grew_follow_one_machine_of_each_kind(string style)
    {
        var its = QuarryStyle.All.Single(s => s.Name == style);
        var plant = Quarry.Make(its, 4711);
        // Any machine of each kind, and the first of each, all of one area.
        var lesson = Lesson.Of(plant, 4711);
        var (any, first) = (lesson.ScoreOf(lesson.Taught()), ProposalScore.Of(plant, 1));
        any.Precision.ShouldBeGreaterThanOrEqualTo(its.Precision);
        first.Precision.ShouldBeGreaterThanOrEqualTo(its.Precision);
        any.Recall.ShouldBeGreaterThanOrEqualTo(its.IsSaid ? 0.9 : 0);
        (any.Right + any.Missed).ShouldBeGreaterThan(250);
    }

    [Fact]
    public void Names_thrown_together_by_chance_are_learned_from_one_instance_too()
    {
        var scores = Enumerable
            .Range(1, 12)
            .Select(seed => ProposalScore.Of(PlantMaker.Make(RandomStyle.Of(seed), seed, areas: 2), 1))
            .ToArray();
        scores.Min(s => s.Precision).ShouldBeGreaterThanOrEqualTo(0.99);
        scores.Average(s => s.Recall).ShouldBeGreaterThanOrEqualTo(0.95);
    }

    [Fact]
    public void Plants_put_together_from_independent_parts_are_proposed_for_rightly_with_and_without_an_example()
    {
        var plants = Enumerable.Range(40_000, 24).Select(seed => GrammarPlant.Make(seed).Plant).ToArray();
        foreach (var (examples, least) in new[] { (0, 0.99), (1, 0.98) })
        {
            var scores = plants.Select(p => ProposalScore.Of(p, examples)).ToArray();
            (scores.Sum(s => s.Right) / (double)scores.Sum(s => s.Right + s.Wrong)).ShouldBeGreaterThanOrEqualTo(least);
            scores.Sum(s => s.Right).ShouldBeGreaterThan(examples * 3000);
        }
    }
}
