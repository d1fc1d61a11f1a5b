using System.Collections.Concurrent;
using System.Collections.Immutable;
using Fralto.Core.Basics;
using Fralto.Core.Bindings;
using Fralto.Core.Controllers;
using Fralto.Core.Edits;
using Fralto.Core.Hierarchy;
using Fralto.Core.Plant;
using Fralto.Core.Review;
using Fralto.Core.Rules;
using Fralto.Core.Scaling;
using Fralto.Core.Templates;
using Fralto.Store;

namespace Fralto.Runtime;

/// <summary>The working model of this process: edits go in one after the other and are on disk before anybody sees them.</summary>
public sealed class ModelWorkspace
{
    private const int MostLastUnits = 8;
    private const int MostWrong = 5;
    private const int MostNoted = 2000;

    private readonly PlantStore _store;
    private readonly TimeProvider _clock;
    private readonly Lock _lock = new();
    private readonly ConcurrentDictionary<string, Turns> _turns = new(StringComparer.Ordinal);
    private readonly ConcurrentDictionary<long, bool> _inEffect = new();
    private readonly Dictionary<(long, long), long> _touched = [];
    private readonly List<(long From, long To, ImmutableArray<ModelChange> Changes)> _noted = [];
    private long _head;
    private ImmutableArray<string> _lastUnits = [];
    private volatile WorkspaceState _state;

    public ModelWorkspace(PlantStore store, TimeProvider clock)
    {
        _store = store;
        _clock = clock;
        (var model, Aside) = store.Load();
        foreach (var (id, kind, target, who) in store.JournalKinds())
        {
            Remember(id, kind, target, TurnsOf(who));
            _head = id;
        }
        foreach (var turns in _turns.Values)
            ReadNext(turns);
        // After a start nobody has chosen yet: the units the templates use most stand first.
        _lastUnits =
        [
            .. model
                .Templates.Values.SelectMany(t => t.Patches.Values)
                .Select(p => p.Unit)
                .OfType<string>()
                .GroupBy(u => u)
                .OrderByDescending(g => g.Count())
                .ThenBy(g => g.Key, StringComparer.Ordinal)
                .Take(MostLastUnits)
                .Select(g => g.Key),
        ];
        (var state, ReleaseTrouble) = ReleasedState.Load(store, model, _head, Aside.Count == 0);
        _state = state with { Head = _head };
    }

    /// <summary>The working model: what is being edited.</summary>
    public PlantModel Model => _state.Model;

    /// <summary>The released model: what runs, with all that hangs on it.</summary>
    public PlantModel Released => _state.Released;

    /// <summary>Both, and what tells them apart.</summary>
    public WorkspaceState State => _state;

    /// <summary>Why another release runs than the newest; null when it is the newest.</summary>
    public string? ReleaseTrouble { get; private set; }

    /// <summary>What could not be read when Fralto started, and is left out of the model.</summary>
    public IReadOnlyList<SetAside> Aside { get; }

    /// <summary>Codes of the units people have chosen, the last one first.</summary>
    public ImmutableArray<string> LastUnits => _lastUnits;

    /// <summary>Number of the newest journal entry: what a page shown now has seen.</summary>
    public long Head => Interlocked.Read(ref _head);

    /// <summary>What the edits have changed that came after one entry of the journal, up to another, in their order; null when that is not
    /// at hand any more.</summary>
    /// <param name="from">The head of the model that is known.</param>
    /// <param name="to">The head of the model that is wanted.</param>
    public IReadOnlyCollection<ModelChange>? ChangesSince(long from, long to)
    {
        if (from == to)
            return [];
        lock (_noted)
        {
            var first = _noted.FindIndex(n => n.From == from);
            var last = _noted.FindIndex(n => n.To == to);
            return first < 0 || last < first ? null : [.. _noted.Skip(first).Take(last - first + 1).SelectMany(n => n.Changes)];
        }
    }

    private void Note(long from, long to, ImmutableArray<ModelChange> changes)
    {
        lock (_noted)
        {
            _noted.Add((from, to, changes));
            while (_noted.Count > 0 && _noted.Sum(n => n.Changes.Length) + _noted.Count > MostNoted)
                _noted.RemoveAt(0);
        }
    }

