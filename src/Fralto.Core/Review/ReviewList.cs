using System.Collections.Immutable;
using System.Globalization;
using Fralto.Core.Basics;
using Fralto.Core.Bindings;
using Fralto.Core.Controllers;
using Fralto.Core.Exchange;
using Fralto.Core.Hierarchy;
using Fralto.Core.Limits;
using Fralto.Core.Modbus;
using Fralto.Core.Plant;
using Fralto.Core.Properties;
using Fralto.Core.Templates;

namespace Fralto.Core.Review;

/// <summary>The differences between two models as people speak of them: templates first, then places in the order of the plant, then
/// controllers and what all share.</summary>
public sealed class ReviewList
{
    /// <summary>How many fields of one change are listed; it is said how many there are.</summary>
    public const int MostFields = 12;

    private const string Itself = "itself";

    private readonly PlantModel _before;
    private readonly PlantModel _after;
    private readonly NetChanges _changes;
    private readonly List<ReviewChange> _found = [];

    private ReviewList(PlantModel before, PlantModel after, NetChanges changes) => (_before, _after, _changes) = (before, after, changes);

    /// <summary>The changes from one model to a later one.</summary>
    /// <param name="before">The earlier one.</param>
    /// <param name="after">The later one.</param>
    /// <param name="changes">What tells them apart; worked out when null.</param>
    public static IReadOnlyList<ReviewChange> Of(PlantModel before, PlantModel after, NetChanges? changes = null)
    {
        var list = new ReviewList(before, after, changes ?? NetChanges.Between(before, after));
        list.Templates();
        list.Places();
        list.Bindings();
        list.Tags();
        list.Others();
        return list.InOrder();
    }

    /// <summary>What the released model says otherwise of a property of a template or instance.</summary>
    /// <param name="before">The released model.</param>
    /// <param name="after">The working model.</param>
    /// <param name="layer">The template or instance.</param>
    /// <param name="propertyId">The property.</param>
    /// <returns>Each thing that differs; empty when nothing does. Null when the released model has no such property there.</returns>
    public static IReadOnlyList<FieldChange>? FactsOf(PlantModel before, PlantModel after, long layer, long propertyId)
    {
        if (ResolvedOf(after, layer, propertyId) is not { } now)
            return [];
        if (ResolvedOf(before, layer, propertyId) is not { } was)
            return null;
        return Equals(was.Facts, now.Facts) ? [] : [.. new ReviewList(before, after, NetChanges.None).Facts(was.Facts, now.Facts)];
    }

    private IReadOnlyList<ReviewChange> InOrder()
    {
        var position = new Dictionary<string, int>();
        foreach (var row in _found.Where(r => r.Of == EntityKinds.Equipment))
            position[row.Group] = Math.Min(position.GetValueOrDefault(row.Group, int.MaxValue), PositionOf(row.Id));
        return
        [
            .. _found
                .OrderBy(r =>
                    r.Of == EntityKinds.Template ? 0
                    : r.Of == EntityKinds.Equipment ? 1
                    : r.Of == EntityKinds.Controller ? 2
                    : 3
                )
                .ThenBy(r => r.Of == EntityKinds.Equipment ? position[r.Group] : 0)
                .ThenBy(r => r.Group, StringComparer.OrdinalIgnoreCase)
                .ThenBy(r => r.Of == EntityKinds.Equipment ? PositionOf(r.Id) : 0),
        ];
    }

    private int PositionOf(long equipmentId) =>
        _after.Equipment.ContainsKey(equipmentId) ? _after.Index.RangeOf(equipmentId)!.Value.From : int.MaxValue;

    private void Add(ReviewChange row, IEnumerable<NetChange> of)
    {
        var newest = of.MaxBy(c => c.At);
        _found.Add(
            row with
            {
                Who = newest?.Who ?? "",
                At = newest?.At ?? default,
                FieldCount = row.FieldCount == 0 ? row.Fields.Length : row.FieldCount,
                Fields = row.Fields.Length > MostFields ? row.Fields[..MostFields] : row.Fields,
            }
        );
    }

