using Fralto.Core.Edits;
using Fralto.Runtime.Recording;
using Fralto.Runtime.Views;

namespace Fralto.Runtime.Tests;

/// <summary>What trends need of the running plant: raw values of tags, marks, and the state a machine is in.</summary>
public class TrendsTests
{
    [Fact]
    public async Task A_tag_that_feeds_nothing_is_seen_from_when_it_is_looked_at()
    {
        await using var plant = await new Plant().BegunAsync();
        plant.Do(m => new SaveTag(
            null,
            Plant.Of(m, "one"),
            "Loose",
            Core.Modbus.RegisterArea.InputRegister,
            9,
            Core.Scaling.RawType.Int16,
            Core.Scaling.WordOrder.HighFirst,
            ""
        ));
        var tag = plant.Model.Tags.Values.Single(t => t.Name == "Loose");
        await plant.Until(() => plant.Runtime.Snapshot.Plan.TagIndexOf(tag.Id) >= 0, turns: true);
        var trends = plant.Trends;
        var line = Trends.Lines(plant.Model, plant.Runtime.Snapshot.Plan, [(Trends.OfTags, tag.Id)]).Single();
        (line.Name, line.Point!.Path).ShouldBe(("one Loose", "one/Loose"));
        var from = plant.Clock.GetUtcNow().UtcTicks;
        trends.Stretches(line, from, from + TimeSpan.TicksPerMinute, 6).ShouldAllBe(s => s.HeldSeconds == 0);

        plant.Driver["one"].Read("Loose", 42);
        plant.Pass(1);
        await plant.Until(() => trends.Stretches(line, from, from + TimeSpan.TicksPerMinute, 6)[0].HeldSeconds > 0);
        plant.Clock.Advance(TimeSpan.FromSeconds(30));
        var stretches = trends.Stretches(line, from, from + TimeSpan.TicksPerMinute, 6);
        stretches[2].Mean.ShouldBe(42);
        stretches[5].HeldSeconds.ShouldBe(0, "that is not yet");
        Trends.Lines(plant.Model, plant.Runtime.Snapshot.Plan, [(Trends.OfTags, 999_999)]).ShouldBeEmpty();
    }

    [Fact]
    public async Task Edits_of_an_instance_and_of_its_template_are_marks_and_those_of_others_are_not()
    {
        await using var plant = await new Plant().BegunAsync();
        var (kiln, property) = (
            plant.Model.Equipment.Values.Single(e => e.Code == "K1"),
            plant.Model.Templates.Values.Single().Properties[0]
        );
        plant.Clock.Advance(TimeSpan.FromHours(2));
        plant.Do(m => new SaveEquipment(kiln.Id, "K1", "Kiln one", kiln.Level, kiln.ParentId, kiln.TemplateId));
        plant.Clock.Advance(TimeSpan.FromMinutes(10));
        plant.Do(m =>
        {
            var its = m.Templates.Values.Single();
            return new SaveTemplate(its.Id, its.Code, "Big kiln", its.ParentId, its.Description);
        });
        plant.Clock.Advance(TimeSpan.FromMinutes(10));
        var other = plant.Model.Equipment.Values.Single(e => e.Code == "K2");
        plant.Do(m => new SaveEquipment(other.Id, "K2", "Kiln two", other.Level, other.ParentId, other.TemplateId));
        plant.Store.Run.AppendCommand(new(plant.Clock.GetUtcNow(), "ada", "C/K1/AirOn", "60", "70 °C", "70", "confirmed", ""));
        plant.Store.Run.AppendCommand(new(plant.Clock.GetUtcNow(), "ada", "C/K2/AirOn", "60", "71 °C", "71", "confirmed", ""));
        plant.Clock.Advance(TimeSpan.FromMinutes(10));

        var view = TrendView.Of(
            new()
            {
                Lines = [(kiln.Id, property.Id)],
                Seconds = 3600,
                Width = 600,
            },
            plant.Model,
            plant.Runtime.Snapshot.Plan,
            plant.Trends,
            plant.Store,
            ticks => new(ticks)
        );

        view.Edits.Count.ShouldBe(2);
        view.Edits[0].Text.ShouldContain("Kiln one");
        view.Edits[1].X.ShouldBe(400, 1);
        view.Commands.Single().Text.ShouldBe("AirOn = 70 °C, ada, confirmed");
    }

