using Fralto.Core.Templates;

namespace Fralto.Core.Binding;

/// <summary>The open cells of one template on their way to proposals.</summary>
internal sealed class TemplateBoard(Template template, ResolvedProperty[] properties, InstanceSheet[] instances, InstanceSheet[] asked, PropertyWords words)
{
    public Template Template => template;

    public ResolvedProperty[] Properties => properties;

    /// <summary>All its instances: they bear a rule out.</summary>
    public InstanceSheet[] Instances => instances;

    /// <summary>Those whose open cells are asked for.</summary>
    public InstanceSheet[] Asked => asked;

    public PropertyWords Words => words;

    /// <summary>Bindings to learn from, by property.</summary>
    public Dictionary<long, List<Example>> Examples { get; } = [];

    public Dictionary<long, List<RuleGuess>> Guesses { get; } = [];

    /// <summary>Which cell a description speaks of, where descriptions follow a rule.</summary>
    public Dictionary<string, (long EquipmentId, long PropertyId)> Described { get; } = new(StringComparer.Ordinal);
}