    private IEnumerable<NetChange> Of(EntityKind kind) =>
        _changes.All.Where(c => EntityKinds.Of((c.Change.After ?? c.Change.Before)!) == kind);

    private void Templates()
    {
        foreach (var net in Of(EntityKinds.Template))
        {
            var (was, now) = ((Template?)net.Change.Before, (Template?)net.Change.After);
            if (was is null || now is null)
            {
                var one = (now ?? was)!;
                var instances = (now is null ? _before : _after).Index.InstanceCountOf(one.Id);
                Add(
                    new(
                        KeyOf(one.Id),
                        now is null ? ReviewKind.Removed : ReviewKind.Added,
                        EntityKinds.Template,
                        one.Id,
                        one.Name,
                        one.Name
                    )
                    {
                        Reach =
                            $"{Count(one.Properties.Length, "property of its own", "properties of its own")}, "
                            + $"{Count(instances, "instance")}.",
                        Changes = [net.Change],
                    },
                    [net]
                );
                continue;
            }
            foreach (
                var id in was
                    .Properties.Concat(now.Properties)
                    .Select(p => p.Id)
                    .Concat(was.Patches.Keys)
                    .Concat(now.Patches.Keys)
                    .Distinct()
            )
                Property(net, was, now, id);
            Rest(net, was, now, was with { Properties = now.Properties, Patches = now.Patches });
        }
    }

    /// <summary>What else is said of a template or an instance than of its properties.</summary>
    private void Rest<T>(NetChange net, T was, T now, T asWas)
        where T : class
    {
        if (asWas.Equals(now))
            return;
        var (kind, id) = (EntityKinds.Of(now), (long)EntityKinds.Of(now).KeyOf(now));
        var fields = ChangeText
            .Of(new ModelChange(asWas, now), _after)
            .Select(f => new FieldChange(f.What[(f.What.IndexOf(": ", StringComparison.Ordinal) + 2)..], f.Before, f.After));
        Add(
            new($"{KeyOf(kind, id)}.{Itself}", ReviewKind.Changed, kind, id, GroupOf(kind, id), EntityKinds.NameOf(now, _after))
            {
                Fields = [.. fields],
                Changes = [new(asWas, now)],
            },
            [net]
        );
    }

    private void Property(NetChange net, Template was, Template now, long id)
    {
        var (declaredBefore, declaredAfter) = (
            was.Properties.FirstOrDefault(p => p.Id == id),
            now.Properties.FirstOrDefault(p => p.Id == id)
        );
        var (before, after) = (ResolvedOf(_before, was.Id, id), ResolvedOf(_after, now.Id, id));
        var same = Equals(declaredBefore, declaredAfter);
        if (same && Equals(was.Patches.GetValueOrDefault(id), now.Patches.GetValueOrDefault(id)) && !Moved(was, now, id))
            return;
        var properties =
            declaredBefore is null && declaredAfter is null ? now.Properties
            : declaredAfter is null
                ? now.Properties.Insert(Math.Min(was.Properties.IndexOf(declaredBefore!), now.Properties.Length), declaredBefore!)
            : declaredBefore is null ? now.Properties.RemoveAll(p => p.Id == id)
            : Placed(now.Properties.Replace(declaredAfter, declaredBefore), declaredBefore, was, now);
        var back = now with { Properties = properties, Patches = Laid(now.Patches, was.Patches, id) };
        var kind =
            declaredBefore is null && declaredAfter is not null ? ReviewKind.Added
            : declaredBefore is not null && declaredAfter is null ? ReviewKind.Removed
            : ReviewKind.Changed;
        Add(
            new($"{KeyOf(now.Id)}.{id}", kind, EntityKinds.Template, now.Id, now.Name, (after ?? before)?.Name ?? $"property {id}")
            {
                PropertyId = id,
                Fields =
                [
                    .. Declared(declaredBefore, declaredAfter),
                    .. Facts(before?.Facts ?? PropertyPatch.Empty, after?.Facts ?? PropertyPatch.Empty),
                ],
                Reach = kind == ReviewKind.Removed ? "" : ReachOf(now.Id, id, before, after),
                Ruler = RulerOf(before?.Facts, after?.Facts),
                Changes = [new(back, now)],
            },
            [net]
        );
    }

