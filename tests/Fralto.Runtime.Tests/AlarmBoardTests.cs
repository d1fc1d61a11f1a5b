using Fralto.Core.Alarms;
using Fralto.Core.Edits;
using Fralto.Core.Limits;
using Fralto.Runtime.Views;

namespace Fralto.Runtime.Tests;

/// <summary>The board of alarms as numbers: what stands, in which order, and where it lies on the axis of time.</summary>
public sealed class AlarmBoardTests : IAsyncLifetime
{
    private readonly Plant _plant = new();

    public async ValueTask InitializeAsync() => await _plant.BegunAsync();

    public ValueTask DisposeAsync() => _plant.DisposeAsync();

    private AlarmBoard Board(AlarmFilter? filter = null) =>
        AlarmBoard.Of(_plant.Model, _plant.Runtime.Snapshot, filter ?? new(), _plant.Clock.GetUtcNow());

    [Fact]
    public void A_board_without_alarms_is_empty_and_filters_of_what_is_gone_are_too()
    {
        var board = Board(
            new()
            {
                Places = [999_999],
                Labels = ["a=b"],
                Priorities = [9],
            }
        );
        (board.All, board.Standing.Count, board.Places.Count, board.NextDue).ShouldBe((0, 0, 0, null));
        board.Away[AlarmState.Shelved].ShouldBeEmpty();
    }

    [Fact]
    public void An_act_that_the_rules_forbid_is_none()
    {
        var key = _plant.HighOf("K1");
        AlarmActs.Of(_plant.Model, key, null, AlarmCause.ShelvedByOperator, "", 5).Why.ShouldContain("say why");
        AlarmActs.Of(_plant.Model, key, null, AlarmCause.ShelvedByOperator, "x", 8 * 60 + 1).Why.ShouldContain("at most 8 h");
        AlarmActs.Of(_plant.Model, key, null, AlarmCause.ShelvedByOperator, "x", -1).Why.ShouldBe("say how long");
        AlarmActs.Of(_plant.Model, key, null, AlarmCause.ShelvedByOperator, "x", double.NaN).Act!.Time.ShouldBe(TimeSpan.FromMinutes(15));
        AlarmActs.Of(_plant.Model, key, new() { Shelving = "short" }, AlarmCause.ShelvedByOperator, "x", 61).Act.ShouldBeNull();
        AlarmActs.Of(_plant.Model, key, new() { Shelving = "no such rule" }, AlarmCause.ShelvedByOperator, "x", 61).Act.ShouldNotBeNull();
        AlarmActs.Of(_plant.Model, key, null, AlarmCause.AcknowledgedByOperator, "", null).Act.ShouldNotBeNull();
    }

    [Fact]
    public async Task What_stands_lies_on_the_axis_by_the_root_of_its_time()
    {
        var high = _plant.Model.Templates.Values.Single().Patches.Values.Single().Limits[LimitCondition.High];
        _plant.Do(m => new SaveLimit(
            m.Templates.Keys.Single(),
            m.Templates.Values.Single().Properties.Single().Id,
            "H",
            high with
            {
                RespondSeconds = 900,
            }
        ));
        await _plant.Until(() => _plant.Runtime.Snapshot.Plan.Points[0].Limits[0].Says?.RespondSeconds == 900, turns: true);
        _plant.Driver["two"].Read("T2", 95);
        _plant.Pass(0.3);
        _plant.Pass(240);
        _plant.Driver["one"].Read("T1", 90);
        _plant.Pass(0.3);
        _plant.Pass(660);
        var board = Board();
        // In the order of the process, not of time; a quarter of an hour is half of an hour's root.
        var rows = board.Places.Single().Rows;
        rows.Select(r => r.Node.Name).ShouldBe(["Kiln 1", "Kiln 2"]);
        rows[1].RaisedX.ShouldBe(0.5, 0.01);
        rows[1].EndX.ShouldBe(1);
        rows[1].DueX!.Value.ShouldBe(0, 0.03);
        // Four minutes of thirty are left.
        rows[0].DueX!.Value.ShouldBe(Math.Sqrt(4 / 30.0), 0.02);
        board.NextDue!.Alarm.Key.ShouldBe(_plant.HighOf("K2"));
        board.Count(2).ShouldBe((2, 0));
        _plant.Pass(300);
        Board().Places.Single().Rows[1].DueX!.Value.ShouldBe(-Math.Sqrt(5 / 60.0), 0.02);
        var acted = _plant.Runtime.ActAsync([new(_plant.HighOf("K2"), AlarmCause.AcknowledgedByOperator, "")], Actor.Local);
        await _plant.Until(() => acted.IsCompleted, turns: true);
        (await acted).ShouldBeEmpty();
        Board().Count(2).ShouldBe((1, 1));
        Board(new() { OnlyUnacknowledged = true }).Standing.Single().Alarm.Key.ShouldBe(_plant.HighOf("K1"));
        Board(new() { Priorities = [1] }).Standing.ShouldBeEmpty();
        Board(new() { Places = [_plant.HighOf("K1").EquipmentId] }).Standing.Count.ShouldBe(1);
        var gone = _plant.Runtime.ActAsync([new(_plant.HighOf("K2"), AlarmCause.AcknowledgedByOperator, "")], new("eve", ActorRights.None));
        (await gone).Single().Why.ShouldContain("may not acknowledge");
    }
}
