using System.Collections.Immutable;
using System.Globalization;
using CsCheck;
using Fralto.Core.Basics;
using Fralto.Core.Hierarchy;
using Fralto.Core.Limits;
using Fralto.Core.Plant;
using Fralto.Core.Properties;
using Fralto.Core.Recording;
using Fralto.Core.Scaling;
using Fralto.Core.Templates;

namespace Fralto.Core.Tests;

/// <summary>Whatever layers say: the last that speaks is heard, field by field, and what goes back leaves no trace.</summary>
public sealed class FoldTests
{
    private static readonly LimitCondition[] Conditions = Enum.GetValues<LimitCondition>();

    // What a layer may say of a limit: any part of it, or nothing.
    private static readonly Gen<LimitPatch?> LimitPatches = Gen.Select(
            Gen.Int[0, 3],
            Gen.Int[-6, 9],
            Gen.Int[-3, 3],
            Gen.Int[-3, 3],
            Gen.Int[-2, 1],
            Gen.Int[-2, 2]
        )
        .Select(
            (speaks, setpoint, deadband, priority, off, delay) =>
                speaks == 0
                    ? null
                    : new LimitPatch(
                        setpoint < 0 ? null : 50 + setpoint,
                        deadband < 0 ? null : deadband,
                        priority < 1 ? null : priority,
                        off < 0 ? null : off == 1,
                        delay < 0 ? null : delay,
                        delay < 1 ? null : delay * 2
                    )
        );

    private static readonly Gen<PropertyPatch> Patches = Gen.Select(
            Gen.Int[0, 2],
            Gen.Int[-3, 9],
            Gen.Int[0, 4],
            Gen.Int[-3, 3],
            Gen.Int[0, 2],
            Gen.Int[0, 2],
            LimitPatches.Array[Conditions.Length]
        )
        .Select(
            (unit, range, scale, set, value, text, limits) =>
                new PropertyPatch
                {
                    Unit = new[] { null, "CEL", "KEL" }[unit],
                    Range = range < 0 ? null : new(0, 100 + range),
                    Scale = scale is 1 or 2 ? new LinearScale(new Span(0, 100 * scale), new(0, 1)) : null,
                    ScaleId = scale is 3 or 4 ? scale : null,
                    StateListId = set < 1 ? null : set,
                    Value = new[] { null, "1", "2" }[value],
                    Description = new[] { null, "a", "b" }[text],
                    Formula = new[] { "A + B", null, "A" }[text],
                    AtStart = new[] { null, "last", "5" }[text],
                    FollowSeconds = new double?[] { 1, null, 5 }[text],
                    FollowDeadband = new double?[] { null, 2, 3 }[text],
                    IsKeyFigure = new bool?[] { true, null, false }[text],
                    ValidSeconds = new double?[] { null, 60, 5 }[text],
                    Recording = new RecordingPatch?[]
                    {
                        null,
                        new()
                        {
                            Off = text == 1,
                            DeadbandPercent = 1 + text,
                            KeepDays = 30,
                        },
                        new() { Deadband = 0.5, Every = 10 * text },
                    }[value],
                    Others =
                        text == 0
                            ? PropertyPatch.Empty.Others
                            : PropertyPatch.Empty.Others.Add(
                                new[] { "Stuck", "stuck" }[text - 1],
                                new(Setpoint: 60 * text) { Kind = LimitKind.NoChange }
                            ),
                    Limits = Conditions.Where(c => limits[(int)c] is not null).ToImmutableSortedDictionary(c => c, c => limits[(int)c]!),
                }
        );

