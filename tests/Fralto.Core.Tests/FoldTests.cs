using System.Collections.Immutable;
using CsCheck;
using Fralto.Core.Edits;
using Fralto.Core.Limits;
using Fralto.Core.Plant;
using Fralto.Core.Templates;

namespace Fralto.Core.Tests;

/// <summary>Whatever layers say: the last that speaks is heard, field by field, and what goes back leaves no trace.</summary>
public sealed class FoldTests
{
    private static readonly Gen<PropertyPatch> Patches = Gen.Select(
        Gen.Int[0, 2].Select(i => new[] { null, "CEL", "KEL" }[i]), Gen.Int[-1, 9], Gen.Int[0, 2].Select(i => new[] { null, "a", "b" }[i]), Gen.Int[-1, 9], Gen.Int[-1, 3], Gen.Bool,
        (unit, range, text, setpoint, deadband, off) => new PropertyPatch
        {
            Unit = unit,
            Range = range < 0 ? null : new(0, 100 + range),
            Description = text,
            Limits = setpoint < 0 && deadband < 0 && !off ? ImmutableSortedDictionary<LimitCondition, LimitPatch>.Empty
                : ImmutableSortedDictionary<LimitCondition, LimitPatch>.Empty.Add(LimitCondition.High, new(setpoint < 0 ? null : 50 + setpoint, deadband < 0 ? null : deadband, null, off ? true : null)),
        });

    [Fact]
    public void The_last_layer_that_speaks_is_heard() => Patches.Array[1, 6].Sample(layers =>
    {
        var folded = Fold(layers);
        folded.Unit.ShouldBe(layers.LastOrDefault(l => l.Unit is not null)?.Unit);
        folded.Range.ShouldBe(layers.LastOrDefault(l => l.Range is not null)?.Range);
        folded.Description.ShouldBe(layers.LastOrDefault(l => l.Description is not null)?.Description);
        LimitPatch? Last(Func<LimitPatch, bool> speaks) => layers.Select(l => l.Limits.GetValueOrDefault(LimitCondition.High)).LastOrDefault(l => l is not null && speaks(l));
        (folded.Limits.GetValueOrDefault(LimitCondition.High)?.Setpoint).ShouldBe(Last(l => l.Setpoint is not null)?.Setpoint);
        (folded.Limits.GetValueOrDefault(LimitCondition.High)?.Deadband).ShouldBe(Last(l => l.Deadband is not null)?.Deadband);
        // A limit taken away stays away until a later layer gives a setpoint again.
        (folded.Limits.GetValueOrDefault(LimitCondition.High)?.Off).ShouldBe(Last(l => l.Off is not null || l.Setpoint is not null)?.Off);
    });

    [Fact]
    public void A_layer_that_says_nothing_changes_nothing_and_the_same_layer_twice_is_the_layer_once() => Gen.Select(Patches, Patches).Sample((one, other) =>
    {
        one.With(PropertyPatch.Empty).ShouldBe(one);
        PropertyPatch.Empty.With(one).ShouldBe(one);
        one.With(other).With(other).ShouldBe(one.With(other));
    });

    [Fact]
    public void A_field_gone_back_is_as_if_the_layer_had_never_spoken_of_it() => Gen.Select(Patches, Patches, Gen.Enum<PatchField>()).Sample((above, own, field) =>
    {
        var folded = above.With(own.Without(field));
        if (field == PatchField.Unit) folded.Unit.ShouldBe(above.Unit);
        if (field == PatchField.Range) folded.Range.ShouldBe(above.Range);
        if (field == PatchField.High) folded.Limits.GetValueOrDefault(LimitCondition.High).ShouldBe(above.Limits.GetValueOrDefault(LimitCondition.High));
        PropertyPatch.AllFields.Aggregate(own, (patch, f) => patch.Without(f)).IsEmpty.ShouldBeTrue();
    });

    [Fact]
    public void The_model_resolves_as_the_fold_does_and_knows_what_the_instance_says_itself() => Patches.Array[4].Sample(layers =>
    {
        const long Root = 1, Child = 2, Leaf = 3, Node = 4, Property = 5;
        Template Of(long id, long? parent, PropertyPatch patch) => new(id, $"T{id}", $"T{id}", parent, "") { Patches = ImmutableDictionary<long, PropertyPatch>.Empty.Add(Property, patch) };
        var root = Of(Root, null, layers[0]) with { Properties = [new(Property, "P", "P", PropertyKind.Measured, PropertyType.Number)] };
        var node = new Equipment(Node, "N", "N", EquipmentLevel.Enterprise, null, Leaf, 1) { Patches = ImmutableDictionary<long, PropertyPatch>.Empty.Add(Property, layers[3]) };
        var model = PlantModel.Empty.Apply(new object[] { root, Of(Child, Root, layers[1]), Of(Leaf, Child, layers[2]), node }.Select(e => new ModelChange(null, e)).ToArray());
        var resolved = model.Index.PropertiesOf(node).Single();
        resolved.Facts.ShouldBe(Fold(layers));
        resolved.Own.ShouldBe(layers[3]);
        resolved.DeclaredBy.ShouldBe(Root);
        model.Index.PropertiesOf(Child).Single().Facts.ShouldBe(Fold(layers[..2]));
    });

    private static PropertyPatch Fold(IEnumerable<PropertyPatch> layers) => layers.Aggregate(PropertyPatch.Empty, (folded, layer) => folded.With(layer));
}
