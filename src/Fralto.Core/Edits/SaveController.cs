using Fralto.Core.Controllers;
using Fralto.Core.Plant;

namespace Fralto.Core.Edits;

/// <summary>Adds a controller, or changes one when an id is given.</summary>
public sealed record SaveController(long? Id, string Name, string Host, int Port, int UnitId, int UpdateIntervalMs) : Edit
{
    public override EditOutcome On(PlantModel model)
    {
        Controller? before = null;
        if (Id is { } id && !model.Controllers.TryGetValue(id, out before)) return Gone("The controller");
        var after = new Controller(Id ?? model.NextId, Name, Host, Port, UnitId, TimeSpan.FromMilliseconds(UpdateIntervalMs));
        var problems = EntityRules.Problems(after).ToList();
        if (model.Controllers.Values.Any(c => c.Id != Id && string.Equals(c.Name, Name, StringComparison.OrdinalIgnoreCase)))
            problems.Add(new(nameof(Name), $"There is already a controller named {Name}."));
        if (problems.Count > 0) return EditOutcome.Refused(problems);
        return EditOutcome.Changed(before is null ? $"Add controller {Name}" : $"Change controller {Name}", new ModelChange(before, after));
    }
}
