using Fralto.Core.NamingRules;
using Fralto.Core.Plant;
using Fralto.Core.Properties;

namespace Fralto.Core.Proposals;

/// <summary>What the properties of a template are called, and how well the words of a tag speak of each.</summary>
internal sealed class PropertyWords
{
    private readonly Dictionary<long, Said> _said;

    /// <param name="properties">All properties of the template: words that several of them share tell little.</param>
    public PropertyWords(PlantModel model, IReadOnlyList<ResolvedProperty> properties)
    {
        var said = properties.ToDictionary(p => p.Id, p => Says(model, p));
        var common = said
            .Values.SelectMany(s => s.Words.Select(w => w.Meaning).Distinct())
            .GroupBy(m => m)
            .ToDictionary(g => g.Key, g => g.Count(), StringComparer.Ordinal);
        _said = said.ToDictionary(
            s => s.Key,
            s => new Said(
                [.. s.Value.Words.Select(w => w with { Weight = w.Weight / common[w.Meaning] })],
                s.Value.Purposes,
                s.Value.Quantity
            )
        );
    }

    /// <summary>How much of what the property is called a tag's words say, 0 to 1; what they say besides of another purpose counts against
    /// it.</summary>
    /// <param name="propertyId">The property.</param>
    /// <param name="words">The tag's words without those that name the instance.</param>
    public double Match(long propertyId, IReadOnlyList<TagWord> words)
    {
        var said = _said[propertyId];
        var (sum, all) = (0.0, 0.0);
        foreach (var word in said.Words)
        {
            all += word.Weight;
            sum += word.Weight * words.Select(w => w.Says(word)).DefaultIfEmpty().Max();
        }
        if (all == 0)
            return 0;
        var besides = words
            .Where(w => w.Purpose is { } purpose && !said.Purposes.Contains(purpose))
            .Select(w => w.Purpose)
            .Distinct()
            .Count();
        // Instrument letters of another quantity say that something else is measured.
        var letters = words.Where(w => w.Letters.Count > 0 && w.Meanings.Count == 0).ToArray();
        var elsewhere =
            said.Quantity is { } quantity
            && letters.Length > 0
            && !letters.Any(l => l.Letters.Contains(quantity))
            && !words.Any(w => w.Meanings.Contains(quantity));
        // What is added up is not what is measured now, though both are tonnes.
        var addedUp =
            letters.Length > 0
            && said.Quantity == "mass"
            && letters.All(l => l.Letters[0] == "total")
            && !said.Words.Any(w => w.Meaning == "total" || w.Meanings.Contains("total"));
        return Math.Max(0, sum / all - 0.35 * besides) * (elsewhere || addedUp ? 0.4 : 1);
    }

    /// <summary>Whether words say most of what a property is called, and nothing beside but what it is a property of.</summary>
    public bool IsAllSaid(long propertyId, IReadOnlyList<TagWord> words, string of)
    {
        if (Match(propertyId, words) < Mostly)
            return false;
        PropertyWord[] known = [.. _said[propertyId].Words, .. NameToken.Of(of).Where(t => !t.IsNumber).Select(PropertyWord.Of)];
        // Of a word that is put together each part has to be: Zulufttemperatur says more than a temperature.
        return words.SelectMany(w => w.Apart).All(w => Unsaying.Contains(w.Text) || known.Any(k => w.Says(k) >= Surely));
    }

    private const double Mostly = 0.6;
    private const double Surely = 0.5;

    private static Said Says(PlantModel model, ResolvedProperty property)
    {
        var words = new Dictionary<string, PropertyWord>(StringComparer.Ordinal);
        void Add(string text, double weight)
        {
            foreach (var token in NameToken.Of(text).SelectMany(PartsOf))
            {
                if (token.IsNumber)
                {
                    words.TryAdd($"#{token.Number}", new($"#{token.Number}", weight, [token.Text.TrimStart('0')], []));
                    continue;
                }
                if (Unsaying.Contains(token.Text))
                    continue;
                var word = PropertyWord.Of(token) with { Weight = weight };
                words[word.Meaning] = words.TryGetValue(word.Meaning, out var known)
                    ? known with
                    {
                        Spellings = [.. known.Spellings.Union([token.Text])],
                        Weight = Math.Max(known.Weight, weight),
                    }
                    : word;
            }
        }
        Add(property.Code, 1);
        Add(property.Name, 1);
        var quantity = model.Units.Find(property.Facts.Unit) is { } unit ? QuantityWord(unit.Quantity) : null;
        if (quantity is not null && !words.ContainsKey(quantity))
            words[quantity] = new(quantity, 0.4, [quantity], [quantity]);
        // What a value is for sets it apart but does not say what it is.
        return new(
            [.. words.Values.Select(w => TradeWords.IsPurpose(w.Meaning) ? w with { Weight = w.Weight * 0.5 } : w)],
            [.. words.Values.SelectMany(w => w.Meanings).Where(TradeWords.IsPurpose)],
            quantity
        );
    }

    /// <summary>The words a word is put together from, or itself.</summary>
    private static IEnumerable<NameToken> PartsOf(NameToken token) =>
        !token.IsNumber && TradeWords.PartsOf(token.Text) is { Count: > 0 } parts ? parts.Select(p => token with { Text = p }) : [token];

    private static readonly HashSet<string> Unsaying = new(
        ["of", "the", "in", "at", "and", "for", "to", "a", "an", "by", "der", "die", "das", "de", "del", "la", "el", "und", "y", "x"],
        StringComparer.Ordinal
    );

    private static string? QuantityWord(string quantity) =>
        quantity switch
        {
            "temperature" => "temperature",
            "pressure" or "pressure (absolute)" => "pressure",
            "volume flow" or "mass flow" => "flow",
            "mass" => "mass",
            "speed" or "rotation (as frequency)" or "rotation (as angular velocity)" => "speed",
            "current" => "current",
            "voltage" => "voltage",
            "power" => "power",
            "energy" => "energy",
            "frequency" => "frequency",
            "density" => "density",
            "conductivity" => "conductivity",
            "volume" => "volume",
            _ => null,
        };

    private sealed record Said(IReadOnlyList<PropertyWord> Words, HashSet<string> Purposes, string? Quantity);
}
