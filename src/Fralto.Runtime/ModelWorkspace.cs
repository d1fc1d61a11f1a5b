using System.Collections.Concurrent;
using System.Collections.Immutable;
using Fralto.Core.Binding;
using Fralto.Core.Controllers;
using Fralto.Core.Edits;
using Fralto.Core.Plant;
using Fralto.Core.Scaling;
using Fralto.Core.Templates;
using Fralto.Store;

namespace Fralto.Runtime;

/// <summary>The working model of this process: edits go in one after the other and are on disk before anybody sees them.</summary>
public sealed class ModelWorkspace
{
    /// <summary>Who edits, as long as Fralto knows no users.</summary>
    public const string LocalUser = "local user";

    private const int MostLastUnits = 8;

    private readonly PlantStore _store;
    private readonly TimeProvider _clock;
    private readonly Lock _lock = new();
    private readonly List<long> _undo = [];
    private readonly List<long> _redo = [];
    private readonly ConcurrentDictionary<long, bool> _inEffect = new();
    private readonly Dictionary<(long, long), long> _touched = [];
    private long _head;
    private ImmutableArray<string> _lastUnits = [];
    private volatile PlantModel _model;

    public ModelWorkspace(PlantStore store, TimeProvider clock)
    {
        _store = store;
        _clock = clock;
        (_model, Aside) = store.Load();
        foreach (var (id, kind, target) in store.JournalKinds())
        {
            Remember(id, kind, target);
            _head = id;
        }
        ReadNext();
        // After a start nobody has chosen yet: the units the templates use most stand first.
        _lastUnits = [.. _model.Templates.Values.SelectMany(t => t.Patches.Values).Select(p => p.Unit).OfType<string>().GroupBy(u => u).OrderByDescending(g => g.Count()).ThenBy(g => g.Key, StringComparer.Ordinal).Take(MostLastUnits).Select(g => g.Key)];
    }

    public PlantModel Model => _model;

    /// <summary>What could not be read when Fralto started, and is left out of the model.</summary>
    public IReadOnlyList<SetAside> Aside { get; }

    /// <summary>Codes of the units people have chosen, the last one first.</summary>
    public ImmutableArray<string> LastUnits => _lastUnits;

    /// <summary>Number of the newest journal entry: what a page shown now has seen.</summary>
    public long Head => Interlocked.Read(ref _head);

    /// <summary>Makes an edit when it is allowed.</summary>
    /// <param name="edit">The edit.</param>
    /// <param name="seen">The head when its form was shown; refused when what it changes was changed after that. Null asks nothing.</param>
    public EditOutcome Do(Edit edit, long? seen = null)
    {
        lock (_lock)
        {
            var outcome = edit.On(_model);
            if (outcome.IsRefused) return outcome;
            if (seen is { } head && Meanwhile(outcome, head) is { } changed) return EditOutcome.Refused("", changed);
            var next = _model.Apply(outcome.Changes);
            if (Keep(outcome, next.NextId, JournalKind.Edit, null, out var id) is { } refused) return refused;
            _model = next;
            Touch(id, outcome);
            KeepUnits(outcome);
            Remember(id, JournalKind.Edit, null);
            ReadNext();
            return outcome;
        }
    }

    /// <summary>The edit that Undo would take back; null when there is none.</summary>
    public JournalEntry? NextUndo { get; private set; }

    /// <summary>The edit that Redo would make again; null when there is none.</summary>
    public JournalEntry? NextRedo { get; private set; }

    /// <summary>True for an edit that has not been taken back.</summary>
    public bool IsInEffect(long id) => _inEffect.ContainsKey(id);

    /// <summary>Takes the last edit back, or a given one when nothing later depends on it.</summary>
    public EditOutcome Undo(long? id = null) => Turn(id, _undo, JournalKind.Undo, "Take back");

    /// <summary>Makes the edit again that was taken back last.</summary>
    public EditOutcome Redo() => Turn(null, _redo, JournalKind.Redo, "Make again");

