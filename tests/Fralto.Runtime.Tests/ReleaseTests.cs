using System.Collections.Immutable;
using Fralto.Core.Alarms;
using Fralto.Core.Edits;
using Fralto.Core.Limits;
using Fralto.Core.Modbus;
using Fralto.Core.Properties;
using Fralto.Core.Review;
using Fralto.Core.Scaling;
using Fralto.Store;

namespace Fralto.Runtime.Tests;

/// <summary>The released model runs with all that hangs on it, the working model beside it with nothing; a release puts the one in the
/// place of the other.</summary>
public sealed class ReleaseTests : IAsyncDisposable
{
    private readonly Plant _plant = new();

    public ValueTask DisposeAsync() => _plant.DisposeAsync();

    [Fact]
    public async Task A_fresh_plant_runs_what_is_edited_until_the_first_release()
    {
        await _plant.BegunAsync();
        Read("T1", 70);
        Limit(60);
        await Settled();
        _plant.Workspace.State.IsUnreleased.ShouldBeFalse();
        _plant.Runtime.Snapshot.ActiveAlarms.ShouldBe(1);
        var first = (await _plant.ReleaseAsync("as it is")).Release!;
        (first.Number, first.PauseMilliseconds).ShouldBe((1, 0));
        Limit(90);
        await Settled();
        _plant.Runtime.Snapshot.ActiveAlarms.ShouldBe(1, "what runs is the release");
        _plant.Runtime.WorkingSnapshot.ActiveAlarms.ShouldBe(0);
    }

    [Fact]
    public async Task What_is_unreleased_raises_nothing_and_a_release_carries_alarms_over()
    {
        await _plant.BegunAsync();
        Read("T1", 89);
        Read("T2", 70);
        await _plant.ReleaseAsync("as it is");
        var key = _plant.HighOf("K1");
        (await Ordered(_plant.Runtime.ActAsync([new(key, AlarmCause.AcknowledgedByOperator, "")], Actor.Local))).ShouldBeEmpty();
        Limit(60);
        await Settled();
        _plant.Runtime.WorkingSnapshot.ActiveAlarms.ShouldBe(2);
        _plant.Runtime.Snapshot.Standing.ShouldHaveSingleItem().Key.ShouldBe(key);
        var before = _plant.Put.SelectMany(p => p.Events).Count();
        (await _plant.ReleaseAsync("lower")).Problem.ShouldBeNull();
        // The one that stands goes on as it is, acknowledged; the other is raised once.
        await _plant.Until(() => _plant.Runtime.Snapshot.Standing.Count == 2, turns: true);
        _plant.Runtime.Snapshot.Standing.Single(a => a.Key == key).State.ShouldBe(AlarmState.Acknowledged);
        _plant.Put.SelectMany(p => p.Events).Skip(before).ShouldHaveSingleItem().Key.ShouldBe(_plant.HighOf("K2"));
        // How long it took is written down beside the engine.
        await _plant.Until(() => _plant.Releases.All[0].PauseMilliseconds is not null, turns: true);
        _plant.Runtime.WorkingModel.ShouldBeNull("nothing differs, and nothing runs beside");
    }

    [Fact]
    public async Task A_sample_that_comes_while_a_release_is_put_in_is_not_lost()
    {
        await _plant.BegunAsync();
        await _plant.ReleaseAsync("as it is");
        Limit(60);
        await Settled();
        var release = _plant.Releases.ReleaseAsync("lower", Actor.Local);
        for (var i = 0; !ReferenceEquals(_plant.Runtime.RunningModel, _plant.Workspace.Released) || !release.IsCompleted; i++)
        {
            i.ShouldBeLessThan(2000);
            _plant.Driver["one"].Read("T1", 20 + i % 30);
            _plant.Pass(0.4);
            await Task.Yield();
            _plant.ValueOf("K1").Value.ShouldBe(20 + i % 30);
        }
    }

