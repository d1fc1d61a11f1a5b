using System.Collections.Immutable;
using System.Globalization;
using Fralto.Core.Basics;
using Fralto.Core.Hierarchy;
using Fralto.Core.Plant;
using Fralto.Core.Properties;
using Fralto.Core.Rules;

namespace Fralto.Core.Edits;

/// <summary>Edits of several nodes, properties or templates, each made as one.</summary>
public static class ManyEdits
{
    /// <summary>What stands for the name of what is copied.</summary>
    public const string OfName = "{name}";

    /// <summary>What stands for the code of what is copied.</summary>
    public const string OfCode = "{code}";

    /// <summary>The most copies of one node.</summary>
    public const int MostCopies = 200;

    /// <summary>Moves nodes below a place; those that are there already stay.</summary>
    /// <param name="model">The model.</param>
    /// <param name="ids">The nodes; one below another goes with it.</param>
    /// <param name="placeId">The place; null for the top of the plant.</param>
    public static Edit Move(PlantModel model, IReadOnlyCollection<long> ids, long? placeId)
    {
        var roots = Roots(model, ids).Where(e => e.ParentId != placeId).ToArray();
        var place = placeId is { } id && model.Equipment.TryGetValue(id, out var at) ? at.Name : "the top of the plant";
        return new Several([.. roots.Select(e => new MoveEquipment(e.Id, placeId))], $"Move {Named(roots)} below {place}");
    }

    /// <summary>Copies nodes with all below them, each so many times.</summary>
    /// <param name="model">The model.</param>
    /// <param name="ids">The nodes; one below another goes with it.</param>
    /// <param name="placeId">Where the copies go; null for beside what is copied.</param>
    /// <param name="name">Names of the copies: {name} is the name of what is copied, {n} the number of the copy.</param>
    /// <param name="code">Codes of the copies: {code} is the code of what is copied, {n} the number of the copy.</param>
    /// <param name="start">The number of the first copy.</param>
    /// <param name="count">How many of each, 1 to <see cref="MostCopies"/>.</param>
    /// <param name="withBindings">True binds the copies to the same tags.</param>
    public static Edit Copy(
        PlantModel model,
        IReadOnlyCollection<long> ids,
        long? placeId,
        string name,
        string code,
        int start,
        int count,
        bool withBindings
    )
    {
        if (count is < 1 or > MostCopies)
            return Refused("Count", $"1 to {MostCopies} copies of each can be made at once.");
        if (count > 1 && !code.Contains(SeriesPattern.Number, StringComparison.Ordinal))
            return Refused("Code", $"Several copies need {SeriesPattern.Number} in the code: it stands for their number.");
        var roots = Roots(model, ids);
        if (roots.Length > 1 && !code.Contains(OfCode, StringComparison.Ordinal))
            return Refused("Code", $"Copies of several need {OfCode} in the code: it stands for the code of each.");
        if ((long)roots.Sum(e => model.Index.Below(e.Id).Count) * count > Instantiation.Most)
            return Refused("Count", $"That would make more than {Instantiation.Most} pieces of equipment at once; copy fewer.");
        string Filled(string pattern, Equipment of, int n) =>
            pattern
                .Replace(OfName, of.Name, StringComparison.Ordinal)
                .Replace(OfCode, of.Code, StringComparison.Ordinal)
                .Replace(SeriesPattern.Number, n.ToString(CultureInfo.InvariantCulture), StringComparison.Ordinal);
        return new Several(
            [
                .. from root in roots
                from n in Enumerable.Range(start, count)
                select new CopyEquipment(root.Id, placeId ?? root.ParentId, Filled(code, root, n), Filled(name, root, n), withBindings),
            ],
            $"Copy {Named(roots)}{(count == 1 ? "" : $" {count} times")}"
        );
    }

    /// <summary>Puts nodes at a level.</summary>
    /// <param name="model">The model.</param>
    /// <param name="ids">The nodes.</param>
    /// <param name="level">The level.</param>
    public static Edit Level(PlantModel model, IReadOnlyCollection<long> ids, EquipmentLevel level)
    {
        var nodes = Known(model, ids).Where(e => e.Level != level).ToArray();
        return new Several(
            [.. nodes.Select(e => new SaveEquipment(e.Id, e.Code, e.Name, level, e.ParentId, e.TemplateId))],
            $"Make {Named(nodes)} {(nodes.Length == 1 ? "a" : "")} {LevelRules.NameOf(level)}".Replace("  ", " ", StringComparison.Ordinal)
        );
    }