    private EditOutcome Turn(long? id, List<long> from, JournalKind kind, string verb)
    {
        EditOutcome outcome;
        lock (_lock)
        {
            var target = id ?? (from.Count > 0 ? from[^1] : 0);
            if ((kind == JournalKind.Undo ? !_inEffect.ContainsKey(target) : !_redo.Contains(target)) || _store.Entry(target) is not var (entry, changes)) return EditOutcome.Refused("", "There is nothing of that kind to take back or make again.");
            if (changes.IsEmpty) return EditOutcome.Refused("", $"What edit {target} changed can no longer be read, so it cannot be taken back.");
            var turned = kind == JournalKind.Undo ? changes : [.. changes.Reverse().Select(c => c.Inverse)];
            outcome = new TakeBack($"{verb}: {entry.Summary}", turned).On(_model);
            if (outcome.IsRefused) return outcome;
            var next = _model.Apply(outcome.Changes);
            if (Keep(outcome, next.NextId, kind, target, out var made) is { } refused) return refused;
            _model = next;
            Touch(made, outcome);
            Remember(made, kind, target);
            ReadNext();
        }
        return outcome;
    }

    /// <summary>Puts an edit on the disk; until it is there nobody sees it.</summary>
    /// <returns>Why it could not be kept; null when it was.</returns>
    private EditOutcome? Keep(EditOutcome outcome, long nextId, JournalKind kind, long? target, out long id)
    {
        try
        {
            id = _store.Append(outcome, nextId, LocalUser, _clock.GetUtcNow(), kind, target);
            return null;
        }
        catch (StoreException e)
        {
            id = 0;
            return EditOutcome.Refused("", $"Nothing was changed, since it could not be kept: {e.Message}. What you typed is kept; send it again when that is mended.");
        }
    }

    private void KeepUnits(EditOutcome outcome)
    {
        static IEnumerable<string?> UnitsOf(object? thing) => thing switch
        {
            Template it => it.Patches.Values.Select(p => p.Unit),
            Equipment it => it.Patches.Values.Select(p => p.Unit),
            Tag it => [it.Unit],
            LibraryScale it => [it.Scale.Unit],
            _ => [],
        };
        var chosen = outcome.Changes.SelectMany(c => UnitsOf(c.After).Except(UnitsOf(c.Before))).OfType<string>().Distinct().Take(MostLastUnits).ToArray();
        if (chosen.Length > 0) _lastUnits = [.. chosen.Concat(_lastUnits).Distinct().Take(MostLastUnits)];
    }

    /// <summary>What tells a changed thing from all others: an entity its id, a binding its instance and property.</summary>
    private static (long, long) KeyOf(object thing) => thing is PropertyBinding binding ? (binding.EquipmentId, binding.PropertyId) : (((Entity)thing).Id, 0);

    private void Touch(long entry, EditOutcome outcome)
    {
        Interlocked.Exchange(ref _head, entry);
        foreach (var change in outcome.Changes)
            _touched[KeyOf((change.After ?? change.Before)!)] = entry;
    }

    /// <summary>What was changed after a page was shown in that which an edit from this page would change, in words; null when nothing was.</summary>
    private string? Meanwhile(EditOutcome outcome, long seen)
    {
        foreach (var thing in outcome.Changes.Select(c => c.Before).OfType<object>())
        {
            if (!_touched.TryGetValue(KeyOf(thing), out var entry) || entry <= seen || _store.Head(entry) is not { } head) continue;
            return $"Meanwhile {head.Who} did this at {head.At.ToLocalTime():HH:mm:ss}: {head.Summary}. What you typed is kept; send it again to put it over that.";
        }
        return null;
    }

    private void ReadNext()
    {
        NextUndo = _undo.Count > 0 ? _store.Head(_undo[^1]) : null;
        NextRedo = _redo.Count > 0 ? _store.Head(_redo[^1]) : null;
    }

    /// <summary>Keeps which edits can be taken back and which made again; a new edit ends what could be made again.</summary>
    private void Remember(long id, JournalKind kind, long? target)
    {
        switch (kind)
        {
            case JournalKind.Undo when target is { } undone:
                _undo.Remove(undone);
                _inEffect.TryRemove(undone, out _);
                _redo.Add(undone);
                break;
            case JournalKind.Redo when target is { } redone:
                _redo.Remove(redone);
                _inEffect[redone] = true;
                _undo.Add(redone);
                break;
            default:
                _undo.Add(id);
                _inEffect[id] = true;
                _redo.Clear();
                break;
        }
    }
}
