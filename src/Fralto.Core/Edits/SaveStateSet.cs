using System.Collections.Immutable;
using Fralto.Core.Plant;
using Fralto.Core.Templates;

namespace Fralto.Core.Edits;

/// <summary>Adds a state set, or changes one when an id is given.</summary>
public sealed record SaveStateSet(long? Id, string Code, string Name, ImmutableArray<State> States) : Edit
{
    public override EditOutcome On(PlantModel model)
    {
        StateSet? before = null;
        if (Id is { } id && !model.StateSets.TryGetValue(id, out before)) return Gone("The state set");
        var after = new StateSet(Id ?? model.NextId, Code, Name, [.. States.OrderBy(s => s.Value)]);
        var problems = EntityRules.Problems(after).ToList();
        if (model.StateSets.Values.Any(s => s.Id != Id && string.Equals(s.Code, Code, StringComparison.OrdinalIgnoreCase)))
            problems.Add(new(nameof(Code), $"There is already a state set with the code {Code}."));
        if (problems.Count > 0) return EditOutcome.Refused(problems);
        return EditOutcome.Changed($"{(before is null ? "Add" : "Change")} state set {Name}", new ModelChange(before, after));
    }
}
