using Fralto.Core.Plant;
using Fralto.Core.Properties;
using Fralto.Core.Templates;

namespace Fralto.Core.Rules;

/// <summary>Properties of different templates that are the same thing and are called, coded or described differently.</summary>
public static class NamesApart
{
    private const int MostNamed = 3;

    /// <summary>What differs, a line for each property that is not as most others of its kind are.</summary>
    /// <param name="model">The model.</param>
    /// <returns>The template that declares it, the property, and what is said of it.</returns>
    public static IEnumerable<(Template Template, PropertyDeclaration Property, string Words)> Of(PlantModel model)
    {
        var declared = model
            .Templates.Values.OrderBy(t => t.Name, StringComparer.Ordinal)
            .SelectMany(t => t.Properties.Select(p => (Template: t, Property: p)))
            .ToArray();
        var told = new HashSet<long>();
        foreach (
            var (odd, usual, where) in Odd(declared, d => d.Property.Code, d => d.Property.Name)
                .Where(o => !o.Odd.Property.Name.Equals(o.Usual, StringComparison.Ordinal))
        )
            if (told.Add(odd.Property.Id))
                yield return (odd.Template, odd.Property, $"is called {usual} in {where}");
        foreach (var (odd, usual, where) in Odd(declared, d => d.Property.Name, d => d.Property.Code))
            if (!odd.Property.Code.Equals(usual, StringComparison.OrdinalIgnoreCase) && told.Add(odd.Property.Id))
                yield return (odd.Template, odd.Property, $"has the code {odd.Property.Code}; in {where} it is {usual}");
        var described = declared.Where(d => DescriptionOf(d).Length > 0).ToArray();
        foreach (var (odd, usual, where) in Odd(described, d => d.Property.Code, DescriptionOf))
            if (told.Add(odd.Property.Id))
                yield return (odd.Template, odd.Property, $"is described as \"{usual}\" in {where}");
    }

    private static string DescriptionOf((Template Template, PropertyDeclaration Property) declared) =>
        declared.Template.Patches.GetValueOrDefault(declared.Property.Id)?.Description ?? "";

    /// <summary>Those of a kind that say something else than most of the kind do.</summary>
    private static IEnumerable<((Template Template, PropertyDeclaration Property) Odd, string Usual, string Where)> Odd(
        IEnumerable<(Template Template, PropertyDeclaration Property)> declared,
        Func<(Template Template, PropertyDeclaration Property), string> kind,
        Func<(Template Template, PropertyDeclaration Property), string> says
    )
    {
        foreach (var group in declared.GroupBy(kind, StringComparer.OrdinalIgnoreCase))
        {
            var sayings = group.GroupBy(says, StringComparer.Ordinal).OrderByDescending(g => g.Count()).ToArray();
            if (sayings.Length < 2)
                continue;
            var usual = sayings[0];
            var names = usual.Select(u => u.Template.Name).ToArray();
            var where =
                string.Join(", ", names.Take(MostNamed)) + (names.Length > MostNamed ? $" and {names.Length - MostNamed} more" : "");
            foreach (var odd in sayings.Skip(1).SelectMany(g => g))
                yield return (odd, usual.Key, where);
        }
    }
}