    /// <summary>Makes an edit when it is allowed.</summary>
    /// <param name="edit">The edit.</param>
    /// <param name="actor">Who makes it.</param>
    /// <param name="seen">The head when its form was shown; refused when what it changes was changed after that. Null asks nothing.</param>
    public EditOutcome Do(Edit edit, Actor actor, long? seen = null)
    {
        if (!actor.May(ActorRights.Edit))
            return EditOutcome.Refused("", actor.Lacks(ActorRights.Edit));
        lock (_lock)
        {
            var outcome = edit.On(_state.Model);
            if (outcome.IsRefused)
                return outcome;
            if (seen is { } head && Meanwhile(outcome, head) is { } changed)
                return EditOutcome.Refused("", changed) with { IsOvertaken = true };
            var next = _state.Model.Apply(outcome.Changes);
            // Whatever an edit has overlooked: no model that is kept is at odds with itself.
            if (Integrity.NewProblems(_state.Model, next, outcome.Changes) is { Count: > 0 } wrong)
                return EditOutcome.Refused(wrong.Take(MostWrong));
            if (Keep(outcome, next.NextId, actor, JournalKind.Edit, null, out var id) is { } refused)
                return refused;
            Note(_state.Head, id, outcome.Changes);
            _state = _state.After(next, outcome.Changes, actor.Name, _clock.GetUtcNow()) with { Head = id };
            Touch(id, outcome);
            KeepUnits(outcome);
            var turns = TurnsOf(actor.Name);
            Remember(id, JournalKind.Edit, null, turns);
            ReadNext(turns);
            return outcome;
        }
    }

    /// <summary>Makes a model the one that runs. What has been edited since it was looked at stays unreleased.</summary>
    /// <param name="release">The release, as it is kept.</param>
    /// <param name="model">What it holds.</param>
    /// <param name="content">It, frozen.</param>
    /// <exception cref="StoreException">It was not kept, and nothing has changed.</exception>
    public void Release(Release release, PlantModel model, FrozenModel content)
    {
        lock (_lock)
        {
            _store.Releases.Add(release, content);
            _state = _state.Running(model, release.Number);
            ReleaseTrouble = null;
        }
    }

    /// <summary>Lets whatever is edited run at once, beginning with what is unreleased now, until the next release is made.</summary>
    /// <exception cref="StoreException">It was not kept, and nothing has changed.</exception>
    public void ReleaseAutomatically()
    {
        lock (_lock)
        {
            _store.Releases.SetAutomatic(true);
            _state = new(_state.Model, _state.Model, NetChanges.None, true, _state.Number) { Head = _state.Head };
        }
    }

    /// <summary>The edit of an actor that Undo would take back; null when there is none.</summary>
    public JournalEntry? NextUndo(Actor actor) => _turns.TryGetValue(actor.Name, out var turns) ? turns.NextUndo : null;

    /// <summary>The edit that Redo would make again for an actor; null when there is none.</summary>
    public JournalEntry? NextRedo(Actor actor) => _turns.TryGetValue(actor.Name, out var turns) ? turns.NextRedo : null;

    /// <summary>True for an edit that has not been taken back.</summary>
    public bool IsInEffect(long id) => _inEffect.ContainsKey(id);

    /// <summary>Takes an actor's last edit back, or a given one, whoever made it, when nothing later depends on it.</summary>
    public EditOutcome Undo(Actor actor, long? id = null) =>
        Turn(actor, id ?? TurnsOf(actor.Name).Undo.LastOrDefault(), JournalKind.Undo, "Take back");

    /// <summary>Makes the edit again that an actor took back last.</summary>
    public EditOutcome Redo(Actor actor) => Turn(actor, TurnsOf(actor.Name).Redo.LastOrDefault(), JournalKind.Redo, "Make again");

    private EditOutcome Turn(Actor actor, long target, JournalKind kind, string verb)
    {
        if (!actor.May(ActorRights.Edit))
            return EditOutcome.Refused("", actor.Lacks(ActorRights.Edit));
        EditOutcome outcome;
        lock (_lock)
        {
            var turns = TurnsOf(actor.Name);
            if (
                (kind == JournalKind.Undo ? !_inEffect.ContainsKey(target) : !turns.Redo.Contains(target))
                || _store.Entry(target) is not var (entry, changes)
            )
                return EditOutcome.Refused("", "There is nothing of that kind to take back or make again.");
            if (changes.IsEmpty)
                return EditOutcome.Refused("", $"What edit {target} changed can no longer be read, so it cannot be taken back.");
            var turned = kind == JournalKind.Undo ? changes : [.. changes.Reverse().Select(c => c.Inverse)];
            outcome = new TakeBack($"{verb}: {entry.Summary}", turned).On(_state.Model);
            if (outcome.IsRefused)
                return outcome;
            var next = _state.Model.Apply(outcome.Changes);
            if (Keep(outcome, next.NextId, actor, kind, target, out var made) is { } refused)
                return refused;
            Note(_state.Head, made, outcome.Changes);
            _state = _state.After(next, outcome.Changes, actor.Name, _clock.GetUtcNow()) with { Head = made };
            Touch(made, outcome);
            Remember(made, kind, target, turns);
            foreach (var its in _turns.Values)
                ReadNext(its);
        }
        return outcome;
    }

