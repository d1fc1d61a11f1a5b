using Fralto.Core.Basics;
using Fralto.Core.Edits;
using Fralto.Core.Modbus;
using Fralto.Core.Plant;
using Fralto.Core.Properties;
using Fralto.Core.Scaling;
using Fralto.Store;

namespace Fralto.Runtime.Tests;

/// <summary>Two people at the same working model.</summary>
public sealed class ModelWorkspaceTests : IDisposable
{
    private readonly string _directory = Directory.CreateTempSubdirectory("fralto-workspace-").FullName;
    private readonly PlantStore _store;
    private readonly ModelWorkspace _workspace;

    public ModelWorkspaceTests()
    {
        _store = PlantStore.Open(Path.Combine(_directory, "plant.db"));
        _workspace = new(_store, TimeProvider.System);
        foreach (
            var edit in new Func<PlantModel, Edit>[]
            {
                _ => new SaveController(null, "plc", "127.0.0.1", 502, 1, 500),
                m => new SaveTag(
                    null,
                    m.Controllers.Keys.Single(),
                    "T1",
                    RegisterArea.InputRegister,
                    0,
                    RawType.Int16,
                    WordOrder.HighFirst,
                    ""
                ),
                m => new SaveTag(
                    null,
                    m.Controllers.Keys.Single(),
                    "T2",
                    RegisterArea.InputRegister,
                    1,
                    RawType.Int16,
                    WordOrder.HighFirst,
                    ""
                ),
                _ => new SaveTemplate(null, "Kiln", "Kiln", null, ""),
                m => new SaveProperty(
                    m.Templates.Keys.Single(),
                    null,
                    "AirOn",
                    "Air-on",
                    PropertyKind.Measured,
                    PropertyType.Number,
                    new() { Range = new(0, 120) }
                ),
                m => new SaveEquipment(null, "C", "Corvane", EquipmentLevel.Enterprise, null, m.Templates.Keys.Single()),
            }
        )
            _workspace.Do(edit(_workspace.Model), Actor.Local).Problems.ShouldBeEmpty();
    }

    private long Kiln => _workspace.Model.Equipment.Keys.Single();

    private long AirOn => _workspace.Model.Templates.Values.SelectMany(t => t.Properties).Single().Id;

    public void Dispose()
    {
        _store.Dispose();
        Directory.Delete(_directory, recursive: true);
    }

    [Fact]
    public void Who_binds_a_cell_another_has_bound_meanwhile_is_told_first()
    {
        var seen = _workspace.Head;
        _workspace.Do(Bind("T1"), Actor.Local, seen).Problems.ShouldBeEmpty();
        _workspace.Do(Bind("T2"), Actor.Local, seen).Problems.ShouldHaveSingleItem().Message.ShouldContain("Bind Corvane Air-on to T1");
        _workspace.Do(Bind("T2"), Actor.Local, _workspace.Head).Problems.ShouldBeEmpty();
    }

    [Fact]
    public void Edits_of_different_things_do_not_disturb_each_other()
    {
        var seen = _workspace.Head;
        _workspace.Do(new SaveTemplate(null, "Fan", "Fan", null, ""), Actor.Local, seen).Problems.ShouldBeEmpty();
        _workspace.Do(Bind("T1"), Actor.Local, seen).Problems.ShouldBeEmpty();
    }

    [Fact]
    public void An_edit_that_was_taken_back_counts_as_a_change_too()
    {
        _workspace
            .Do(
                new SaveEquipment(Kiln, "C", "Corvane Maltings", EquipmentLevel.Enterprise, null, _workspace.Model.Templates.Keys.Single()),
                Actor.Local
            )
            .Problems.ShouldBeEmpty();
        var seen = _workspace.Head;
        _workspace.Undo(Actor.Local).Problems.ShouldBeEmpty();
        _workspace
            .Do(
                new SaveEquipment(Kiln, "C", "Corvane Ltd", EquipmentLevel.Enterprise, null, _workspace.Model.Templates.Keys.Single()),
                Actor.Local,
                seen
            )
            .Problems.ShouldHaveSingleItem()
            .Message.ShouldContain("Take back: Change Corvane Maltings");
    }

    private Bind Bind(string tag) => new(Kiln, AirOn, _workspace.Model.Tags.Values.Single(t => t.Name == tag).Id);

    [Fact]
    public void An_edit_that_would_leave_the_model_at_odds_with_itself_is_refused_whatever_edit_it_is()
    {
        var before = _workspace.Model;
        var outcome = _workspace.Do(new Careless(), Actor.Local);
        outcome.IsRefused.ShouldBeTrue();
        outcome.Problems[0].Message.ShouldContain("template that no longer exists");
        _workspace.Model.ShouldBeSameAs(before);
    }

    [Fact]
    public void Everybody_takes_back_his_own_edits_and_a_restart_does_not_mix_them_up()
    {
        var (ada, bea) = (new Actor("ada", ActorRights.All), new Actor("bea", ActorRights.All));
        _workspace.Do(new SaveTemplate(null, "Fan", "Fan", null, ""), ada).Problems.ShouldBeEmpty();
        _workspace.Do(new SaveTemplate(null, "Pump", "Pump", null, ""), bea).Problems.ShouldBeEmpty();
        for (var run = 0; run < 2; run++)
        {
            var workspace = run == 0 ? _workspace : new ModelWorkspace(_store, TimeProvider.System);
            workspace.NextUndo(ada)!.Summary.ShouldBe("Add template Fan");
            workspace.NextUndo(bea)!.Summary.ShouldBe("Add template Pump");
            workspace.Undo(ada).Summary.ShouldBe("Take back: Add template Fan");
            workspace.NextUndo(ada).ShouldBeNull();
            workspace.NextRedo(bea).ShouldBeNull();
            // An edit of another can be taken back too when it is named, and is then that one's to make again.
            workspace.Undo(ada, workspace.NextUndo(bea)!.Id).Problems.ShouldBeEmpty();
            workspace.NextUndo(bea).ShouldBeNull();
            workspace.Redo(bea).IsRefused.ShouldBeTrue();
            workspace.Redo(ada).Summary.ShouldBe("Make again: Add template Pump");
            workspace.Redo(ada).Summary.ShouldBe("Make again: Add template Fan");
            workspace.Undo(ada).Problems.ShouldBeEmpty();
            workspace.Undo(ada).Problems.ShouldBeEmpty();
            workspace.Do(new SaveTemplate(null, "Fan", "Fan", null, ""), ada).Problems.ShouldBeEmpty();
            workspace.Do(new SaveTemplate(null, "Pump", "Pump", null, ""), bea).Problems.ShouldBeEmpty();
        }
    }

    [Fact]
    public void Who_may_only_look_changes_nothing()
    {
        var before = _workspace.Model;
        var guest = new Actor("guest", ActorRights.Acknowledge | ActorRights.Command);
        _workspace
            .Do(new SaveTemplate(null, "Fan", "Fan", null, ""), guest)
            .Problems.Single()
            .Message.ShouldBe("guest may not edit the model.");
        _workspace.Undo(guest, _workspace.Head).Problems.Single().Message.ShouldContain("may not");
        _workspace.Model.ShouldBeSameAs(before);
    }

    /// <summary>An edit that looks at nothing.</summary>
    private sealed record Careless : Edit
    {
        public override EditOutcome On(PlantModel model) =>
            EditOutcome.Changed("careless", new ModelChange(model.Templates.Values.Single(), null));
    }
}
