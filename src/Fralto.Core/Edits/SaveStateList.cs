using System.Collections.Immutable;
using Fralto.Core.Basics;
using Fralto.Core.Plant;
using Fralto.Core.Properties;
using Fralto.Core.Rules;

namespace Fralto.Core.Edits;

/// <summary>Adds a state list, or changes one when an id is given.</summary>
public sealed record SaveStateList(long? Id, string Code, string Name, ImmutableArray<State> States) : Edit
{
    private const int MostLost = 3;

    /// <inheritdoc/>
    public override EditOutcome On(PlantModel model)
    {
        StateList? before = null;
        if (Id is { } id && !model.StateLists.TryGetValue(id, out before))
            return Gone("The state list");
        var after = new StateList(Id ?? model.NextId, Code, Name, [.. States.OrderBy(s => s.Value)]);
        var problems = EntityRules.Problems(after).ToList();
        if (model.StateLists.Values.Any(s => s.Id != Id && string.Equals(s.Code, Code, StringComparison.OrdinalIgnoreCase)))
            problems.Add(new(nameof(Code), $"There is already a state list with the code {Code}."));
        if (problems.Count > 0)
            return EditOutcome.Refused(problems);
        var change = new ModelChange(before, after);
        if (before is not null && Lost(model.Apply([change]), after.Id).Take(MostLost).ToArray() is { Length: > 0 } lost)
            return EditOutcome.Refused(lost);
        return EditOutcome.Changed($"{(before is null ? "Add" : "Change")} state list {Name}", change);
    }

    /// <summary>Fixed values that would no longer be a state of the set.</summary>
    private static IEnumerable<Problem> Lost(PlantModel next, long setId)
    {
        foreach (var template in next.Templates.Values)
        foreach (
            var property in next
                .Index.PropertiesOf(template.Id)
                .Where(p => p.Declaration is { Kind: PropertyKind.Fixed, Type: PropertyType.State } && p.Facts.StateListId == setId)
        )
        {
            var values = next
                .Index.InstancesOf(template.Id)
                .Where(e => e.Patches.ContainsKey(property.Id))
                .Select(e => (Where: next.Index.PathOf(e.Id), next.Index.PropertiesOf(e).First(p => p.Id == property.Id).Facts))
                .Prepend((template.Name, property.Facts));
            foreach (var (where, facts) in values)
                if (facts.Value is { } value && property.Declaration.Type.ValueProblem(value, next.StateLists[setId]) is not null)
                    yield return new(nameof(States), $"{where} has {property.Name} = {value}; keep that state, or change the value first.");
        }
    }
}
