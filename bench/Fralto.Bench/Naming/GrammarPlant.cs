using System.Collections.Immutable;
using System.Globalization;
using Fralto.Core.Basics;
using Fralto.Core.Hierarchy;
using Fralto.Core.Plant;
using Fralto.Core.Properties;
using Fralto.Core.Scaling;
using Fralto.Core.Templates;

namespace Fralto.Bench.Naming;

/// <summary>A plant drawn by chance: how it is built, how units are counted, who named the tags, what is missing and what is
/// noise.</summary>
/// <param name="Plant">The plant, with nothing bound.</param>
/// <param name="Conventions">The convention of each cell that has a tag.</param>
/// <param name="Places">What each cell is to somebody who names its tag.</param>
/// <param name="Parts">What was drawn, part by part, in words; a plant is of the family of each.</param>
internal sealed record GrammarPlant(
    NamingPlant Plant,
    IReadOnlyDictionary<(long EquipmentId, long PropertyId), Convention> Conventions,
    IReadOnlyDictionary<(long EquipmentId, long PropertyId), GrammarPlace> Places,
    IReadOnlyList<string> Parts
)
{
    private static readonly string[] AreaNames = ["North", "South", "West", "Harbour", "Upper", "Mill"];
    private static readonly string[] Beside = ["SETP", "RAWIN", "HILIM", "LOLIM", "OLDVAL", "SPARE", "TEST", "MANUAL", "QUAL", "AVG"];
    private static readonly string[] Strange = ["Heater", "Lamp", "Door", "Crane", "Fence", "Sump", "Gate", "Press"];

    /// <summary>Draws a plant; the same seed gives the same.</summary>
    public static GrammarPlant Make(int seed)
    {
        var random = new Random(seed);
        var next = 1L;
        var (templates, equipment) = (new List<Template>(), new List<Equipment>());
        Equipment Node(string code, string name, EquipmentLevel level, long? parent, long? template = null)
        {
            var node = new Equipment(next++, code, name, level, parent, template, equipment.Count + 1);
            equipment.Add(node);
            return node;
        }
        var (sites, areas, hasLines) = (random.Next(6) == 0 ? 2 : 1, random.Next(1, 5), random.Next(5) < 2);
        var (areaStyle, numbering, controllers) = (random.Next(4), random.Next(6), random.Next(3));
        var (conventionCount, mixedBy) = (
            random.Next(10) is var c && c < 6 ? 1
            : c < 9 ? 2
            : 3,
            random.Next(3)
        );
        // Numbers that do not go on from area to area need the area, or a controller, to be told apart.
        var isUnique = numbering is 1 or 2 || areas == 1;
        var saysArea = !isUnique && (controllers != 1 || random.Next(2) == 0) || random.Next(4) == 0 && areas > 1;
        var mayCount = numbering != 4;
        var conventions = Enumerable
            .Range(0, conventionCount)
            .Select(_ => new Convention(random, mayCount) { SaysArea = saysArea })
            .ToArray();
        var (besides, missing, noise, hasUnits) = (
            new[] { 0, 0.1, 0.3, 0.6 }[random.Next(4)],
            new[] { 0, 0.03, 0.08 }[random.Next(3)],
            new[] { 0, 0.2, 0.6 }[random.Next(3)],
            random.Next(2) == 0
        );
        var company = Node("Works", "Works", EquipmentLevel.Enterprise, null);
        var kinds = Kinds.All.OrderBy(_ => random.Next()).Take(random.Next(2, Math.Min(6, Kinds.All.Length + 1))).ToArray();
        for (var k = 0; k < kinds.Length; k++)
            kinds[k] = kinds[k] with
            {
                Signals = [.. kinds[k].Signals.OrderBy(_ => random.Next()).Take(random.Next(3, 9))],
                PerArea = random.Next(2, 15),
            };
        var properties = kinds
            .Select(k =>
                k.Signals.Select(s => new PropertyDeclaration(
                        next++,
                        s.Code,
                        s.Name,
                        s.Command ? PropertyKind.Command : PropertyKind.Measured,
                        s.Type
                    ))
                    .ToImmutableArray()
            )
            .ToArray();
        for (var k = 0; k < kinds.Length; k++)
            templates.Add(
                new(next++, kinds[k].Code, kinds[k].Name, null, "")
                {
                    Properties = properties[k],
                    Patches = kinds[k]
                        .Signals.Select((s, i) => (Id: properties[k][i].Id, Signal: s))
                        .Where(s => s.Signal.Type != PropertyType.Boolean)
                        .ToImmutableDictionary(s => s.Id, s => new PropertyPatch { Unit = s.Signal.Unit, Range = new(0, s.Signal.High) }),
                }
            );
        // Some columns are there for part of the units only.
        var sparse = properties
            .SelectMany(p => p)
            .ToDictionary(p => p.Id, _ => random.Next(8) == 0 ? 0.2 + 0.2 * random.NextDouble() : missing);
        var (drafts, byCell, places) = (
            new List<TagDraft>(),
            new Dictionary<(long, long), Convention>(),
            new Dictionary<(long, long), GrammarPlace>()
        );
        for (var site = 0; site < sites; site++)
        {
            var home = Node(
                sites == 1 ? "Site" : $"S{site + 1}",
                sites == 1 ? "Home site" : $"Site {site + 1}",
                EquipmentLevel.Site,
                company.Id
            );
            var ordinals = new int[kinds.Length];
            for (var area = 0; area < areas; area++)
            {
                var (code, said) = areaStyle switch
                {
                    0 => (AreaNames[area], AreaNames[area]),
                    1 => ($"{(char)('A' + area)}", $"Area {(char)('A' + area)}"),
                    2 => ($"A{area + 1}", $"Area {area + 1}"),
                    _ => ($"H{(area + 1) * 10}", $"Hall {(area + 1) * 10}"),
                };
                var hall = Node(code, said, EquipmentLevel.Area, home.Id);
                var above = hasLines ? Node($"L{area + 1}", $"Line {area + 1}", EquipmentLevel.ProcessCell, hall.Id) : hall;
                var controller =
                    sites > 1 ? $"plc{site + 1}{(controllers == 1 ? code : "")}"
                    : controllers == 1 ? $"plc-{code}"
                    : "plc";
                for (var k = 0; k < kinds.Length; k++)
                {
                    var number = 0;
                    for (var n = 0; n < kinds[k].PerArea; n++)
                    {
                        number += numbering == 3 && random.Next(4) == 0 ? random.Next(2, 4) : 1;
                        var told = numbering switch
                        {
                            1 => ordinals[k] + 1,
                            2 => (area + 1) * 100 + number,
                            5 => number * 10,
                            _ => number,
                        };
                        var letter = $"{(char)('A' + n % 26)}";
                        var text = numbering == 4 ? letter : told.ToString(CultureInfo.InvariantCulture);
                        var unit = Node(
                            numbering == 4 ? $"{kinds[k].Letters}_{letter}" : $"{kinds[k].Letters}{told:00}",
                            $"{kinds[k].Name} {text}",
                            EquipmentLevel.Unit,
                            above.Id,
                            templates[k].Id
                        );
                        var convention = conventions[
                            mixedBy switch
                            {
                                0 => area % conventionCount,
                                1 => n * conventionCount / kinds[k].PerArea,
                                _ => random.Next(conventionCount),
                            }
                        ];
                        for (var s = 0; s < kinds[k].Signals.Length; s++)
                        {
                            var place = new GrammarPlace(
                                kinds[k],
                                k,
                                code,
                                said,
                                !isUnique,
                                numbering == 4 ? null : told,
                                text,
                                ordinals[k],
                                ordinals[k] * 37 % 211,
                                kinds[k].Signals[s],
                                s
                            );
                            places[(unit.Id, properties[k][s].Id)] = place;
                            if (random.NextDouble() < sparse[properties[k][s].Id])
                                continue;
                            var draft = new TagDraft(
                                convention.NameOf(place),
                                convention.DescriptionOf(place),
                                place.Signal.Raw,
                                place.Signal.Unit,
                                controller,
                                (unit.Id, properties[k][s].Id)
                            );
                            if (random.Next(100) == 0 && kinds[(k + 1) % kinds.Length].Signals[0] is var other && other.Raw != draft.Raw)
                            {
                                // The right name on something else: what it is shows in its type.
                                drafts.Add(draft with { Description = "", Raw = other.Raw, Unit = other.Unit, Cell = null });
                                continue;
                            }
                            drafts.Add(draft);
                            byCell[draft.Cell!.Value] = convention;
                            if (convention.Carrier == Carrier.Name && random.NextDouble() < besides)
                            {
                                var word = Beside[random.Next(Beside.Length)];
                                drafts.Add(
                                    draft with
                                    {
                                        Name = $"{draft.Name}_{word}",
                                        Description = draft.Description.Length == 0 ? "" : $"{draft.Description} {word.ToLowerInvariant()}",
                                        Cell = null,
                                    }
                                );
                            }
                        }
                        ordinals[k]++;
                    }
                }
            }
        }
        var strangers = (int)(drafts.Count * noise);
        for (var i = 0; i < strangers; i++)
            drafts.Add(
                new(
                    $"{Strange[random.Next(Strange.Length)]}{random.Next(1, 90)}_{Strange[random.Next(Strange.Length)]}{random.Next(1, 9)}",
                    "",
                    random.Next(3) == 0 ? RawType.Bool : RawType.Float32,
                    null,
                    drafts[random.Next(drafts.Count)].Controller,
                    null
                )
            );
        var heap = new TagHeap();
        foreach (var draft in drafts)
            heap.Add(draft);
        var plant = heap.Plant(
            $"seed {seed}",
            new PlantModel
            {
                NextId = next,
                Templates = templates.ToImmutableDictionary(t => t.Id),
                Equipment = equipment.ToImmutableDictionary(e => e.Id),
            },
            random,
            hasUnits
        );
        return new(
            plant,
            byCell.Where(p => plant.Truth.ContainsKey(p.Key)).ToDictionary(p => p.Key, p => p.Value),
            places,
            [
                $"{sites} sites",
                $"{areas} areas",
                $"numbering {numbering}",
                $"controllers {controllers}",
                conventionCount == 1 ? "1 convention" : $"{conventionCount} conventions by {mixedBy}",
                string.Join(" and ", conventions.Select(x => x.Carrier).Order()),
                $"area {(saysArea ? "said" : "not said")}",
                $"beside {besides}",
                $"missing {missing}",
                $"noise {noise}",
                $"units {(hasUnits ? "told" : "not told")}",
            ]
        );
    }

    /// <summary>The cells that their own name or description tells from all others, given these instances as examples: of the convention
    /// of their template's example and at its site (two sites are called alike), of a property that was shown or that is called by a word,
    /// and, where only a place in an array or a block tells, or a reckoned number, by one way of reckoning.</summary>
    /// <param name="shown">One bound instance of each template.</param>
    public IReadOnlySet<(long EquipmentId, long PropertyId)> ToldBy(IReadOnlyList<Equipment> shown)
    {
        var told = new HashSet<(long, long)>();
        var isNumbered = Places.Values.All(p => p.Number is not null);
        foreach (var example in shown)
        {
            if (ConventionOf(example.Id) is not { } convention)
                continue;
            var (template, site) = (example.TemplateId!.Value, Plant.Model.Index.LineageOf(example.Id)[1]);
            var its = Conventions
                .Where(c => c.Value == convention && Plant.Model.Equipment[c.Key.EquipmentId].TemplateId == template)
                .Select(c => c.Key)
                .Where(c => Plant.Model.Index.LineageOf(c.EquipmentId)[1] == site);
            told.UnionWith(
                convention.Counts || (convention.Reckons && isNumbered)
                    ? Reckoning.Of(this, example, convention).Told(its, convention.SaysProperty)
                : convention.Carrier == Carrier.Description && !convention.DescribesCell ? []
                : convention.SaysProperty ? its
                : its.Where(c => Plant.Truth.ContainsKey((example.Id, c.PropertyId)))
            );
        }
        return told;
    }

    /// <summary>By which convention an instance's tags are named; null where it has none.</summary>
    private Convention? ConventionOf(long equipment) =>
        Conventions.Where(c => c.Key.EquipmentId == equipment).Select(c => c.Value).FirstOrDefault();
}