    [Fact]
    public async Task A_tag_that_is_read_otherwise_in_the_working_model_is_read_in_both_ways()
    {
        await _plant.BegunAsync();
        await _plant.ReleaseAsync("as it is");
        var tag = _plant.Model.Tags.Values.Single(t => t.Name == "T1");
        _plant.Do(m => new SaveTag(tag.Id, tag.ControllerId, "T1", RegisterArea.InputRegister, 7, RawType.Int16, WordOrder.HighFirst, ""));
        await Settled();
        await _plant.Until(() => _plant.Driver["one"].Tags.Count == 2, turns: true);
        var (old, other) = (
            _plant.Driver["one"].Tags.Single(t => t.Address.ToString() == tag.Address.ToString()),
            _plant.Driver["one"].Tags.Single(t => t.Address.ToString() != tag.Address.ToString())
        );
        old.Id.ShouldBe(tag.Id);
        _plant.Driver["one"].Read(old.Name, 20);
        _plant.Driver["one"].Read(other.Name, 50);
        _plant.Pass(0.6);
        _plant.ValueOf("K1").Value.ShouldBe(20);
        WorkingValue("K1").ShouldBe(50);
        await _plant.ReleaseAsync("another address");
        await _plant.Until(() => _plant.Driver["one"].Tags.Count == 1, turns: true);
        _plant.Driver["one"].Tags.Single().Id.ShouldBe(tag.Id);
        _plant.Driver["one"].Read("T1", 55);
        _plant.Pass(0.6);
        _plant.ValueOf("K1").Value.ShouldBe(55);
    }

    [Fact]
    public async Task What_is_unreleased_is_so_after_a_restart_and_so_is_who_changed_it()
    {
        await _plant.BegunAsync();
        await _plant.ReleaseAsync("as it is");
        Limit(60);
        await Settled();
        _plant.Do(m => new SaveEquipment(null, "K3", "Kiln 3", Core.Basics.EquipmentLevel.Unit, Node("C").Id, Node("K1").TemplateId));
        var (released, working) = (_plant.Workspace.Released, _plant.Model);
        await _plant.RestartedAsync();
        var state = _plant.Workspace.State;
        NetChanges.Between(released, state.Released).IsEmpty.ShouldBeTrue();
        NetChanges.Between(working, state.Model).IsEmpty.ShouldBeTrue();
        state.Changes.Count.ShouldBe(2);
        state.Changes.All.ShouldAllBe(c => c.Who == Actor.Local.Name);
        Read("T1", 70);
        await Settled();
        _plant.Runtime.Snapshot.ActiveAlarms.ShouldBe(0);
        _plant.Runtime.WorkingSnapshot.ActiveAlarms.ShouldBe(1);
    }

    [Fact]
    public async Task What_is_unreleased_can_be_taken_back_one_by_one_or_all_and_an_earlier_release_comes_back()
    {
        await _plant.BegunAsync();
        await _plant.ReleaseAsync("first");
        var first = _plant.Model;
        Limit(60);
        _plant.Do(m => new SaveEquipment(null, "K3", "Kiln 3", Core.Basics.EquipmentLevel.Unit, Node("C").Id, Node("K1").TemplateId));
        var rows = ReviewList.Of(_plant.Workspace.Released, _plant.Model);
        _plant.Releases.TakeBack(rows.Single(r => r.Kind == ReviewKind.Added).Key, Actor.Local).Problems.ShouldBeEmpty();
        _plant.Workspace.State.Changes.Count.ShouldBe(1);
        _plant.Releases.Discard(Actor.Local).Problems.ShouldBeEmpty();
        _plant.Workspace.State.IsUnreleased.ShouldBeFalse();
        _plant.Workspace.Undo(Actor.Local).Problems.ShouldBeEmpty("what was discarded comes back");
        await Settled();
        (await _plant.ReleaseAsync("second")).Release!.Number.ShouldBe(2);
        var second = _plant.Model;
        NetChanges.Between(_plant.Releases.ModelOf(1)!, first).IsEmpty.ShouldBeTrue("release then restore is identity");
        var again = _plant.Releases.ReleaseAgainAsync(1, "", Actor.Local);
        await _plant.Until(() => again.IsCompleted, turns: true);
        (await again).Release!.Number.ShouldBe(3);
        NetChanges.Between(_plant.Workspace.Released, first).IsEmpty.ShouldBeTrue();
        _plant.Releases.All[0].Hash.ShouldBe(_plant.Releases.All[2].Hash);
        _plant.Releases.All[0].Origin.ShouldBe("release 1");
        _plant.Releases.BringBack(2, Actor.Local).Problems.ShouldBeEmpty();
        NetChanges.Between(_plant.Model, second).IsEmpty.ShouldBeTrue();
        _plant.Releases.BringBack(9, Actor.Local).Problems[0].Message.ShouldContain("no release 9");
    }

