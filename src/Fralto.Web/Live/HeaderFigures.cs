using Fralto.Core.Plant;
using Fralto.Links;

namespace Fralto.Web.Live;

/// <summary>The figures under the steps of the header.</summary>
public sealed class HeaderFigures(ModelWorkspace workspace, PlantRuntime runtime)
{
    private readonly Lock _lock = new();
    private PlantModel? _countedFor;
    private int _measured;

    public int ControllersUp => workspace.Model.Controllers.Keys.Count(id => runtime.Links.StatusOf(id)?.State is LinkState.Up or LinkState.Partial);

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
                ["Live"] = $"{runtime.Snapshot.Values.Count(v => v.Status.IsGood)} good",
                ["Alarms"] = $"{runtime.Snapshot.ActiveAlarms} active",
            };
        }
    }

    private int MeasuredProperties(PlantModel model)
    {
        lock (_lock)
        {
            if (ReferenceEquals(_countedFor, model)) return _measured;
            _measured = model.Templates.Keys.Sum(id => model.Index.PropertiesOf(id).Count(p => p.TakesTag) * model.Index.InstanceCountOf(id));
            _countedFor = model;
            return _measured;
        }
    }
}
