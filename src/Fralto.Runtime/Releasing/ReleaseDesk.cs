using System.Collections.Immutable;
using System.Globalization;
using Fralto.Core.Edits;
using Fralto.Core.Planning;
using Fralto.Core.Plant;
using Fralto.Core.Review;
using Fralto.Store;
using Microsoft.Extensions.Logging;

namespace Fralto.Runtime.Releasing;

/// <summary>Puts models to work: makes releases, brings earlier ones back, takes what is unreleased back.</summary>
public sealed class ReleaseDesk : IDisposable
{
    /// <summary>The longest note.</summary>
    public const int LongestNote = 500;

    private static readonly TimeSpan LongestWait = TimeSpan.FromSeconds(30);

    private readonly ModelWorkspace _workspace;
    private readonly PlantStore _store;
    private readonly PlantRuntime _runtime;
    private readonly FindingCache _findings;
    private readonly TrialDesk _trial;
    private readonly BackupPlace? _place;
    private readonly TimeProvider _clock;
    private readonly ILogger<ReleaseDesk> _logger;
    private readonly SemaphoreSlim _one = new(1, 1);
    private readonly Lock _lock = new();
    private ImmutableArray<Release> _all;
    private (int Number, PlantModel Model)? _thawed;

    public ReleaseDesk(
        ModelWorkspace workspace,
        PlantStore store,
        PlantRuntime runtime,
        FindingCache findings,
        TrialDesk trial,
        BackupPlace? place,
        TimeProvider clock,
        ILogger<ReleaseDesk> logger
    )
    {
        (_workspace, _store, _runtime, _findings, _trial, _place, _clock, _logger) = (
            workspace,
            store,
            runtime,
            findings,
            trial,
            place,
            clock,
            logger
        );
        _all = [.. store.Releases.All()];
        runtime.Swapped += Measure;
    }

    /// <summary>All releases, the newest first.</summary>
    public ImmutableArray<Release> All => _all;

    /// <summary>The release that runs; null while whatever is edited runs at once, and while none was made.</summary>
    public Release? Running => _workspace.State.IsAutomatic ? null : _all.FirstOrDefault();

    /// <summary>The number the next release gets.</summary>
    public int NextNumber => _workspace.State.Number + 1;

    /// <summary>What a release holds; null when there is none of this number.</summary>
    /// <exception cref="StoreException">It cannot be read.</exception>
    public PlantModel? ModelOf(int number)
    {
        var state = _workspace.State;
        if (!state.IsAutomatic && number == state.Number && _workspace.ReleaseTrouble is null)
            return state.Released;
        lock (_lock)
            if (_thawed is var (known, model) && known == number)
                return model;
        if (_store.Releases.Content(number)?.Thaw() is not { } thawed)
            return null;
        lock (_lock)
            _thawed = (number, thawed);
        return thawed;
    }

    /// <summary>Makes the working model the next release, or the part of it that is chosen.</summary>
    /// <param name="note">What it is for.</param>
    /// <param name="actor">Who releases.</param>
    /// <param name="seen">The head of the journal the releaser has looked at; refused when something was edited since. Null asks
    /// nothing.</param>
    /// <param name="part">Which changes; null for all.</param>
    /// <param name="origin">Where it comes from, when that is not the working model.</param>
    public async Task<ReleaseOutcome> ReleaseAsync(
        string note,
        Actor actor,
        long? seen = null,
        NetChanges? part = null,
        string? origin = null
    )
    {
        if (!actor.May(ActorRights.Release))
            return ReleaseOutcome.Refused(actor.Lacks(ActorRights.Release));
        note = note.Trim();
        if (note.Length == 0)
            return ReleaseOutcome.Refused("Write a note: what this release is for.");
        if (note.Length > LongestNote || note.Any(c => char.IsControl(c) && c is not ('\n' or '\r')))
            return ReleaseOutcome.Refused($"A note has at most {LongestNote} characters.");
        if (!await _one.WaitAsync(TimeSpan.Zero))
            return ReleaseOutcome.Refused("Somebody else is releasing just now; look at what comes of it first.");
        try
        {
            return await MakeAsync(note, actor, seen, part, origin);
        }
        catch (StoreException e)
        {
            return ReleaseOutcome.Refused($"Nothing was released, since it could not be kept: {e.Message}");
        }
        finally
        {
            _one.Release();
        }
    }

