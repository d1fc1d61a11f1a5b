using Fralto.Core.Plant;

namespace Fralto.Core.Proposals;

/// <summary>What was learned of a model, kept for as long as there is the model: it depends on nothing else, so each window and place that
/// asks need not learn again.</summary>
internal sealed class ModelLearning
{
    public ModelLearning(PlantModel model) => Nodes = new(model);

    /// <summary>Held by whoever asks of the model: one at a time.</summary>
    public Lock Gate { get; } = new();

    public PlantNames Nodes { get; }

    public Dictionary<long, TemplateLearning> Templates { get; } = [];

    private CousinNames? _cousins;
    private ControllerNames? _controllers;
    private IReadOnlySet<long>? _copying;

    /// <summary>How controllers are called after the places they serve, made when it is asked for first.</summary>
    public ControllerNames Controllers(PlantModel model) =>
        _controllers ??= new(
            model.Controllers.Values.Select(c => (c.Name, c.Id)),
            model.Bindings.Values.Select(b => (Nodes.Of(b.EquipmentId), model.Controllers[model.Tags[b.TagId].ControllerId].Name)),
            model.Equipment.Values.Where(e => e.TemplateId is not null).DistinctBy(e => e.ParentId).Select(e => Nodes.Of(e.Id)),
            Nodes
        );

    /// <summary>Controllers that have again what others have, found when it is asked for first.</summary>
    public IReadOnlySet<long> Copying(PlantModel model, TagLexicon lexicon) =>
        _copying ??= CopyingControllers.Of(
            model.Controllers.Keys,
            model.Bindings.Values.Select(b => model.Tags[b.TagId].ControllerId).ToHashSet(),
            lexicon
        );

    /// <summary>What the tags of other templates show, made when it is asked for first.</summary>
    public CousinNames Cousins(Func<CousinNames> make) => _cousins ??= make();
}
