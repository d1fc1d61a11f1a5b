using Fralto.Core.Hierarchy;
using Fralto.Core.Plant;
using Fralto.Core.Properties;

namespace Fralto.Core.Planning;

/// <summary>The properties of all templates that have points, each prepared once; only what an instance says itself is worked out for
/// it.</summary>
internal sealed class PreparedTemplates(PlantModel model)
{
    private readonly Dictionary<long, (PreparedProperty[] Properties, bool HasParts, bool HasFormulas)> _known = [];

    /// <summary>The properties of an instance that have points, with its own patches.</summary>
    public PreparedProperty[] Of(Equipment instance)
    {
        var properties = Of(instance.TemplateId!.Value).Properties;
        return instance.Patches.IsEmpty || !Array.Exists(properties, p => instance.Patches.ContainsKey(p.Property.Id))
            ? properties
            : Array.ConvertAll(properties, p => instance.Patches.TryGetValue(p.Property.Id, out var own) ? p.With(model, own) : p);
    }

    /// <summary>True when instances of a template have parts.</summary>
    public bool HasParts(long template) => Of(template).HasParts;

    /// <summary>True when anything of an instance may be worked out, followed or watched by a formula.</summary>
    public bool HasFormulas(Equipment instance) =>
        instance.TemplateId is { } template
        && (Of(template).HasFormulas || (!instance.Patches.IsEmpty && Array.Exists(Of(instance), TakesFormula)));

    /// <summary>True when a property of an instance has a value: it is bound, said, entered or worked out.</summary>
    public bool HasPoint(Equipment instance, long propertyId) =>
        instance.TemplateId is not null
        && Array.Find(Of(instance), p => p.Property.Id == propertyId) is { } property
        && property.Property.Declaration.Kind switch
        {
            PropertyKind.Fixed => property.FixedValue is not null,
            PropertyKind.Calculated => property.Property.Facts.Formula is not null,
            PropertyKind.Entered => true,
            _ => model.Bindings.ContainsKey((instance.Id, propertyId)),
        };

    private (PreparedProperty[] Properties, bool HasParts, bool HasFormulas) Of(long template)
    {
        if (_known.TryGetValue(template, out var known))
            return known;
        var properties = model.Index.PropertiesOf(template).Where(IsRun).Select(p => new PreparedProperty(model, p)).ToArray();
        return _known[template] = (properties, model.Index.PartsOf(template).Any(), Array.Exists(properties, TakesFormula));
    }

    private static bool TakesFormula(PreparedProperty property) =>
        property.Property.Declaration.Kind == PropertyKind.Calculated
        || !property.Watched.IsEmpty
        || (property.Property.Declaration.Kind == PropertyKind.Command && property.Property.Facts.Formula is not null);

    private static bool IsRun(ResolvedProperty property) =>
        property.Declaration.Kind != PropertyKind.Fixed || property.Declaration.Type is not (PropertyType.Text or PropertyType.Time);
}
