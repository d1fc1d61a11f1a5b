using System.Collections.Immutable;
using Fralto.Core.Hierarchy;
using Fralto.Core.Plant;
using Fralto.Core.Templates;

namespace Fralto.Core.Edits;

/// <summary>How far an edit of a template's property would reach, said before it is made.</summary>
/// <param name="Instances">Instances that have the property.</param>
/// <param name="Changed">Those for which something would be different.</param>
/// <param name="Keeping">Those that say something of their own about it and stay as they are.</param>
/// <param name="Refined">Descendants that say something of their own about it, with how many instances stay as they are because of
/// that.</param>
public sealed record EditEffect(
    int Instances,
    int Changed,
    ImmutableArray<Equipment> Keeping,
    ImmutableArray<(Template Template, int Instances)> Refined
)
{
    private const int MostNamed = 5;

    /// <summary>The effect in one line: how many change, and who stays as it is.</summary>
    public string Words
    {
        get
        {
            var refined = string.Concat(
                Refined.Select(r => $" · {(r.Instances == 1 ? "1 keeps" : $"{r.Instances} keep")} what {r.Template.Name} says")
            );
            var keeping =
                Keeping.Length == 0
                    ? ""
                    : $" · {(Keeping.Length == 1 ? "1 keeps what it says itself" : $"{Keeping.Length} keep what they say themselves")}: "
                        + $"{string.Join(", ", Keeping.Take(MostNamed).Select(e => e.Name))}{(Keeping.Length > MostNamed ? " …" : "")}";
            return $"changes {Changed} of {(Instances == 1 ? "1 instance" : $"{Instances} instances")}{refined}{keeping}";
        }
    }

    /// <summary>Compares every instance's facts before and after the edit.</summary>
    /// <param name="model">The model before it.</param>
    /// <param name="outcome">The edit's outcome, not a refused one.</param>
    /// <param name="templateId">The template it changes.</param>
    /// <param name="propertyId">The property it changes.</param>
    public static EditEffect Of(PlantModel model, EditOutcome outcome, long templateId, long propertyId)
    {
        var next = model.Apply(outcome.Changes);
        var (changed, keeping, refined) = (0, ImmutableArray.CreateBuilder<Equipment>(), new Dictionary<Template, int>());
        var instances = next.Index.FamilyOf(templateId).SelectMany(t => next.Index.InstancesOf(t.Id)).ToArray();
        foreach (var instance in instances)
        {
            var after = next.Index.PropertiesOf(instance).FirstOrDefault(p => p.Id == propertyId);
            var before = model.Equipment.TryGetValue(instance.Id, out var old)
                ? model.Index.PropertiesOf(old).FirstOrDefault(p => p.Id == propertyId)
                : null;
            if (before is null != after is null || before?.Facts != after?.Facts || before?.Declaration != after?.Declaration)
                changed++;
            else if (after is { Own.IsEmpty: false })
                keeping.Add(instance);
            else if (
                next
                    .Index.AncestryOf(instance.TemplateId!.Value)
                    .LastOrDefault(t => t.Id != templateId && t.Patches.ContainsKey(propertyId)) is
                { } by
            )
                refined[by] = refined.GetValueOrDefault(by) + 1;
        }
        return new EditEffect(
            instances.Length,
            changed,
            keeping.ToImmutable(),
            [.. refined.OrderBy(r => r.Key.Name, StringComparer.Ordinal).Select(r => (r.Key, r.Value))]
        );
    }
}