    /// <summary>True when a property stands at another place among those there were before.</summary>
    private static bool Moved(Template was, Template now, long id)
    {
        var (one, other) = (was.Properties.Select(p => p.Id), now.Properties.Select(p => p.Id));
        var (before, after) = (one.Intersect(other).ToList(), other.Intersect(one).ToList());
        return before.IndexOf(id) != after.IndexOf(id);
    }

    private static ImmutableArray<PropertyDeclaration> Placed(
        ImmutableArray<PropertyDeclaration> all,
        PropertyDeclaration property,
        Template was,
        Template now
    ) =>
        Moved(was, now, property.Id)
            ? all.Remove(property).Insert(Math.Min(was.Properties.IndexOf(property), all.Length - 1), property)
            : all;

    private static ImmutableDictionary<long, PropertyPatch> Laid(
        ImmutableDictionary<long, PropertyPatch> now,
        ImmutableDictionary<long, PropertyPatch> was,
        long id
    ) => was.TryGetValue(id, out var patch) ? now.SetItem(id, patch) : now.Remove(id);

    private static IEnumerable<FieldChange> Declared(PropertyDeclaration? before, PropertyDeclaration? after)
    {
        (string Name, string? Before, string? After)[] all =
        [
            ("name", before?.Name, after?.Name),
            ("code", before?.Code, after?.Code),
            (
                "is",
                before is null ? null : $"{before.Kind} {before.Type}".ToLowerInvariant(),
                after is null ? null : $"{after.Kind} {after.Type}".ToLowerInvariant()
            ),
            ("required", before is null ? null : Yes(before.IsRequired), after is null ? null : Yes(after.IsRequired)),
        ];
        return before is null && after is null
            ? []
            : all.Where(f => f.Before != f.After && (before is not null && after is not null || f.Name == "is"))
                .Select(f => new FieldChange(f.Name, f.Before ?? "", f.After ?? ""));
    }

    private static string Yes(bool it) => it ? "yes" : "no";

    private IEnumerable<FieldChange> Facts(PropertyPatch before, PropertyPatch after)
    {
        var (was, now) = (ChangeText.Of(before, _before), ChangeText.Of(after, _after));
        foreach (var what in was.Select(f => f.What).Union(now.Select(f => f.What)))
        {
            var (one, other) = (was.FirstOrDefault(f => f.What == what).Text ?? "", now.FirstOrDefault(f => f.What == what).Text ?? "");
            if (one != other)
                yield return new(what, one, other);
        }
        var (limitsWas, limitsNow) = (
            ChangeText.LimitsOf(before).ToDictionary(l => l.Code),
            ChangeText.LimitsOf(after).ToDictionary(l => l.Code)
        );
        foreach (var code in limitsWas.Keys.Union(limitsNow.Keys))
        {
            var (one, other) = (PiecesOf(limitsWas, code), PiecesOf(limitsNow, code));
            if (one.SequenceEqual(other))
                continue;
            // Only the pieces that differ: nobody reads a message twice to find the number beside it.
            yield return new(code, string.Join(", ", one.Except(other)), string.Join(", ", other.Except(one)));
        }
    }

    private static IReadOnlyList<string> PiecesOf(Dictionary<string, (string Code, LimitPatch Limit)> limits, string code) =>
        limits.TryGetValue(code, out var its) ? ChangeText.Pieces(its.Limit) : [];

    private static ReviewRuler? RulerOf(PropertyPatch? before, PropertyPatch? after)
    {
        if (after?.Range is not { } range || before is null)
            return null;
        var moved = ChangeText
            .LimitsOf(before)
            .Concat(ChangeText.LimitsOf(after))
            .Select(l => l.Code)
            .Distinct()
            .Select(code => (Before: SetpointOf(before, code), After: SetpointOf(after, code)))
            .Where(s => s.Before != s.After)
            .ToArray();
        return moved is [var one] ? new(range, one.Before, one.After, after.Unit) : null;
    }

