using Fralto.Core.Edits;
using Fralto.Core.Plant;
using Fralto.Core.Scaling;
using Fralto.Runtime.Views;

namespace Fralto.Runtime.Tests;

/// <summary>What is said of values that lie outside their range, and of raw numbers that do not suit how they are read.</summary>
public class ValueWatchTests
{
    [Fact]
    public async Task Outside_its_range_most_of_the_time_is_a_warning_now_and_then_a_hint()
    {
        await using var plant = await new Plant().BegunAsync();
        // Three in four of one, one in four of the other.
        for (var i = 0; i < 40; i++)
        {
            // It looks beside the test, so one look more may have been counted than is said, and now and then it looks twice at the same.
            if (Share(plant, "K1").HasValue)
                plant.Values.Looks.ShouldBeGreaterThanOrEqualTo(11, "too little has been seen");
            await Look(plant, i % 4 == 3 ? 60 : 200, i % 4 == 3 ? 200 : 60);
        }
        Share(plant, "K1")!.Value.ShouldBeInRange(0.7, 0.8);
        Share(plant, "K2")!.Value.ShouldBeInRange(0.2, 0.3);
        plant.Clock.Advance(TimeSpan.FromSeconds(6));

        var found = plant.Findings.All.Where(r => r.Finding.Code == RunningFindings.OutsideRange).ToArray();
        found
            .Select(r => (r.PathIn(plant.Workspace.Model), r.Finding.Severity.ToString()))
            .ShouldBe([("C/K1", "Warning"), ("C/K2", "Hint")]);
        found[0].Finding.Message.ShouldMatch("^Air-on lies outside its range of 0.0 to 120.0, 7[0-9] % of the time$");
        found[1].Finding.Message.ShouldStartWith("Air-on is 20");

        plant.Driver["one"].Read("T1", 300);
        plant.Pass(1);
        await plant.Until(() => plant.ValueOf("K1").Value == 300);
        plant.Clock.Advance(TimeSpan.FromSeconds(6));
        plant
            .Findings.All.Single(r => r.PathIn(plant.Workspace.Model) == "C/K1" && r.Finding.Code == RunningFindings.OutsideRange)
            .Finding.Message.ShouldEndWith("% of the time");

        // Another range is another question: it begins anew.
        plant.Do(m => ManyEdits.Exactly(Kiln(m), Property(m), Property(m).Own with { Range = new Span(0, 1000) }));
        await plant.Until(() => plant.Runtime.Snapshot.Plan.Points[0].Range?.High == 1000, turns: true);
        Share(plant, "K1").ShouldBeNull();
        plant.Findings.All.ShouldNotContain(r => r.Finding.Code == RunningFindings.OutsideRange);
    }

    [Fact]
    public async Task Raw_numbers_that_suit_another_signal_are_a_finding_of_the_template()
    {
        await using var plant = new Plant();
        plant.Do(m =>
            ManyEdits.Exactly(
                Kiln(m),
                Property(m),
                Property(m).Own with
                {
                    Scale = new LinearScale(Signal.Of(SignalKind.Counts16), new Span(0, 120)),
                }
            )
        );
        await plant.BegunAsync();
        for (var i = 0; i < 20; i++)
        {
            await Look(plant, 1000 + 990 * i, 20200 - 900 * i);
        }
        plant.Clock.Advance(TimeSpan.FromSeconds(6));
        var row = plant.Findings.All.Single(r => r.Finding.Code == RunningFindings.Misfit);
        row.Finding.Subject.ShouldBe("Kiln Air-on");
        row.Finding.Message.ShouldContain("better than the");
    }

    /// <summary>Lets values come until they have been looked at; each a little other than the one before, so that it is news.</summary>
    private static async Task Look(Plant plant, double one, double two)
    {
        var tries = 0;
        void Read()
        {
            plant.Driver["one"].Read("T1", one + tries % 3);
            plant.Driver["two"].Read("T2", two + tries++ % 3);
        }
        Read();
        await plant.Until(() => Raw(plant, "K1") == one && Raw(plant, "K2") == two, turns: true);
        var before = plant.Values.Looks;
        await plant.Until(() =>
        {
            if (plant.Values.Looks != before)
                return true;
            Read();
            plant.Pass(6);
            return false;
        });
    }

    private static long Kiln(PlantModel model) => model.Templates.Keys.Single();

    private static Core.Properties.ResolvedProperty Property(PlantModel model) => model.Index.PropertiesOf(Kiln(model)).Single();

    private static double? Share(Plant plant, string code)
    {
        var plan = plant.Runtime.Snapshot.Plan;
        var point = PointOf(plant, code);
        return point < 0 ? null : plant.Values.ShareOutside(plan, point);
    }

    private static double? Raw(Plant plant, string code)
    {
        var snapshot = plant.Runtime.Snapshot;
        var point = PointOf(plant, code);
        return point < 0 ? null : snapshot.ReadingOf(snapshot.Plan.Points[point].Tag).Raw;
    }

    private static int PointOf(Plant plant, string code) =>
        plant.Runtime.Snapshot.Plan.PointIndexOf(plant.Model.Equipment.Values.Single(e => e.Code == code).Id, Property(plant.Model).Id);
}
