using System.Collections.Immutable;
using Fralto.Core.Controllers;
using Fralto.Core.Modbus;
using Fralto.Core.Plant;
using Fralto.Core.Scaling;

namespace Fralto.Bench.Naming;

/// <summary>Gathers the tags of a generated plant: some missing, some misleading, noise beside them, in no order.</summary>
internal sealed class TagHeap
{
    private const double Noise = 0.15;
    private const double Missing = 0.05;
    private const double Misleading = 0.02;
    private static readonly (string Suffix, string Words)[] Beside =
    [
        ("_SP", "setpoint"),
        ("_HI_LIM", "high limit"),
        ("_SPARE", "spare"),
        ("_OLD", "old"),
        ("_QUAL", "quality"),
        ("_MAN", "manual mode"),
    ];
    private readonly List<TagDraft> _drafts = [];

    /// <summary>Adds the tag of a cell, unless it is missing or something else bears its name; and now and then noise beside it.</summary>
    /// <param name="tag">The right tag.</param>
    /// <param name="misleading">What bears its name in its place.</param>
    /// <param name="beyond">Name and description of a tag of equipment that the model does not have.</param>
    /// <param name="random">Chance.</param>
    public void Add(TagDraft tag, TagDraft misleading, (string Name, string Description) beyond, Random random)
    {
        var dice = random.NextDouble();
        if (dice < Missing)
            return;
        _drafts.Add(dice < Missing + Misleading ? misleading : tag);
        if (dice < Missing + Misleading || random.NextDouble() >= Noise)
            return;
        var pick = random.Next(Beside.Length + 2);
        _drafts.Add(
            pick >= Beside.Length
                ? tag with
                {
                    Name = beyond.Name,
                    Description = beyond.Description,
                    Cell = null,
                }
                : tag with
                {
                    Name = tag.Name + Beside[pick].Suffix,
                    Description = tag.Description.Length == 0 ? "" : $"{tag.Description} {Beside[pick].Words}",
                    Cell = null,
                }
        );
    }

    /// <summary>Adds a tag as it is.</summary>
    public void Add(TagDraft tag) => _drafts.Add(tag);

    /// <summary>The plant with these tags, shuffled.</summary>
    public NamingPlant Plant(string style, PlantModel model, Random random, bool withUnits)
    {
        var (next, truth, names) = (
            model.NextId,
            new Dictionary<(long, long), long>(),
            new HashSet<string>(StringComparer.OrdinalIgnoreCase)
        );
        var controllers = _drafts.Select(d => d.Controller).Distinct().Order(StringComparer.Ordinal).ToDictionary(c => c, c => next++);
        var (tags, shuffled) = (new List<Tag>(), _drafts.ToArray());
        random.Shuffle(shuffled);
        foreach (var draft in shuffled)
        {
            if (!names.Add($"{draft.Controller}/{draft.Name}"))
                continue;
            var tag = new Tag(
                next++,
                controllers[draft.Controller],
                draft.Name,
                new ModbusAddress(RegisterArea.HoldingRegister, random.Next(60_000)),
                draft.Raw,
                WordOrder.HighFirst,
                draft.Description,
                1,
                withUnits ? draft.Unit : null
            );
            tags.Add(tag);
            if (draft.Cell is { } cell)
                truth[cell] = tag.Id;
        }
        return new(
            style,
            model with
            {
                NextId = next,
                Controllers = controllers.ToImmutableDictionary(
                    c => c.Value,
                    c => new Controller(c.Value, c.Key, new ModbusConnection("127.0.0.1", 502, 1), TimeSpan.FromSeconds(1))
                ),
                Tags = tags.ToImmutableDictionary(t => t.Id),
            },
            truth
        );
    }
}