    private static double? SetpointOf(PropertyPatch facts, string code) =>
        ChangeText.LimitsOf(facts).FirstOrDefault(l => l.Code == code).Limit is { Off: not true } limit ? limit.Setpoint : null;

    private static ResolvedProperty? ResolvedOf(PlantModel model, long layer, long propertyId) =>
        model.Templates.ContainsKey(layer) ? model.Index.PropertiesOf(layer).FirstOrDefault(p => p.Id == propertyId)
        : model.Equipment.TryGetValue(layer, out var instance) && instance.TemplateId is not null
            ? model.Index.PropertiesOf(instance).FirstOrDefault(p => p.Id == propertyId)
        : null;

    /// <summary>Who follows a template and who keeps what it had.</summary>
    private string ReachOf(long templateId, long propertyId, ResolvedProperty? before, ResolvedProperty? after)
    {
        var (follow, keep, names) = (0, 0, new List<string>());
        var field = Facts(before?.Facts ?? PropertyPatch.Empty, after?.Facts ?? PropertyPatch.Empty).FirstOrDefault()?.Name;
        foreach (var template in _after.Index.FamilyOf(templateId))
        {
            var isSame = Equals(ResolvedOf(_before, template.Id, propertyId)?.Facts, ResolvedOf(_after, template.Id, propertyId)?.Facts);
            foreach (var instance in _after.Index.InstancesOf(template.Id))
            {
                var keeps =
                    instance.Patches.ContainsKey(propertyId)
                    || _before.Equipment.GetValueOrDefault(instance.Id)?.Patches.ContainsKey(propertyId) == true
                        ? Equals(ResolvedOf(_before, instance.Id, propertyId)?.Facts, ResolvedOf(_after, instance.Id, propertyId)?.Facts)
                        : isSame;
                if (!keeps)
                    follow++;
                else if (++keep <= 2)
                    names.Add($"{instance.Name} keeps {KeptBy(instance.Id, propertyId, field)}");
            }
        }
        var kept =
            keep == 0 ? ""
            : keep <= 2 ? $", {string.Join(", ", names)}"
            : $", {keep} keep their own";
        return follow + keep == 0 ? "No instance yet."
            : keep == 0
                ? follow == 1 ? "Its one instance follows."
                    : $"All {follow} follow."
            : $"{Count(follow, "instance")} {(follow == 1 ? "follows" : "follow")}{kept}.";
    }

    private string KeptBy(long instance, long propertyId, string? field)
    {
        var facts = ResolvedOf(_after, instance, propertyId)?.Facts ?? PropertyPatch.Empty;
        var text = ChangeText.Of(facts, _after).FirstOrDefault(f => f.What == field).Text
            ?? (
                ChangeText.LimitsOf(facts).FirstOrDefault(l => l.Code == field).Limit is { } limit
                    ? string.Join(", ", ChangeText.Pieces(limit).Take(1))
                    : null
            );
        return text ?? "its own";
    }

    private void Places()
    {
        var all = Of(EntityKinds.Equipment).ToArray();
        var added = all.Where(c => c.Change.Before is null).Select(c => ((Equipment)c.Change.After!).Id).ToHashSet();
        var removed = all.Where(c => c.Change.After is null).Select(c => ((Equipment)c.Change.Before!).Id).ToHashSet();
        var reordered = new List<NetChange>();
        foreach (var net in all)
            switch (net.Change)
            {
                case (null, Equipment now):
                    if (now.ParentId is not { } above || !added.Contains(above))
                        Whole(net, now, _after, ReviewKind.Added);
                    break;
                case (Equipment was, null):
                    if (was.ParentId is not { } over || !removed.Contains(over))
                        Whole(net, was, _before, ReviewKind.Removed);
                    break;
                case (Equipment was, Equipment now):
                    if (was.ParentId != now.ParentId)
                        Move(net, was, now);
                    else if (was.Order != now.Order)
                        reordered.Add(net);
                    foreach (var id in was.Patches.Keys.Union(now.Patches.Keys))
                        OwnFacts(net, was, now, id);
                    Rest(net, was, now, was with { Patches = now.Patches, ParentId = now.ParentId, Order = now.Order });
                    break;
            }
        foreach (var family in reordered.GroupBy(c => ((Equipment)c.Change.After!).ParentId))
        {
            var first = (Equipment)family.First().Change.After!;
            Add(
                new(
                    $"{KeyOf(EntityKinds.Equipment, family.Key ?? 0)}.order",
                    ReviewKind.Moved,
                    EntityKinds.Equipment,
                    first.Id,
                    GroupOf(first),
                    "Order among their siblings"
                )
                {
                    Reach = $"{Count(family.Count(), "piece")} of equipment stand at another position.",
                    Changes = [.. family.Select(c => Only(c, (was, now) => now with { Order = was.Order }))],
                },
                family
            );
        }
    }

