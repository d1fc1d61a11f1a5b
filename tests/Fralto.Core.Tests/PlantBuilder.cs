using System.Collections.Immutable;
using Fralto.Core.Basics;
using Fralto.Core.Edits;
using Fralto.Core.Limits;
using Fralto.Core.Modbus;
using Fralto.Core.Plant;
using Fralto.Core.Properties;
using Fralto.Core.Scaling;

namespace Fralto.Core.Tests;

/// <summary>Builds a model through the same edits a person makes, and keeps the ids by name.</summary>
internal sealed class PlantBuilder
{
    private readonly Dictionary<string, long> _ids = [];

    public PlantModel Model { get; private set; } = PlantModel.Empty;

    public long this[string name] => _ids[name];

    public bool Knows(string name) => _ids.ContainsKey(name);

    public static PropertyPatch Celsius(params (LimitCondition Condition, double Setpoint, double Deadband, int Priority)[] limits) =>
        new()
        {
            Unit = "CEL",
            Range = new(0, 120),
            Scale = new LinearScale(new Span(0, 32767), new(0, 120)),
            Limits = limits.ToImmutableSortedDictionary(l => l.Condition, l => new LimitPatch(l.Setpoint, l.Deadband, l.Priority)),
        };

    /// <summary>One kiln with an air-on temperature fed by an int16 tag, below a whole hierarchy.</summary>
    public static PlantBuilder Kiln(params (LimitCondition Condition, double Setpoint, double Deadband, int Priority)[] limits) =>
        new PlantBuilder()
            .Do(new SaveController(null, "plc", "127.0.0.1", 502, 1, 500), "plc")
            .Do(b => new SaveTag(null, b["plc"], "TT11", RegisterArea.InputRegister, 0, RawType.Int16, WordOrder.HighFirst, ""), "TT11")
            .Do(new SaveTemplate(null, "Kiln", "Kiln", null, ""), "Kiln")
            .Do(
                b => new SaveProperty(
                    b["Kiln"],
                    null,
                    "AirOn",
                    "Air-on temperature",
                    PropertyKind.Measured,
                    PropertyType.Number,
                    Celsius(limits)
                ),
                "AirOn"
            )
            .Do(new SaveEquipment(null, "Corvane", "Corvane", EquipmentLevel.Enterprise, null, null), "Corvane")
            .Do(b => new SaveEquipment(null, "Quay", "Tarn Quay", EquipmentLevel.Site, b["Corvane"], null), "Quay")
            .Do(b => new SaveEquipment(null, "KLN1", "Kiln 1", EquipmentLevel.Unit, b["Quay"], b["Kiln"]), "KLN1")
            .Do(b => new Bind(b["KLN1"], b["AirOn"], b["TT11"]));

    public PlantBuilder Do(Edit edit, string? name = null) => Do(_ => edit, name);

    public PlantBuilder Do(Func<PlantBuilder, Edit> edit, string? name = null)
    {
        if (name is not null)
            _ids[name] = Model.NextId;
        var outcome = edit(this).On(Model);
        outcome.Problems.ShouldBeEmpty();
        Model = Model.Apply(outcome.Changes);
        return this;
    }

    /// <summary>The problems an edit would meet.</summary>
    public ImmutableArray<Problem> Refused(Func<PlantBuilder, Edit> edit)
    {
        var before = Model;
        var outcome = edit(this).On(Model);
        outcome.IsRefused.ShouldBeTrue();
        outcome.Changes.ShouldBeEmpty();
        Model.ShouldBeSameAs(before);
        return outcome.Problems;
    }
}
