using Fralto.Core.Basics;
using Fralto.Core.Plant;
using Fralto.Core.Properties;
using Fralto.Core.Scaling;
using Fralto.Web.Live;

namespace Fralto.Web.Forms;

/// <summary>What can be chosen in forms about templates, and what stands there as text.</summary>
public static class TemplateChoices
{
    /// <summary>Kinds of property.</summary>
    public static IEnumerable<(string Value, string Text)> Kinds =>
        Enum.GetValues<PropertyKind>().Select(k => (k.ToString(), k.ToString().ToLowerInvariant()));

    /// <summary>Types of property.</summary>
    public static IEnumerable<(string Value, string Text)> Types => Enum.GetValues<PropertyType>().Select(t => (t.ToString(), t.Words()));

    /// <summary>Whether a tag is needed.</summary>
    public static IEnumerable<(string Value, string Text)> Requirements => [("yes", "required"), ("no", "optional")];

    /// <summary>All levels, the highest first.</summary>
    public static IEnumerable<(string Value, string Text)> Levels =>
        LevelRules.FromTheTop.Select(l => (l.ToString(), LevelRules.NameOf(l)));

    /// <summary>All templates by name, after a choice that means none.</summary>
    /// <param name="model">The model.</param>
    /// <param name="none">What choosing none means.</param>
    public static IEnumerable<(string Value, string Text)> All(PlantModel model, string none) =>
        model
            .Templates.Values.OrderBy(t => t.Name, StringComparer.Ordinal)
            .Select(t => (ValueText.Plain(t.Id), t.Name))
            .Prepend(("", none));

    /// <summary>A range as "0 … 120"; empty for none.</summary>
    public static string RangeText(Span? range) => range is { } r ? $"{ValueText.Plain(r.Low)} … {ValueText.Plain(r.High)}" : "";

    /// <summary>Kind and type in words: a number goes without saying.</summary>
    public static string KindOf(PropertyDeclaration property) =>
        $"{property.Kind.ToString().ToLowerInvariant()}{(property.Type == PropertyType.Number ? "" : $", {property.Type.Words()}")}"
        + $"{(property.TakesTag && !property.IsRequired ? ", optional" : "")}";
}
