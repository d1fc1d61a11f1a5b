using System.Collections.Immutable;
using Fralto.Core.Basics;
using Fralto.Core.Controllers;
using Fralto.Core.Hierarchy;
using Fralto.Core.Plant;
using Fralto.Core.Properties;
using Fralto.Core.Scaling;
using Fralto.Core.Templates;
using Fralto.Core.Units;

namespace Fralto.Core.Edits;

/// <summary>Makes a piece of equipment of tags: the template it is of, where there is none yet, with a property for each tag; the places
/// above it, where they are not there; the instance; and the bindings. All of it as one edit.</summary>
/// <param name="TemplateName">Name or code of the template; one that is there gets the properties it lacks.</param>
/// <param name="Place">Names or codes from the enterprise down to the instance, with a slash between them.</param>
/// <param name="Properties">What the instance has.</param>
public sealed record MakeEquipment(string TemplateName, string Place, ImmutableArray<MadeProperty> Properties) : Edit
{
    /// <summary>The most tags of one piece of equipment that are taken at once.</summary>
    public const int MostTags = 100;

    private const int MostPlaces = 6;

    // What stands between the enterprise and the instance where nothing is said: a site, an area, a process cell.
    private static readonly EquipmentLevel[] PlaceLevels =
    [
        EquipmentLevel.Enterprise,
        EquipmentLevel.Site,
        EquipmentLevel.Area,
        EquipmentLevel.ProcessCell,
        EquipmentLevel.Unit,
    ];

    /// <inheritdoc/>
    public override EditOutcome On(PlantModel model)
    {
        var names = Place.Split('/', StringSplitOptions.TrimEntries);
        if (Properties.IsEmpty)
            return EditOutcome.Refused("", "Select the tags of one piece of equipment first.");
        if (Properties.Length > MostTags)
            return EditOutcome.Refused("", $"{Properties.Length} tags; {MostTags} is the most for one piece of equipment.");
        if (Properties.FirstOrDefault(p => !model.Tags.ContainsKey(p.TagId)) is not null)
            return Gone("A tag");
        if (TemplateName.Length == 0)
            return EditOutcome.Refused(nameof(TemplateName), "Say what it is: Kiln, Pump, Silo.");
        if (names.Length is < 2 or > MostPlaces || names.Any(n => n.Length == 0))
            return EditOutcome.Refused(
                nameof(Place),
                $"Say where it stands, from the company down, 2 to {MostPlaces} names with a slash between them: "
                    + "Corvane / Tarn Quay / Kiln 1."
            );
        var (at, made) = (model, new List<ModelChange>());
        EditOutcome? refused = null;
        // Makes one step on what the steps before it have made; false ends it.
        bool Step(Edit edit, Func<string, string> field)
        {
            var outcome = edit.On(at);
            if (outcome.IsRefused)
                refused = EditOutcome.Refused(outcome.Problems.Select(p => new Problem(field(p.Field), p.Message)));
            else
            {
                at = at.Apply(outcome.Changes);
                made.AddRange(outcome.Changes);
            }
            return refused is null;
        }
        var template = TemplateOf(at);
        if (
            template is null
            && !Step(new SaveTemplate(null, Naming.Suggest(TemplateName), TemplateName, null, ""), _ => nameof(TemplateName))
        )
            return refused!;
        template ??= TemplateOf(at)!;
        for (var i = 0; i < Properties.Length; i++)
        {
            var its = Properties[i];
            string Field(string field) => FieldOf(field is "Code" or "" ? "Name" : field, its.TagId);
            if (its.Name.Length == 0)
                return EditOutcome.Refused(FieldOf("Name", its.TagId), "Give the property a name.");
            if (PropertyOf(at, template.Id, its.Name) is null && !Step(Declared(at, template.Id, its), Field))
                return refused!;
        }
        Equipment? above = null;
        for (var i = 0; i < names.Length; i++)
        {
            var isInstance = i == names.Length - 1;
            var known = at.Index.ChildrenOf(above?.Id).FirstOrDefault(e => Is(e.Name, names[i]) || Is(e.Code, names[i]));
            if (known is null)
            {
                if (LevelOf(at, above, isInstance ? template : null) is not { } level)
                    return EditOutcome.Refused(nameof(Place), $"Nothing can stand below {above!.Name} here; leave a name out.");
                var node = new SaveEquipment(null, Naming.Suggest(names[i]), names[i], level, above?.Id, isInstance ? template.Id : null);
                if (!Step(node, _ => nameof(Place)))
                    return refused!;
                known = at.Index.ChildrenOf(above?.Id).Last();
            }
            if (isInstance && known.TemplateId != template.Id)
                return EditOutcome.Refused(nameof(Place), $"{known.Name} is there already and is no {template.Name}; choose another name.");
            above = known;
        }
        for (var i = 0; i < Properties.Length; i++)
        {
            var property = PropertyOf(at, template.Id, Properties[i].Name)!;
            if (!Step(new Bind(above!.Id, property.Id, Properties[i].TagId), _ => FieldOf("Name", Properties[i].TagId)))
                return refused!;
        }
        return EditOutcome.Changed($"Make {above!.Name} of {Count(Properties.Length, "tag")}", Several.Merged(made));
    }

