namespace Fralto.Core.Proposals;

/// <summary>What was learned about how the tags of a template are named.</summary>
internal sealed class TemplateLearning
{
    /// <summary>Bindings it was learned from, by property.</summary>
    public Dictionary<long, List<Example>> Examples { get; } = [];

    public Dictionary<long, List<RuleGuess>> Guesses { get; } = [];

    /// <summary>Which cell a description speaks of, where descriptions follow a rule.</summary>
    public Dictionary<string, (long EquipmentId, long PropertyId)> Described { get; } = new(StringComparer.Ordinal);
}
