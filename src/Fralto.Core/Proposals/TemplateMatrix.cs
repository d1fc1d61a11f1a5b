using Fralto.Core.NamingRules;
using Fralto.Core.Properties;
using Fralto.Core.Templates;

namespace Fralto.Core.Proposals;

/// <summary>The open cells of one template on their way to proposals.</summary>
internal sealed class TemplateMatrix
{
    private const int FewestTogether = 4;

    public TemplateMatrix(
        Template template,
        ResolvedProperty[] properties,
        InstanceNames[] instances,
        InstanceNames[] asked,
        PropertyWords words
    )
    {
        (Template, Properties, Instances, Asked, Words) = (template, properties, instances, asked, words);
        foreach (var role in instances.GroupBy(i => i.Instance.PartId ?? 0))
            Group([.. role]);
    }

    public Template Template { get; }

    public ResolvedProperty[] Properties { get; }

    /// <summary>All its instances: they bear a rule out.</summary>
    public InstanceNames[] Instances { get; }

    /// <summary>Those whose open cells are asked for.</summary>
    public InstanceNames[] Asked { get; }

    public PropertyWords Words { get; }

    public TemplateLearning Learned { get; set; } = new();

    public Dictionary<long, List<Example>> Examples => Learned.Examples;

    public Dictionary<long, List<RuleGuess>> Guesses => Learned.Guesses;

    public Dictionary<string, (long EquipmentId, long PropertyId)> Described => Learned.Described;

    /// <summary>The best rule of a property for one of the texts; one that a person has kept before all others.</summary>
    public RuleGuess? Best(long propertyId, TagFace face) =>
        Guesses[propertyId].Where(g => g.Face == face).MaxBy(g => g.Strength + (g.IsKept ? 1 : 0));

    /// <summary>Puts together the instances of one role that stand below the same place: the nearest place that has a few of
    /// them.</summary>
    private static void Group(InstanceNames[] role)
    {
        var steps = role.ToDictionary(i => i, _ => 1);
        for (var moved = true; moved; )
        {
            moved = false;
            foreach (var place in role.GroupBy(i => PlaceAt(i, steps[i])).Where(g => g.Key != 0 && g.Count() < FewestTogether).ToArray())
            foreach (var instance in place)
                (steps[instance], moved) = (steps[instance] + 1, true);
        }
        foreach (var instance in role)
            instance.Group = (instance.Instance.PartId ?? 0, PlaceAt(instance, steps[instance]));
    }

    private static long PlaceAt(InstanceNames instance, int steps) =>
        steps < instance.Lineage.Count ? instance.Lineage[^(steps + 1)].Id : 0;
}