    private static ModelChange Only(NetChange net, Func<Equipment, Equipment, Equipment> back) =>
        new(back((Equipment)net.Change.Before!, (Equipment)net.Change.After!), net.Change.After);

    private void Move(NetChange net, Equipment was, Equipment now) =>
        Add(
            new($"{KeyOf(EntityKinds.Equipment, now.Id)}.place", ReviewKind.Moved, EntityKinds.Equipment, now.Id, GroupOf(now), now.Name)
            {
                Fields = [new("below", NameOf(_before, was.ParentId), NameOf(_after, now.ParentId))],
                Reach = "Keeps its bindings and what is set there.",
                Changes = [Only(net, (b, a) => a with { ParentId = b.ParentId, Order = b.Order })],
            },
            [net]
        );

    /// <summary>A node that is new or gone, with all below it and what feeds it.</summary>
    private void Whole(NetChange net, Equipment node, PlantModel model, ReviewKind kind)
    {
        var nodes = model.Index.Below(node.Id).Select(e => (object)e).ToArray();
        var its = nodes
            .Select(_changes.Of)
            .OfType<NetChange>()
            .Where(c => (kind == ReviewKind.Added ? c.Change.Before : c.Change.After) is null)
            .ToArray();
        var bindings = nodes.Cast<Equipment>().SelectMany(e => model.Index.BoundOf(e)).Select(_changes.Of).OfType<NetChange>().ToArray();
        Add(
            new(KeyOf(EntityKinds.Equipment, node.Id), kind, EntityKinds.Equipment, node.Id, GroupOf(node), node.Name)
            {
                Reach =
                    (node.TemplateId is { } t ? model.Templates.GetValueOrDefault(t)?.Name ?? "No template" : LevelRules.NameOf(node.Level))
                    + $"{(its.Length > 1 ? $" with {Count(its.Length - 1, "piece")} of equipment below" : "")}, "
                    + $"{Count(bindings.Length, "property bound", "properties bound")}.",
                // Bindings go first and come last.
                Changes =
                    kind == ReviewKind.Added
                        ? [.. its.Select(c => c.Change), .. bindings.Select(c => c.Change)]
                        : [.. bindings.Select(c => c.Change), .. its.Select(c => c.Change)],
            },
            [net, .. its, .. bindings]
        );
    }

    private void OwnFacts(NetChange net, Equipment was, Equipment now, long id)
    {
        if (Equals(was.Patches.GetValueOrDefault(id), now.Patches.GetValueOrDefault(id)))
            return;
        var (before, after) = (ResolvedOf(_before, was.Id, id), ResolvedOf(_after, now.Id, id));
        var name = (after ?? before)?.Name ?? $"property {id}";
        Add(
            new(
                $"{KeyOf(EntityKinds.Equipment, now.Id)}.{id}",
                ReviewKind.Changed,
                EntityKinds.Equipment,
                now.Id,
                GroupOf(now),
                $"{now.Name} · {name}"
            )
            {
                PropertyId = id,
                Fields = [.. Facts(before?.Facts ?? PropertyPatch.Empty, after?.Facts ?? PropertyPatch.Empty)],
                Reach = now.Patches.ContainsKey(id)
                    ? was.Patches.ContainsKey(id)
                        ? "Set here."
                        : "Set here from now on."
                    : "As the template says.",
                Ruler = RulerOf(before?.Facts, after?.Facts),
                Changes = [Only(net, (b, a) => a with { Patches = Laid(a.Patches, b.Patches, id) })],
            },
            [net]
        );
    }

