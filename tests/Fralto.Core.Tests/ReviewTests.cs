using CsCheck;
using Fralto.Core.Basics;
using Fralto.Core.Bindings;
using Fralto.Core.Edits;
using Fralto.Core.Limits;
using Fralto.Core.Plant;
using Fralto.Core.Properties;
using Fralto.Core.Review;

namespace Fralto.Core.Tests;

/// <summary>What tells two models apart: carried along with edits, worked out anew, in words, and taken back.</summary>
public sealed class ReviewTests
{
    private static readonly DateTimeOffset Now = new(2026, 6, 1, 12, 0, 0, TimeSpan.Zero);
    private static readonly Gen<int[]> Steps = Gen.Int[0, 1_000_000].Array[1, 60];

    [Fact]
    public void Differences_carried_along_are_those_worked_out_anew_and_lead_back_and_forth() =>
        Steps.Sample(
            steps =>
            {
                var runs = RandomEditTests.Run(steps).ToArray();
                var (first, last, carried) = (runs[0].After, runs[^1].After, NetChanges.None);
                foreach (var (_, outcome, _) in runs)
                    carried = carried.After(outcome.Changes, "somebody", Now);
                var anew = NetChanges.Between(first, last);
                // A check holds in both models at once, so that it may stand before a change.
                carried.Changes.Select(Unchecked).ShouldBe(anew.Changes.Select(Unchecked), ignoreOrder: true);
                NetChanges.Between(anew.Before(last), first).IsEmpty.ShouldBeTrue();
                NetChanges.Between(first.Apply(anew.Changes), last).IsEmpty.ShouldBeTrue();
            },
            iter: 200
        );

    [Fact]
    public void Every_difference_is_in_the_words_and_every_row_can_be_taken_back_or_says_what_depends_on_it()
    {
        var (taken, refused) = (0, 0);
        Steps.Sample(
            steps =>
            {
                var runs = RandomEditTests.Run(steps).ToArray();
                var (first, last) = (runs[0].After, runs[^1].After);
                var net = NetChanges.Between(first, last);
                var rows = ReviewList.Of(first, last, net);
                rows.Select(r => r.Key).ShouldBeUnique();
                // No difference goes untold.
                var told = rows.SelectMany(r => r.Changes).Select(c => KeyOf((c.After ?? c.Before)!)).ToHashSet();
                net.Changes.Select(c => KeyOf((c.After ?? c.Before)!)).Except(told).ShouldBeEmpty();
                foreach (var row in rows)
                {
                    row.Words.ShouldNotBeNullOrWhiteSpace();
                    row.Group.ShouldNotBeNullOrWhiteSpace();
                    var outcome = new TakeBack("one back", row.Changes).On(last);
                    if (outcome.IsRefused)
                    {
                        outcome.Problems[0].Message.ShouldContain("depends on it");
                        refused++;
                        continue;
                    }
                    taken++;
                    var left = ReviewList.Of(first, last.Apply(outcome.Changes));
                    left.Where(r => r.Key == row.Key && r.Words == row.Words && r.Kind != ReviewKind.Moved).ShouldBeEmpty();
                }
                // All of them together lead to where it began.
                var all = new TakeBack("all back", [.. net.Changes]).On(last);
                all.Problems.ShouldBeEmpty();
                NetChanges.Between(first, last.Apply(all.Changes)).IsEmpty.ShouldBeTrue();
            },
            iter: 120,
            threads: 1
        );
        taken.ShouldBeGreaterThan(100);
        refused.ShouldBeGreaterThan(0);
    }

    [Fact]
    public void A_part_runs_by_itself_or_says_what_must_come_along()
    {
        var (alone, needing) = (0, 0);
        Steps.Sample(
            steps =>
            {
                var runs = RandomEditTests.Run(steps).ToArray();
                var (released, working) = (runs[0].After, runs[^1].After);
                var net = NetChanges.Between(released, working);
                foreach (var place in working.Equipment.Keys.Take(6))
                {
                    var part = PartialRelease.Below(working, released, net, place);
                    var choice = PartialRelease.Of(working, released, net, part);
                    if (choice.Problem is null)
                    {
                        alone++;
                        Rules.Integrity.NewProblems(released, choice.Model, [.. part.Changes]).ShouldBeEmpty();
                        // What is left is the rest, and nothing else.
                        NetChanges.Between(choice.Model, working).Count.ShouldBe(net.Count - part.Count);
                        continue;
                    }
                    if (choice.Needs.IsEmpty)
                        continue;
                    needing++;
                    choice.With.Count.ShouldBeGreaterThan(part.Count);
                    PartialRelease.Of(working, released, net, choice.With).Needs.ShouldBeEmpty("with all that is named nothing more is");
                }
            },
            iter: 120,
            threads: 1
        );
        alone.ShouldBeGreaterThan(20);
        needing.ShouldBeGreaterThan(5);
    }

