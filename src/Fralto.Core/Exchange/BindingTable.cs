using System.Globalization;
using Fralto.Core.Basics;
using Fralto.Core.Bindings;
using Fralto.Core.Controllers;
using Fralto.Core.Edits;
using Fralto.Core.Plant;
using Fralto.Core.Protocols;
using Fralto.Core.Scaling;

namespace Fralto.Core.Exchange;

/// <summary>Bindings as a table: a property of an instance in each row, with the tag that feeds it and the part of the tag. A tag may be
/// named by its address in place of its name.</summary>
internal static class BindingTable
{
    private const string Path = "path";
    private const string Property = "property";
    private const string Controller = "controller";
    private const string TagName = "tag";
    private const string Address = "address";
    private const string Part = "part";

    public static Table Of(PlantModel model) =>
        new(
            [Path, Property, Controller, TagName, Address, Part],
            [
                .. model
                    .Index.EquipmentInOrder.SelectMany(e =>
                        model
                            .Index.PropertiesOf(e)
                            .Select(p => (Node: e, Property: p, Binding: model.Bindings.GetValueOrDefault((e.Id, p.Id))))
                    )
                    .Where(b => b.Binding is not null)
                    .Select(b =>
                    {
                        var tag = model.Tags[b.Binding!.TagId];
                        return new[]
                        {
                            model.Index.PathOf(b.Node.Id),
                            b.Property.Code,
                            model.Controllers[tag.ControllerId].Name,
                            tag.Name,
                            tag.Address.ToString(),
                            $"{b.Binding.Slice}",
                        };
                    }),
            ]
        );

    /// <summary>A row that names a tag binds it, in place of any tag the property has; one that names none is passed over.</summary>
    public static ImportResult Import(PlantModel model, Table table)
    {
        var lines = new List<ImportLine>();
        var asked = new List<(int Number, string Subject, BindingLine Line, string Before, string After)>();
        var nodes = model.Index.EquipmentInOrder.ToDictionary(e => model.Index.PathOf(e.Id), StringComparer.OrdinalIgnoreCase);
        var controllers = model.Controllers.Values.ToDictionary(c => c.Name, StringComparer.OrdinalIgnoreCase);
        var tags = new Dictionary<long, (Dictionary<string, Tag> ByName, ILookup<string, Tag> ByAddress)>();
        var (path, property, its, name, address, part) = (
            table.IndexOf(Path),
            table.IndexOf(Property),
            table.IndexOf(Controller),
            table.IndexOf(TagName),
            table.IndexOf(Address),
            table.IndexOf(Part)
        );
        for (var row = 0; row < table.Rows.Count; row++)
        {
            var number = table.NumberOf(row);
            var subject = $"{table.Cell(row, path).Trim('/')} {table.Cell(row, property)}";
            void Refuse(string column, string reason) =>
                lines.Add(new(number, ImportOutcome.Refused, subject, column, "", table.Cell(row, table.IndexOf(column)), reason));
            var (tagName, at) = (table.Cell(row, name), table.Cell(row, address));
            if (tagName.Length == 0 && at.Length == 0)
                continue;
            if (!nodes.TryGetValue(table.Cell(row, path).Trim('/'), out var node))
                Refuse(Path, $"Nothing has the path {table.Cell(row, path)}.");
            else if (
                model
                    .Index.PropertiesOf(node)
                    .FirstOrDefault(p => p.Code.Equals(table.Cell(row, property), StringComparison.OrdinalIgnoreCase))
                is not { } known
            )
                Refuse(
                    Property,
                    $"{node.Name} has no property {table.Cell(row, property)}"
                        + Naming.OrNearest(table.Cell(row, property), model.Index.PropertiesOf(node).Select(p => p.Code))
                );
            else if (!controllers.TryGetValue(table.Cell(row, its), out var controller))
                Refuse(
                    Controller,
                    $"There is no controller {table.Cell(row, its)}{Naming.OrNearest(table.Cell(row, its), controllers.Keys)}"
                );
            else if (Find(controller, tagName, at) is not { } tag)
                Refuse(
                    tagName.Length > 0 ? TagName : Address,
                    tagName.Length > 0
                        ? $"{controller.Name} has no tag {tagName}{Naming.OrNearest(tagName, TagsOf(controller).ByName.Keys)}"
                        : $"{controller.Name} has no tag, or more than one, at {at}; name the tag."
                );
            else if (table.Cell(row, part) is { Length: > 0 } written && Slice.Parse(written) is null)
                Refuse(Part, $"'{written}' is no part of a tag; write an element as [12], bits as .4 or .4-6, or both as [2].0-3.");
            else
            {
                var slice = Slice.Parse(table.Cell(row, part));
                var before = model.Bindings.GetValueOrDefault((node.Id, known.Id));
                if (before is not null && before.TagId == tag.Id && Equals(before.Slice, slice))
                    continue;
                asked.Add(
                    (
                        number,
                        subject,
                        new(node.Id, known.Id, tag.Id, slice),
                        before is null ? "" : $"{model.Tags[before.TagId].Name}{before.Slice}",
                        $"{tag.Name}{slice}"
                    )
                );
            }
        }
        var outcome = new BindMany([.. asked.Select(a => a.Line)], Share: true).On(model);
        var refused = new HashSet<int>();
        foreach (var problem in asked.Count == 0 ? [] : outcome.Problems)
        {
            var at = int.TryParse(problem.Field, NumberStyles.None, CultureInfo.InvariantCulture, out var line) ? line : 0;
            refused.Add(at);
            lines.Add(new(asked[at].Number, ImportOutcome.Refused, asked[at].Subject, TagName, "", asked[at].After, problem.Message));
        }
        for (var i = 0; i < asked.Count; i++)
            if (!refused.Contains(i))
                lines.Add(
                    new(
                        asked[i].Number,
                        asked[i].Before.Length == 0 ? ImportOutcome.Added : ImportOutcome.Changed,
                        asked[i].Subject,
                        TagName,
                        asked[i].Before,
                        asked[i].After
                    )
                );
        return new(
            [.. lines.OrderBy(l => l.Row)],
            table.Rows.Count,
            lines.Any(l => l.Outcome == ImportOutcome.Refused) ? [] : outcome.Changes
        );

        (Dictionary<string, Tag> ByName, ILookup<string, Tag> ByAddress) TagsOf(Controller of) =>
            tags.TryGetValue(of.Id, out var found)
                ? found
                : tags[of.Id] = (
                    model.Index.TagsOf(of.Id).ToDictionary(t => t.Name, StringComparer.OrdinalIgnoreCase),
                    model.Index.TagsOf(of.Id).ToLookup(t => t.Address.ToString(), StringComparer.OrdinalIgnoreCase)
                );

        Tag? Find(Controller of, string named, string at) =>
            named.Length > 0 ? TagsOf(of).ByName.GetValueOrDefault(named)
            : of.Protocol.Rules().ReadAddress(at, out _) is { } place && TagsOf(of).ByAddress[$"{place}"].ToArray() is [var one] ? one
            : null;
    }
}