    private void Bindings()
    {
        var told = _found
            .Where(r => r.Of == EntityKinds.Equipment && r.Kind is ReviewKind.Added or ReviewKind.Removed)
            .SelectMany(r => r.Changes)
            .ToHashSet(ReferenceEqualityComparer.Instance);
        var groups = Of(EntityKinds.Binding)
            .Where(c => !told.Contains(c.Change))
            .Select(c => (Net: c, Binding: (PropertyBinding)(c.Change.After ?? c.Change.Before)!, Verb: VerbOf(c.Change)))
            .GroupBy(c => (c.Binding.EquipmentId, c.Verb));
        foreach (var group in groups)
        {
            var node = _after.Equipment.GetValueOrDefault(group.Key.EquipmentId) ?? _before.Equipment[group.Key.EquipmentId];
            var all = group.OrderBy(c => c.Binding.PropertyId).ToArray();
            var name = all is [var one]
                ? $"{node.Name} · {PropertyName(node, one.Binding.PropertyId)}"
                : $"{node.Name} · {all.Length} properties";
            Add(
                new(
                    $"{KeyOf(EntityKinds.Equipment, node.Id)}.{group.Key.Verb}",
                    ReviewKind.Rebound,
                    EntityKinds.Equipment,
                    node.Id,
                    GroupOf(node),
                    $"{name} {group.Key.Verb}"
                )
                {
                    PropertyId = all is [var single] ? single.Binding.PropertyId : null,
                    Fields =
                    [
                        .. all.Take(MostFields)
                            .Select(c => new FieldChange(
                                PropertyName(node, c.Binding.PropertyId),
                                TagText(_before, (PropertyBinding?)c.Net.Change.Before),
                                TagText(_after, (PropertyBinding?)c.Net.Change.After)
                            )),
                    ],
                    FieldCount = all.Length,
                    Changes = [.. all.Select(c => c.Net.Change)],
                },
                all.Select(c => c.Net)
            );
        }
    }

    private static string VerbOf(ModelChange change) =>
        change switch
        {
            (null, _) => "bound",
            (_, null) => "unbound",
            (PropertyBinding was, PropertyBinding now) when was.TagId == now.TagId && was.Slice == now.Slice => now.Simulation is null
                ? "no longer simulated"
                : "simulated",
            _ => "rebound",
        };

    private static string TagText(PlantModel model, PropertyBinding? binding) =>
        binding is null ? ""
        : model.Tags.GetValueOrDefault(binding.TagId) is { } tag
            ? $"{tag.Name}{binding.Slice}{(binding.Simulation is null ? "" : ", simulated")}"
        : $"tag {binding.TagId}";