    /// <summary>Gives nodes labels: what each has besides stays, and an empty value takes a label off.</summary>
    /// <param name="model">The model.</param>
    /// <param name="ids">The nodes.</param>
    /// <param name="text">Pairs with commas between them: cost-centre=410, owner=.</param>
    public static Edit Label(PlantModel model, IReadOnlyCollection<long> ids, string text)
    {
        var pairs = text.Split(',', StringSplitOptions.RemoveEmptyEntries | StringSplitOptions.TrimEntries);
        if (pairs.Length == 0)
            return Refused("Labels", "Write key=value, with commas between labels; key= takes a label off.");
        var off = pairs.Where(p => p.EndsWith('=')).Select(p => p[..^1].Trim()).ToArray();
        var labels = Labels.Read(string.Join(',', pairs.Where(p => !p.EndsWith('='))), out var problem);
        if (problem is not null)
            return Refused("Labels", problem);
        var nodes = Known(model, ids)
            .Select(e => (Node: e, Labels: e.Labels.RemoveRange(off).SetItems(labels)))
            .Where(e => !e.Labels.SequenceEqual(e.Node.Labels))
            .ToArray();
        return new Several(
            [
                .. nodes.Select(e => new SaveEquipment(
                    e.Node.Id,
                    e.Node.Code,
                    e.Node.Name,
                    e.Node.Level,
                    e.Node.ParentId,
                    e.Node.TemplateId,
                    e.Labels
                )),
            ],
            $"Label {Named([.. nodes.Select(n => n.Node)])} {string.Join(", ", pairs)}"
        );
    }

    /// <summary>Copies properties of a template to another, with all that holds of them there.</summary>
    /// <param name="model">The model.</param>
    /// <param name="fromId">The template that has them, declared or inherited.</param>
    /// <param name="propertyIds">The properties.</param>
    /// <param name="toId">The template that gets them.</param>
    public static Edit Properties(PlantModel model, long fromId, IReadOnlyCollection<long> propertyIds, long toId)
    {
        if (!model.Templates.TryGetValue(fromId, out var from) || !model.Templates.TryGetValue(toId, out var to))
            return Refused("", "One of the templates no longer exists; somebody has taken it out. Reload the page.");
        var properties = model.Index.PropertiesOf(fromId).Where(p => propertyIds.Contains(p.Id)).ToArray();
        if (properties.Length == 0)
            return Refused("", "Choose the properties to copy first.");
        var has = model.Index.PropertiesOf(toId).Select(p => p.Code).ToHashSet(StringComparer.OrdinalIgnoreCase);
        if (properties.Where(p => has.Contains(p.Code)).Select(p => p.Name).ToArray() is { Length: > 0 } there)
            return Refused("", $"{to.Name} has {string.Join(", ", there)} already; leave {(there.Length == 1 ? "it" : "them")} out.");
        return new Several(
            [.. properties.Select(p => Declared(p, toId))],
            $"Copy {(properties is [var one] ? one.Name : $"{properties.Length} properties")} of {from.Name} to {to.Name}"
        );
    }

    /// <summary>Copies a template: what it declares, refines and has as parts. The copy inherits from the same one, and has no
    /// instance.</summary>
    /// <param name="model">The model.</param>
    /// <param name="id">The template.</param>
    /// <param name="code">Code of the copy.</param>
    /// <param name="name">Name of the copy.</param>
    public static Edit Template(PlantModel model, long id, string code, string name)
    {
        if (!model.Templates.TryGetValue(id, out var template))
            return Refused("", "The template no longer exists; somebody has taken it out. Reload the page.");
        var copy = model.NextId;
        var resolved = model.Index.PropertiesOf(id).ToDictionary(p => p.Id);
        return new Several(
            [
                new SaveTemplate(null, code, name, template.ParentId, template.Description, template.Levels, template.Labels),
                .. template.Properties.Select(p => Declared(resolved[p.Id], copy)),
                .. template.Patches.Where(p => resolved[p.Key].DeclaredBy != id).Select(p => PatchProperty.Exactly(copy, p.Key, p.Value)),
                .. template.Parts.Select(p => new SavePart(copy, null, p.Code, p.Name, p.TemplateId, p.Level, p.Count)),
            ],
            $"Copy template {template.Name} as {name}"
        );
    }

    /// <summary>What a template says of a property is exactly this from now on, whether it declares the property or refines it.</summary>
    /// <param name="templateId">The template.</param>
    /// <param name="property">The property as the template has it.</param>
    /// <param name="facts">What the template says.</param>
    public static Edit Exactly(long templateId, ResolvedProperty property, PropertyPatch facts) =>
        property.DeclaredBy == templateId
            ? new SaveProperty(
                templateId,
                property.Id,
                property.Code,
                property.Name,
                property.Declaration.Kind,
                property.Declaration.Type,
                facts,
                property.Declaration.IsRequired
            )
            : PatchProperty.Exactly(templateId, property.Id, facts);

    private static SaveProperty Declared(ResolvedProperty property, long templateId) =>
        new(
            templateId,
            null,
            property.Code,
            property.Name,
            property.Declaration.Kind,
            property.Declaration.Type,
            property.Facts,
            property.Declaration.IsRequired
        );

    private static IEnumerable<Equipment> Known(PlantModel model, IEnumerable<long> ids) =>
        ids.Distinct().Select(id => model.Equipment.GetValueOrDefault(id)).OfType<Equipment>();

    // Of nodes below one another only the uppermost: what is done to it is done to what lies below.
    private static Equipment[] Roots(PlantModel model, IReadOnlyCollection<long> ids)
    {
        var chosen = ids.ToHashSet();
        return [.. Known(model, ids).Where(e => !model.Index.LineageOf(e.Id).SkipLast(1).Any(above => chosen.Contains(above.Id)))];
    }

    private static string Named(Equipment[] nodes) => nodes is [var one] ? one.Name : $"{nodes.Length} pieces";

    private static Several Refused(string field, string message) => new([]) { Hindrance = new(field, message) };
}
