using Fralto.Core.Properties;

namespace Fralto.Core.Plant;

/// <summary>Finds properties like the one that is being typed: those the plant's own templates have, then common ones.</summary>
public static class PropertyFinder
{
    /// <summary>The properties whose name or code has every word that was typed; those that begin with it come first, and those of the
    /// plant before those of the catalogue, so that a thing is called the same everywhere.</summary>
    /// <param name="model">The model.</param>
    /// <param name="text">What was typed; empty for those used most.</param>
    /// <param name="templateId">The template that gets the property: what it has already is not proposed; null for none.</param>
    /// <param name="most">How many.</param>
    public static IReadOnlyList<CommonProperty> Find(PlantModel model, string text, long? templateId, int most)
    {
        var words = text.Split((char[]?)null, StringSplitOptions.RemoveEmptyEntries);
        var has =
            templateId is { } id && model.Templates.ContainsKey(id)
                ? model.Index.PropertiesOf(id).Select(p => p.Code).ToHashSet(StringComparer.OrdinalIgnoreCase)
                : [];
        var own = model
            .Templates.Values.SelectMany(t =>
                model.Index.PropertiesOf(t.Id).Where(p => p.DeclaredBy == t.Id).Select(p => (Template: t, Property: p))
            )
            .GroupBy(p => p.Property.Code, StringComparer.OrdinalIgnoreCase)
            .OrderByDescending(g => g.Count())
            .Select(g => g.First())
            .Select(p => new CommonProperty(
                p.Property.Name,
                p.Property.Code,
                "",
                p.Property.Declaration.Kind,
                p.Property.Declaration.Type,
                p.Property.Facts.Unit,
                p.Property.Facts.Range,
                null,
                null,
                p.Template.Name
            ))
            .ToArray();
        var named = own.Select(p => p.Name).ToHashSet(StringComparer.OrdinalIgnoreCase);
        return
        [
            .. own.Concat(PropertyCatalogue.All.Where(p => !named.Contains(p.Name)))
                .Where(p => !has.Contains(p.Code))
                .Where(p =>
                    words.All(w =>
                        p.Name.Contains(w, StringComparison.OrdinalIgnoreCase)
                        || p.Code.Contains(w, StringComparison.OrdinalIgnoreCase)
                        || p.Letters.Equals(w, StringComparison.OrdinalIgnoreCase)
                    )
                )
                .OrderBy(p => !words.Any(w => p.Letters.Equals(w, StringComparison.OrdinalIgnoreCase)))
                .ThenBy(p => words.Length > 0 && !p.Name.StartsWith(words[0], StringComparison.OrdinalIgnoreCase))
                .Take(most),
        ];
    }
}