    [Fact]
    public void The_state_now_is_told_with_what_it_took_before_where_it_was_seen_whole()
    {
        static TrendStretch At(int from, int to, string? text) =>
            new(from * TimeSpan.TicksPerSecond, to * TimeSpan.TicksPerSecond, text, text is null ? double.NaN : 1, null, false);

        var now = StateNow.Of([
            At(0, 90, "Drying"),
            At(90, 100, "Curing"),
            At(100, 160, "Drying"),
            At(160, 170, "Curing"),
            At(170, 175, null),
            At(175, 200, "Drying"),
            At(200, 210, "Curing"),
            At(210, 230, "Drying"),
        ])!;

        (now.Text, now.Runs, now.Took).ShouldBe(("Drying", 1, 60), "the first may have begun before, the one after the gap as well");
        now.Until(220 * TimeSpan.TicksPerSecond).ShouldBe(270 * TimeSpan.TicksPerSecond);
        now.Until(280 * TimeSpan.TicksPerSecond).ShouldBeNull("it has lasted longer");
        StateNow.Of([At(0, 10, "Drying"), At(10, 20, null)]).ShouldBeNull();
        StateNow.Of([]).ShouldBeNull();
        StateNow.Of([At(0, 10, "Drying")])!.Until(0).ShouldBeNull();
    }

    [Fact]
    public async Task A_tag_whose_source_sets_its_clock_back_goes_on_being_seen()
    {
        await using var plant = await new Plant().BegunAsync();
        var (trends, tag) = (plant.Trends, plant.Model.Tags.Values.Single(t => t.Name == "T1"));
        var line = Trends.Lines(plant.Model, plant.Runtime.Snapshot.Plan, [(Trends.OfTags, tag.Id)]).Single();
        var from = plant.Clock.GetUtcNow().UtcTicks;
        Core.History.Rollup Whole() => trends.Stretches(line, from, from + TimeSpan.TicksPerHour, 1)[0];
        Whole();
        plant.Driver["one"].Read("T1", 10);
        plant.Pass(1);
        await plant.Until(() => Whole().Maximum == 10);
        plant.Driver["one"].Read("T1", 80, Plant.Noon.AddHours(-3));
        plant.Pass(1);
        await plant.Until(() => Whole().Maximum == 80);
        Whole().Minimum.ShouldBe(10);
    }

    [Fact]
    public async Task Changes_are_chosen_by_who_made_them()
    {
        await using var plant = await new Plant().BegunAsync();
        (await plant.ReleaseAsync("first")).Release.ShouldNotBeNull();
        void Rename(string code, string name, string who)
        {
            var its = plant.Model.Equipment.Values.Single(e => e.Code == code);
            plant
                .Workspace.Do(
                    new SaveEquipment(its.Id, code, name, its.Level, its.ParentId, its.TemplateId),
                    new Actor(who, ActorRights.All)
                )
                .Problems.ShouldBeEmpty();
        }
        Rename("K1", "Kiln one", "ada");
        Rename("K2", "Kiln two", "ben");
        Rename("C", "Corvane works", "ada");
        var state = plant.Workspace.State;
        ReviewView By(string? who) =>
            new(state.Released, state.Model, Core.Review.ReviewList.Of(state.Released, state.Model, state.Changes), [], null, who);

        By(null).People.ShouldBe([("ada", 2), ("ben", 1)]);
        By("ben").Shown.Single().Words.ShouldContain("Kiln two");
        By("ada").Shown.Count.ShouldBe(2);
        By("eve").Shown.ShouldBeEmpty();
    }
}
