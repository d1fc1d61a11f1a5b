using Fralto.Core.Basics;
using Fralto.Core.Edits;
using Fralto.Core.Modbus;
using Fralto.Core.Properties;
using Fralto.Core.Proposals;
using Fralto.Core.Scaling;

namespace Fralto.Core.Tests;

/// <summary>A plant of units with a flow each, made by hand to say how they are named.</summary>
internal sealed class NamedPlant
{
    private int _offset;

    public PlantBuilder Builder { get; } = ProposalTests.Quay();

    /// <summary>Properties of a kind that has three.</summary>
    public static readonly string[] Three = ["Flow", "Return", "Drain"];

    /// <summary>What a property is called by who says nothing of it.</summary>
    public static string Opaque(string property) => $"V{45 + 7 * property.Length}";

    /// <summary>A template whose units have a flow, a return and a drain.</summary>
    public void KindOfThree(string kind)
    {
        Kind(kind);
        foreach (var property in Three.Skip(1))
            Property(kind, property);
    }

    /// <summary>A template whose units have a flow.</summary>
    public void Kind(string kind) => ProposalTests.WithFlow(Builder, kind);

    /// <summary>A property more that units of a kind have, which the same tags fit.</summary>
    public void Property(string kind, string name) =>
        Builder.Do(
            x => new SaveProperty(
                x[kind],
                null,
                name,
                name,
                PropertyKind.Measured,
                PropertyType.Number,
                new() { Unit = "MQH", Range = new(0, 120) }
            ),
            $"{kind}{name}"
        );

    /// <summary>A tag that fits a flow; known as controller and name.</summary>
    public string Tag(string name, string plc = "plc", string description = "", string unit = "MQH")
    {
        Builder.Do(
            x => new SaveTag(
                null,
                x[plc],
                name,
                RegisterArea.HoldingRegister,
                _offset += 4,
                RawType.Float32,
                WordOrder.HighFirst,
                description,
                1,
                unit
            ),
            $"{plc} {name}"
        );
        return name;
    }

    /// <summary>A controller.</summary>
    public void Controller(string name) => Builder.Do(new SaveController(null, name, "127.0.0.1", 510, 1, 500), name);

    /// <summary>Site 1 with the controller plc1, or another.</summary>
    public void Site(int number)
    {
        Place($"S{number}", $"Site {number}", EquipmentLevel.Site, "Works");
        Controller($"plc{number}");
    }

    /// <summary>A place, or a unit of a kind.</summary>
    public void Place(string code, string name, EquipmentLevel level, string above, string? kind = null, string? key = null) =>
        Builder.Do(x => new SaveEquipment(null, code, name, level, x[above], kind is null ? null : x[kind]), key ?? code);

    /// <summary>Binds the flow of a unit, or another property of it.</summary>
    public void Bind(string unit, string kind, string tag, string property = "Flow") =>
        Builder.Do(x => new Bind(x[unit], x[$"{kind}{property}"], x[tag], null));

    /// <summary>What is proposed for a unit: controller and tag, or null where it is held back or there is none.</summary>
    public string? Proposed(string unit, string kind, string property = "Flow") =>
        Answer(unit, kind, property) is { Kind: ProposalKind.Proposed, TagId: { } id }
            ? $"{Builder.Model.Controllers[Builder.Model.Tags[id].ControllerId].Name} {Builder.Model.Tags[id].Name}"
            : null;

    /// <summary>What is answered for the flow of a unit, or another property of it.</summary>
    public Proposal Answer(string unit, string kind, string property = "Flow") =>
        Proposer
            .Propose(new(Builder.Model))
            .Proposals.Single(p => p.EquipmentId == Builder[unit] && p.PropertyId == Builder[$"{kind}{property}"]);
}
