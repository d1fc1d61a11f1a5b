using System.Collections.Immutable;
using Fralto.Core.Controllers;
using Fralto.Core.Hierarchy;
using Fralto.Core.Plant;
using Fralto.Core.Templates;
using Fralto.Core.Units;

namespace Fralto.Core.Proposals;

/// <summary>What looks wrong about bindings whatever their values are, kept from model to model: a template is looked at again only when
/// tags, names, units or its own bindings are others than before.</summary>
/// <remarks>For one that asks at a time.</remarks>
public sealed class SteadyDoubts
{
    private readonly Dictionary<long, (long Sign, IReadOnlyList<BindingDoubt> Doubts)> _known = [];
    private Kept<Tag> _tags;
    private Kept<Equipment> _nodes;
    private Kept<OwnUnit> _units;

    /// <summary>What looks wrong in each template, by its id.</summary>
    /// <param name="model">The model.</param>
    /// <param name="look">Looks at this model.</param>
    public IEnumerable<(Template Template, IReadOnlyList<BindingDoubt> Doubts)> Of(PlantModel model, BindingDoubts look)
    {
        foreach (var gone in _known.Keys.Where(id => !model.Templates.ContainsKey(id)).ToArray())
            _known.Remove(gone);
        _tags = _tags.Follow(model.Tags, t => t.GetHashCode());
        _nodes = _nodes.Follow(model.Equipment, e =>
            HashCode.Combine(e.Id, e.Code, e.Name, e.Level, e.ParentId, e.TemplateId, e.Order, e.PartId)
        );
        _units = _units.Follow(model.OwnUnits, u => u.GetHashCode());
        foreach (var template in model.Templates.Values)
        {
            var sign = ((long)look.SignOf(template) << 32) | (uint)HashCode.Combine(_tags.Sign, _nodes.Sign, _units.Sign);
            if (!_known.TryGetValue(template.Id, out var known) || known.Sign != sign)
                _known[template.Id] = known = (sign, look.Steady(template));
            yield return (template, known.Doubts);
        }
    }

    /// <summary>What a table says, made anew only when it is another: a sum, because tables that say the same need not be in one
    /// order.</summary>
    private readonly record struct Kept<T>(ImmutableDictionary<long, T>? Table, int Sign)
    {
        public Kept<T> Follow(ImmutableDictionary<long, T> table, Func<T, int> signOf) =>
            ReferenceEquals(table, Table)
                ? this
                : new(table, table.Values.Aggregate(table.Count, (sum, one) => unchecked(sum + signOf(one))));
    }
}
