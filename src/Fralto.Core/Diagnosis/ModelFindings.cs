using System.Collections.Immutable;
using Fralto.Core.Bindings;
using Fralto.Core.Controllers;
using Fralto.Core.Hierarchy;
using Fralto.Core.Planning;
using Fralto.Core.Plant;
using Fralto.Core.Properties;
using Fralto.Core.Rules;
using Fralto.Core.Templates;

namespace Fralto.Core.Diagnosis;

/// <summary>What is to be said of a model as it is written, beside what its plan says: what is unfinished, unused or spelled in two
/// ways.</summary>
public static class ModelFindings
{
    /// <summary>A limit lacks what an operator or the standard needs.</summary>
    public const string UnfinishedLimit = "FR130";

    /// <summary>A message is not written in a language of the plant.</summary>
    public const string Untranslated = "FR131";

    /// <summary>A template has no instance, no descendant and is no part.</summary>
    public const string UnusedTemplate = "FR140";

    /// <summary>A scale of the library scales nothing.</summary>
    public const string UnusedScale = "FR141";

    /// <summary>A state list names the states of nothing.</summary>
    public const string UnusedStateList = "FR142";

    /// <summary>A place with nothing below it.</summary>
    public const string EmptyPlace = "FR143";

    /// <summary>Values of a label that differ only in capitals or blanks.</summary>
    public const string LabelApart = "FR145";

    /// <summary>Two instances have the same number in the books.</summary>
    public const string AssetTwice = "FR146";

    /// <summary>One tag feeds two properties.</summary>
    public const string TagTwice = "FR147";

    /// <summary>A fixed value that is required is what the template says everywhere, or nothing.</summary>
    public const string StillDefault = "FR148";

    /// <summary>A code is not written as the plant writes its codes.</summary>
    public const string CodeApart = "FR149";

    /// <summary>A name is not written as the plant writes its names.</summary>
    public const string NameWrittenApart = "FR153";

    /// <summary>A property is not recorded.</summary>
    public const string NotRecorded = "FR160";

    /// <summary>What a property is recorded with names nothing.</summary>
    public const string RecordedWithNothing = "FR161";

    /// <summary>What is looked for, each with what it looks at: what an edit does not touch need not be looked for again.</summary>
    /// <remarks>State lists, scales and units are not among it: after an edit of those, all is looked for.</remarks>
    internal static readonly ImmutableArray<(Func<PlantModel, IEnumerable<ModelFinding>> Find, Func<ModelChange, bool> IsTouched)> All =
    [
        (Limits, c => IsLayered(c) || IsOf<AlarmSetup>(c)),
        (Names, IsOf<Template>),
        (Templates, c => IsOf<Template>(c) || IsOther(c, e => e.TemplateId)),
        (Library, IsLayered),
        (Places, c => IsOther(c, e => (e.ParentId, e.TemplateId, e.Name, e.Order))),
        (Labels, c => IsOf<Template>(c) || IsTouched(c, e => !e.Labels.IsEmpty)),
        (Assets, c => IsOf<Template>(c) || (IsTouched(c, IsLayer) && IsOther(c, e => (e.Patches, e.TemplateId, e.Name)))),
        (Tags, c => IsOf<PropertyBinding>(c) || IsOf<Tag>(c) || IsOf<Template>(c) || IsOther(c, e => (e.Name, e.TemplateId))),
        (Defaults, c => IsOf<Template>(c) || IsOther(c, e => (e.Patches, e.TemplateId))),
        (Written, c => IsOf<NamingConvention>(c) || IsOf<Template>(c) || IsOther(c, e => (e.Code, e.Name, e.Level, e.TemplateId))),
        (Recording, IsLayered),
    ];

    /// <summary>Everything that is found.</summary>
    public static IReadOnlyList<ModelFinding> Of(PlantModel model) => [.. All.SelectMany(a => a.Find(model))];

    private static bool IsOf<T>(ModelChange change) => (change.After ?? change.Before) is T;

    /// <summary>True where something changes a layer that says facts: of a template, or of a node.</summary>
    private static bool IsLayered(ModelChange change) =>
        IsOf<Template>(change) || (IsTouched(change, IsLayer) && IsOther(change, e => (e.Patches, e.TemplateId)));

    private static bool IsLayer(Equipment node) => !node.Patches.IsEmpty;

    private static bool IsTouched(ModelChange change, Func<Equipment, bool> counts) =>
        (change.Before is Equipment before && counts(before)) || (change.After is Equipment after && counts(after));

