using System.Collections.Immutable;
using System.Globalization;
using Fralto.Core.Basics;
using Fralto.Core.Hierarchy;
using Fralto.Core.Plant;
using Fralto.Core.Properties;
using Fralto.Core.Scaling;
using Fralto.Core.Templates;

namespace Fralto.Bench.Naming;

/// <summary>Generates quarries: pits with areas of crushers, belts, screens, silos and filters, as rough as plants are that grew. Invented,
/// and drawn by other rules than the plants of <see cref="GrammarPlant"/>, to see whether what holds there holds elsewhere.</summary>
internal static class Quarry
{
    private static readonly QuarryKind[] Kinds =
    [
        new(
            "Crusher",
            "Crusher",
            "CR",
            "Concasseur",
            2,
            4,
            [
                N("Power", "Drive power", "JT", "Pwr", "puissance", "KWT", 400, isDrive: true),
                N("Current", "Motor current", "IT", "Amps", "courant moteur", "AMP", 600, isDrive: true),
                N("OilTemp", "Oil temperature", "TT", "OilT", "température huile", "CEL", 90),
                N("OilPress", "Oil pressure", "PT", "OilP", "pression huile", "BAR", 10),
                N("VibDrive", "Vibration drive side", "VT", "VibA", "vibration côté entraînement", "MTS", 1),
                N("VibFree", "Vibration free side", "VU", "VibB", "vibration côté libre", "MTS", 1),
                N("Gap", "Gap", "ZT", "Gap", "ouverture", "MMT", 200),
                N("GapSet", "Gap setpoint", "ZC", "GapSp", "consigne ouverture", "MMT", 200, isWritten: true),
                B("Running", "Running", "XS", "Run", "en marche", isDrive: true),
                B("Fault", "Fault", "XA", "Flt", "défaut", isDrive: true),
            ]
        ),
        new(
            "Belt",
            "Belt conveyor",
            "BC",
            "Convoyeur",
            4,
            11,
            [
                N("Speed", "Belt speed", "ST", "Spd", "vitesse bande", "MTS", 5),
                N("Load", "Load", "WT", "Load", "charge", "TNE", 900),
                I("Total", "Tonnage total", "WQ", "Tot", "cumul tonnage", "TNE", 2_000_000_000),
                N("Current", "Motor current", "IT", "Amps", "courant moteur", "AMP", 120, isDrive: true),
                B("Running", "Running", "XS", "Run", "en marche", isDrive: true),
                B("PullCord", "Pull cord", "HS", "Rope", "arrêt à câble"),
                B("Drift", "Belt drift", "ZA", "Drift", "déport bande"),
            ]
        ),
        new(
            "Screen",
            "Vibrating screen",
            "SC",
            "Crible",
            2,
            6,
            [
                N("Bearing1", "Bearing temperature 1", "TT1", "Brg1", "température palier 1", "CEL", 120),
                N("Bearing2", "Bearing temperature 2", "TT2", "Brg2", "température palier 2", "CEL", 120),
                N("Amplitude", "Amplitude", "ZT", "Ampl", "amplitude", "MMT", 20),
                B("Running", "Running", "XS", "Run", "en marche", isDrive: true),
                B("Fault", "Fault", "XA", "Flt", "défaut", isDrive: true),
            ]
        ),
        new(
            "Silo",
            "Silo",
            "SI",
            "Silo",
            3,
            9,
            [
                N("Level", "Level", "LT", "Lvl", "niveau", "MTR", 20),
                N("Weight", "Weight", "WT", "Wgt", "poids", "TNE", 2_000),
                B("Full", "Full", "LSH", "Full", "plein"),
                B("Empty", "Empty", "LSL", "Empty", "vide"),
                B("GateOpen", "Gate open", "ZSO", "GtOp", "trappe ouverte"),
                B("GateClosed", "Gate closed", "ZSC", "GtCl", "trappe fermée"),
                B("OpenGate", "Open gate", "HV", "GtCmd", "ouvrir trappe", isWritten: true),
            ]
        ),
        new(
            "Filter",
            "Dust filter",
            "DF",
            "Dépoussiéreur",
            1,
            4,
            [
                N("PressDrop", "Pressure drop", "PDT", "Dp", "perte de charge", "MBR", 50),
                N("FanSpeed", "Fan speed", "ST", "FanSpd", "vitesse ventilateur", "RPM", 1_500),
                N("FanSpeedSet", "Fan speed setpoint", "SC", "FanSp", "consigne vitesse ventilateur", "RPM", 1_500, isWritten: true),
                I("Step", "Cleaning step", "KS", "Step", "étape décolmatage", null, 12),
                B("Running", "Running", "XS", "Run", "en marche", isDrive: true),
            ]
        ),
    ];

    private static readonly (string Code, string Name)[] Areas =
    [
        ("PRI", "Primary crushing"),
        ("SEC", "Secondary crushing"),
        ("WSH", "Washing"),
        ("LOA", "Load-out"),
    ];

    private static readonly string[] Beside = ["{0}_SP", "{0}.HH", "{0}_RAW", "SIM_{0}", "{0}_FORCE", "{0}_2", "{0}_LL", "{0}.OLD"];