    private async Task<ReleaseOutcome> MakeAsync(string note, Actor actor, long? seen, NetChanges? part, string? origin)
    {
        var state = _workspace.State;
        var head = state.Head;
        if (seen is { } looked && looked != head && _store.Head(head) is { } last)
            return ReleaseOutcome.Refused($"Meanwhile {last.Who} edited: {last.Summary}. Look at the changes again, and release then.");
        if (!state.IsAutomatic && !state.IsUnreleased && state.Number > 0)
            return ReleaseOutcome.Refused("Nothing is unreleased; what runs is what there is.");
        if (await CompiledAsync(state.Model) is not { } plan)
            return ReleaseOutcome.Refused("The working model is still being compiled; try again in a moment.");
        var found = _findings.All;
        if (!ReferenceEquals(_workspace.Model, state.Model))
            return ReleaseOutcome.Refused("Meanwhile somebody edited; look at the changes again, and release then.");
        int Count(FindingSeverity severity) => found.Count(f => f.Finding.Severity == severity);
        if (Count(FindingSeverity.Error) is > 0 and var errors)
            return ReleaseOutcome.Refused(
                $"{errors} error{(errors == 1 ? "" : "s")} block the release; mend {(errors == 1 ? "it" : "them")} first."
            );
        var model = state.Model;
        if (part is not null)
        {
            var choice = PartialRelease.Of(state.Model, state.Released, state.Changes, part);
            if (choice.Problem is { } problem)
                return ReleaseOutcome.Refused(problem);
            model = choice.Model;
        }
        Backup();
        var frozen = await Task.Run(() => FrozenModel.Of(model));
        var release = new Release(
            _workspace.State.Number + 1,
            _clock.GetUtcNow(),
            actor.Name,
            note,
            // Only what holds all that was edited is what a journal leads to.
            part is null
                ? head
                : 0,
            frozen.Hash,
            part?.Count ?? state.Changes.Count,
            0,
            Count(FindingSeverity.Warning),
            Count(FindingSeverity.Hint),
            part is null ? _trial.ReportOf(plan) : null,
            origin
        );
        _workspace.Release(release, model, frozen);
        _all = [release, .. _all];
        if (ReferenceEquals(_runtime.RunningModel, _workspace.Released))
            // It has been running all the time.
            SetPause(release.Number, 0);
        return new(_all[0], null);
    }

    /// <summary>Waits until a model has been compiled.</summary>
    /// <returns>Its plan; null when it takes too long.</returns>
    private async Task<Plan?> CompiledAsync(PlantModel model)
    {
        var begin = DateTime.UtcNow;
        while (DateTime.UtcNow - begin < LongestWait)
        {
            if (ReferenceEquals(_runtime.WorkingModel, model))
                return _runtime.WorkingSnapshot.Plan;
            if (ReferenceEquals(_runtime.RunningModel, model))
                return _runtime.Snapshot.Plan;
            await Task.Delay(TimeSpan.FromMilliseconds(20));
        }
        return null;
    }

    /// <summary>Copies the plant as it is, and lets the oldest copies go.</summary>
    /// <exception cref="StoreException">No copy could be made.</exception>
    private void Backup()
    {
        if (_place is not { } place)
            return;
        try
        {
            Directory.CreateDirectory(place.Directory);
            PlantBackup.Make(
                place.DataDirectory,
                Path.Combine(
                    place.Directory,
                    string.Create(CultureInfo.InvariantCulture, $"before-release-{NextNumber}-{_clock.GetUtcNow():yyyyMMddHHmmssfff}.zip")
                ),
                _clock,
                withHistory: false
            );
            foreach (
                var old in Directory
                    .EnumerateFiles(place.Directory, "before-release-*.zip")
                    .OrderByDescending(File.GetLastWriteTimeUtc)
                    .Skip(BackupPlace.Kept)
            )
                File.Delete(old);
        }
        catch (Exception e) when (e is IOException or UnauthorizedAccessException)
        {
            throw new StoreException($"no backup could be made before it: {e.Message}", e);
        }
    }

    /// <summary>Takes back everything that is unreleased, as one edit.</summary>
    public EditOutcome Discard(Actor actor)
    {
        var state = _workspace.State;
        return state.Changes.IsEmpty
            ? EditOutcome.Refused("", "Nothing is unreleased.")
            : _workspace.Do(new TakeBack($"Discard {Count(state.Changes.Count, "unreleased change")}", [.. state.Changes.Changes]), actor);
    }