    [Fact]
    public async Task What_cannot_run_again_changes_nothing()
    {
        await _plant.BegunAsync();
        await _plant.ReleaseAsync("first");
        Limit(60);
        await Settled();
        await _plant.ReleaseAsync("second");
        Limit(65);
        await Settled();
        await _plant.ReleaseAsync("third");
        Limit(70);
        await Settled();
        var working = _plant.Model;
        // A note that is too long: brought back it was, and is again what was being edited.
        (await Ordered(_plant.Releases.ReleaseAgainAsync(2, new string('x', 501), Actor.Local))).Problem!.ShouldContain("at most 500");
        NetChanges.Between(working, _plant.Model).IsEmpty.ShouldBeTrue();
        // Damaged: it is refused, and what is unreleased is not released in its place.
        using (var file = new Microsoft.Data.Sqlite.SqliteConnection($"Data Source={_plant.File}"))
        {
            file.Open();
            using var command = file.CreateCommand();
            command.CommandText = "UPDATE release SET hash = '00' WHERE number = 1";
            command.ExecuteNonQuery();
        }
        (await Ordered(_plant.Releases.ReleaseAgainAsync(1, "", Actor.Local))).Problem!.ShouldContain("damaged");
        NetChanges.Between(working, _plant.Model).IsEmpty.ShouldBeTrue();
        _plant.Releases.All.Length.ShouldBe(3);
        (await Ordered(_plant.Releases.ReleaseAgainAsync(3, "", Actor.Local))).Problem!.ShouldContain("What runs is what release 3 holds");
        (await Ordered(_plant.Releases.ReleaseAgainAsync(9, "", Actor.Local))).Problem.ShouldBe("There is no release 9.");
        NetChanges.Between(working, _plant.Model).IsEmpty.ShouldBeTrue();
    }

    [Fact]
    public async Task A_part_is_released_and_the_rest_stays_unreleased_also_over_a_restart()
    {
        await _plant.BegunAsync();
        await _plant.ReleaseAsync("first");
        Limit(60);
        _plant.Do(m => new SaveEquipment(null, "K3", "Kiln 3", Core.Basics.EquipmentLevel.Unit, Node("C").Id, Node("K1").TemplateId));
        await Settled();
        var state = _plant.Workspace.State;
        var part = PartialRelease.Of(state.Changes, Node("K1").TemplateId!.Value);
        (await _plant.ReleaseAsync("the limit alone", part: part)).Problem.ShouldBeNull();
        _plant.Workspace.State.Changes.Changes.ShouldHaveSingleItem().After.ShouldBeOfType<Core.Hierarchy.Equipment>().Code.ShouldBe("K3");
        await _plant.RestartedAsync();
        _plant.Workspace.State.Changes.Changes.ShouldHaveSingleItem();
        _plant.Workspace.Released.Equipment.Values.ShouldNotContain(e => e.Code == "K3");
    }

    [Fact]
    public async Task A_release_needs_a_note_a_reader_who_has_seen_the_newest_and_a_right_and_something_to_release()
    {
        await _plant.BegunAsync();
        (await _plant.ReleaseAsync("  ")).Problem!.ShouldContain("Write a note");
        (await _plant.ReleaseAsync(new string('x', 501))).Problem!.ShouldContain("at most 500");
        (await _plant.ReleaseAsync("first")).Problem.ShouldBeNull();
        (await _plant.ReleaseAsync("second")).Problem!.ShouldContain("Nothing is unreleased");
        var seen = _plant.Workspace.Head;
        Limit(60);
        await Settled();
        (await _plant.ReleaseAsync("second", seen)).Problem!.ShouldContain("Meanwhile local user edited");
        (await _plant.Releases.ReleaseAsync("second", new("guest", ActorRights.Edit))).Problem.ShouldBe("guest may not release a model.");
        _plant.Releases.All.Length.ShouldBe(1);
        var both = new[] { _plant.Releases.ReleaseAsync("one", Actor.Local), _plant.Releases.ReleaseAsync("two", Actor.Local) };
        await _plant.Until(() => both.All(b => b.IsCompleted), turns: true);
        (await Task.WhenAll(both)).Count(b => b.Release is not null).ShouldBe(1, "one at a time");
    }