    private static bool IsOther<T>(ModelChange change, Func<Equipment, T> of) =>
        (change.After ?? change.Before) is Equipment
        && (
            change is not { Before: Equipment before, After: Equipment after } || !EqualityComparer<T>.Default.Equals(of(before), of(after))
        );

    /// <summary>Layers that turn recording off, or let it hang on a property that is not there.</summary>
    private static IEnumerable<ModelFinding> Recording(PlantModel model)
    {
        foreach (var template in model.Templates.Values.OrderBy(t => t.Id))
        foreach (var (id, patch) in template.Patches.OrderBy(p => p.Key))
            if (Of(model.Index.PropertiesOf(template.Id), id, patch, 0, $"{template.Name} ") is { } finding)
                yield return new(finding, EntityKinds.Template, template.Id);
        foreach (var node in model.Index.EquipmentInOrder.Where(e => !e.Patches.IsEmpty))
        foreach (var (id, patch) in node.Patches.OrderBy(p => p.Key))
            if (Of(model.Index.PropertiesOf(node), id, patch, node.Id, "") is { } finding)
                yield return new(finding, EntityKinds.Equipment, node.Id);

        static Finding? Of(IReadOnlyList<ResolvedProperty> all, long id, PropertyPatch patch, long equipment, string name)
        {
            if (patch.Recording is not { } says || all.FirstOrDefault(p => p.Id == id) is not { } property)
                return null;
            var subject = name + property.Name;
            if (says.Off == true)
                return new(NotRecorded, FindingSeverity.Hint, equipment, subject, "is not recorded");
            var code = says.While?.Split('=')[0].Trim();
            return code is not null && !all.Any(p => p.Code.Equals(code, StringComparison.OrdinalIgnoreCase))
                ? new(
                    RecordedWithNothing,
                    FindingSeverity.Warning,
                    equipment,
                    subject,
                    $"is recorded while {says.While}, and there is no {code} here"
                )
                : null;
        }
    }

    private static IEnumerable<ModelFinding> Written(PlantModel model) =>
        WrittenApart(model)
            .Select(c => new ModelFinding(
                new(
                    c.IsName ? NameWrittenApart : CodeApart,
                    FindingSeverity.Warning,
                    c.Node.Id,
                    c.Node.Name,
                    c.IsName ? $"is named so; here it is written {c.Meant}" : $"has the code {c.Node.Code}; here it is written {c.Meant}"
                ),
                EntityKinds.Equipment,
                c.Node.Id
            ));

    /// <summary>Nodes whose code or name is not written as the patterns say, and how it is meant to be: by the patterns of the nearest
    /// template that has some, else by those of the level.</summary>
    public static IEnumerable<(Equipment Node, bool IsName, string Meant)> WrittenApart(PlantModel model)
    {
        if (model.NamingConventions.IsEmpty)
            yield break;
        var levels = model.NamingConventions.Values.Where(p => p.Level is not null).ToLookup(p => (p.Level!.Value, p.IsOfNames));
        var templates = model
            .NamingConventions.Values.Where(p => p.TemplateId is not null)
            .ToLookup(p => (p.TemplateId!.Value, p.IsOfNames));
        var spoken = new Dictionary<(long, bool), NamingConvention[]>();
        foreach (var node in model.Index.EquipmentInOrder)
        foreach (var isName in new[] { false, true })
        {
            var patterns = node.TemplateId is { } id ? OfTemplate(id, isName) : [];
            if (patterns.Length == 0)
                patterns = [.. levels[(node.Level, isName)]];
            if (patterns.Length > 0 && !patterns.Any(p => p.Fits(isName ? node.Name : node.Code)))
                yield return (node, isName, string.Join(" or ", patterns.Select(p => p.Text).Order(StringComparer.Ordinal)));
        }

        NamingConvention[] OfTemplate(long id, bool isName)
        {
            if (spoken.TryGetValue((id, isName), out var known))
                return known;
            var own = templates[(id, isName)].ToArray();
            return spoken[(id, isName)] =
                own.Length > 0 ? own
                : model.Templates[id].ParentId is { } parent ? OfTemplate(parent, isName)
                : [];
        }
    }

