using System.Collections.Immutable;
using Fralto.Core.Edits;
using Fralto.Core.Limits;
using Fralto.Core.Plant;
using Fralto.Core.Scaling;
using Fralto.Core.Templates;

namespace Fralto.Core.Planning;

/// <summary>Compiles a model into a plan and says what is odd about it.</summary>
public static class Planner
{
    /// <summary>A measured property has no tag.</summary>
    public const string Unbound = "FR101";

    /// <summary>A tag feeds nothing.</summary>
    public const string UnusedTag = "FR102";

    /// <summary>A number has no range to be shown on.</summary>
    public const string NoRange = "FR103";

    /// <summary>A part of its template is missing.</summary>
    public const string MissingPart = "FR104";

    public static PlanResult Compile(PlantModel model)
    {
        var findings = new List<Finding>();
        var tags = model.Tags.Values.OrderBy(t => t.Id)
            .Select(t => new PlanTag(t.Id, t.ControllerId, model.Controllers[t.ControllerId].StaleAfter)).ToImmutableArray();
        var tagIndex = new Dictionary<long, int>(tags.Length);
        for (var i = 0; i < tags.Length; i++) tagIndex[tags[i].TagId] = i;

        var points = ImmutableArray.CreateBuilder<PlanPoint>(model.Bindings.Count);
        var setups = ImmutableArray.CreateBuilder<PointSetup>(model.Bindings.Count);
        var prepared = model.Templates.Keys.ToDictionary(
            id => id, id => (Properties: model.Index.PropertiesOf(id).Where(p => p.TakesTag).Select(p => new Prepared(model, p)).ToArray(), HasParts: model.Index.PartsOf(id).Any()));
        foreach (var instance in model.Index.EquipmentInOrder)
        {
            if (instance.TemplateId is not { } template) continue;
            var (properties, hasParts) = prepared[template];
            if (hasParts)
                foreach (var (_, name, _) in Instantiation.Missing(model, instance)) findings.Add(new(MissingPart, FindingSeverity.Warning, instance.Id, name, "is a part of its template and missing"));
            var isBound = model.Index.IsBound(instance.Id);
            foreach (var ofTemplate in properties)
            {
                // The template's properties are prepared once; only what an instance says itself is worked out for it.
                var property = instance.Patches.TryGetValue(ofTemplate.Property.Id, out var own) ? ofTemplate.With(model, own) : ofTemplate;
                if (property.LacksRange) findings.Add(new(NoRange, FindingSeverity.Hint, instance.Id, property.Property.Name, "has no range: it is shown as a bare number"));
                if (!isBound || !model.Bindings.TryGetValue((instance.Id, property.Property.Id), out var binding))
                {
                    findings.Add(new(Unbound, property.Property.Declaration.IsRequired ? FindingSeverity.Warning : FindingSeverity.Hint, instance.Id, property.Property.Name, "has no tag"));
                    continue;
                }
                points.Add(property.PointOf(instance.Id, model.Index.PathOf(instance.Id), tagIndex[binding.TagId]));
                setups.Add(property.Setup);
            }
        }
        foreach (var tag in model.Tags.Values.Where(t => !model.Index.IsUsed(t.Id)).OrderBy(t => t.Name, StringComparer.Ordinal))
            findings.Add(new(UnusedTag, FindingSeverity.Hint, 0, $"{model.Controllers[tag.ControllerId].Name} {tag.Name}", "feeds nothing"));
        return new PlanResult(new Plan(points.ToImmutable(), setups.ToImmutable(), tags), new FindingList(findings));
    }

    /// <summary>What every point of one property has, worked out once.</summary>
    private sealed class Prepared(PlantModel model, ResolvedProperty property)
    {
        private readonly StateSet? _states = property.Facts.StateSetId is { } set ? model.StateSets.GetValueOrDefault(set) : null;
        private readonly int _decimals = property.Declaration.Type == PropertyType.Number ? Resolution.DecimalsOf(property.ShownRange) : 0;
        private readonly ImmutableArray<Limit> _limits = property.Limits;

        public ResolvedProperty Property => property;

        public bool LacksRange { get; } = property.Declaration.Type.IsNumeric() && property.ShownRange is null;

        public PointSetup Setup { get; } = new(property.Facts.Scale, property.ShownRange, property.Limits);

        public Prepared With(PlantModel model, PropertyPatch own) => new(model, property with { Facts = property.Facts.With(own), Own = own });

        public PlanPoint PointOf(long equipmentId, string path, int tag) => new(
            equipmentId, property.Id, path + "/" + property.Code, tag, property.Facts.Unit, property.ShownRange, _decimals, _states, _limits, property.Declaration.Type);
    }
}