    [Fact]
    public async Task Errors_block_a_release()
    {
        await _plant.BegunAsync();
        await _plant.ReleaseAsync("first");
        Property("Fuel", PropertyKind.Measured, new());
        Property("Heat", PropertyKind.Calculated, new() { Formula = "Fuel × 2" });
        _plant.Do(m => new RemoveProperty(
            m.Templates.Keys.Single(),
            m.Templates.Values.Single().Properties.Single(p => p.Code == "Fuel").Id
        ));
        await Settled();
        (await _plant.ReleaseAsync("second")).Problem.ShouldBe("2 errors block the release; mend them first.");
        _plant.Releases.All.Length.ShouldBe(1);
        Property(
            "Heat",
            PropertyKind.Calculated,
            new() { Formula = "AirOn × 2" },
            _plant.Model.Templates.Values.Single().Properties.Single(p => p.Code == "Heat").Id
        );
        await Settled();
        (await _plant.ReleaseAsync("second")).Problem.ShouldBeNull();
    }

    [Fact]
    public async Task A_trial_shows_what_would_differ_begins_anew_with_an_edit_and_stays_with_the_release()
    {
        await _plant.BegunAsync();
        await _plant.ReleaseAsync("first");
        Read("T1", 70);
        _plant.Trial.Start(TimeSpan.FromSeconds(1))!.ShouldContain("A trial lasts");
        Limit(60);
        await Settled();
        _plant.Trial.Start(TimeSpan.FromSeconds(30)).ShouldBeNull();
        await _plant.Until(() => _plant.Trial.State.Report?.Alarms.Length == 1, turns: true);
        var begun = _plant.Trial.State.Report!.Begun;
        _plant.Trial.State.Report!.Alarms[0].Working.ShouldBe(1);
        Limit(65);
        await Settled();
        await _plant.Until(() => _plant.Trial.State.Report is { } r && r.Begun > begun, turns: true);
        for (var second = 0; second < 40; second++)
        {
            _plant.Pass(1);
            // What has been put out until now has been looked at.
            var before = _plant.Clock.GetUtcNow().AddSeconds(-0.3);
            await _plant.Until(() => _plant.Trial.State is var trial && (!trial.IsOn || trial.Report?.Until >= before));
        }
        await _plant.Until(() => _plant.Trial.State.IsOver, turns: true);
        _plant.Trial.State.Report!.Lasted.TotalSeconds.ShouldBe(30, 2);
        var release = (await _plant.ReleaseAsync("second")).Release!;
        release.Trial!.Alarms.ShouldHaveSingleItem();
        new ReleaseStoreLook(_plant.Store).Newest.Trial!.Alarms.ShouldHaveSingleItem().ShouldBe(release.Trial.Alarms[0]);
    }

    [Fact]
    public async Task What_a_change_does_at_run_time_is_said_where_it_is_made()
    {
        await _plant.BegunAsync();
        await _plant.ReleaseAsync("first");
        Read("T1", 70);
        Read("T2", 50);
        Limit(60);
        await Settled();
        var limit = Effects().ShouldHaveSingleItem().Value;
        (string.Join("; ", limit.Lines), limit.Priority).ShouldBe(("Kiln 1: alarm raises", 2));
        limit.Values.ShouldBe([70, 50], ignoreOrder: true);

        // A tag taken away ends its value, and is told there and not with the limit.
        var binding = _plant.Model.Bindings.Values.Single(b => b.EquipmentId == Node("K2").Id);
        _plant.Do(_ => new Unbind(binding.EquipmentId, binding.PropertyId));
        await Settled();
        Effects().Values.Select(e => string.Join("; ", e.Lines)).ShouldBe(["Kiln 1: alarm raises", "1 value ends"], ignoreOrder: true);

        // A name does nothing at run time.
        _plant.Releases.Discard(Actor.Local).Problems.ShouldBeEmpty();
        var node = Node("K1");
        _plant.Do(_ => new SaveEquipment(node.Id, node.Code, "First kiln", node.Level, node.ParentId, node.TemplateId));
        await Settled();
        Effects().ShouldHaveSingleItem().Value.IsNone.ShouldBeTrue();
    }