    /// <summary>Fixed texts whose code says that they number a thing, and that are the same at two instances.</summary>
    private static IEnumerable<ModelFinding> Assets(PlantModel model)
    {
        var numbers = model
            .Templates.Values.SelectMany(t => t.Properties)
            .Where(p => p.Kind == PropertyKind.Fixed && p.Type == PropertyType.Text)
            .Where(p => NumberWords.Any(w => p.Code.Contains(w, StringComparison.OrdinalIgnoreCase)))
            .ToDictionary(p => p.Id, p => p.Name);
        var said = model
            .Index.EquipmentInOrder.Where(e => !e.Patches.IsEmpty)
            .SelectMany(e =>
                e.Patches.Where(p => numbers.ContainsKey(p.Key) && p.Value.Value is { Length: > 0 })
                    .Select(p => (Node: e, Property: p.Key, Value: p.Value.Value!))
            );
        foreach (var same in said.GroupBy(s => (s.Property, Bare(s.Value))).Where(g => g.Count() > 1))
        foreach (var (node, property, value) in same.OrderBy(s => s.Node.Id).Skip(1))
            yield return new(
                new(
                    AssetTwice,
                    FindingSeverity.Warning,
                    node.Id,
                    numbers[property],
                    $"is {value}, and so is that of {same.MinBy(s => s.Node.Id).Node.Name}"
                ),
                EntityKinds.Equipment,
                node.Id
            );
    }

    private static readonly string[] NumberWords = ["Asset", "Serial", "Inventory"];

    /// <summary>Tags that feed two properties in the same way; one that takes commands cannot.</summary>
    private static IEnumerable<ModelFinding> Tags(PlantModel model)
    {
        foreach (var same in model.Index.SharedTags.SelectMany(l => l.GroupBy(b => b.Slice)).Where(g => g.Skip(1).Any()))
        {
            var earliest = same.MinBy(b => (b.EquipmentId, b.PropertyId))!;
            foreach (var binding in same.Where(b => b != earliest).OrderBy(b => (b.EquipmentId, b.PropertyId)))
                if (
                    model.Equipment.GetValueOrDefault(binding.EquipmentId) is { } node
                    && model.Index.PropertiesOf(node).FirstOrDefault(p => p.Id == binding.PropertyId) is { } property
                )
                    yield return new(
                        new(
                            TagTwice,
                            FindingSeverity.Hint,
                            node.Id,
                            property.Name,
                            $"is fed by {model.Tags.GetValueOrDefault(binding.TagId)?.Name}, "
                                + $"as {model.Equipment.GetValueOrDefault(earliest.EquipmentId)?.Name} is"
                        ),
                        EntityKinds.Equipment,
                        node.Id
                    );
        }
    }

    /// <summary>Required fixed values that most instances say for themselves and some do not.</summary>
    private static IEnumerable<ModelFinding> Defaults(PlantModel model)
    {
        foreach (var template in model.Templates.Values.OrderBy(t => t.Id))
        {
            if (model.Index.InstanceCountOf(template.Id) < 2)
                continue;
            foreach (var property in model.Index.PropertiesOf(template.Id))
            {
                if (property.Declaration is not { Kind: PropertyKind.Fixed, IsRequired: true })
                    continue;
                var instances = model.Index.InstancesOf(template.Id).ToArray();
                var silent = instances.Where(e => e.Patches.GetValueOrDefault(property.Id)?.Value is null).ToArray();
                if (silent.Length == 0 || silent.Length * 2 > instances.Length)
                    continue;
                foreach (var node in silent)
                    yield return new(
                        new(
                            StillDefault,
                            FindingSeverity.Hint,
                            node.Id,
                            property.Name,
                            property.Facts.Value is { } value
                                ? $"is still {value}, as the template says; the others say their own"
                                : "is not said here; the others say their own"
                        ),
                        EntityKinds.Equipment,
                        node.Id
                    );
            }
        }
    }

    private static IEnumerable<ModelFinding> Limits(PlantModel model)
    {
        foreach (var limit in LimitCatalogue.Of(model))
        {
            var (kind, equipment) = limit.IsInstance ? (EntityKinds.Equipment, limit.Layer) : (EntityKinds.Template, 0L);
            var subject = $"{(limit.IsInstance ? "" : $"{limit.Where}, ")}{limit.Property} {limit.Code}";
            var other = limit.Missing.Where(m => !m.StartsWith(LimitCatalogue.NoMessageIn, StringComparison.Ordinal)).ToArray();
            if (other.Length > 0)
                yield return new(
                    new(
                        UnfinishedLimit,
                        other.Contains(LimitCatalogue.NoAction) ? FindingSeverity.Warning : FindingSeverity.Hint,
                        equipment,
                        subject,
                        $"is unfinished: {string.Join(", ", other)}"
                    ),
                    kind,
                    limit.Layer
                );
            if (other.Length < limit.Missing.Length)
                yield return new(
                    new(Untranslated, FindingSeverity.Hint, equipment, subject, $"has {string.Join(", ", limit.Missing.Except(other))}"),
                    kind,
                    limit.Layer
                );
        }
    }

