using System.Collections.Immutable;
using Fralto.Core.Bindings;
using Fralto.Core.Controllers;
using Fralto.Core.Hierarchy;
using Fralto.Core.Plant;
using Fralto.Core.Properties;
using Fralto.Core.Rules;
using Fralto.Core.Scaling;
using Fralto.Core.Templates;
using Fralto.Core.Units;

namespace Fralto.Core.Edits;

/// <summary>Takes an earlier edit back, or makes a taken-back one again: everything it changed becomes as it was before it.</summary>
/// <remarks>Refused when something it changed has been changed since, or when what came later depends on it.</remarks>
/// <param name="Summary">What the journal says of it.</param>
/// <param name="Changes">The changes of the earlier edit, in its order.</param>
public sealed record TakeBack(string Summary, ImmutableArray<ModelChange> Changes) : Edit
{
    private const int MostProblems = 3;

    public override EditOutcome On(PlantModel model)
    {
        var moved = Changes.Where(c => !Equals(model.Current((c.After ?? c.Before)!), c.After)).Select(c => NameOf((c.After ?? c.Before)!)).Distinct().ToArray();
        if (moved.Length > 0) return EditOutcome.Refused("", $"A later edit has changed {string.Join(", ", moved.Take(MostProblems))}; take that back first.");
        var inverse = Changes.Reverse().Select(c => c.Inverse).ToArray();
        var problems = Integrity.Problems(model.Apply(inverse), inverse).Take(MostProblems).ToArray();
        return problems.Length > 0
            ? EditOutcome.Refused(problems.Select(p => p with { Message = $"A later edit depends on it: {p.Message}" }))
            : EditOutcome.Changed(Summary, inverse);
    }

    private static string NameOf(object entity) => entity switch
    {
        StateSet it => it.Name,
        OwnUnit it => it.Symbol,
        LibraryScale it => it.Name,
        Template it => it.Name,
        Equipment it => it.Name,
        Controller it => it.Name,
        Tag it => it.Name,
        PropertyBinding => "a binding",
        _ => "something",
    };
}