    /// <summary>The field a problem with a tag's property is about.</summary>
    /// <param name="field">Name, Unit, RangeLow or RangeHigh.</param>
    /// <param name="tagId">The tag.</param>
    public static string FieldOf(string field, long tagId) => $"{field}{tagId}";

    /// <summary>The instance an outcome of this edit has made, or has bound.</summary>
    /// <param name="outcome">The outcome.</param>
    public static long? InstanceOf(EditOutcome outcome) =>
        outcome.Changes.Select(c => c.After).OfType<Bindings.PropertyBinding>().FirstOrDefault()?.EquipmentId;

    /// <summary>What properties of tags may be called: what each is described as, or its name without what all of them begin
    /// with.</summary>
    /// <param name="tags">The tags.</param>
    /// <param name="units">Units that a description may end in, after a comma: a unit is no part of a name.</param>
    public static ImmutableArray<string> NamesOf(IReadOnlyList<Tag> tags, UnitSet units)
    {
        var common = tags.Count == 0 ? 0 : tags.Min(t => t.Name.Length);
        for (var at = 0; at < common; at++)
            if (tags.Any(t => t.Name[at] != tags[0].Name[at]))
                common = at;
        // Only whole words are left out: up to the last sign that parts them.
        while (common > 0 && char.IsLetterOrDigit(tags[0].Name[common - 1]))
            common--;
        if (tags.Count == 1)
            common = tags[0].Name.AsSpan().LastIndexOfAny("._-/ ") + 1;
        var names = ImmutableArray.CreateBuilder<string>(tags.Count);
        var taken = new HashSet<string>(StringComparer.OrdinalIgnoreCase);
        foreach (var tag in tags)
        {
            var described = tag.Description.Trim();
            if (described.LastIndexOf(',') is > 0 and var comma && units.Match(described[(comma + 1)..].Trim()) is not null)
                described = described[..comma].TrimEnd();
            if (described.Length > 0)
                described = char.ToUpperInvariant(described[0]) + described[1..];
            var name = Naming.SuggestName(described.Length is > 0 and <= Naming.LongestName ? described : tag.Name[common..]);
            names.Add(taken.Add(Naming.Suggest(name)) ? name : Naming.SuggestName(tag.Name));
        }
        return names.MoveToImmutable();
    }

    private Template? TemplateOf(PlantModel model) =>
        model.Templates.Values.FirstOrDefault(t => Is(t.Name, TemplateName))
        ?? model.Templates.Values.FirstOrDefault(t => Is(t.Code, TemplateName) || Is(t.Code, Naming.Suggest(TemplateName)));

    private static ResolvedProperty? PropertyOf(PlantModel model, long template, string name) =>
        model.Index.PropertiesOf(template).FirstOrDefault(p => Is(p.Name, name) || Is(p.Code, name) || Is(p.Code, Naming.Suggest(name)));

    private static SaveProperty Declared(PlantModel model, long template, MadeProperty property)
    {
        var tag = model.Tags[property.TagId];
        var type =
            tag.Type == RawType.Bool ? PropertyType.Boolean
            : tag.Type == RawType.Text ? PropertyType.Text
            : PropertyType.Number;
        var facts = type == PropertyType.Number ? new PropertyPatch { Unit = property.Unit, Range = property.Range } : PropertyPatch.Empty;
        return new(template, null, Naming.Suggest(property.Name), property.Name, PropertyKind.Measured, type, facts);
    }

    /// <summary>The level what is new gets below a place: for an instance the first its template may stand at, else a unit or what takes
    /// its place there.</summary>
    internal static EquipmentLevel? LevelOf(PlantModel model, Equipment? above, Template? template)
    {
        var allowed = LevelRules.AllowedBelow(above?.Level).ToArray();
        if (template is null)
            return PlaceLevels.Take(PlaceLevels.Length - 1).Cast<EquipmentLevel?>().FirstOrDefault(l => allowed.Contains(l!.Value));
        return model.Index.LevelsOf(template.Id) is { IsEmpty: false } its
            ? its.Cast<EquipmentLevel?>().FirstOrDefault(l => allowed.Contains(l!.Value))
            : allowed
                .OrderBy(l =>
                    l == EquipmentLevel.Unit ? 0
                    : LevelRules.RankOf(l) == LevelRank.WorkUnit ? 1
                    : l == EquipmentLevel.EquipmentModule ? 2
                    : 3
                )
                .Cast<EquipmentLevel?>()
                .FirstOrDefault();
    }

    private static bool Is(string one, string other) => one.Equals(other, StringComparison.OrdinalIgnoreCase);
}