    private static IEnumerable<ModelFinding> Names(PlantModel model) =>
        NamesApart
            .Of(model)
            .Select(n => new ModelFinding(
                new(Planner.NameApart, FindingSeverity.Hint, 0, $"{n.Template.Name} {n.Property.Name}", n.Words),
                EntityKinds.Template,
                n.Template.Id
            ));

    private static IEnumerable<ModelFinding> Templates(PlantModel model)
    {
        var used = model
            .Templates.Values.SelectMany(t => t.Parts.Select(p => p.TemplateId).Append(t.ParentId ?? 0))
            .Concat(model.Index.EquipmentInOrder.Select(e => e.TemplateId ?? 0))
            .ToHashSet();
        foreach (var template in model.Templates.Values.Where(t => !used.Contains(t.Id)).OrderBy(t => t.Id))
            yield return new(
                new(UnusedTemplate, FindingSeverity.Hint, 0, template.Name, "has no instance, no descendant, and is no part"),
                EntityKinds.Template,
                template.Id
            );
    }

    private static IEnumerable<ModelFinding> Library(PlantModel model)
    {
        var said = Patches(model).ToArray();
        var scales = said.Select(p => p.ScaleId ?? 0).ToHashSet();
        foreach (var scale in model.Scales.Values.Where(s => !scales.Contains(s.Id)).OrderBy(s => s.Id))
            yield return new(new(UnusedScale, FindingSeverity.Hint, 0, scale.Name, "scales nothing"), EntityKinds.Scale, scale.Id);
        var lists = said.Select(p => p.StateListId ?? 0).ToHashSet();
        foreach (var list in model.StateLists.Values.Where(l => !lists.Contains(l.Id)).OrderBy(l => l.Id))
            yield return new(
                new(UnusedStateList, FindingSeverity.Hint, 0, list.Name, "names the states of nothing"),
                EntityKinds.StateList,
                list.Id
            );
    }

    private static IEnumerable<ModelFinding> Places(PlantModel model) =>
        model
            .Index.EquipmentInOrder.Where(e => e.TemplateId is null && model.Index.ChildCountOf(e.Id) == 0)
            .Select(e => new ModelFinding(
                new(EmptyPlace, FindingSeverity.Hint, e.Id, e.Name, "has nothing below it"),
                EntityKinds.Equipment,
                e.Id
            ));

    private static IEnumerable<ModelFinding> Labels(PlantModel model) =>
        LabelsApart(model)
            .Select(l => new ModelFinding(
                new(
                    LabelApart,
                    FindingSeverity.Warning,
                    l.Kind == EntityKinds.Equipment ? l.Id : 0,
                    l.Of,
                    $"has the label {l.Key}={l.Value}; elsewhere it is spelled {l.Right}"
                ),
                l.Kind,
                l.Id
            ));

    /// <summary>Labels whose value is spelled otherwise elsewhere, and how.</summary>
    internal static IEnumerable<(EntityKind Kind, long Id, string Of, string Key, string Value, string Right)> LabelsApart(PlantModel model)
    {
        var said = model
            .Index.EquipmentInOrder.Where(e => !e.Labels.IsEmpty)
            .SelectMany(e => e.Labels.Select(l => (Label: l, Kind: EntityKinds.Equipment, e.Id, Of: e.Name)))
            .Concat(model.Templates.Values.SelectMany(t => t.Labels.Select(l => (Label: l, Kind: EntityKinds.Template, t.Id, Of: t.Name))));
        foreach (var same in said.GroupBy(l => (l.Label.Key, Bare(l.Label.Value))))
        {
            var spellings = same.GroupBy(l => l.Label.Value)
                .OrderByDescending(s => s.Count())
                .ThenBy(s => s.Key, StringComparer.Ordinal)
                .ToArray();
            // What is written most often is taken for right.
            foreach (var (label, kind, id, of) in spellings.Skip(1).SelectMany(s => s).OrderBy(l => l.Id))
                yield return (kind, id, of, label.Key, label.Value, spellings[0].Key);
        }
    }

    private static string Bare(string text) => new([.. text.Where(char.IsLetterOrDigit).Select(char.ToUpperInvariant)]);

    private static IEnumerable<PropertyPatch> Patches(PlantModel model) =>
        model
            .Templates.Values.SelectMany(t => t.Patches.Values)
            .Concat(model.Index.EquipmentInOrder.Where(e => !e.Patches.IsEmpty).SelectMany(e => e.Patches.Values));
}
