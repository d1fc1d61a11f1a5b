using System.Collections.Immutable;
using Fralto.Core.Edits;
using Fralto.Core.Hierarchy;
using Fralto.Core.Limits;
using Fralto.Core.Plant;
using Fralto.Core.Properties;

namespace Fralto.Web.Forms;

/// <summary>A property that several instances have, as they are edited together.</summary>
/// <param name="Property">The property as the first of them has it.</param>
/// <param name="Layers">The instances.</param>
/// <param name="Values">The value each has in force, of a fixed property.</param>
/// <param name="Fields">The texts of a form's fields: what they all say themselves, empty where they differ.</param>
/// <param name="Mixed">The fields in which they differ.</param>
/// <param name="Inherited">What the template of the first says.</param>
/// <param name="SettingCount">How many say something themselves.</param>
public sealed record SharedProperty(
    ResolvedProperty Property,
    ImmutableArray<long> Layers,
    IReadOnlyList<string> Values,
    ImmutableDictionary<string, string> Fields,
    IReadOnlySet<string> Mixed,
    PropertyPatch Inherited,
    int SettingCount
)
{
    /// <summary>The value of a fixed property when all have the same; null when they are mixed.</summary>
    public string? Value => Values.Distinct().Count() == 1 ? Values[0] : null;

    /// <summary>The properties all of some instances have, in the order of the first.</summary>
    public static IReadOnlyList<SharedProperty> Of(PlantModel model, IReadOnlyList<Equipment> instances)
    {
        var all = instances.Select(e => model.Index.PropertiesOf(e).ToDictionary(p => p.Id)).ToArray();
        return
        [
            .. model
                .Index.PropertiesOf(instances[0])
                .Where(p => all.All(a => a.ContainsKey(p.Id)))
                .Select(p => Of(model, instances, [.. all.Select(a => a[p.Id])])),
        ];
    }

    /// <summary>The edit a posted form asks for: fields changed since they were shown are set for all, or go back where they were
    /// emptied.</summary>
    /// <param name="model">Where units and scales are looked up.</param>
    /// <param name="reader">The posted form.</param>
    public PatchProperty EditOf(PlantModel model, FormReader reader)
    {
        var touched = Fields
            .Keys.Concat(FieldsOf.Keys)
            .Distinct()
            .Where(f => reader.Text(f) != Fields.GetValueOrDefault(f, ""))
            .Select(f => FieldsOf[f])
            .Distinct()
            .ToImmutableArray();
        var facts = FactFields.Read(model, reader, Property.Declaration.Kind, Property.Declaration.Type, Inherited);
        if (touched.IsEmpty)
            reader.Refuse("", "Nothing was changed: fill in or empty a field first.");
        return new(
            Layers,
            Property.Id,
            PropertyPatch.AllFields.Except(touched).Aggregate(facts, (patch, field) => patch.Without(field)),
            touched
        );
    }

    private static SharedProperty Of(PlantModel model, IReadOnlyList<Equipment> instances, IReadOnlyList<ResolvedProperty> each)
    {
        var texts = each.Select(p =>
                FactFields
                    .Of(p.Own, model)
                    .ToDictionary(f => f.Item1, f => Convert.ToString(f.Item2, System.Globalization.CultureInfo.InvariantCulture) ?? "")
            )
            .ToArray();
        var fields = texts.SelectMany(t => t.Keys).Distinct().ToArray();
        string? Common(string field) =>
            texts.Select(t => t.GetValueOrDefault(field, "")).Distinct().Count() == 1 ? texts[0].GetValueOrDefault(field, "") : null;
        return new(
            each[0],
            [.. instances.Select(e => e.Id)],
            [.. each.Select(p => p.Facts.Value ?? "")],
            fields.ToImmutableDictionary(f => f, f => Common(f) ?? ""),
            fields.Where(f => Common(f) is null).ToHashSet(),
            model.Index.PropertiesOf(instances[0].TemplateId!.Value).First(p => p.Id == each[0].Id).Facts,
            each.Count(p => !p.Own.IsEmpty)
        );
    }

    private static readonly Dictionary<string, PatchField> FieldsOf = new Dictionary<string, PatchField>
    {
        ["Unit"] = PatchField.Unit,
        ["RangeLow"] = PatchField.Range,
        ["RangeHigh"] = PatchField.Range,
        ["ScaleChoice"] = PatchField.Scale,
        ["StateListId"] = PatchField.StateList,
        ["Value"] = PatchField.Value,
        ["Formula"] = PatchField.Formula,
        ["ValidSeconds"] = PatchField.ValidFor,
        ["AtStart"] = PatchField.AtStart,
        ["FollowSeconds"] = PatchField.Following,
        ["FollowDeadband"] = PatchField.Following,
        ["Record"] = PatchField.Recording,
        ["RecordDeadband"] = PatchField.Recording,
        ["RecordEvery"] = PatchField.Recording,
        ["RecordWhile"] = PatchField.Recording,
        ["KeepDays"] = PatchField.Recording,
        ["KeepCount"] = PatchField.Recording,
        ["KeepSummedDays"] = PatchField.Recording,
        ["KeyFigure"] = PatchField.KeyFigure,
        ["Description"] = PatchField.Description,
    }
        .Concat(ScaleFields.Names.Select(f => KeyValuePair.Create(f, PatchField.Scale)))
        .Concat(
            LimitConditions.All.SelectMany(c =>
                new[] { "Setpoint", "Deadband", "Priority", "OnDelay", "OffDelay" }.Select(f =>
                    KeyValuePair.Create($"{c}{f}", PatchField.HighHigh + (int)c)
                )
            )
        )
        .ToDictionary();
}