    private Dictionary<string, Views.ReviewEffect> Effects()
    {
        var state = _plant.Workspace.State;
        var (released, working) = (
            new Views.StandingAlarms(_plant.Runtime.Snapshot),
            new Views.StandingAlarms(_plant.Runtime.WorkingSnapshot)
        );
        return ReviewList
            .Of(state.Released, state.Model, state.Changes)
            .ToDictionary(r => r.Key, r => Views.ReviewEffect.Of(r, state.Released, state.Model, released, working));
    }

    [Fact]
    public async Task A_check_of_a_binding_is_no_unreleased_change_and_holds_in_what_runs()
    {
        await _plant.BegunAsync();
        await _plant.ReleaseAsync("first");
        Limit(60);
        var binding = _plant.Model.Bindings.Values.First();
        _plant.Do(_ => new MarkChecked([(binding.EquipmentId, binding.PropertyId)], new("kiln engineer", Plant.Noon)));
        _plant.Workspace.State.Changes.Count.ShouldBe(1);
        _plant.Workspace.Released.Bindings[(binding.EquipmentId, binding.PropertyId)].Checked.ShouldNotBeNull();
        await _plant.RestartedAsync();
        _plant.Workspace.State.Changes.Count.ShouldBe(1);
        _plant.Workspace.Released.Bindings[(binding.EquipmentId, binding.PropertyId)].Checked.ShouldNotBeNull();
    }

    [Fact]
    public async Task A_release_that_is_damaged_gives_way_to_the_one_before_and_that_is_said()
    {
        await _plant.BegunAsync();
        await _plant.ReleaseAsync("first");
        var first = _plant.Workspace.Released;
        Limit(60);
        await Settled();
        await _plant.ReleaseAsync("second");
        Limit(50);
        await _plant.Runtime.DisposeAsync();
        using (var file = new Microsoft.Data.Sqlite.SqliteConnection($"Data Source={_plant.File}"))
        {
            file.Open();
            using var command = file.CreateCommand();
            command.CommandText = "UPDATE release SET model = x'0011' WHERE number = 2";
            command.ExecuteNonQuery();
        }
        await _plant.RestartedAsync();
        _plant.Workspace.ReleaseTrouble!.ShouldContain("Release 2 cannot be run");
        NetChanges.Between(_plant.Workspace.Released, first).IsEmpty.ShouldBeTrue();
    }

    private void Property(string code, PropertyKind kind, PropertyPatch facts, long? id = null) =>
        _plant.Do(m => new SaveProperty(m.Templates.Keys.Single(), id, code, code, kind, PropertyType.Number, facts));

    private sealed record ReleaseStoreLook(PlantStore Store)
    {
        public Release Newest => Store.Releases.All()[0];
    }

    private Core.Hierarchy.Equipment Node(string code) => _plant.Model.Equipment.Values.Single(e => e.Code == code);

    private double WorkingValue(string kiln) =>
        _plant.Runtime.WorkingSnapshot.Find(Node(kiln).Id, _plant.Model.Templates.Values.Single().Properties[0].Id)!.Value.Value.Value;

    private void Read(string tag, double value)
    {
        _plant.Driver[tag == "T1" ? "one" : "two"].Read(tag, value);
        _plant.Pass(0.6);
    }

    private void Limit(double high) =>
        _plant.Do(m =>
        {
            var template = m.Templates.Values.Single();
            return new SaveProperty(
                template.Id,
                template.Properties[0].Id,
                "AirOn",
                "Air-on",
                PropertyKind.Measured,
                PropertyType.Number,
                new()
                {
                    Range = new(0, 120),
                    Limits = ImmutableSortedDictionary<LimitCondition, LimitPatch>.Empty.Add(LimitCondition.High, new(high, 1, 2)),
                }
            );
        });

    /// <summary>Waits until both models run.</summary>
    private Task Settled() =>
        _plant
            .Until(
                () =>
                    ReferenceEquals(_plant.Runtime.RunningModel, _plant.Workspace.Released)
                    && (!_plant.Workspace.State.IsUnreleased || ReferenceEquals(_plant.Runtime.WorkingModel, _plant.Model)),
                turns: true
            )
            .ContinueWith(_ => _plant.Pass(0.6), TaskScheduler.Default);

    private async Task<T> Ordered<T>(Task<T> order)
    {
        await _plant.Until(() => order.IsCompleted, turns: true);
        return await order;
    }
}
