using System.Collections.Immutable;
using Fralto.Core.Basics;
using Fralto.Core.Edits;
using Fralto.Core.Hierarchy;
using Fralto.Core.Plant;
using Fralto.Core.Properties;
using Fralto.Core.Rules;
using Fralto.Core.Templates;

namespace Fralto.Runtime.Views;

/// <summary>The family of templates, one of them, and one of its properties.</summary>
public sealed class TemplateView
{
    /// <summary>Most instances the list of uses shows.</summary>
    public const int MostInstances = 300;

    private readonly PlantModel _model;
    private Dictionary<long, string>? _apart;

    private TemplateView(PlantModel model) => _model = model;

    /// <summary>Templates in the order the family is drawn: depth, the template, and how many instances it and its descendants
    /// have.</summary>
    public IReadOnlyList<(int Depth, Template Template, int Instances)> Family { get; private init; } = [];

    /// <summary>The template shown; null when there is none, or none is meant.</summary>
    public Template? Selected { get; private init; }

    /// <summary>The properties of the selected template.</summary>
    public ImmutableArray<ResolvedProperty> Properties { get; private init; } = [];

    /// <summary>The property shown.</summary>
    public ResolvedProperty? SelectedProperty { get; private init; }

    /// <summary>What is called, coded or described differently in other templates, by property, in words.</summary>
    public IReadOnlyDictionary<long, string> Apart =>
        _apart ??= Properties.IsEmpty ? [] : NamesApart.Of(_model).ToDictionary(a => a.Property.Id, a => a.Words);

    /// <summary>True when the selected property is declared by the selected template, so that it is changed here.</summary>
    public bool IsOwn => SelectedProperty is not null && SelectedProperty.DeclaredBy == Selected?.Id;

    /// <summary>What the selected property is without what the selected template says: shown faintly where its fields are
    /// empty.</summary>
    public PropertyPatch Inherited =>
        SelectedProperty is { } p && Selected is { } at ? _model.Index.InheritedOf(at.Id, p) : PropertyPatch.Empty;

    /// <summary>Number of instances of the template and its descendants.</summary>
    public int Reach => Selected is null ? 0 : _model.Index.ReachOf(Selected.Id);

    /// <summary>The parts of the selected template and who declares each.</summary>
    public IReadOnlyList<(Template Declarer, TemplatePart Part)> Parts =>
        Selected is null ? [] : [.. _model.Index.AncestryOf(Selected.Id).SelectMany(t => t.Parts.Select(p => (t, p)))];

    /// <summary>What the instances of the selected template lack of their parts, as an edit that would add it; null when they lack
    /// nothing.</summary>
    public EditOutcome? MissingParts =>
        Selected is not null
        && Parts.Count > 0
        && AddParts.ForAllOf(_model, Selected.Id).On(_model) is { IsRefused: false, Changes.IsEmpty: false } missing
            ? missing
            : null;

    /// <summary>What taking the selected template out with everything would do.</summary>
    public EditOutcome? Removal => Selected is null ? null : new RemoveTemplate(Selected.Id, WithAll: true).On(_model);

    /// <summary>What taking the selected property out would do, in words.</summary>
    public string PropertyRemoval =>
        SelectedProperty is { } p && new RemoveProperty(p.DeclaredBy, p.Id).On(_model) is { IsRefused: false } outcome
            ? $"{outcome.Summary}? {(Reach == 1 ? "1 instance loses" : $"{Reach} instances lose")} it.{Broken(p)}"
            : "";

    /// <summary>The formulas that would no longer hold without a property, in words.</summary>
    private string Broken(ResolvedProperty property)
    {
        var users = FormulaUses.UsersOf(_model, property.Id).Where(u => u.User.Id != property.Id).ToArray();
        if (users.Length == 0)
            return "";
        var names = users
            .Take(MostNamed)
            .Select(u => $"{u.User.Name} of {(u.Layer is Equipment e ? e.Name : _model.Templates[u.Layer.Id].Name)}");
        return $" {(users.Length == 1 ? "1 formula breaks" : $"{users.Length} formulas break")}: {string.Join(", ", names)}"
            + $"{(users.Length > MostNamed ? " and more" : "")}.";
    }

    private const int MostNamed = 5;

    /// <summary>The templates that have the selected one, or an ancestor of it, as a part.</summary>
    public IEnumerable<(Template Whole, TemplatePart Part)> Wholes =>
        Selected is null
            ? []
            : _model
                .Templates.Values.OrderBy(t => t.Name, StringComparer.Ordinal)
                .SelectMany(t => t.Parts.Select(p => (t, p)))
                .Where(p => _model.Index.AncestryOf(p.p.TemplateId).Any(a => a.Id == Selected.Id));

    /// <summary>The first instances of the selected template and its descendants, in plant order.</summary>
    public IEnumerable<Equipment> Instances =>
        Selected is null ? [] : _model.Index.FamilyOf(Selected.Id).SelectMany(t => _model.Index.InstancesOf(t.Id)).Take(MostInstances);

    /// <summary>The levels instances may stand at, in words.</summary>
    public string LevelWords =>
        Selected is { } s && _model.Index.LevelsOf(s.Id) is { IsEmpty: false } levels
            ? string.Join(" or ", levels.Select(LevelRules.NameOf))
            : "any level";

    /// <summary>Where the selected property could be declared instead: the parent, and every descendant.</summary>
    public IEnumerable<(long Id, string Text)> MoveTargets =>
        Selected is not { } selected
            ? []
            : _model
                .Index.AncestryOf(selected.Id)
                .Where(t => t.Id == selected.ParentId)
                .Select(t => (t.Id, $"up to {t.Name}, {Reached(t)}"))
                .Concat(
                    _model
                        .Index.FamilyOf(selected.Id)
                        .Where(t => t.Id != selected.Id)
                        .Select(t => (t.Id, $"down to {t.Name}, {Reached(t)}"))
                );

    /// <summary>Looks at the family.</summary>
    /// <param name="model">The model.</param>
    /// <param name="at">The template asked for; null for the first, what is no longer there shows none.</param>
    /// <param name="property">The property asked for; else the first number is shown.</param>
    /// <param name="isNew">True while a template is being added: none is shown.</param>
    /// <param name="isNewProperty">True while a property is being added: none is shown.</param>
    public static TemplateView Of(PlantModel model, long? at, long? property, bool isNew, bool isNewProperty)
    {
        (int Depth, Template Template, int Instances)[] family = [.. FamilyBelow(model, null, 0)];
        var selected =
            isNew ? null
            : at is { } id ? model.Templates.GetValueOrDefault(id)
            : family.Length > 0 ? family[0].Template
            : null;
        var properties = selected is null ? [] : model.Index.PropertiesOf(selected.Id);
        return new(model)
        {
            Family = family,
            Selected = selected,
            Properties = properties,
            SelectedProperty = isNewProperty
                ? null
                : properties.FirstOrDefault(p => p.Id == property)
                    ?? properties.FirstOrDefault(p => p.Declaration.Type == PropertyType.Number),
        };
    }

    private string Reached(Template template) =>
        _model.Index.ReachOf(template.Id) is var reach && reach == 1 ? "1 instance" : $"{reach} instances";

    private static IEnumerable<(int, Template, int)> FamilyBelow(PlantModel model, long? id, int depth)
    {
        foreach (var template in model.Index.TemplatesBelow(id))
        {
            yield return (depth, template, model.Index.ReachOf(template.Id));
            foreach (var below in FamilyBelow(model, template.Id, depth + 1))
                yield return below;
        }
    }
}
