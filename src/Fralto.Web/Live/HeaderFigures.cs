using Fralto.Core.Plant;
using Fralto.Links;
using Fralto.Store;

namespace Fralto.Web.Live;

/// <summary>The figures under the steps of the header.</summary>
public sealed class HeaderFigures(ModelWorkspace workspace, PlantRuntime runtime, PlantStore store, AlarmLog log, FindingCache findings)
{
    private readonly Lock _lock = new();
    private PlantModel? _countedFor;
    private int _measured;

    public int ControllersUp =>
        workspace.Model.Controllers.Keys.Count(id => runtime.Links.StatusOf(id)?.State is LinkState.Up or LinkState.Partial);

    /// <summary>Why nothing can be kept at present, in a sentence; empty while everything can.</summary>
    public string Storage =>
        store.Trouble is { } trouble
            ? $"Nothing can be kept since {ValueText.Time(trouble.Since)}: {trouble.Words}. Edits and commands are refused, alarms "
                + $"are kept as soon as it is "
                + $"mended{(log.Dropped == 0 ? "" : $", all but {log.Dropped} steps for which there was no room")}."
            : "";

    /// <summary>How much is unreleased; empty while nothing is.</summary>
    private string Unreleased
    {
        get
        {
            var state = workspace.State;
            return state.IsUnreleased ? $"{state.Changes.Count} unreleased" : "";
        }
    }

    /// <summary>How many findings wait to be looked at: errors and warnings.</summary>
    private string Findings =>
        findings.KnownToDo switch
        {
            null => "…",
            0 => "in order",
            var count => $"{count} to do",
        };

    /// <summary>Step name to figure; the names are those of the pages.</summary>
    public IReadOnlyDictionary<string, string> All
    {
        get
        {
            var model = workspace.Model;
            return new Dictionary<string, string>
            {
                ["Controllers"] = model.Controllers.Count == 0 ? "none yet" : $"{ControllersUp} of {model.Controllers.Count} up",
                ["Templates"] = $"{model.Templates.Count}",
                ["Plant"] = $"{model.Equipment.Count}",
                ["Bindings"] = $"{model.Bindings.Count} / {MeasuredProperties(model)}",
                ["Review"] = Findings,
                ["Unreleased"] = Unreleased,
                ["Live"] = $"{runtime.Snapshot.GoodPoints} good",
                [nameof(Storage)] = Storage,
                ["Trends"] = $"{runtime.Snapshot.Plan.Recorded} recorded",
                ["Alarms"] = $"{runtime.Snapshot.ActiveAlarms} active",
            };
        }
    }

    private int MeasuredProperties(PlantModel model)
    {
        lock (_lock)
        {
            if (ReferenceEquals(_countedFor, model))
                return _measured;
            _measured = model.Templates.Keys.Sum(id =>
                model.Index.PropertiesOf(id).Count(p => p.TakesTag) * model.Index.InstanceCountOf(id)
            );
            _countedFor = model;
            return _measured;
        }
    }
}