    [Fact]
    public void A_limit_of_a_template_is_said_with_who_follows_and_who_keeps_its_own()
    {
        var plant = PlantBuilder.Kiln((LimitCondition.High, 88, 2, 2));
        foreach (var n in new[] { 2, 3, 4 })
            plant.Do(b => new SaveEquipment(null, $"KLN{n}", $"Kiln {n}", EquipmentLevel.Unit, b["Quay"], b["Kiln"]), $"KLN{n}");
        plant.Do(b => new PatchProperty([b["KLN2"]], b["AirOn"], new() { Limits = High(92) }, []));
        var before = plant.Model;
        plant.Do(b => new SaveProperty(
            b["Kiln"],
            b["AirOn"],
            "AirOn",
            "Air-on temperature",
            PropertyKind.Measured,
            PropertyType.Number,
            PlantBuilder.Celsius((LimitCondition.High, 90, 2, 2))
        ));
        var row = ReviewList.Of(before, plant.Model).ShouldHaveSingleItem();
        row.Words.ShouldBe("Air-on temperature · H 88 → 90");
        row.Group.ShouldBe("Kiln");
        row.Reach.ShouldBe("3 instances follow, Kiln 2 keeps 92.");
        row.Ruler.ShouldBe(new ReviewRuler(new(0, 120), 88, 90, "CEL"));
    }

    [Fact]
    public void What_stands_elsewhere_is_new_gone_or_fed_by_another_tag_is_said_so()
    {
        var plant = PlantBuilder.Kiln();
        plant.Do(b => new SaveEquipment(null, "Malt", "Malt hall", EquipmentLevel.Area, b["Quay"], null), "Malt");
        plant.Do(b => new SaveEquipment(null, "Old", "Old hall", EquipmentLevel.Area, b["Quay"], null), "Old");
        var before = plant.Model;
        plant
            .Do(b => new MoveEquipment(b["KLN1"], b["Malt"]))
            .Do(b => new SaveEquipment(null, "KLN2", "Kiln 2", EquipmentLevel.Unit, b["Malt"], b["Kiln"]), "KLN2")
            .Do(b => new Unbind(b["KLN1"], b["AirOn"]))
            .Do(b => new Bind(b["KLN2"], b["AirOn"], b["TT11"]))
            .Do(b => new RemoveEquipment(b["Old"]));
        var rows = ReviewList.Of(before, plant.Model);
        rows.Select(r => (r.Kind, r.Words))
            .ShouldBe(
                [
                    (ReviewKind.Moved, "Kiln 1 · below Tarn Quay → Malt hall"),
                    (ReviewKind.Rebound, "Kiln 1 · Air-on temperature unbound · TT11"),
                    (ReviewKind.Added, "Kiln 2"),
                    (ReviewKind.Removed, "Old hall"),
                ],
                ignoreOrder: true
            );
        rows.Single(r => r.Kind == ReviewKind.Added).Reach.ShouldBe("Kiln, 1 property bound.");
    }

    [Fact]
    public void That_a_binding_was_checked_is_no_difference()
    {
        var plant = PlantBuilder.Kiln();
        var before = plant.Model;
        plant.Do(b => new MarkChecked([(b["KLN1"], b["AirOn"])], new BindingCheck("kiln engineer", Now)));
        NetChanges.Between(before, plant.Model).IsEmpty.ShouldBeTrue();
        plant.Model.Bindings.Values.Single().Checked.ShouldNotBeNull();
    }

    private static System.Collections.Immutable.ImmutableSortedDictionary<LimitCondition, LimitPatch> High(double setpoint) =>
        System.Collections.Immutable.ImmutableSortedDictionary<LimitCondition, LimitPatch>.Empty.Add(LimitCondition.High, new(setpoint));

    private static ModelChange Unchecked(ModelChange change) => new(Unchecked(change.Before), Unchecked(change.After));

    private static object? Unchecked(object? entity) => entity is PropertyBinding it ? it with { Checked = null } : entity;

    private static (EntityKind, object) KeyOf(object entity) => (EntityKinds.Of(entity), EntityKinds.Of(entity).KeyOf(entity));
}