    /// <summary>Makes a quarry.</summary>
    /// <param name="style">How its tags are named.</param>
    /// <param name="seed">The same seed gives the same quarry.</param>
    public static NamingPlant Make(QuarryStyle style, int seed)
    {
        var (random, heap, next) = (new Random(seed), new TagHeap(), 1L);
        var templates = Kinds
            .Select(kind =>
            {
                var properties = kind
                    .Signals.Select(s => new PropertyDeclaration(
                        next++,
                        s.Code,
                        s.Name,
                        s.IsWritten ? PropertyKind.Command : PropertyKind.Measured,
                        s.Type
                    ))
                    .ToImmutableArray();
                return new Template(next++, kind.Code, kind.Name, null, "")
                {
                    Properties = properties,
                    Patches = properties
                        .Zip(kind.Signals)
                        .Where(p => p.Second.Type != PropertyType.Boolean)
                        .ToImmutableDictionary(
                            p => p.First.Id,
                            p => new PropertyPatch { Unit = p.Second.Unit, Range = new(0, p.Second.High) }
                        ),
                };
            })
            .ToArray();
        var equipment = new List<Equipment>();
        Equipment Node(string code, string name, EquipmentLevel level, Equipment? above, long? template = null)
        {
            var node = new Equipment(next++, code, name, level, above?.Id, template, equipment.Count + 1);
            equipment.Add(node);
            return node;
        }
        var company = Node("Quarry", "Quarries", EquipmentLevel.Enterprise, null);
        // A column here and there was never wired to the controller for a third of the machines.
        var gaps = templates.SelectMany(t => t.Properties).ToDictionary(p => p.Id, _ => random.Next(12) == 0 ? 0.35 : 0.04);
        var (cabinet, running) = (1, new int[Kinds.Length]);
        for (var pit = 1; pit <= style.Pits; pit++)
        {
            var site = Node(pit == 1 ? "East" : "West", pit == 1 ? "East pit" : "West pit", EquipmentLevel.Site, company);
            for (var area = 1; area <= style.Areas; area++)
            {
                var (code, said) = Areas[area - 1];
                var place = Node(code, said, EquipmentLevel.Area, site);
                for (var k = 0; k < Kinds.Length; k++)
                {
                    var kind = Kinds[k];
                    var count = random.Next(kind.Few, kind.Many + 1);
                    var number = 0;
                    for (var i = 0; i < count; i++)
                    {
                        number += random.Next(8) == 0 ? 2 : 1;
                        var called = style.Called(kind, area, number);
                        var unit = Node(called.Code, called.Name, EquipmentLevel.Unit, place, templates[k].Id);
                        var dice = random.Next(1_000, 10_000);
                        for (var s = 0; s < kind.Signals.Length; s++)
                        {
                            var its = templates[k].Properties[s].Id;
                            if (random.NextDouble() < gaps[its])
                                continue;
                            var tag = new QuarryTag(
                                kind,
                                k,
                                pit,
                                area,
                                code,
                                said,
                                called.Code,
                                called.Name,
                                number,
                                running[k],
                                cabinet,
                                kind.Signals[s],
                                s,
                                dice
                            );
                            Add(style, tag, (unit.Id, its), heap, random);
                        }
                        running[k]++;
                        cabinet++;
                    }
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

    private static void Add(QuarryStyle style, QuarryTag tag, (long, long) cell, TagHeap heap, Random random)
    {
        var (name, description) = style.Tag(tag);
        var draft = new TagDraft(name, description, tag.Signal.Raw, tag.Signal.Unit, style.Controller(tag), cell);
        heap.Add(draft);
        foreach (var copy in style.Copies(tag))
            heap.Add(draft with { Name = copy.Name, Controller = copy.Controller, Cell = null });
        if (random.Next(4) == 0 && style.HasBeside)
            heap.Add(
                draft with
                {
                    Name = string.Format(CultureInfo.InvariantCulture, Beside[random.Next(Beside.Length)], name),
                    Description = "",
                    Cell = null,
                }
            );
        if (random.Next(12) != 0 || !style.HasBeyond)
            return;
        // A machine that the model does not have: sold, or planned.
        var other = tag with
        {
            Number = tag.Number + 20,
            Running = tag.Running + 200,
            Cabinet = tag.Cabinet + 300,
            Dice = tag.Dice + 9_000,
        };
        var called = style.Called(tag.Kind, tag.Area, other.Number);
        var (beyond, said) = style.Tag(other with { Code = called.Code, Name = called.Name });
        heap.Add(draft with { Name = beyond, Description = said, Cell = null });
    }

    private static QuarrySignal N(
        string code,
        string name,
        string letters,
        string brief,
        string french,
        string unit,
        double high,
        bool isWritten = false,
        bool isDrive = false
    ) => new(code, name, letters, brief, french, PropertyType.Number, RawType.Float32, unit, high, isWritten, isDrive);

    private static QuarrySignal I(string code, string name, string letters, string brief, string french, string? unit, double high) =>
        new(code, name, letters, brief, french, PropertyType.Integer, RawType.Int32, unit, high);

    private static QuarrySignal B(
        string code,
        string name,
        string letters,
        string brief,
        string french,
        bool isWritten = false,
        bool isDrive = false
    ) => new(code, name, letters, brief, french, PropertyType.Boolean, RawType.Bool, null, 1, isWritten, isDrive);
}
