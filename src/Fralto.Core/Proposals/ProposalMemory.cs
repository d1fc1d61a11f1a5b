using System.Collections.Immutable;
using System.Runtime.CompilerServices;
using Fralto.Core.Controllers;
using Fralto.Core.Plant;

namespace Fralto.Core.Proposals;

/// <summary>What was read of tags and learned of models, kept for as long as there are these tags and models, so that each window that asks
/// need not learn again.</summary>
/// <remarks>Whoever asks often keeps one and passes it; it changes no answer, and several may use it at once.</remarks>
public sealed class ProposalMemory
{
    private readonly ConditionalWeakTable<ImmutableDictionary<long, Tag>, TagLexicon> _lexicons = [];
    private readonly ConditionalWeakTable<PlantModel, ModelLearning> _learning = [];

    internal TagLexicon LexiconOf(PlantModel model) => _lexicons.GetValue(model.Tags, tags => new(tags));

    internal ModelLearning LearningOf(PlantModel model) => _learning.GetValue(model, m => new(m));
}
