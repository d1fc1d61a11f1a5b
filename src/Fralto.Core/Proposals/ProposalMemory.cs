using System.Collections.Immutable;
using System.Runtime.CompilerServices;
using Fralto.Core.Controllers;
using Fralto.Core.Plant;
using Fralto.Core.Properties;

namespace Fralto.Core.Proposals;

/// <summary>What was read of tags and learned of models, kept for as long as there are these tags and models, so that each window that asks
/// need not learn again.</summary>
/// <remarks>Whoever asks often keeps one and passes it; it changes no answer, and several may use it at once.</remarks>
public sealed class ProposalMemory
{
    private readonly ConditionalWeakTable<ImmutableDictionary<long, Tag>, TagLexicon>[] _lexicons =
    [
        [],
        [],
    ];
    private readonly ConditionalWeakTable<PlantModel, ModelLearning> _learning = [];

    internal TagLexicon LexiconOf(PlantModel model)
    {
        var takesText = TakesText(model);
        return _lexicons[takesText ? 1 : 0].GetValue(model.Tags, tags => new(tags, takesText));
    }

    /// <summary>True where some cell could take a text: a text, or a state that is told by one.</summary>
    private static bool TakesText(PlantModel model) =>
        model
            .Templates.Values.SelectMany(t => t.Properties)
            .Any(p =>
                p.TakesTag
                && (p.Type == PropertyType.Text || p.Type is PropertyType.State or PropertyType.Boolean && !model.StateLists.IsEmpty)
            );

    internal ModelLearning LearningOf(PlantModel model) => _learning.GetValue(model, m => new(m));
}
