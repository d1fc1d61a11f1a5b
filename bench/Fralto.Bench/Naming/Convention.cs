using System.Globalization;

namespace Fralto.Bench.Naming;

/// <summary>One way in which a contractor names tags: drawn by chance from independent parts.</summary>
internal sealed class Convention
{
    private static readonly string[] Separators = ["_", ".", "-", "/", ":", " ", ""];
    private static readonly string[] Prefixes = ["PLC", "Chan1", "X", "ns2", "IO", "Root.Data"];
    private static readonly string[] Endings = ["PV", "IN", "VAL", "Value", "01"];

    private readonly string _separator;
    private readonly int[] _order;
    private readonly int _kinds;
    private readonly int _words;
    private readonly int _case;
    private readonly int _digits;
    private readonly int _offset;
    private readonly int _step;
    private readonly int _stride;
    private readonly int _base;
    private readonly string _before;
    private readonly string _after;
    private readonly int _described;
    private readonly int[] _numbers;

    /// <param name="random">Chance.</param>
    /// <param name="mayCount">True where all units of a kind can be counted through, as arrays and blocks need it.</param>
    public Convention(Random random, bool mayCount)
    {
        _separator = Separators[random.Next(Separators.Length)];
        _order = [0, 1, 2, 3];
        random.Shuffle(_order);
        (_kinds, _words, _case) = (random.Next(4), random.Next(7), random.Next(3));
        (_digits, _offset) = (random.Next(1, 4), random.Next(4) == 0 ? random.Next(1, 300) : 0);
        _step = random.Next(5) == 0 ? new[] { 2, 5, 10, 100 }[random.Next(4)] : 1;
        (_stride, _base) = (new[] { 0, 1, 2, 4, 12 }[random.Next(5)], random.Next(0, 40) * 10);
        _before = random.Next(4) == 0 ? Prefixes[random.Next(Prefixes.Length)] : "";
        _after = random.Next(5) == 0 ? Endings[random.Next(Endings.Length)] : "";
        var dice = random.Next(100);
        Carrier =
            !mayCount || dice < 72 ? Carrier.Name
            : dice < 84 ? Carrier.Array
            : dice < 92 ? Carrier.Block
            : Carrier.Description;
        _described =
            Carrier == Carrier.Description ? 1 + random.Next(2)
            : random.Next(2) == 0 ? 0
            : random.Next(1, 4);
        _numbers = [.. Enumerable.Range(10, 80)];
        random.Shuffle(_numbers);
    }

    /// <summary>What says which cell a tag belongs to.</summary>
    public Carrier Carrier { get; }

    /// <summary>True where the area has to be in the name: nothing else tells units of several areas apart.</summary>
    public bool SaysArea { get; init; }

    /// <summary>The name of a tag.</summary>
    public string NameOf(GrammarPlace p) =>
        Carrier switch
        {
            Carrier.Array => $"{Block(p)}[{_base + p.Ordinal * Width(p) + p.SignalIndex}]",
            Carrier.Block => $"DB{20 + p.KindIndex}.W{_base + (p.Ordinal * Width(p) + p.SignalIndex) * 2}",
            Carrier.Description => $"%M{_base + p.KindIndex * 4000 + p.Shuffled * 40 + p.SignalIndex}",
            _ => Cased(Joined(p, null)),
        };

    /// <summary>The same with another number where the unit's is reckoned.</summary>
    public string NameOf(GrammarPlace p, long number) => Cased(Joined(p, number));

    /// <summary>What the controller says of it.</summary>
    public string DescriptionOf(GrammarPlace p) =>
        _described switch
        {
            1 => $"{(p.AreaSaid || SaysArea ? p.AreaName + " " : "")}{p.Kind.Name} {p.NumberText} {p.Signal.Words.ToLowerInvariant()}",
            2 => $"{p.Signal.GermanText}, {(p.AreaSaid || SaysArea ? p.AreaName + ", " : "")}{p.Kind.Name} {p.NumberText}",
            3 => p.Signal.Words,
            _ => "",
        };

    /// <summary>True where the description names the unit and the property.</summary>
    public bool DescribesCell => _described is 1 or 2;

    /// <summary>True where only a place in an array or a block tells cells apart.</summary>
    public bool Counts => Carrier is Carrier.Array or Carrier.Block && !DescribesCell;

    /// <summary>True where the name or the description has a word for the property, and no number that is anybody's guess.</summary>
    public bool SaysProperty => DescribesCell || _described == 3 || Carrier == Carrier.Name && _words < 6;

    /// <summary>True where the name has a number that is reckoned from the unit's, and nothing else tells which unit is meant.</summary>
    public bool Reckons => Carrier == Carrier.Name && !DescribesCell && (_step != 1 || _offset != 0);

    /// <summary>The number that a name has for a unit's.</summary>
    public long Reckoned(long number) => number * _step + _offset;

    /// <summary>How far apart names are of units whose numbers follow each other.</summary>
    public int Step => _step;

    /// <summary>How far apart two units that follow each other are in an array or a block.</summary>
    /// <param name="signals">How many properties they have.</param>
    public int StepOf(int signals) => (signals + _stride) * (Carrier == Carrier.Block ? 2 : 1);

    private int Width(GrammarPlace p) => p.Kind.Signals.Length + _stride;

    private string Block(GrammarPlace p) => Cased($"{_before}{p.Kind.Letters}{(_kinds % 2 == 0 ? "_DATA" : "")}");

    private string Joined(GrammarPlace p, long? number)
    {
        var name = "";
        foreach (var part in _order.Select(o => PartOf(p, o, number)).Prepend(_before).Append(_after).Where(x => x.Length > 0))
            name +=
                (
                    name.Length == 0 ? ""
                    : _separator.Length == 0 && char.IsLetterOrDigit(name[^1]) && char.IsDigit(name[^1]) == char.IsDigit(part[0]) ? "_"
                    : _separator
                ) + part;
        return name;
    }

    private string Cased(string name) =>
        _case switch
        {
            0 => name,
            1 => name.ToLowerInvariant(),
            _ => name.ToUpperInvariant(),
        };

    private string PartOf(GrammarPlace p, int part, long? other) =>
        part switch
        {
            0 => SaysArea ? p.AreaText : "",
            1 => _kinds switch
            {
                0 => p.Kind.Letters,
                1 => p.Kind.Name.Replace(" ", "", StringComparison.Ordinal),
                2 => p.Kind.Code[..Math.Min(4, p.Kind.Code.Length)],
                _ => $"{(p.KindIndex + 1) * 10}",
            },
            2 => p.Number is { } number ? (other ?? Reckoned(number)).ToString($"D{_digits}", CultureInfo.InvariantCulture) : p.NumberText,
            _ => _words switch
            {
                0 => p.Signal.Isa,
                1 => p.Signal.German,
                2 => p.Signal.Spanish,
                3 => p.Signal.Words.Replace(" ", "", StringComparison.Ordinal),
                4 => p.Signal.Code,
                5 => string.Concat(p.Signal.Words.Split(' ').Select(w => w[..Math.Min(3, w.Length)])),
                _ => $"V{_numbers[p.SignalIndex % _numbers.Length]}",
            },
        };
}
