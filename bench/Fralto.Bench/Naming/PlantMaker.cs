using System.Collections.Immutable;
using Fralto.Core.Basics;
using Fralto.Core.Hierarchy;
using Fralto.Core.Plant;
using Fralto.Core.Properties;
using Fralto.Core.Templates;

namespace Fralto.Bench.Naming;

/// <summary>Generates plants: shuffled tags, some of them noise, some missing, some misleading.</summary>
internal static class PlantMaker
{
    private static readonly string[] Areas = ["North", "South", "West"];

    /// <summary>Makes a plant.</summary>
    /// <param name="style">How its tags are named.</param>
    /// <param name="seed">The same seed gives the same plant.</param>
    /// <param name="times">How many times the usual number of instances.</param>
    /// <param name="kinds">What it has; null for the usual kinds.</param>
    /// <param name="areas">How many areas, 1 to 3.</param>
    public static NamingPlant Make(NamingStyle style, int seed, int times = 1, Kind[]? kinds = null, int areas = 3)
    {
        kinds ??= Kinds.All;
        var random = new Random(seed);
        var next = 1L;
        var (templates, equipment) = (new List<Template>(), new List<Equipment>());
        var heap = new TagHeap();
        equipment.Add(new(next++, "Works", "Works", EquipmentLevel.Enterprise, null, null, 1));
        equipment.Add(new(next++, "Site", "Home site", EquipmentLevel.Site, 1, null, 1));
        var halls = Areas
            .Take(areas)
            .Select((name, i) => new Equipment(next++, name, $"{name} hall", EquipmentLevel.Area, 2, null, i + 1))
            .ToArray();
        equipment.AddRange(halls);
        var cells = halls
            .Select((a, i) => new Equipment(next++, $"A{i + 1}", $"Line {i + 1}", EquipmentLevel.ProcessCell, a.Id, null, 1))
            .ToArray();
        equipment.AddRange(cells);
        for (var k = 0; k < kinds.Length; k++)
        {
            var kind = kinds[k];
            var template = next++;
            var properties = kind
                .Signals.Select(s => new PropertyDeclaration(
                    next++,
                    s.Code,
                    s.Name,
                    s.Command ? PropertyKind.Command : PropertyKind.Measured,
                    s.Type
                ))
                .ToImmutableArray();
            templates.Add(
                new(template, kind.Code, kind.Name, null, "")
                {
                    Properties = properties,
                    Patches = kind
                        .Signals.Select(
                            (s, i) =>
                                KeyValuePair.Create(
                                    properties[i].Id,
                                    s.Type == PropertyType.Boolean ? PropertyPatch.Empty : new() { Unit = s.Unit, Range = new(0, s.High) }
                                )
                        )
                        .Where(p => !p.Value.IsEmpty)
                        .ToImmutableDictionary(),
                }
            );
            var ordinal = 0;
            for (var area = 1; area <= areas; area++)
            for (var n = 1; n <= kind.PerArea * times; n++)
            {
                ordinal++;
                var number = style.Numbering ? ordinal : n;
                var (code, called) = style.Called?.Invoke(kind, number) ?? ($"{kind.Letters}{number:00}", $"{kind.Name} {number}");
                var instance = new Equipment(next++, code, called, EquipmentLevel.Unit, cells[area - 1].Id, template, equipment.Count);
                equipment.Add(instance);
                for (var s = 0; s < kind.Signals.Length; s++)
                {
                    var place = new TagPlace(kind, k + 1, area, number, ordinal, kind.Signals[s], s);
                    var (name, description) = style.Tag(place);
                    var other = Misleading(style, place, random);
                    heap.Add(
                        new(
                            name,
                            description,
                            place.Signal.Raw,
                            place.Signal.Unit,
                            style.Controller(place),
                            (instance.Id, properties[s].Id)
                        ),
                        // The right name on something else: what it is shows in its unit, its type or its description.
                        new(
                            name,
                            description.Length == 0 ? "" : $"{other.Words} of the old line",
                            other.Raw,
                            other.Unit,
                            style.Controller(place),
                            null
                        ),
                        style.Tag(place with { Number = place.Number + 500, Ordinal = place.Ordinal + 500 }),
                        random
                    );
                }
            }
        }
        return heap.Plant(
            style.Name,
            new PlantModel
            {
                NextId = next,
                Templates = templates.ToImmutableDictionary(t => t.Id),
                Equipment = equipment.ToImmutableDictionary(e => e.Id),
            },
            random,
            style.WithUnits
        );
    }

    private static Signal Misleading(NamingStyle style, TagPlace place, Random random)
    {
        var others = Kinds
            .All.SelectMany(k => k.Signals)
            .Where(s =>
                s.Raw != place.Signal.Raw
                || (style.WithUnits && s.Unit != place.Signal.Unit && s.Unit is not null && place.Signal.Unit is not null)
            )
            .ToArray();
        return others[random.Next(others.Length)];
    }
}
