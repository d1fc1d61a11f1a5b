using Fralto.Core.Plant;
using Fralto.Core.Rules;
using Fralto.Core.Units;

namespace Fralto.Core.Edits;

/// <summary>Adds a unit of the customer's own, or changes one when an id is given.</summary>
public sealed record SaveOwnUnit(long? Id, string Code, string Symbol, string Name, double Factor, string BaseCode) : Edit
{
    /// <inheritdoc/>
    public override EditOutcome On(PlantModel model)
    {
        OwnUnit? before = null;
        if (Id is { } id && !model.OwnUnits.TryGetValue(id, out before))
            return Gone("The unit");
        var after = new OwnUnit(Id ?? model.NextId, Code, Symbol, Name, Factor, BaseCode);
        var problems = EntityRules.Problems(after).ToList();
        if (model.OwnUnits.Values.Any(u => u.Id != Id && string.Equals(u.Code, Code, StringComparison.OrdinalIgnoreCase)))
            problems.Add(new(nameof(Code), $"There is already a unit with the code {Code}."));
        var spelling = UnitSpelling.Of(Symbol);
        if (model.Units.All.FirstOrDefault(u => u.Code != (before?.Code ?? Code) && UnitSpelling.Of(u.Symbol) == spelling) is { } twin)
            problems.Add(
                new(nameof(Symbol), $"{twin.Symbol} is already the symbol of {twin.Name}; two units with one symbol cannot be told apart.")
            );
        if (
            before is not null
            && (before.Code != Code || before.Resolve()?.Dimension != after.Resolve()?.Dimension)
            && References.UsersOf(model, EntityKinds.Unit, before.Code).FirstOrDefault() is { } user
        )
            problems.Add(
                new(
                    before.Code != Code ? nameof(Code) : nameof(BaseCode),
                    $"{user} uses it; its code and what it measures stay as they are."
                )
            );
        return problems.Count > 0
            ? EditOutcome.Refused(problems)
            : EditOutcome.Changed($"{(before is null ? "Add" : "Change")} unit {Symbol}", new ModelChange(before, after));
    }
}
