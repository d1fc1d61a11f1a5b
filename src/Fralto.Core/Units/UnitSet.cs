using Fralto.Core.Basics;

namespace Fralto.Core.Units;

/// <summary>Units to choose from: the shipped ones and a customer's own.</summary>
public sealed class UnitSet
{
    private const int MostSuggestions = 4;
    private const double SameFactor = 1e-12;
    private readonly Dictionary<string, Unit> _byCode;
    private readonly Lazy<Dictionary<Unit, string[]>> _spellingsOf;
    private readonly Lazy<Dictionary<string, List<Unit>>> _bySpelling;
    private readonly Lazy<Dictionary<string, List<Unit>>> _bySpellingAnyCase;

    /// <summary>A set of these units.</summary>
    public UnitSet(IEnumerable<Unit> units)
    {
        All = [.. units];
        // Two of one code are what integrity finds and refuses; until it has, the first of them is meant.
        _byCode = new(StringComparer.Ordinal);
        foreach (var unit in All)
            _byCode.TryAdd(unit.Code, unit);
        _spellingsOf = new(() => All.Distinct().ToDictionary(u => u, u => u.Aliases.Prepend(u.Symbol).Select(UnitSpelling.Of).ToArray()));
        _bySpelling = new(() => Spellings(StringComparer.Ordinal));
        _bySpellingAnyCase = new(() => Spellings(StringComparer.OrdinalIgnoreCase));
    }

    /// <summary>All units, in the order of their quantities, own ones last.</summary>
    public IReadOnlyList<Unit> All { get; }

    /// <summary>The unit of a code, or null.</summary>
    public Unit? Find(string? code) => code is null ? null : _byCode.GetValueOrDefault(code);

    /// <summary>The symbol of a code; empty for none, the code itself when it is unknown.</summary>
    public string SymbolOf(string? code) => code is null ? "" : Find(code)?.Symbol ?? code;

    /// <summary>The conversion between two codes: none when either is missing or unknown, null when their dimensions differ.</summary>
    public UnitConversion? Between(string? from, string? to) =>
        Find(from) is { } one && Find(to) is { } other ? UnitConversion.Between(one, other) : UnitConversion.None;

    /// <summary>
    /// The unit a person means: by spelling (m3/h, cbm/h, degC), by name, or by code. Capitals count where they decide (mPa is no MPa)
    /// and are passed over where they do not.
    /// </summary>
    /// <returns>Null when no unit, or more than one, is meant.</returns>
    public Unit? Match(string text)
    {
        var spelling = UnitSpelling.Of(text);
        if (spelling.Length == 0)
            return null;
        if (_bySpelling.Value.TryGetValue(spelling, out var exact))
            return Only(exact) ?? exact[0];
        if (Find(text.Trim().ToUpperInvariant()) is { } byCode)
            return byCode;
        return _bySpellingAnyCase.Value.TryGetValue(spelling, out var found)
            ? Only(found)
            : All.FirstOrDefault(u => u.Name.Equals(text.Trim(), StringComparison.OrdinalIgnoreCase));
    }

    /// <summary>Why a text names no unit, with the nearest that do.</summary>
    public string Unknown(string text)
    {
        var nearest = Nearest(text).ToArray();
        return nearest.Length == 0
            ? $"'{text}' names no unit; search the list, or add a unit of your own under Units."
            : $"'{text}' names no unit; did you mean {string.Join(", ", nearest.Select(u => $"{u.Symbol} ({u.Name})"))}?";
    }

    /// <summary>Units spelled nearly like a text, nearest first.</summary>
    public IEnumerable<Unit> Nearest(string text)
    {
        var wanted = UnitSpelling.Of(text);
        if (wanted.Length == 0)
            return [];
        var reach = Math.Max(1, wanted.Length / 3);
        return _bySpellingAnyCase
            .Value.Select(s => (s.Value, Distance: Naming.Distance(s.Key.ToLowerInvariant(), wanted.ToLowerInvariant())))
            .Where(s => s.Distance <= reach)
            .OrderBy(s => s.Distance)
            .SelectMany(s => s.Value)
            .Distinct()
            .Take(MostSuggestions);
    }

