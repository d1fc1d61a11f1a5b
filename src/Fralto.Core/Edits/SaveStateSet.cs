using System.Collections.Immutable;
using Fralto.Core.Plant;
using Fralto.Core.Templates;

namespace Fralto.Core.Edits;

/// <summary>Adds a state set, or changes one when an id is given.</summary>
public sealed record SaveStateSet(long? Id, string Code, string Name, ImmutableArray<State> States) : Edit
{
    /// <summary>The most states one set may name.</summary>
    public const int MostStates = 200;

    public override EditOutcome On(PlantModel model)
    {
        StateSet? before = null;
        if (Id is { } id && !model.StateSets.TryGetValue(id, out before)) return Gone("The state set");
        var problems = new List<Problem>();
        Check(problems, nameof(Name), Naming.NameProblem(Name));
        Check(problems, nameof(Code), Naming.CodeProblem(Code));
        if (model.StateSets.Values.Any(s => s.Id != Id && string.Equals(s.Code, Code, StringComparison.OrdinalIgnoreCase)))
            problems.Add(new(nameof(Code), $"There is already a state set with the code {Code}."));
        if (States.IsEmpty) problems.Add(new(nameof(States), "Name at least one state, a line each: 0 Idle"));
        if (States.Length > MostStates) problems.Add(new(nameof(States), $"{States.Length} states; {MostStates} is the most."));
        foreach (var twice in States.GroupBy(s => s.Value).Where(g => g.Count() > 1))
            problems.Add(new(nameof(States), $"The value {twice.Key} is named twice: {string.Join(" and ", twice.Select(s => s.Name))}."));
        foreach (var twice in States.GroupBy(s => s.Name, StringComparer.OrdinalIgnoreCase).Where(g => g.Count() > 1))
            problems.Add(new(nameof(States), $"The name {twice.Key} stands for {string.Join(" and ", twice.Select(s => s.Value))}; each state needs its own."));
        foreach (var (value, name) in States)
            if (Naming.NameProblem(name) is { } wrong) problems.Add(new(nameof(States), $"State {value}: {wrong}"));
        if (problems.Count > 0) return EditOutcome.Refused(problems);
        var after = new StateSet(Id ?? model.NextId, Code, Name, [.. States.OrderBy(s => s.Value)]);
        return EditOutcome.Changed($"{(before is null ? "Add" : "Change")} state set {Name}", new ModelChange(before, after));
    }
}
