using Fralto.Core.Alarms;
using Fralto.Core.Basics;
using Fralto.Core.Edits;
using Microsoft.Data.Sqlite;

namespace Fralto.Runtime.Tests;

/// <summary>The running plant without any web, turn by turn.</summary>
public sealed class RuntimeTests
{
    [Fact]
    public async Task What_a_link_reads_is_a_value_and_what_goes_beyond_a_limit_an_alarm_that_survives_a_restart()
    {
        await using var plant = await new Plant().BegunAsync();
        plant.Driver["one"].Read("T1", 60);
        plant.Pass(0.3);
        plant.ValueOf("K1").Value.ShouldBe(60);
        plant.ValueOf("K1").Time.ShouldBe(Plant.Noon);
        plant.Driver["one"].Read("T1", 90);
        plant.Pass(0.3);
        plant.Runtime.Snapshot.Alarms.Single().State.ShouldBe(AlarmState.Unacknowledged);
        plant.Put.SelectMany(o => o.Events).Single().Cause.ShouldBe(AlarmCause.ConditionRaised);

        var acknowledged = plant.Runtime.ActAsync(
            [new(plant.HighOf("K1"), AlarmCause.AcknowledgedByOperator, "")],
            new("ada", ActorRights.All)
        );
        await plant.Until(() => acknowledged.IsCompleted, turns: true);
        (await acknowledged).ShouldBeEmpty();
        plant.Runtime.Snapshot.Alarms.Single().AcknowledgedBy.ShouldBe("ada");

        await plant.RestartedAsync();
        plant.Runtime.Snapshot.Alarms.Single().State.ShouldBe(AlarmState.Acknowledged);
        plant.Runtime.RecentEvents.Select(e => e.State).ShouldBe([AlarmState.Acknowledged, AlarmState.Unacknowledged]);
    }

    [Fact]
    public async Task A_value_that_is_read_again_and_again_gets_younger_without_being_news()
    {
        await using var plant = await new Plant().BegunAsync();
        plant.Driver["one"].Read("T1", 60);
        plant.Pass(0.5);
        var (before, put) = (plant.Runtime.Snapshot, plant.Put.Count);
        for (var second = 0; second < 20; second++)
        {
            plant.Driver["one"].Read("T1", 60);
            plant.Pass(1);
        }
        plant.Runtime.Snapshot.ShouldBeSameAs(before, "a plant that stands still makes no snapshots");
        plant.ValueOf("K1").Time.ShouldBe(plant.Clock.GetUtcNow().AddSeconds(-1));
        var tag = plant.Runtime.Snapshot.Plan.Tags[plant.Runtime.Snapshot.Plan.Points[0].Tag];
        plant.Runtime.AgeOf(tag, plant.ValueOf("K1").ReadAt).ShouldBe(TimeSpan.FromSeconds(1));
        plant.Driver["one"].Offset = TimeSpan.FromSeconds(-300);
        plant
            .Runtime.AgeOf(tag, plant.ValueOf("K1").ReadAt + TimeSpan.FromSeconds(300))
            .ShouldBe(TimeSpan.FromSeconds(1), "of a source whose clock is ahead");
    }

    [Fact]
    public async Task A_value_of_the_past_reaches_the_sinks_and_never_the_engine()
    {
        await using var plant = await new Plant().BegunAsync();
        plant.Driver["one"].Read("T1", 60);
        plant.Driver["one"].Read("T1", 99, Plant.Noon.AddHours(-2), isHistorical: true);
        plant.Pass(0.3);
        plant.ValueOf("K1").Value.ShouldBe(60);
        plant.Runtime.Snapshot.Alarms.ShouldBeEmpty();
        plant.Put.SelectMany(o => o.Past).SelectMany(b => b.Samples).Single().Raw.ShouldBe(99);
    }

