using System.Collections.Immutable;
using Fralto.Core.Basics;
using Fralto.Core.Hierarchy;
using Fralto.Core.Plant;
using Fralto.Core.Properties;
using Fralto.Core.Scaling;
using Fralto.Core.Templates;

namespace Fralto.Bench.Naming;

/// <summary>Generates waterworks: two sites, areas of both, units with parts, numbers with gaps. Invented, and built otherwise than the
/// plants of <see cref="PlantMaker"/>.</summary>
internal static class Waterworks
{
    private static readonly WaterKind[] Kinds =
    [
        new(
            "Basin",
            "Basin",
            "BA",
            "Balsa",
            [
                new("Level", "Level", "LT", "NIV", "nivel", PropertyType.Number, RawType.Float32, "MTR", 0, 8),
                new(
                    "Temperature",
                    "Water temperature",
                    "TT",
                    "TMP",
                    "temperatura agua",
                    PropertyType.Number,
                    RawType.Float32,
                    "CEL",
                    0,
                    40
                ),
                new("Turbidity", "Turbidity", "QT", "TRB", "turbidez", PropertyType.Number, RawType.Float32, null, 0, 100),
                new("Overflow", "Overflow", "LSH", "OVF", "rebose", PropertyType.Boolean, RawType.Bool),
            ],
            [
                ("IV", "Inlet valve", "válvula entrada", "Valve"),
                ("OV", "Outlet valve", "válvula salida", "Valve"),
                ("M1", "Mixer", "agitador", "Motor"),
            ]
        ),
        new(
            "Filter",
            "Filter",
            "FI",
            "Filtro",
            [
                new(
                    "PressureDrop",
                    "Differential pressure",
                    "PDT",
                    "DP",
                    "presión diferencial",
                    PropertyType.Number,
                    RawType.Int16,
                    "MBR",
                    0,
                    600
                ),
                new("Inflow", "Inlet flow", "FT", "FLW", "caudal entrada", PropertyType.Number, RawType.Float32, "MQH", 0, 400),
                new("Step", "Wash step", "KS", "STP", "paso lavado", PropertyType.Integer, RawType.Int16, null, 0, 12),
                new("Ready", "Ready", "XR", "RDY", "listo", PropertyType.Boolean, RawType.Bool),
            ],
            [("IV", "Inlet valve", "válvula entrada", "Valve"), ("WV", "Wash valve", "válvula lavado", "Valve")]
        ),
        new(
            "PumpSet",
            "Pump set",
            "PU",
            "Grupo bomba",
            [
                new("Flow", "Flow", "FT", "FLW", "caudal", PropertyType.Number, RawType.Float32, "MQH", 0, 900),
                new("Suction", "Suction pressure", "PT1", "PSU", "presión aspiración", PropertyType.Number, RawType.Float32, "BAR", 0, 4),
                new(
                    "Discharge",
                    "Discharge pressure",
                    "PT2",
                    "PDI",
                    "presión impulsión",
                    PropertyType.Number,
                    RawType.Float32,
                    "BAR",
                    0,
                    12
                ),
            ],
            [("MO", "Motor", "motor", "Motor"), ("CV", "Check valve", "válvula retención", "Valve")]
        ),
        new(
            "Motor",
            "Motor",
            "MO",
            "Motor",
            [
                new("Running", "Running", "XS", "RUN", "en marcha", PropertyType.Boolean, RawType.Bool),
                new("Fault", "Fault", "XA", "FLT", "fallo", PropertyType.Boolean, RawType.Bool),
                new("Current", "Current", "IT", "CUR", "corriente", PropertyType.Number, RawType.Float32, "AMP", 0, 120),
                new("Hours", "Running hours", "KQ", "HRS", "horas", PropertyType.Integer, RawType.Int32, "HUR", 0, 200_000),
            ],
            []
        ),
        new(
            "Valve",
            "Valve",
            "VA",
            "Válvula",
            [
                new("Opened", "Opened", "ZSO", "OPN", "abierta", PropertyType.Boolean, RawType.Bool),
                new("Closed", "Closed", "ZSC", "CLS", "cerrada", PropertyType.Boolean, RawType.Bool),
                new("Position", "Position", "ZT", "POS", "posición", PropertyType.Number, RawType.Int16, "P1", 0, 100),
            ],
            []
        ),
    ];

    private static readonly (string Code, string Name)[] Areas = [("IN", "Intake"), ("FL", "Filtration"), ("DI", "Distribution")];
    private static readonly (string Kind, int Count)[] PerArea = [("Basin", 5), ("Filter", 7), ("PumpSet", 6)];