    private void Tags()
    {
        var groups = Of(EntityKinds.Tag)
            .Concat(Of(EntityKinds.Device))
            .Select(c => (Net: c, Kind: KindOf(c.Change), Controller: ControllerOf((c.Change.After ?? c.Change.Before)!)))
            .GroupBy(c => (c.Controller, c.Kind));
        foreach (var group in groups)
        {
            var all = group
                .OrderBy(c => EntityKinds.NameOf((c.Net.Change.After ?? c.Net.Change.Before)!, _after), StringComparer.Ordinal)
                .ToArray();
            var controller = _after.Controllers.GetValueOrDefault(group.Key.Controller)
                ?? _before.Controllers.GetValueOrDefault(group.Key.Controller);
            var entities = all.Select(c => (c.Net.Change.After ?? c.Net.Change.Before)!).ToArray();
            var subject = entities is [var one]
                ? $"{EntityKinds.Of(one).Word} {EntityKinds.NameOf(one, _after)}"
                : Count(entities.Length, "tag");
            Add(
                new(
                    $"{KeyOf(EntityKinds.Controller, group.Key.Controller)}.tags.{group.Key.Kind}",
                    group.Key.Kind,
                    EntityKinds.Controller,
                    group.Key.Controller,
                    controller?.Name ?? "a controller that is gone",
                    subject
                )
                {
                    Fields =
                        group.Key.Kind == ReviewKind.Changed
                            ?
                            [
                                .. all.SelectMany(c => ChangeText.Of(c.Net.Change, _after))
                                    .Take(MostFields)
                                    .Select(f => new FieldChange(f.What, f.Before, f.After)),
                            ]
                            : [],
                    FieldCount = entities.Length,
                    Reach =
                        entities.Length == 1
                            ? ""
                            : string.Join(", ", entities.Take(4).Select(e => EntityKinds.NameOf(e, _after)))
                                + (entities.Length > 4 ? " …" : ""),
                    // A device stands before its tags.
                    Changes = [.. all.Select(c => c.Net.Change).OrderBy(c => (c.After ?? c.Before) is Device ? 0 : 1)],
                },
                all.Select(c => c.Net)
            );
        }
    }

    private static long ControllerOf(object entity) => entity is Tag tag ? tag.ControllerId : ((Device)entity).ControllerId;

    private static ReviewKind KindOf(ModelChange change) =>
        change.Before is null ? ReviewKind.Added
        : change.After is null ? ReviewKind.Removed
        : ReviewKind.Changed;

    private void Others()
    {
        EntityKind[] told = [EntityKinds.Template, EntityKinds.Equipment, EntityKinds.Binding, EntityKinds.Tag, EntityKinds.Device];
        foreach (var net in _changes.All)
        {
            var entity = (net.Change.After ?? net.Change.Before)!;
            var kind = EntityKinds.Of(entity);
            if (told.Contains(kind))
                continue;
            var name = EntityKinds.NameOf(entity, _after);
            var isController = kind == EntityKinds.Controller;
            Add(
                new(
                    KeyOf(kind, (long)kind.KeyOf(entity)),
                    KindOf(net.Change),
                    kind,
                    (long)kind.KeyOf(entity),
                    isController ? name : $"{char.ToUpperInvariant(kind.Word[0])}{kind.Word[1..]}",
                    name
                )
                {
                    Fields =
                    [
                        .. ChangeText
                            .Of(net.Change, _after)
                            .Select(f => new FieldChange(
                                f.What[(f.What.IndexOf(": ", StringComparison.Ordinal) + 2)..],
                                f.Before,
                                f.After
                            )),
                    ],
                    Reach =
                        isController && net.Change is { Before: not null, After: not null }
                            ? "How it is reached changes with the release."
                            : "",
                    Changes = [net.Change],
                },
                [net]
            );
        }
    }

    private string PropertyName(Equipment node, long id) =>
        (ResolvedOf(_after, node.Id, id) ?? ResolvedOf(_before, node.Id, id))?.Name ?? $"property {id}";

    private string GroupOf(EntityKind kind, long id) =>
        kind == EntityKinds.Template ? _after.Templates[id].Name : GroupOf(_after.Equipment[id]);

    private string GroupOf(Equipment node)
    {
        var model = _after.Equipment.ContainsKey(node.Id) ? _after : _before;
        var names = model.Index.LineageOf(node.Id).SkipLast(1).Select(e => e.Name).ToArray();
        return names.Length == 0 ? "The plant" : string.Join(" / ", names);
    }

    private static string NameOf(PlantModel model, long? id) =>
        id is { } it ? model.Equipment.GetValueOrDefault(it)?.Name ?? "what is gone" : "the top";

    private static string KeyOf(long templateId) => KeyOf(EntityKinds.Template, templateId);

    private static string KeyOf(EntityKind kind, long id) => string.Create(CultureInfo.InvariantCulture, $"{kind.Id}.{id}");

    private static string Count(int count, string one, string? many = null) => count == 1 ? $"1 {one}" : $"{count} {many ?? one + "s"}";
}
