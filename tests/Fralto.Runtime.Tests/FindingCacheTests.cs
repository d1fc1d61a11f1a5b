using Fralto.Core.Basics;
using Fralto.Core.Edits;
using Fralto.Core.Planning;
using Fralto.Core.Plant;
using Fralto.Core.Properties;
using Microsoft.Extensions.Logging.Abstractions;

namespace Fralto.Runtime.Tests;

/// <summary>Findings that are carried along from edit to edit are those of somebody who looks for the first time.</summary>
public sealed class FindingCacheTests : IAsyncDisposable
{
    private readonly Plant _plant = new();

    public ValueTask DisposeAsync() => _plant.DisposeAsync();

    [Fact]
    public void Findings_follow_edits_undo_redo_and_more_changes_than_are_noted()
    {
        AsFresh();
        var before = _plant.Findings.All.Count;
        _plant.Do(m => new Unbind(Kiln(m, "K1"), AirOn(m)));
        AsFresh();
        _plant.Findings.All.Count.ShouldNotBe(before);
        Turn(undo: true);
        AsFresh();
        _plant.Findings.All.Count.ShouldBe(before);
        // Several at once, and not looked at between them: back and forth again.
        Turn(undo: false);
        Turn(undo: true);
        Turn(undo: false);
        AsFresh();
        // Three thousand pieces: more than is remembered of what was changed.
        for (var i = 0; i < 3; i++)
            _plant.Do(m => new AddSeries(
                m.Equipment.Values.Single(e => e.Code == "C").Id,
                EquipmentLevel.Unit,
                m.Templates.Keys.Single(),
                new("Kiln {n}", "S{n}", 1 + (1000 * i), 1, 1000, 4)
            ));
        AsFresh();
        _plant.Findings.All.Count.ShouldBeGreaterThan(before + 2900);
        _plant.Do(m => new SaveProperty(
            m.Templates.Keys.Single(),
            AirOn(m),
            "AirOn",
            "Air-on",
            PropertyKind.Measured,
            PropertyType.Number,
            new() { Range = new(0, 120) },
            IsRequired: false
        ));
        AsFresh();
        _plant
            .Findings.All.Count(f => f.Finding.Severity != FindingSeverity.Hint)
            .ShouldBeLessThan(2900, "nothing has to be bound any more");
        for (var i = 0; i < 4; i++)
            Turn(undo: true);
        AsFresh();
        _plant.Model.Equipment.Count.ShouldBe(3);
    }

    private void Turn(bool undo) =>
        (undo ? _plant.Workspace.Undo(Actor.Local) : _plant.Workspace.Redo(Actor.Local)).Problems.ShouldBeEmpty();

    private static long Kiln(PlantModel model, string code) => model.Equipment.Values.Single(e => e.Code == code).Id;

    private static long AirOn(PlantModel model) => model.Templates.Values.Single().Properties.Single().Id;

    /// <summary>What has come along says what somebody says who begins now.</summary>
    private void AsFresh()
    {
        var fresh = new FindingCache(
            _plant.Workspace,
            _plant.Runtime,
            new(_plant.Runtime, new(), _plant.Clock, NullLogger<DoubtWatch>.Instance),
            _plant.Values,
            _plant.Clock
        );
        _plant.Findings.All.Select(f => $"{f.Key}: {f.Finding.Words}").ShouldBe(fresh.All.Select(f => $"{f.Key}: {f.Finding.Words}"));
    }
}