    [Fact]
    public async Task A_snapshot_lists_what_changed_since_the_one_before_and_shares_the_rest()
    {
        await using var plant = await new Plant().BegunAsync();
        plant.Driver["one"].Read("T1", 60);
        plant.Driver["two"].Read("T2", 60);
        plant.Pass(0.5);
        var before = plant.Runtime.Snapshot;
        plant.Driver["two"].Read("T2", 70);
        plant.Pass(0.5);
        var after = plant.Runtime.Snapshot;
        after.IsRightAfter(before).ShouldBeTrue();
        after.ChangedPoints!.Select(i => after.Plan.Points[i].Path).ShouldBe(["C/K2/AirOn"]);
        (after.IsPointAs(before, 0), after.IsPointAs(before, 1)).ShouldBe((true, false));
        before.ValueOf(1).Value.ShouldBe(60, "a snapshot stays what it was");
        (after.GoodPoints, after.ValueOf(1).Value).ShouldBe((2, 70));
    }

    [Fact]
    public async Task An_edit_that_is_being_written_holds_up_no_turn_and_no_acknowledgement()
    {
        await using var plant = await new Plant().BegunAsync();
        plant.Driver["one"].Read("T1", 90);
        plant.Pass(0.5);
        using var holder = new SqliteConnection($"Data Source={plant.File};Pooling=False");
        holder.Open();
        var writing = holder.BeginTransaction(deferred: false);
        var edit = Task.Run(
            () =>
                plant.Workspace.Do(
                    new SaveEquipment(
                        null,
                        "K3",
                        "Kiln 3",
                        EquipmentLevel.Unit,
                        plant.Model.Equipment.Values.Single(e => e.Code == "C").Id,
                        null
                    ),
                    Actor.Local
                ),
            TestContext.Current.CancellationToken
        );
        var acknowledged = plant.Runtime.ActAsync(
            [new(plant.HighOf("K1"), AlarmCause.AcknowledgedByOperator, "")],
            new("ada", ActorRights.All)
        );
        plant.Driver["one"].Read("T1", 91);
        await plant.Until(() => acknowledged.IsCompleted, turns: true);
        (await acknowledged).ShouldBeEmpty();
        plant.ValueOf("K1").Value.ShouldBe(91);
        plant.Runtime.Relink();
        plant.Pass(1);
        edit.IsCompleted.ShouldBeFalse("the edit still waits for the disk");
        writing.Rollback();
        writing.Dispose();
        (await edit).Problems.ShouldBeEmpty();
        await plant.Until(() => ReferenceEquals(plant.Runtime.RunningModel, plant.Model), turns: true);
    }

    [Fact]
    public async Task A_sink_that_fails_stops_neither_the_plant_nor_the_other_sinks()
    {
        await using var plant = await new Plant().BegunAsync();
        plant.Runtime.Attach(new Failing());
        plant.Driver["one"].Read("T1", 61);
        plant.Pass(1);
        plant.ValueOf("K1").Value.ShouldBe(61);
        var put = plant.Put.Count;
        plant.Pass(1);
        plant.Put.Count.ShouldBeGreaterThan(put);
    }

    [Fact]
    public async Task A_thread_of_its_own_runs_it_until_it_is_stopped_and_the_links_with_it()
    {
        var driver = new FakeDriver();
        await using var plant = new Plant(driver);
        plant.Runtime.Start();
        await plant.Until(() => plant.Runtime.IsRunning && driver.Made.Count == 2);
        driver["one"].Read("T1", 44);
        await plant.Until(() =>
        {
            plant.Clock.Advance(TimeSpan.FromMilliseconds(300));
            return plant.Runtime.Snapshot.GoodPoints == 1;
        });
        plant.ValueOf("K1").Value.ShouldBe(44);
        plant.Runtime.TakePace().Over.ShouldBeGreaterThan(TimeSpan.Zero);
        await plant.Runtime.StopAsync();
        plant.Runtime.IsRunning.ShouldBeFalse();
        plant.Runtime.Ended.IsCompletedSuccessfully.ShouldBeTrue();
        driver.Made.ShouldAllBe(l => l.HasEnded);
    }

    private sealed class Failing : IRuntimeSink
    {
        public void Take(RuntimeOutput output) => throw new InvalidOperationException("a sink that fails");
    }
}