    [Fact]
    public void The_last_layer_that_speaks_is_heard() =>
        Patches
            .Array[1, 6]
            .Sample(layers =>
            {
                var folded = Fold(layers);
                T? Last<T>(Func<PropertyPatch, T?> said)
                    where T : class => layers.Select(said).LastOrDefault(v => v is not null);
                T? LastOf<T>(Func<PropertyPatch, T?> said)
                    where T : struct => layers.Select(said).LastOrDefault(v => v is not null);
                folded.Unit.ShouldBe(Last(l => l.Unit));
                folded.Range.ShouldBe(LastOf(l => l.Range));
                // A scale said and a scale named are one field: who says one takes the other away.
                var scaled = layers.LastOrDefault(l => l.HasScale) ?? PropertyPatch.Empty;
                (folded.Scale, folded.ScaleId).ShouldBe((scaled.Scale, scaled.ScaleId));
                folded.StateListId.ShouldBe(LastOf(l => l.StateListId));
                folded.Value.ShouldBe(Last(l => l.Value));
                folded.Description.ShouldBe(Last(l => l.Description));
                folded.Formula.ShouldBe(Last(l => l.Formula));
                folded.IsKeyFigure.ShouldBe(LastOf(l => l.IsKeyFigure));
                // Of recording each field is heard by itself; a deadband in one measure takes the place of one in the other.
                (folded.Recording is null).ShouldBe(layers.All(l => l.Recording is null));
                var recording = folded.Recording ?? RecordingPatch.Empty;
                recording.Off.ShouldBe(LastOf(l => l.Recording?.Off));
                recording.Every.ShouldBe(LastOf(l => l.Recording?.Every));
                recording.KeepDays.ShouldBe(LastOf(l => l.Recording?.KeepDays));
                var measured = layers.LastOrDefault(l => l.Recording is { Deadband: not null } or { DeadbandPercent: not null })?.Recording;
                (recording.Deadband, recording.DeadbandPercent).ShouldBe((measured?.Deadband, measured?.DeadbandPercent));
                foreach (var condition in Conditions)
                {
                    var said = layers.Select(l => l.Limits.GetValueOrDefault(condition)).OfType<LimitPatch>().ToArray();
                    folded.Limits.ContainsKey(condition).ShouldBe(said.Length > 0);
                    if (said.Length == 0)
                        continue;
                    var limit = folded.Limits[condition];
                    limit.Setpoint.ShouldBe(said.LastOrDefault(l => l.Setpoint is not null)?.Setpoint);
                    limit.Deadband.ShouldBe(said.LastOrDefault(l => l.Deadband is not null)?.Deadband);
                    limit.Priority.ShouldBe(said.LastOrDefault(l => l.Priority is not null)?.Priority);
                    limit.OnDelay.ShouldBe(said.LastOrDefault(l => l.OnDelay is not null)?.OnDelay);
                    limit.OffDelay.ShouldBe(said.LastOrDefault(l => l.OffDelay is not null)?.OffDelay);
                    // A limit taken away stays away until a later layer gives a setpoint again.
                    limit.Off.ShouldBe(said.LastOrDefault(l => l.Off is not null || l.Setpoint is not null)?.Off);
                }
            });

    [Fact]
    public void Each_field_of_a_limit_is_that_of_the_last_layer_that_speaks()
    {
        foreach (var field in typeof(LimitPatch).GetProperties().Where(p => p.CanWrite))
        {
            LimitPatch Saying(int which)
            {
                var patch = new LimitPatch();
                var type = Nullable.GetUnderlyingType(field.PropertyType) ?? field.PropertyType;
                field.SetValue(
                    patch,
                    type == typeof(string) ? $"text {which}"
                        : type == typeof(bool) ? which == 1
                        : type.IsEnum ? Enum.ToObject(type, which)
                        : Convert.ChangeType(which, type, CultureInfo.InvariantCulture)
                );
                return patch;
            }
            field.GetValue(Saying(1).With(Saying(2))).ShouldBe(field.GetValue(Saying(2)), field.Name);
            field.GetValue(Saying(1).With(new())).ShouldBe(field.GetValue(Saying(1)), field.Name);
            field.GetValue(new LimitPatch().With(Saying(2))).ShouldBe(field.GetValue(Saying(2)), field.Name);
        }
    }

    [Fact]
    public void A_layer_that_says_nothing_changes_nothing_and_the_same_layer_twice_is_the_layer_once() =>
        Gen.Select(Patches, Patches)
            .Sample(
                (one, other) =>
                {
                    one.With(PropertyPatch.Empty).ShouldBe(one);
                    PropertyPatch.Empty.With(one).ShouldBe(one);
                    one.With(other).With(other).ShouldBe(one.With(other));
                }
            );