    /// <summary>Makes waterworks.</summary>
    /// <param name="style">How their tags are named.</param>
    /// <param name="seed">The same seed gives the same plant.</param>
    public static NamingPlant Make(WaterStyle style, int seed)
    {
        var (random, heap) = (new Random(seed), new TagHeap());
        var next = 1L;
        var templates = new Dictionary<string, Template>();
        foreach (var kind in Kinds.Reverse())
        {
            var id = next++;
            var properties = kind
                .Signals.Select(s => new PropertyDeclaration(next++, s.Code, s.Name, PropertyKind.Measured, s.Type))
                .ToImmutableArray();
            templates[kind.Code] = new(id, kind.Code, kind.Name, null, "")
            {
                Properties = properties,
                Patches = kind
                    .Signals.Select(
                        (s, i) =>
                            KeyValuePair.Create(
                                properties[i].Id,
                                s.Type == PropertyType.Boolean ? PropertyPatch.Empty : new() { Unit = s.Unit, Range = new(s.Low, s.High) }
                            )
                    )
                    .Where(p => !p.Value.IsEmpty)
                    .ToImmutableDictionary(),
                Parts =
                [
                    .. kind.Parts.Select(p => new TemplatePart(
                        next++,
                        p.Code,
                        p.Name,
                        templates[p.Kind].Id,
                        EquipmentLevel.EquipmentModule,
                        1
                    )),
                ],
            };
        }
        var equipment = new List<Equipment> { new(next++, "Water", "Water matrix", EquipmentLevel.Enterprise, null, null, 1) };
        var ordinals = new Dictionary<string, int>();
        for (var site = 1; site <= 2; site++)
        {
            var works = new Equipment(next++, $"W{site}", $"Works {site}", EquipmentLevel.Site, equipment[0].Id, null, site);
            equipment.Add(works);
            for (var area = 1; area <= Areas.Length; area++)
            {
                var place = new Equipment(next++, Areas[area - 1].Code, Areas[area - 1].Name, EquipmentLevel.Area, works.Id, null, area);
                equipment.Add(place);
                foreach (var (code, count) in PerArea)
                {
                    var (kind, index) = (Kinds.Single(k => k.Code == code), Array.FindIndex(Kinds, k => k.Code == code) + 1);
                    var number = 0;
                    for (var position = 1; position <= count; position++)
                    {
                        // Plants grow and shrink: numbers have gaps.
                        number += random.NextDouble() < 0.2 ? 2 : 1;
                        var ordinal = ordinals[code] = ordinals.GetValueOrDefault(code) + 1;
                        var (itsCode, itsName) = style.Called(kind, area, number);
                        var unit = new Equipment(
                            next++,
                            itsCode,
                            itsName,
                            EquipmentLevel.Unit,
                            place.Id,
                            templates[code].Id,
                            equipment.Count
                        );
                        equipment.Add(unit);
                        var at = new WaterTag(
                            site,
                            area,
                            place.Code,
                            place.Name,
                            kind,
                            index,
                            number,
                            position,
                            ordinal,
                            null,
                            0,
                            kind.Signals[0],
                            0
                        );
                        Tags(unit, kind, at);
                        for (var part = 0; part < kind.Parts.Length; part++)
                        {
                            var (partCode, partName, spanish, partKind) = kind.Parts[part];
                            var module = new Equipment(
                                next++,
                                partCode,
                                partName,
                                EquipmentLevel.EquipmentModule,
                                unit.Id,
                                templates[partKind].Id,
                                part,
                                templates[code].Parts[part].Id
                            );
                            equipment.Add(module);
                            Tags(
                                module,
                                Kinds.Single(k => k.Code == partKind),
                                at with
                                {
                                    Part = (partCode, partName, spanish),
                                    PartIndex = part + 1,
                                }
                            );
                        }
                    }
                }
            }
        }
        return heap.Plant(
            style.Name,
            new PlantModel
            {
                NextId = next,
                Templates = templates.Values.ToImmutableDictionary(t => t.Id),
                Equipment = equipment.ToImmutableDictionary(e => e.Id),
            },
            random,
            style.WithUnits
        );

        void Tags(Equipment instance, WaterKind kind, WaterTag at)
        {
            for (var i = 0; i < kind.Signals.Length; i++)
            {
                var place = at with { Signal = kind.Signals[i], SignalIndex = i };
                var (name, description) = style.Tag(place);
                var other = Misleading(kind.Signals[i], style.WithUnits, random);
                heap.Add(
                    new(
                        name,
                        description,
                        kind.Signals[i].Raw,
                        kind.Signals[i].Unit,
                        style.Controller(place),
                        (instance.Id, templates[kind.Code].Properties[i].Id)
                    ),
                    // The right name on something else, as its type or its unit shows.
                    new(
                        name,
                        description.Length == 0 ? "" : $"former {other.Name.ToLowerInvariant()}",
                        other.Raw,
                        other.Unit,
                        style.Controller(place),
                        null
                    ),
                    style.Tag(place with { Number = place.Number + 40, Position = place.Position + 40, Ordinal = place.Ordinal + 60 }),
                    random
                );
            }
        }
    }

    private static WaterSignal Misleading(WaterSignal signal, bool withUnits, Random random)
    {
        var others = Kinds
            .SelectMany(k => k.Signals)
            .Where(s =>
                s.Raw == RawType.Bool != (signal.Raw == RawType.Bool)
                || (withUnits && s.Unit is not null && signal.Unit is not null && s.Unit != signal.Unit)
            )
            .ToArray();
        return others[random.Next(others.Length)];
    }
}
