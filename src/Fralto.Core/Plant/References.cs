using Fralto.Core.Bindings;
using Fralto.Core.Controllers;
using Fralto.Core.Hierarchy;
using Fralto.Core.Modbus;
using Fralto.Core.Properties;
using Fralto.Core.Scaling;
using Fralto.Core.Templates;
using Fralto.Core.Units;

namespace Fralto.Core.Plant;

/// <summary>Which entity names which others: what may not be taken out while it is named, and what dangles when it was, are found by this
/// alone.</summary>
public sealed class References : IEntityVisitor<IEnumerable<Reference>>
{
    private readonly PlantModel _model;

    private References(PlantModel model) => _model = model;

    /// <summary>What entities name.</summary>
    /// <param name="model">The model, for what they are called.</param>
    /// <param name="entities">The entities.</param>
    public static IEnumerable<Reference> Of(PlantModel model, IEnumerable<object> entities)
    {
        var visitor = new References(model);
        return entities.SelectMany(visitor.Of);
    }

    /// <summary>Who names an entity, in words: templates, then nodes by their path, then what else does; each once.</summary>
    /// <param name="model">The model.</param>
    /// <param name="kind">The kind of the entity that is named.</param>
    /// <param name="key">Its key; the code of a unit.</param>
    public static IEnumerable<string> UsersOf(PlantModel model, EntityKind kind, object key)
    {
        var visitor = new References(model);
        return from user in EntityKinds.All.Where(k => k != kind)
            from name in user.All(model)
                .Where(e => visitor.Of(e).Any(r => r.Kind == kind && r.Key.Equals(key)))
                .Select(e => NameOf(model, user, e))
                .Order(StringComparer.Ordinal)
            select name;
    }

    private IEnumerable<Reference> Of(object entity) => EntityKinds.Visit(entity, this);

    private static string NameOf(PlantModel model, EntityKind kind, object entity) =>
        entity switch
        {
            Template it => it.Name,
            Equipment it => model.Index.PathOf(it.Id),
            _ => $"the {kind.Word} {kind.NameOf(entity, model)}",
        };

    IEnumerable<Reference> IEntityVisitor<IEnumerable<Reference>>.Of(StateList it) => [];

    IEnumerable<Reference> IEntityVisitor<IEnumerable<Reference>>.Of(OwnUnit it) => [];

    IEnumerable<Reference> IEntityVisitor<IEnumerable<Reference>>.Of(SiteCalendar it) => [];

    IEnumerable<Reference> IEntityVisitor<IEnumerable<Reference>>.Of(NamingConvention it) =>
        it.TemplateId is { } template ? [new($"The pattern {it.Text}", "is of a template", EntityKinds.Template, template)] : [];

    IEnumerable<Reference> IEntityVisitor<IEnumerable<Reference>>.Of(AlarmSetup it) =>
        it
            .Lists.Where(l => l.PlaceId is not null)
            .Select(l => new Reference($"The list {l.Name} of who is told", "is of a place", EntityKinds.Equipment, l.PlaceId!.Value));

    IEnumerable<Reference> IEntityVisitor<IEnumerable<Reference>>.Of(LibraryScale it) => UnitOf($"The scale {it.Name}", it.Scale.Unit);

    IEnumerable<Reference> IEntityVisitor<IEnumerable<Reference>>.Of(Template it)
    {
        if (it.ParentId is { } parent)
            yield return new($"Template {it.Name}", "inherits from one", EntityKinds.Template, parent);
        foreach (var part in it.Parts)
            yield return new($"The part {part.Name} of {it.Name}", "is of a template", EntityKinds.Template, part.TemplateId);
        foreach (var reference in it.Patches.Values.SelectMany(p => OfPatch(it.Name, p)))
            yield return reference;
    }

    IEnumerable<Reference> IEntityVisitor<IEnumerable<Reference>>.Of(Equipment it)
    {
        if (it.ParentId is { } parent)
            yield return new(it.Name, "lies below a place", EntityKinds.Equipment, parent);
        if (it.TemplateId is { } template)
            yield return new(it.Name, "is an instance of a template", EntityKinds.Template, template);
        foreach (var reference in it.Patches.Values.SelectMany(p => OfPatch(it.Name, p)))
            yield return reference;
    }

    IEnumerable<Reference> IEntityVisitor<IEnumerable<Reference>>.Of(Controller it) => [];

    IEnumerable<Reference> IEntityVisitor<IEnumerable<Reference>>.Of(DeviceLayout it) =>
        it.Points.SelectMany(p => UnitOf($"The point {p.Name} of {it.Name}", p.Unit));

    IEnumerable<Reference> IEntityVisitor<IEnumerable<Reference>>.Of(Device it) =>
        [
            new($"Device {it.Name}", "is behind a controller", EntityKinds.Controller, it.ControllerId),
            new($"Device {it.Name}", "has a layout", EntityKinds.Layout, it.LayoutId),
        ];

    IEnumerable<Reference> IEntityVisitor<IEnumerable<Reference>>.Of(Tag it)
    {
        yield return new($"Tag {it.Name}", "belongs to a controller", EntityKinds.Controller, it.ControllerId);
        if (it.DeviceId is { } device)
            yield return new($"Tag {it.Name}", "belongs to a device", EntityKinds.Device, device);
        foreach (var reference in UnitOf($"Tag {it.Name}", it.Unit))
            yield return reference;
    }

    IEnumerable<Reference> IEntityVisitor<IEnumerable<Reference>>.Of(PropertyBinding it) =>
        [
            new("A binding", "belongs to equipment", EntityKinds.Equipment, it.EquipmentId),
            new(_model.Equipment.GetValueOrDefault(it.EquipmentId)?.Name ?? "A binding", "is bound to a tag", EntityKinds.Tag, it.TagId),
        ];

    private static IEnumerable<Reference> OfPatch(string name, PropertyPatch patch)
    {
        var who = $"A property of {name}";
        if (patch.StateListId is { } list)
            yield return new(who, "uses a state list", EntityKinds.StateList, list);
        if (patch.ScaleId is { } scale)
            yield return new(who, "uses a scale", EntityKinds.Scale, scale);
        foreach (var reference in UnitOf(who, patch.Unit).Concat(UnitOf(who, patch.Scale?.Unit)))
            yield return reference;
    }

    private static IEnumerable<Reference> UnitOf(string who, string? unit) =>
        unit is null ? [] : [new(who, "uses the unit", EntityKinds.Unit, unit)];
}
