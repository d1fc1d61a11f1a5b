using System.Collections.Immutable;
using Fralto.Core.Controllers;
using Fralto.Core.Plant;
using Fralto.Core.Scaling;
using Fralto.Core.Templates;

namespace Fralto.Bench.Naming;

/// <summary>Generates plants: shuffled tags, some of them noise, some missing, some misleading.</summary>
internal static class PlantMaker
{
    private const double Noise = 0.15;
    private const double Missing = 0.05;
    private const double Misleading = 0.02;
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
        var (templates, equipment, truth) = (new List<Template>(), new List<Equipment>(), new Dictionary<(long, long), long>());
        var drafts = new List<Draft>();
        equipment.Add(new(next++, "Works", "Works", EquipmentLevel.Enterprise, null, null, 1));
        equipment.Add(new(next++, "Site", "Home site", EquipmentLevel.Site, 1, null, 1));
        var halls = Areas.Take(areas).Select((name, i) => new Equipment(next++, name, $"{name} hall", EquipmentLevel.Area, 2, null, i + 1)).ToArray();
        equipment.AddRange(halls);
        var cells = halls.Select((a, i) => new Equipment(next++, $"A{i + 1}", $"Line {i + 1}", EquipmentLevel.ProcessCell, a.Id, null, 1)).ToArray();
        equipment.AddRange(cells);
        for (var k = 0; k < kinds.Length; k++)
        {
            var kind = kinds[k];
            var template = next++;
            var properties = kind.Signals.Select(s => new PropertyDeclaration(next++, s.Code, s.Name, s.Command ? PropertyKind.Command : PropertyKind.Measured, s.Type)).ToImmutableArray();
            templates.Add(new(template, kind.Code, kind.Name, null, "")
            {
                Properties = properties,
                Patches = kind.Signals.Select((s, i) => KeyValuePair.Create(properties[i].Id, s.Type == PropertyType.Boolean ? PropertyPatch.Empty : new() { Unit = s.Unit, Range = new(0, s.High) })).Where(p => !p.Value.IsEmpty).ToImmutableDictionary(),
            });
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
                        var (cell, dice) = ((instance.Id, properties[s].Id), random.NextDouble());
                        if (dice < Missing) continue;
                        if (dice < Missing + Misleading)
                        {
                            Mislead(style, drafts, place, name, description, random);
                            continue;
                        }
                        drafts.Add(new(name, description, kind.Signals[s], style.Controller(place), cell));
                        if (random.NextDouble() < Noise) drafts.Add(NoiseBeside(style, place, name, description, random));
                    }
                }
        }
        var tags = new List<Tag>();
        var controllers = drafts.Select(d => d.Controller).Distinct().Order(StringComparer.Ordinal).ToDictionary(c => c, c => next++);
        var names = new HashSet<string>(StringComparer.OrdinalIgnoreCase);
        var shuffled = drafts.ToArray();
        random.Shuffle(shuffled);
        foreach (var (name, description, signal, controller, cell) in shuffled)
        {
            if (!names.Add($"{controller}/{name}")) continue;
            var tag = new Tag(next++, controllers[controller], name, new ModbusAddress(RegisterArea.HoldingRegister, random.Next(60_000)), signal.Raw, WordOrder.HighFirst, description, 1, style.WithUnits ? signal.Unit : null);
            tags.Add(tag);
            if (cell is { } its) truth[its] = tag.Id;
        }
        return new(style.Name, new PlantModel
        {
            NextId = next,
            Templates = templates.ToImmutableDictionary(t => t.Id),
            Equipment = equipment.ToImmutableDictionary(e => e.Id),
            Controllers = controllers.ToImmutableDictionary(c => c.Value, c => new Controller(c.Value, c.Key, new ModbusConnection("127.0.0.1", 502, 1), TimeSpan.FromSeconds(1))),
            Tags = tags.ToImmutableDictionary(t => t.Id),
        }, truth);
    }

    /// <summary>A tag that carries the right name and is something else: what it is shows in its unit, its type or its description.</summary>
    private static void Mislead(NamingStyle style, List<Draft> drafts, TagPlace place, string name, string description, Random random)
    {
        var others = Kinds.All.SelectMany(k => k.Signals).Where(s => s.Raw != place.Signal.Raw || (style.WithUnits && s.Unit != place.Signal.Unit && s.Unit is not null && place.Signal.Unit is not null)).ToArray();
        var other = others[random.Next(others.Length)];
        drafts.Add(new(name, description.Length == 0 ? "" : $"{other.Words} of the old line", other, style.Controller(place), null));
    }

    /// <summary>What stands beside useful tags: setpoints, limits, spares, and equipment the model does not have.</summary>
    private static Draft NoiseBeside(NamingStyle style, TagPlace place, string name, string description, Random random)
    {
        var beyond = place with { Number = place.Number + 500, Ordinal = place.Ordinal + 500 };
        var (far, farText) = style.Tag(beyond);
        string[] suffixes = ["_SP", "_HI_LIM", "_SPARE", "_OLD", "_QUAL", "_MAN"];
        string[] words = ["setpoint", "high limit", "spare", "old", "quality", "manual mode"];
        var pick = random.Next(suffixes.Length + 2);
        return pick >= suffixes.Length ? new(far, farText, place.Signal, style.Controller(place), null)
            : new(name + suffixes[pick], description.Length == 0 ? "" : $"{description} {words[pick]}", place.Signal, style.Controller(place), null);
    }

    /// <summary>A tag to be.</summary>
    private sealed record Draft(string Name, string Description, Signal Signal, string Controller, (long, long)? Cell);
}