    /// <summary>Puts an edit on the disk; until it is there nobody sees it.</summary>
    /// <returns>Why it could not be kept; null when it was.</returns>
    private EditOutcome? Keep(EditOutcome outcome, long nextId, Actor actor, JournalKind kind, long? target, out long id)
    {
        try
        {
            id = _store.Append(outcome, nextId, actor.Name, _clock.GetUtcNow(), kind, target);
            return null;
        }
        catch (StoreException e)
        {
            id = 0;
            return EditOutcome.Refused(
                "",
                $"Nothing was changed, since it could not be kept: {e.Message}. What you typed is kept; send it again when that is mended."
            );
        }
    }

    private void KeepUnits(EditOutcome outcome)
    {
        static IEnumerable<string?> UnitsOf(object? thing) =>
            thing switch
            {
                Template it => it.Patches.Values.Select(p => p.Unit),
                Equipment it => it.Patches.Values.Select(p => p.Unit),
                Tag it => [it.Unit],
                LibraryScale it => [it.Scale.Unit],
                _ => [],
            };
        var chosen = outcome
            .Changes.SelectMany(c => UnitsOf(c.After).Except(UnitsOf(c.Before)))
            .OfType<string>()
            .Distinct()
            .Take(MostLastUnits)
            .ToArray();
        if (chosen.Length > 0)
            _lastUnits = [.. chosen.Concat(_lastUnits).Distinct().Take(MostLastUnits)];
    }

    /// <summary>What tells a changed thing from all others: an entity its id, a binding its instance and property.</summary>
    private static (long, long) KeyOf(object thing) =>
        thing is PropertyBinding binding ? (binding.EquipmentId, binding.PropertyId) : (((Entity)thing).Id, 0);

    private void Touch(long entry, EditOutcome outcome)
    {
        Interlocked.Exchange(ref _head, entry);
        foreach (var change in outcome.Changes)
            _touched[KeyOf((change.After ?? change.Before)!)] = entry;
    }

    /// <summary>What was changed after a page was shown in that which an edit from this page would change, in words; null when nothing
    /// was.</summary>
    private string? Meanwhile(EditOutcome outcome, long seen)
    {
        foreach (var thing in outcome.Changes.Select(c => c.Before).OfType<object>())
        {
            if (!_touched.TryGetValue(KeyOf(thing), out var entry) || entry <= seen || _store.Head(entry) is not { } head)
                continue;
            return $"Meanwhile {head.Who} did this at {head.At.ToLocalTime():HH:mm:ss}: {head.Summary}. What you typed is kept; send "
                + $"it again to put it over that.";
        }
        return null;
    }

    private Turns TurnsOf(string name) => _turns.GetOrAdd(name, _ => new());

    private void ReadNext(Turns turns)
    {
        turns.NextUndo = turns.Undo.Count > 0 ? EntryOf(turns.Undo[^1], turns.NextUndo) : null;
        turns.NextRedo = turns.Redo.Count > 0 ? EntryOf(turns.Redo[^1], turns.NextRedo) : null;
    }

    private JournalEntry? EntryOf(long id, JournalEntry? known) => known?.Id == id ? known : _store.Head(id);

    /// <summary>Keeps which edits can be taken back and which made again, and by whom; a new edit ends what its maker could make
    /// again.</summary>
    private void Remember(long id, JournalKind kind, long? target, Turns turns)
    {
        switch (kind)
        {
            case JournalKind.Undo when target is { } undone:
                foreach (var its in _turns.Values)
                    its.Undo.Remove(undone);
                _inEffect.TryRemove(undone, out _);
                turns.Redo.Add(undone);
                break;
            case JournalKind.Redo when target is { } redone:
                turns.Redo.Remove(redone);
                _inEffect[redone] = true;
                turns.Undo.Add(redone);
                break;
            default:
                turns.Undo.Add(id);
                _inEffect[id] = true;
                turns.Redo.Clear();
                break;
        }
    }

    /// <summary>What one actor can take back and make again, the last one last.</summary>
    private sealed class Turns
    {
        public List<long> Undo { get; } = [];

        public List<long> Redo { get; } = [];

        public JournalEntry? NextUndo { get; set; }

        public JournalEntry? NextRedo { get; set; }
    }
}
