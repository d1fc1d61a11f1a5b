namespace Fralto.Core.Basics;

/// <summary>New names by what stands in old ones: each * of the one stands for any text, and for the same text in the other, in
/// order.</summary>
/// <param name="From">What is looked for in a name, anywhere in it: KLN*_TT.</param>
/// <param name="To">What stands there from then on: K*.TT.</param>
public sealed record RenamePattern(string From, string To)
{
    private const char Any = '*';

    /// <summary>What is wrong with it; null when nothing is.</summary>
    public string? Problem =>
        From.Length == 0 ? "Say what is to be replaced in the names; * stands for any text."
        : From.Contains("**", StringComparison.Ordinal) ? "Two * in a row cannot be told apart; put what stands between them."
        : To.Count(c => c == Any) > From.Count(c => c == Any) ? "The new name has more * than the old one: nothing stands for them."
        : null;

    /// <summary>The name after it; the same name when it does not have what is looked for.</summary>
    /// <param name="name">The name.</param>
    public string Of(string name)
    {
        var parts = From.Split(Any);
        var begin = parts[0].Length == 0 ? 0 : name.IndexOf(parts[0], StringComparison.OrdinalIgnoreCase);
        if (begin < 0)
            return name;
        var at = begin + parts[0].Length;
        var taken = new List<string>();
        for (var i = 1; i < parts.Length; i++)
        {
            // A last * takes all that is left; any other as little as it can.
            var next =
                parts[i].Length > 0 ? name.IndexOf(parts[i], at, StringComparison.OrdinalIgnoreCase)
                : i == parts.Length - 1 ? name.Length
                : -1;
            if (next < 0)
                return name;
            taken.Add(name[at..next]);
            at = next + parts[i].Length;
        }
        var wanted = To.Split(Any);
        var middle = wanted[0] + string.Concat(wanted.Skip(1).Select((text, i) => taken[i] + text));
        return name[..begin] + middle + name[at..];
    }
}
