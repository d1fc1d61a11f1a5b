using System.Collections.Immutable;
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

/// <summary>A plant of one template with one scaled property and four limits, an instance and a tag for each point.</summary>
internal static class LargePlant
{
    private const long Enterprise = 1;
    private const long Controller = 2;
    private const long Template = 3;
    private const long Property = 4;
    private const long FirstInstance = 10;

    /// <summary>Id of the tag of a point.</summary>
    public static long TagOf(int point, int points) => FirstInstance + points + point;

    public static PlantModel Of(int points)
    {
        var facts = new PropertyPatch
        {
            Unit = "CEL",
            Range = new(0, 120),
            Scale = new LinearScale(new Span(0, 32767), new(0, 120)),
            Limits = ImmutableSortedDictionary<LimitCondition, LimitPatch>
                .Empty.Add(LimitCondition.HighHigh, new(110, 1.5, 1, null, 5, 10))
                .Add(LimitCondition.High, new(100, 1.5, 2, null, 5, 10))
                .Add(LimitCondition.Low, new(20, 1, 3, null, 5, 10))
                .Add(LimitCondition.LowLow, new(10, 1, 2, null, 5, 10)),
        };
        var ids = Enumerable.Range(0, points);
        return new PlantModel
        {
            NextId = FirstInstance + 2L * points,
            Controllers = ImmutableDictionary<long, Controller>.Empty.Add(
                Controller,
                new(Controller, "plc", new ModbusConnection("127.0.0.1", 502, 1), TimeSpan.FromSeconds(1))
            ),
            Templates = ImmutableDictionary<long, Template>.Empty.Add(
                Template,
                new(Template, "Loop", "Loop", null, "")
                {
                    Properties = [new(Property, "Temperature", "Temperature", PropertyKind.Measured, PropertyType.Number)],
                    Patches = ImmutableDictionary<long, PropertyPatch>.Empty.Add(Property, facts),
                }
            ),
            Equipment = ids.Select(i => new Equipment(
                    FirstInstance + i,
                    $"L{i}",
                    $"Loop {i}",
                    EquipmentLevel.Site,
                    Enterprise,
                    Template,
                    i
                ))
                .Append(new(Enterprise, "E", "Enterprise", EquipmentLevel.Enterprise, null, null, 0))
                .ToImmutableDictionary(e => e.Id),
            Tags = ids.Select(i => new Tag(
                    TagOf(i, points),
                    Controller,
                    $"T{i}",
                    new ModbusAddress(RegisterArea.HoldingRegister, i % 65536),
                    RawType.Int16,
                    WordOrder.HighFirst,
                    ""
                ))
                .ToImmutableDictionary(t => t.Id),
            Bindings = ids.Select(i => new PropertyBinding(FirstInstance + i, Property, TagOf(i, points)))
                .ToImmutableDictionary(b => (b.EquipmentId, b.PropertyId)),
        };
    }
}
