using System.Runtime.CompilerServices;
using Fralto.Core.Edits;
using Fralto.Core.Plant;
using Fralto.Core.Proposals;
using Microsoft.Extensions.Logging.Abstractions;

namespace Fralto.Runtime.Tests;

/// <summary>What was learned and found of a model goes with it.</summary>
public sealed class LettingGoTests : IAsyncDisposable
{
    private readonly Plant _plant = new();
    private readonly ProposalMemory _memory = new();
    private readonly ProposalCache _proposals;
    private readonly DoubtWatch _doubts;

    public LettingGoTests() =>
        (_proposals, _doubts) = (
            new(_plant.Runtime, _plant.Clock, _memory),
            new(_plant.Runtime, _memory, _plant.Clock, NullLogger<DoubtWatch>.Instance)
        );

    public ValueTask DisposeAsync() => _plant.DisposeAsync();

    [Fact]
    public async Task A_model_that_was_replaced_is_held_by_nobody()
    {
        await _plant.BegunAsync();
        var old = Enumerable.Range(0, 12).Select(Replaced).ToArray();
        for (var tries = 0; Held(old) > 0; tries++)
        {
            tries.ShouldBeLessThan(100);
            _plant.Pass(0.2);
            _plant.ForgetPut();
            await LookedAtAsync();
            await Task.Delay(20, TestContext.Current.CancellationToken);
        }
    }

    /// <summary>How many are still held; apart, so that no variable of a test holds one.</summary>
    [MethodImpl(MethodImplOptions.NoInlining)]
    private static int Held(IEnumerable<WeakReference> old)
    {
        GC.Collect();
        return old.Count(o => o.IsAlive);
    }

    /// <summary>Has everything looked at as pages do, then puts another model in its place.</summary>
    [MethodImpl(MethodImplOptions.NoInlining)]
    private WeakReference Replaced(int step)
    {
        var old = new WeakReference(_plant.Model);
        LookedAtAsync().GetAwaiter().GetResult();
        _plant.Do(m => new Unbind(Kiln(m, step % 2 == 0 ? "K1" : "K2"), m.Templates.Values.Single().Properties.Single().Id));
        LookedAtAsync().GetAwaiter().GetResult();
        _plant.Workspace.Undo(Actor.Local).Problems.ShouldBeEmpty();
        // Some of them run, most do not get as far.
        if (step % 4 == 3)
            _plant.Pass(0.2);
        return old;
    }

    [MethodImpl(MethodImplOptions.NoInlining)]
    private async Task LookedAtAsync()
    {
        _ = _plant.Findings.All.Count;
        _ = _proposals.Ask(_plant.Model, null, null);
        await _doubts.LookAsync(_plant.Model);
        _ = _doubts.ListOf(_plant.Model);
    }

    private static long Kiln(PlantModel model, string code) => model.Equipment.Values.Single(e => e.Code == code).Id;
}
