using Fralto.Core.Controllers;
using Fralto.Core.Edits;
using Fralto.Core.OpcUa;
using Fralto.Core.Plant;
using Fralto.Core.Scaling;

namespace Fralto.StandIns.Maltings;

/// <summary>What utility-ua has, as browsing lists it, and what of it is bound.</summary>
/// <remarks>Its honest mistakes: the second raw water pump says litres a minute and counts cubic metres an hour, the second loop pump has
/// no current, and nobody may read the code of the service technician.</remarks>
internal static class UtilityTags
{
    /// <summary>The namespace of its nodes.</summary>
    public const string Namespace = "urn:corvane:utilities";

    private static readonly (string Name, RawType Type, string? Unit, double High, string Text)[] Machine =
    [
        ("Motor.Run", RawType.Bool, null, 0, "Runs"),
        ("Motor.Current", RawType.Float64, "AMP", 60, "Motor current"),
    ];

    private static readonly (string Name, RawType Type, string? Unit, double High, string Text)[] Compressor =
    [
        .. Machine,
        ("Pressure", RawType.Float64, "BAR", 10, "Pressure behind the compressor"),
        ("Setpoint", RawType.Float64, "BAR", 10, "Pressure it holds"),
        ("State", RawType.Int32, null, 0, "What it does"),
        ("Hours", RawType.UInt32, "HUR", 200_000, "Running hours"),
    ];

    /// <summary>The controller, its tags and its bindings.</summary>
    /// <param name="port">Where it listens.</param>
    public static IEnumerable<Func<PlantModel, Edit>> Edits(int port) =>
        [
            _ => new SaveController(null, StandInPlant.UtilityUaName, new OpcUaConnection($"opc.tcp://127.0.0.1:{port}"), 500),
            m => new DeclareTags(m.Controllers.Values.Single(c => c.Name == StandInPlant.UtilityUaName).Id, [.. Items]),
            .. new[] { 1, 2 }.SelectMany(n =>
                Bound(
                    $"Air/CMP{n}",
                    "Compressor",
                    $"CompressedAir/Compressor{n}",
                    ("Run", "Motor/Run"),
                    ("Current", "Motor/Current"),
                    ("Pressure", "Pressure")
                )
            ),
            .. new[] { 1, 2 }.SelectMany(n =>
                Bound(
                    $"Water/RWP{n}",
                    "Pump",
                    $"Water/RawWaterPump{n}",
                    ("Run", "Motor/Run"),
                    ("Current", "Motor/Current"),
                    ("Flow", "Flow")
                )
            ),
            .. Bound("Water/Brine", "BrineDayTank", "Water/BrineTank", ("Level", "Level"), ("Temperature", "Temperature")),
            .. Bound(
                "HeatRecovery/LP1",
                "Pump",
                "HeatLoop/LoopPump1",
                ("Run", "Motor/Run"),
                ("Current", "Motor/Current"),
                ("Flow", "Flow")
            ),
            .. Bound("HeatRecovery/LP2", "Pump", "HeatLoop/LoopPump2", ("Run", "Motor/Run"), ("Flow", "Flow")),
        ];

    private static IEnumerable<SourceItem> Items =>
        [
            .. new[] { 1, 2 }.SelectMany(n => Compressor.Select(p => Item($"CMP{n}.{p.Name}", $"CompressedAir/Compressor{n}", p))),
            .. new[] { 1, 2 }.SelectMany(n =>
                Machine
                    .Append(("Flow", RawType.Float32, n == 2 ? "L2" : "MQH", 120, "Flow"))
                    .Select(p => Item($"RWP{n}.{p.Item1}", $"Water/RawWaterPump{n}", p))
            ),
            .. new[] { 1, 2 }.SelectMany(n =>
                Machine
                    .Where(p => n == 1 || p.Name != "Motor.Current")
                    .Append(("Flow", RawType.Float32, "MQH", 120, "Flow"))
                    .Select(p => Item($"LP{n}.{p.Item1}", $"HeatLoop/LoopPump{n}", p))
            ),
            Item("Brine.Level", "Water/BrineTank", ("Level", RawType.Float64, "MTR", 5, "Level of brine")),
            Item("Brine.Temperature", "Water/BrineTank", ("Temperature", RawType.Float64, "CEL", 60, "Temperature of brine")),
            Item("Loop.Supply", "HeatLoop", ("SupplyTemperature", RawType.Float64, "CEL", 120, "Water to the heat exchangers")),
            Item("Loop.Return", "HeatLoop", ("ReturnTemperature", RawType.Float64, "CEL", 120, "Water back from them")),
        ];

    private static SourceItem Item(string node, string folder, (string Name, RawType Type, string? Unit, double High, string Text) what) =>
        new(
            new NodeAddress(Namespace, $"s={node}"),
            ["Utilities", .. folder.Split('/'), .. what.Name.Split('.')],
            what.Type,
            1,
            "",
            null,
            what.High > 0 ? new Span(0, what.High) : null,
            what.Text
        )
        {
            UnitCode = what.Unit,
        };

    private static IEnumerable<Func<PlantModel, Edit>> Bound(
        string path,
        string template,
        string folder,
        params (string Property, string Tag)[] all
    ) => all.Select(a => MaltingsModel.Bind($"{MaltingsModel.Quay}/Utilities/{path}", template, a.Property, $"Utilities/{folder}/{a.Tag}"));
}