    /// <summary>Units that have every word of a text in their symbol, spellings, name, quantity or code; those spelled like it
    /// first.</summary>
    public IEnumerable<Unit> Search(string text)
    {
        var words = text.Split(' ', StringSplitOptions.RemoveEmptyEntries | StringSplitOptions.TrimEntries)
            .Select(w => (Text: w, Spelling: UnitSpelling.Of(w)))
            .ToArray();
        var spelling = UnitSpelling.Of(text);
        int Rank(Unit unit) =>
            spelling.Length == 0 ? 2
            : _spellingsOf.Value[unit].Contains(spelling) ? 0
            : _spellingsOf.Value[unit][0].StartsWith(spelling, StringComparison.OrdinalIgnoreCase) ? 1
            : 2;
        bool Has(Unit unit, (string Text, string Spelling) word) =>
            HasWord(unit, word.Text) || _spellingsOf.Value[unit][0].Contains(word.Spelling, StringComparison.OrdinalIgnoreCase);
        static bool HasWord(Unit unit, string word) =>
            unit.Name.Contains(word, StringComparison.OrdinalIgnoreCase)
            || unit.Quantity.Contains(word, StringComparison.OrdinalIgnoreCase)
            || unit.Symbol.Contains(word, StringComparison.OrdinalIgnoreCase)
            || string.Equals(unit.Code, word, StringComparison.OrdinalIgnoreCase)
            || unit.Aliases.Any(a => a.Contains(word, StringComparison.OrdinalIgnoreCase));
        return All.Where(u => words.All(w => Has(u, w))).OrderBy(Rank);
    }

    /// <summary>Units that convert into a unit, itself first.</summary>
    public IEnumerable<Unit> Alike(Unit unit) => All.Where(u => u.Dimension == unit.Dimension).OrderBy(u => u.Code != unit.Code);

    /// <summary>What the product of two quantities is in.</summary>
    public UnitProduct Multiply(Unit left, Unit right) => Named(left.Dimension * right.Dimension, left.Factor * right.Factor, null);

    /// <summary>What the quotient of two quantities is in.</summary>
    public UnitProduct Divide(Unit left, Unit right) => Named(left.Dimension / right.Dimension, left.Factor / right.Factor, null);

    /// <summary>
    /// What a quantity adds up to over time: m³/h becomes m³, kW becomes kW·h. The time comes from the unit itself; a unit that names
    /// none counts hours. The factor says how much one unit held for one second adds.
    /// </summary>
    public UnitProduct Integrate(Unit rate)
    {
        var seconds = rate.PerSeconds ?? 3600;
        var total = Named(
            rate.Dimension * Dimension.Time,
            rate.Factor * seconds,
            rate.PerSeconds is null ? null : rate.Symbol.Split('/')[0]
        );
        return total with { Factor = total.Factor / seconds };
    }

    private UnitProduct Named(Dimension dimension, double factor, string? preferred)
    {
        Unit? same = null,
            coherent = null;
        foreach (var unit in All)
        {
            if (unit.Dimension != dimension || unit.Offset != 0)
                continue;
            if (Math.Abs(unit.Factor - factor) <= SameFactor * factor && (same is null || unit.Symbol == preferred))
                same = unit;
            if (unit.Factor == 1)
                coherent ??= unit;
        }
        return same is not null ? new(dimension, 1, same) : new(dimension, factor / (coherent?.Factor ?? 1), coherent);
    }

    private static Unit? Only(List<Unit> units) => units.Count == 1 ? units[0] : null;

    private Dictionary<string, List<Unit>> Spellings(StringComparer comparer)
    {
        var spellings = new Dictionary<string, List<Unit>>(comparer);
        foreach (var unit in All)
        foreach (var text in unit.Aliases.Prepend(unit.Name).Prepend(unit.Symbol))
        {
            var spelling = UnitSpelling.Of(text);
            if (!spellings.TryGetValue(spelling, out var units))
                spellings[spelling] = units = [];
            if (!units.Contains(unit))
                units.Add(unit);
        }
        return spellings;
    }
}
