using System.Collections.Immutable;
using System.Globalization;
using Fralto.Core.Basics;
using Fralto.Core.Bindings;
using Fralto.Core.Controllers;
using Fralto.Core.Hierarchy;
using Fralto.Core.Limits;
using Fralto.Core.Modbus;
using Fralto.Core.Plant;
using Fralto.Core.Properties;
using Fralto.Core.Scaling;
using Fralto.Core.Templates;

namespace Fralto.Bench;

/// <summary>
/// A generated plant as large as they come: 100,000 pieces of equipment, 200 templates in families four deep, 20 properties each
/// (2,000,000 resolved properties), one in ten bound, one instance in twenty with a limit of its own.
/// </summary>
internal static class HugePlant
{
    public const int Instances = 100_000;
    private const int Templates = 200;
    private const int PropertiesEach = 5;
    private const int Depth = 4;
    private const int Controllers = 20;

    public static PlantModel Make()
    {
        long id = 1;
        var templates = new List<Template>();
        for (var i = 0; i < Templates; i++)
        {
            // Chains of four: each inherits from the one before, so that the last of a chain has 4 x 5 properties.
            var parent = i % Depth == 0 ? null : templates[i - 1];
            var template = new Template(id++, $"T{i}", $"Template {i}", parent?.Id, "generated");
            var properties = Enumerable
                .Range(0, PropertiesEach)
                .Select(p => new PropertyDeclaration(
                    id++,
                    $"P{(i % Depth * PropertiesEach) + p}",
                    $"Property {(i % Depth * PropertiesEach) + p}",
                    p == PropertiesEach - 1 ? PropertyKind.Fixed : PropertyKind.Measured,
                    p == PropertiesEach - 1 ? PropertyType.Text : PropertyType.Number
                ))
                .ToImmutableArray();
            templates.Add(
                template with
                {
                    Properties = properties,
                    Patches = properties
                        .Where(p => p.TakesTag)
                        .ToImmutableDictionary(
                            p => p.Id,
                            _ => new PropertyPatch
                            {
                                Unit = "CEL",
                                Range = new(0, 120),
                                Scale = new LinearScale(new Span(0, 32767), new(0, 120)),
                                Limits = ImmutableSortedDictionary<LimitCondition, LimitPatch>
                                    .Empty.Add(LimitCondition.High, new(100, 1, 2))
                                    .Add(LimitCondition.Low, new(10, 1, 3)),
                            }
                        ),
                }
            );
        }
        var leaves = templates.Where((_, i) => i % Depth == Depth - 1).ToArray();
        var firstProperties = leaves.ToDictionary(l => l.Id, l => FirstOf(templates, l));

        var equipment = new List<Equipment>();
        Equipment Place(string code, EquipmentLevel level, Equipment? above, int order)
        {
            var node = new Equipment(id++, code, code, level, above?.Id, null, order);
            equipment.Add(node);
            return node;
        }
        var enterprise = Place("E", EquipmentLevel.Enterprise, null, 1);
        var bindable = new List<Equipment>();
        for (var s = 0; equipment.Count < Instances; s++)
        {
            var site = Place($"Site{s}", EquipmentLevel.Site, enterprise, s + 1);
            for (var a = 0; a < 10 && equipment.Count < Instances; a++)
            {
                var area = Place($"Area{a}", EquipmentLevel.Area, site, a + 1);
                for (var c = 0; c < 20 && equipment.Count < Instances; c++)
                {
                    var cell = Place($"Cell{c}", EquipmentLevel.ProcessCell, area, c + 1);
                    for (var u = 0; u < 50 && equipment.Count < Instances; u++)
                    {
                        var leaf = leaves[(c + u) % leaves.Length];
                        var unit = new Equipment(id++, $"U{u}", $"Unit {u} of {s}.{a}.{c}", EquipmentLevel.Unit, cell.Id, leaf.Id, u + 1);
                        if (u % 20 == 0)
                            unit = unit with
                            {
                                Patches = ImmutableDictionary<long, PropertyPatch>.Empty.Add(
                                    firstProperties[leaf.Id][0],
                                    new()
                                    {
                                        Limits = ImmutableSortedDictionary<LimitCondition, LimitPatch>.Empty.Add(
                                            LimitCondition.High,
                                            new(90)
                                        ),
                                    }
                                ),
                            };
                        equipment.Add(unit);
                        bindable.Add(unit);
                    }
                }
            }
        }
        var controllers = Enumerable
            .Range(0, Controllers)
            .Select(i => new Controller(id++, $"plc-{i}", new ModbusConnection("127.0.0.1", 502, 1), TimeSpan.FromSeconds(1)))
            .ToArray();
        var (tags, bindings) = (new List<Tag>(), new List<PropertyBinding>());
        for (var i = 0; i < bindable.Count; i++)
        for (var p = 0; p < 2; p++)
        {
            var tag = new Tag(
                id++,
                controllers[i % Controllers].Id,
                string.Create(CultureInfo.InvariantCulture, $"TT{i:D6}_{p}"),
                new ModbusAddress(RegisterArea.HoldingRegister, i % 65536),
                RawType.Int16,
                WordOrder.HighFirst,
                ""
            );
            tags.Add(tag);
            bindings.Add(new(bindable[i].Id, firstProperties[bindable[i].TemplateId!.Value][p], tag.Id));
        }
        return new PlantModel
        {
            NextId = id,
            Templates = templates.ToImmutableDictionary(t => t.Id),
            Equipment = equipment.ToImmutableDictionary(e => e.Id),
            Controllers = controllers.ToImmutableDictionary(c => c.Id),
            Tags = tags.ToImmutableDictionary(t => t.Id),
            Bindings = bindings.ToImmutableDictionary(b => (b.EquipmentId, b.PropertyId)),
        };
    }

    private static long[] FirstOf(List<Template> templates, Template leaf)
    {
        var at = leaf;
        while (at.ParentId is { } parent)
            at = templates.First(t => t.Id == parent);
        return [.. at.Properties.Where(p => p.TakesTag).Select(p => p.Id)];
    }
}
