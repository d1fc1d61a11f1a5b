using Fralto.Core.Controllers;
using Fralto.Core.Edits;
using Fralto.Core.Plant;
using Fralto.Core.Scaling;
using Fralto.Core.Templates;
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
        foreach (var edit in new Func<PlantModel, Edit>[]
        {
            _ => new SaveController(null, "plc", "127.0.0.1", 502, 1, 500),
            m => new SaveTag(null, m.Controllers.Keys.Single(), "T1", RegisterArea.InputRegister, 0, RawType.Int16, WordOrder.HighFirst, ""),
            m => new SaveTag(null, m.Controllers.Keys.Single(), "T2", RegisterArea.InputRegister, 1, RawType.Int16, WordOrder.HighFirst, ""),
            _ => new SaveTemplate(null, "Kiln", "Kiln", null, ""),
            m => new SaveProperty(m.Templates.Keys.Single(), null, "AirOn", "Air-on", PropertyKind.Measured, PropertyType.Number, new() { Range = new(0, 120) }),
            m => new SaveEquipment(null, "C", "Corvane", EquipmentLevel.Enterprise, null, m.Templates.Keys.Single()),
        })
            _workspace.Do(edit(_workspace.Model)).Problems.ShouldBeEmpty();
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
        _workspace.Do(Bind("T1"), seen).Problems.ShouldBeEmpty();
        _workspace.Do(Bind("T2"), seen).Problems.ShouldHaveSingleItem().Message.ShouldContain("Bind Corvane Air-on to T1");
        _workspace.Do(Bind("T2"), _workspace.Head).Problems.ShouldBeEmpty();
    }

    [Fact]
    public void Edits_of_different_things_do_not_disturb_each_other()
    {
        var seen = _workspace.Head;
        _workspace.Do(new SaveTemplate(null, "Fan", "Fan", null, ""), seen).Problems.ShouldBeEmpty();
        _workspace.Do(Bind("T1"), seen).Problems.ShouldBeEmpty();
    }

    [Fact]
    public void An_edit_that_was_taken_back_counts_as_a_change_too()
    {
        _workspace.Do(new SaveEquipment(Kiln, "C", "Corvane Maltings", EquipmentLevel.Enterprise, null, _workspace.Model.Templates.Keys.Single())).Problems.ShouldBeEmpty();
        var seen = _workspace.Head;
        _workspace.Undo().Problems.ShouldBeEmpty();
        _workspace.Do(new SaveEquipment(Kiln, "C", "Corvane Ltd", EquipmentLevel.Enterprise, null, _workspace.Model.Templates.Keys.Single()), seen).Problems.ShouldHaveSingleItem().Message.ShouldContain("Take back: Change Corvane Maltings");
    }

    private Bind Bind(string tag) => new(Kiln, AirOn, _workspace.Model.Tags.Values.Single(t => t.Name == tag).Id);
}