    /// <summary>Takes one change back, as an edit.</summary>
    /// <param name="key">Which.</param>
    /// <param name="actor">Who takes it back.</param>
    public EditOutcome TakeBack(string key, Actor actor)
    {
        var state = _workspace.State;
        return ReviewList.Of(state.Released, state.Model, state.Changes).FirstOrDefault(r => r.Key == key) is { } row
            ? _workspace.Do(new TakeBack($"Take back: {row.Words}", row.Changes), actor)
            : EditOutcome.Refused("", "That change is not there any more; somebody has taken it back or released it.");
    }

    /// <summary>Makes the working model what a release holds, as one edit.</summary>
    /// <param name="number">The release.</param>
    /// <param name="actor">Who brings it back.</param>
    public EditOutcome BringBack(int number, Actor actor)
    {
        try
        {
            if (ModelOf(number) is not { } model)
                return EditOutcome.Refused("", $"There is no release {number}.");
            var net = NetChanges.Between(model, _workspace.Model);
            return net.IsEmpty
                ? EditOutcome.Refused("", $"The working model is what release {number} holds already.")
                : _workspace.Do(new TakeBack($"Bring release {number} back", [.. net.Changes]), actor);
        }
        catch (StoreException e)
        {
            return EditOutcome.Refused("", e.Message);
        }
    }

    /// <summary>Brings a release back and releases it at once, under a new number. What is unreleased meanwhile is taken back with an edit
    /// that can itself be taken back. When it cannot be released, the working model stays as it was.</summary>
    /// <param name="number">The release.</param>
    /// <param name="note">What for; empty to say only which it is.</param>
    /// <param name="actor">Who brings it back.</param>
    public async Task<ReleaseOutcome> ReleaseAgainAsync(int number, string note, Actor actor)
    {
        if (!actor.May(ActorRights.Release))
            return ReleaseOutcome.Refused(actor.Lacks(ActorRights.Release));
        try
        {
            if (ModelOf(number) is not { } model)
                return ReleaseOutcome.Refused($"There is no release {number}.");
            if (!_workspace.State.IsAutomatic && NetChanges.Between(model, _workspace.Released).IsEmpty)
                return ReleaseOutcome.Refused($"What runs is what release {number} holds.");
            // It may be what is being edited already; everything else that is in the way is in the way of the release, too.
            var isBrought = !NetChanges.Between(model, _workspace.Model).IsEmpty;
            if (isBrought && BringBack(number, actor) is { IsRefused: true } refused)
                return ReleaseOutcome.Refused(string.Join(" ", refused.Problems.Select(p => p.Message)));
            var head = _workspace.Head;
            var outcome = await ReleaseAsync(
                note.Trim().Length > 0 ? note : $"Release {number} again",
                actor,
                head,
                origin: $"release {number}"
            );
            if (outcome.Release is null && isBrought)
                _workspace.Undo(actor, head);
            return outcome;
        }
        catch (StoreException e)
        {
            return ReleaseOutcome.Refused(e.Message);
        }
    }

    /// <summary>Keeps how long the plant stood still for the newest release.</summary>
    private void Measure(PlantModel model, TimeSpan pause)
    {
        if (_all is [{ PauseMilliseconds: null } newest, ..] && ReferenceEquals(model, _workspace.Released))
            // The engine does not wait for the disk.
            _ = Task.Run(() => SetPause(newest.Number, Math.Round(pause.TotalMilliseconds, 1)));
    }

    private void SetPause(int number, double milliseconds)
    {
        try
        {
            _store.Releases.SetPause(number, milliseconds);
        }
        catch (StoreException e)
        {
            _logger.LogWarning("How long the plant stood still for release {Number} could not be kept: {Trouble}", number, e.Message);
        }
        lock (_lock)
            _all = [.. _all.Select(r => r.Number == number ? r with { PauseMilliseconds = milliseconds } : r)];
    }

    private static string Count(int count, string one) => count == 1 ? $"1 {one}" : $"{count} {one}s";

    public void Dispose()
    {
        _runtime.Swapped -= Measure;
        _one.Dispose();
    }
}
