using System.Collections.Immutable;
using CsCheck;
using Fralto.Core.Basics;
using Fralto.Core.Edits;
using Fralto.Core.Modbus;
using Fralto.Core.Plant;
using Fralto.Core.Properties;
using Fralto.Core.Proposals;
using Fralto.Core.Scaling;

namespace Fralto.Core.Tests;

/// <summary>The list of bindings to be checked, against the plain way of listing them: look up every cell, filter, sort, cut.</summary>
public sealed class CheckListTests
{
    private static readonly PlantModel Model = Plant();

    [Fact]
    public void Every_page_is_what_filtering_and_sorting_everything_would_give() =>
        Gen.Select(
                Gen.Int[0, 3],
                Gen.Int[0, 6],
                Gen.Enum<CheckFilter>(),
                Gen.Int[-1, 9],
                Gen.Int[1, 7],
                Gen.Int[0, 7].Array[60],
                Gen.Bool.Array[60]
            )
            .Sample(
                (template, place, filter, number, size, doubt, check) =>
                {
                    var model = Model with
                    {
                        Bindings = Model
                            .Bindings.Values.Select(
                                (b, i) => b with { Checked = check[i % check.Length] ? new("ada", DateTimeOffset.UnixEpoch) : null }
                            )
                            .ToImmutableDictionary(b => (b.EquipmentId, b.PropertyId)),
                    };
                    var doubts = Model
                        .Bindings.Keys.OrderBy(k => k)
                        .Select((k, i) => (k, Kind: doubt[i % doubt.Length]))
                        .Where(d => d.Kind < 6)
                        .ToDictionary(d => d.k, d => new[] { new BindingDoubt(d.k.EquipmentId, d.k.PropertyId, (DoubtKind)d.Kind, "") });
                    doubts[(999_999, 1)] = [new(999_999, 1, DoubtKind.Name, "of a binding that has gone")];
                    long? of = template == 0 ? null : model.Templates.Values.OrderBy(t => t.Id).ElementAt(template - 1).Id;
                    long? at =
                        place == 0 ? null : model.Equipment.Values.OrderBy(e => e.Id).ElementAt((place - 1) * 3 % model.Equipment.Count).Id;
                    var page = CheckList.Of(model).Marked(doubts).Page(of, at, filter, number, size);

                    var family = of is { } t ? model.Index.FamilyOf(t).Select(f => f.Id).ToHashSet() : null;
                    var below = at is { } p ? model.Index.Below(p).Select(e => e.Id).ToHashSet() : null;
                    var all = model
                        .Index.EquipmentInOrder.Where(e =>
                            e.TemplateId is { } its && family?.Contains(its) != false && below?.Contains(e.Id) != false
                        )
                        .SelectMany(e => model.Index.BoundOf(e))
                        .ToArray();
                    var shown = all.Where(b =>
                            filter == CheckFilter.All
                            || (filter == CheckFilter.Left ? b.Checked is null : doubts.ContainsKey((b.EquipmentId, b.PropertyId)))
                        )
                        .Select((b, i) => (b, i))
                        .OrderBy(x => doubts.TryGetValue((x.b.EquipmentId, x.b.PropertyId), out var d) ? (int)d[0].Kind : 99)
                        .ThenBy(x => x.i)
                        .Select(x => x.b)
                        .ToArray();
                    (page.All, page.Left, page.Wrong, page.Shown).ShouldBe(
                        (
                            all.Length,
                            all.Count(b => b.Checked is null),
                            all.Count(b => doubts.ContainsKey((b.EquipmentId, b.PropertyId))),
                            shown.Length
                        )
                    );
                    page.Number.ShouldBe(Math.Clamp(number, 1, Math.Max(1, (shown.Length + size - 1) / size)));
                    page.Lines.Select(l => (l.Instance.Id, l.Property.Id))
                        .ShouldBe(shown.Skip((page.Number - 1) * size).Take(size).Select(b => (b.EquipmentId, b.PropertyId)));
                },
                iter: 300
            );

    [Fact]
    public void Templates_to_choose_from_are_those_with_bindings_and_what_they_inherit_from() =>
        CheckList.Of(Model).Templates.Select(t => t.Code).Order().ShouldBe(["Kiln", "Unit"]);

    private static PlantModel Plant()
    {
        var plant = new PlantBuilder()
            .Do(new SaveController(null, "plc", "127.0.0.1", 502, 1, 500), "plc")
            .Do(new SaveTemplate(null, "Unit", "Unit", null, ""), "Unit")
            .Do(b => new SaveProperty(b["Unit"], null, "A", "A", PropertyKind.Measured, PropertyType.Number, PropertyPatch.Empty), "A")
            .Do(b => new SaveProperty(b["Unit"], null, "B", "B", PropertyKind.Measured, PropertyType.Number, PropertyPatch.Empty), "B")
            .Do(b => new SaveTemplate(null, "Kiln", "Kiln", b["Unit"], ""), "Kiln")
            .Do(b => new SaveProperty(b["Kiln"], null, "C", "C", PropertyKind.Measured, PropertyType.Number, PropertyPatch.Empty), "C")
            .Do(new SaveTemplate(null, "Bare", "Bare", null, ""), "Bare")
            .Do(new SaveEquipment(null, "W", "Works", EquipmentLevel.Enterprise, null, null), "W")
            .Do(b => new SaveEquipment(null, "S", "Site", EquipmentLevel.Site, b["W"], null), "S")
            .Do(b => new SaveEquipment(null, "A1", "Area 1", EquipmentLevel.Area, b["S"], null), "A1")
            .Do(b => new SaveEquipment(null, "A2", "Area 2", EquipmentLevel.Area, b["S"], null), "A2");
        for (var n = 1; n <= 8; n++)
        {
            var code = $"U{n}";
            plant.Do(
                b => new SaveEquipment(null, code, code, EquipmentLevel.Unit, b[n % 2 == 0 ? "A1" : "A2"], b[n % 3 == 0 ? "Unit" : "Kiln"]),
                code
            );
            foreach (var property in n % 3 == 0 ? new[] { "B", "A" } : ["C", "A"])
                plant
                    .Do(
                        b => new SaveTag(
                            null,
                            b["plc"],
                            $"{code}{property}",
                            RegisterArea.HoldingRegister,
                            (n * 10) + property[0],
                            RawType.Int16,
                            WordOrder.HighFirst,
                            ""
                        ),
                        $"{code}{property}"
                    )
                    .Do(b => new Bind(b[code], b[property], b[$"{code}{property}"]));
        }
        return plant.Model;
    }
}