    [Fact]
    public void A_field_gone_back_is_as_if_the_layer_had_never_spoken_of_it() =>
        Gen.Select(Patches, Patches, Gen.Enum<PatchField>())
            .Sample(
                (above, own, field) =>
                {
                    var (with, without) = (above.With(own), above.With(own.Without(field)));
                    // The field is as the layer above left it; every other is as if nothing had gone back.
                    foreach (var each in PropertyPatch.AllFields)
                        Said(without, each).ShouldBe(Said(each == field ? above : with, each), $"{each}, {field} gone back");
                    PropertyPatch.AllFields.Aggregate(own, (patch, f) => patch.Without(f)).IsEmpty.ShouldBeTrue();
                }
            );

    [Fact]
    public void The_model_resolves_as_the_fold_does_and_knows_what_the_instance_says_itself() =>
        Patches
            .Array[4]
            .Sample(layers =>
            {
                const long Root = 1,
                    Child = 2,
                    Leaf = 3,
                    Node = 4,
                    Property = 5;
                Template Of(long id, long? parent, PropertyPatch patch) =>
                    new(id, $"T{id}", $"T{id}", parent, "")
                    {
                        Patches = ImmutableDictionary<long, PropertyPatch>.Empty.Add(Property, patch),
                    };
                var root = Of(Root, null, layers[0]) with
                {
                    Properties = [new(Property, "P", "P", PropertyKind.Measured, PropertyType.Number)],
                };
                var node = new Equipment(Node, "N", "N", EquipmentLevel.Enterprise, null, Leaf, 1)
                {
                    Patches = ImmutableDictionary<long, PropertyPatch>.Empty.Add(Property, layers[3]),
                };
                var model = PlantModel.Empty.Apply(
                    new object[] { root, Of(Child, Root, layers[1]), Of(Leaf, Child, layers[2]), node }
                        .Select(e => new ModelChange(null, e))
                        .ToArray()
                );
                var resolved = model.Index.PropertiesOf(node).Single();
                resolved.Facts.ShouldBe(Fold(layers));
                resolved.Own.ShouldBe(layers[3]);
                resolved.DeclaredBy.ShouldBe(Root);
                model.Index.PropertiesOf(Child).Single().Facts.ShouldBe(Fold(layers[..2]));
            });

    /// <summary>What a patch says of one field.</summary>
    private static object? Said(PropertyPatch patch, PatchField field) =>
        field switch
        {
            PatchField.Unit => patch.Unit,
            PatchField.Range => patch.Range,
            PatchField.Scale => (patch.Scale, patch.ScaleId),
            PatchField.StateList => patch.StateListId,
            PatchField.Value => patch.Value,
            PatchField.Description => patch.Description,
            PatchField.Recording => patch.Recording,
            PatchField.KeyFigure => patch.IsKeyFigure,
            PatchField.Formula => patch.Formula,
            PatchField.ValidFor => patch.ValidSeconds,
            PatchField.AtStart => patch.AtStart,
            PatchField.Following => (patch.FollowSeconds, patch.FollowDeadband) is (null, null)
                ? null
                : (patch.FollowSeconds, patch.FollowDeadband),
            PatchField.HighHigh => patch.Limits.GetValueOrDefault(LimitCondition.HighHigh),
            PatchField.High => patch.Limits.GetValueOrDefault(LimitCondition.High),
            PatchField.Low => patch.Limits.GetValueOrDefault(LimitCondition.Low),
            PatchField.LowLow => patch.Limits.GetValueOrDefault(LimitCondition.LowLow),
            PatchField.Others => patch.Others.IsEmpty ? null : patch.Others.Values.Single(),
            _ => throw new ArgumentOutOfRangeException(nameof(field), field, "a field this test does not know"),
        };

    private static PropertyPatch Fold(IEnumerable<PropertyPatch> layers) =>
        layers.Aggregate(PropertyPatch.Empty, (folded, layer) => folded.With(layer));
}
