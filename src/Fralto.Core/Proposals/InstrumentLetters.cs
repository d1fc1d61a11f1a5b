namespace Fralto.Core.Proposals;

/// <summary>Instrument identification letters as in ANSI/ISA-5.1, table of identification letters (from memory): the first letter says what
/// is measured, those after it what is done with it.</summary>
internal static class InstrumentLetters
{
    // Letters the standard leaves to the user (C, D, G, M, N, O) stand for what they are commonly used for (common practice, no source).
    private static readonly Dictionary<char, string[]> Measured = new()
    {
        ['A'] = ["oxygen", "carbondioxide", "acidity", "humidity", "moisture", "turbidity"],
        ['B'] = ["flame", "burner"],
        ['C'] = ["conductivity"],
        ['D'] = ["density"],
        ['E'] = ["voltage"],
        ['F'] = ["flow"],
        ['G'] = ["position"],
        ['H'] = [],
        ['I'] = ["current"],
        ['J'] = ["power"],
        ['K'] = ["time"],
        ['L'] = ["level"],
        ['M'] = ["moisture", "humidity"],
        ['P'] = ["pressure"],
        ['Q'] = ["total", "counter", "energy"],
        ['S'] = ["speed", "frequency"],
        ['T'] = ["temperature"],
        ['V'] = ["vibration"],
        ['W'] = ["mass"],
        ['X'] = ["run", "fault", "state"],
        ['Y'] = ["run", "state", "fault"],
        ['Z'] = ["position", "open", "closed", "door"],
    };

    private const string Succeeding = "AICTESVYZRLHGKQX";

    /// <summary>What a letter that stands by itself may mean, as the T of OilT; empty for one that says nothing by itself.</summary>
    public static IReadOnlyList<string> OfOne(string letter) =>
        letter is "f" or "l" or "p" or "t" ? Measured[char.ToUpperInvariant(letter[0])] : [];

    /// <summary>What instrument letters may mean; empty when a word is none. Second come what the letters after the first say.</summary>
    public static IReadOnlyList<string> Of(string word)
    {
        if (word.Length is < 2 or > 5 || !Measured.TryGetValue(char.ToUpperInvariant(word[0]), out var first))
            return [];
        // Of the switches and lights of a valve O is the open one and C the closed one.
        if (word is "zso" or "zlo" or "zio")
            return ["open", "position"];
        if (word is "zsc" or "zlc" or "zic")
            return ["closed", "position"];
        var rest = word[1..].ToUpperInvariant();
        var meanings = new List<string>(first);
        if (rest[0] == 'D' && rest.Length > 1 && word[0] is 'p' or 't')
        {
            meanings.Add("differential");
            rest = rest[1..];
        }
        else if (rest[0] == 'Q' && word[0] is 'f' or 'w' or 'j')
        {
            // Q after what is measured adds it up: flow to a volume, what a belt carries to a tonnage, power to energy.
            meanings =
            [
                "total",
                .. first,
                .. word[0] switch
                {
                    'f' => ["volume"],
                    'j' => ["energy"],
                    _ => Array.Empty<string>(),
                },
            ];
            rest = rest.Length > 1 ? rest[1..] : "T";
        }
        if (rest.Length == 0 || rest.Any(c => !Succeeding.Contains(c, StringComparison.Ordinal)))
            return [];
        // A switch or an alarm is a contact, a valve is a position, a controller gives out.
        if (rest is "A" or "AH" or "AL" or "AHH" or "ALL" or "SH" or "SL" or "SHH" or "SLL" or "HH")
            meanings.Add("*alarm");
        // H and L at the end say which of the two: the switch of a tank that is full, or empty.
        if (rest.Length > 1 && rest[^1] is 'H' or 'L' && rest[0] is 'S' or 'A')
        {
            meanings.Add(rest[^1] == 'H' ? "*high" : "*low");
            if (word[0] == 'l')
                meanings.Add(rest[^1] == 'H' ? "full" : "empty");
        }
        if (rest is "A" && word[0] is 'x' or 'y')
            meanings = ["fault"];
        if (rest is "V" or "CV")
            meanings = ["valve", "position", .. meanings];
        return meanings;
    }
}
