using System.Globalization;

namespace Fralto.Bench.Naming;

/// <summary>Naming styles thrown together by chance: area, kind, number and signal in any order, form, case and separator.</summary>
internal static class RandomStyle
{
    private static readonly string[] Areas = ["North", "South", "West"];
    private static readonly string[] Separators = ["", "_", ".", "-", "/", ":", " "];

    /// <summary>Makes a style; the same seed gives the same.</summary>
    public static NamingStyle Of(int seed)
    {
        var random = new Random(seed);
        var (separator, numbering, digits) = (Separators[random.Next(Separators.Length)], random.Next(2) == 0, random.Next(1, 4));
        var (offset, step) = (
            random.Next(3) == 0 ? random.Next(1, 200) : 0,
            random.Next(4) == 0 ? new[] { 10, 20, 5, 100 }[random.Next(4)] : 1
        );
        var (areas, kinds, signals, casing) = (random.Next(6), random.Next(4), random.Next(6), random.Next(3));
        var order = Enumerable.Range(0, 4).ToArray();
        random.Shuffle(order);
        var before = random.Next(4) == 0 ? new[] { "PLC1", "Chan1", "X", "ns2" }[random.Next(4)] : "";
        var after = random.Next(5) == 0 ? new[] { "PV", "IN", "01", "VAL" }[random.Next(4)] : "";
        var described = random.Next(4) == 0;
        return new($"Random {seed}", p => (NameOf(p), described ? p.Signal.Words : ""), numbering, random.Next(2) == 0);

        string NameOf(TagPlace p)
        {
            var name = "";
            foreach (var part in order.Select(o => PartOf(p, o)).Prepend(before).Append(after).Where(x => x.Length > 0))
                // Numbers that run into each other would be no names.
                name +=
                    (
                        name.Length == 0 ? ""
                        : separator.Length == 0 && char.IsDigit(name[^1]) && char.IsDigit(part[0]) ? "_"
                        : separator
                    ) + part;
            return casing switch
            {
                0 => name,
                1 => name.ToLowerInvariant(),
                _ => name.ToUpperInvariant(),
            };
        }

        string PartOf(TagPlace p, int part) =>
            part switch
            {
                0 => areas switch
                {
                    0 => Areas[p.Area - 1],
                    1 => $"A{p.Area}",
                    2 => $"{p.Area}",
                    3 => Areas[p.Area - 1][..1],
                    4 => Areas[p.Area - 1][..3],
                    _ => numbering ? "" : $"L{p.Area:00}",
                },
                1 => kinds switch
                {
                    0 => p.Kind.Letters,
                    1 => p.Kind.Name,
                    2 => p.Kind.Code[..2],
                    _ => $"{p.KindIndex * 10}",
                },
                2 => (p.Number * step + offset).ToString($"D{digits}", CultureInfo.InvariantCulture),
                _ => signals switch
                {
                    0 => p.Signal.Isa,
                    1 => p.Signal.German,
                    2 => p.Signal.Spanish,
                    3 => p.Signal.Words.Replace(" ", "", StringComparison.Ordinal),
                    4 => p.Signal.Code,
                    _ => $"V{p.SignalIndex:00}",
                },
            };
    }
}
