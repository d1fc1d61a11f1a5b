using System.Globalization;

namespace Fralto.Core.Basics;

/// <summary>Names and codes of a series: two patterns in which {n} stands for the number.</summary>
/// <param name="Name">Pattern of the names, for example "Silo {n}".</param>
/// <param name="Code">Pattern of the codes, for example "S{n}".</param>
/// <param name="Start">The first number.</param>
/// <param name="Step">From one number to the next; not 0.</param>
/// <param name="Count">How many.</param>
/// <param name="Digits">Numbers are filled with zeros to so many digits; 1 leaves them as they are.</param>
public sealed record SeriesPattern(string Name, string Code, int Start, int Step, int Count, int Digits)
{
    /// <summary>What stands for the number.</summary>
    public const string Number = "{n}";

    /// <summary>The most one series may make.</summary>
    public const int Most = 1000;

    /// <summary>A code made from a name, in which {n} stays what stands for the number.</summary>
    /// <param name="name">The name, with or without {n}.</param>
    public static string SuggestCode(string name) =>
        name.Contains(Number, StringComparison.Ordinal)
            ? Naming.Suggest(name.Replace(Number, "", StringComparison.Ordinal)) + Number
            : Naming.Suggest(name);

    /// <summary>Name and code of each member, in order.</summary>
    public IEnumerable<(string Name, string Code)> Members =>
        Enumerable
            .Range(0, Math.Clamp(Count, 0, Most))
            .Select(i =>
            {
                var number = (Start + (long)i * Step).ToString(new string('0', Math.Clamp(Digits, 1, 9)), CultureInfo.InvariantCulture);
                return (Name.Replace(Number, number, StringComparison.Ordinal), Code.Replace(Number, number, StringComparison.Ordinal));
            });
}
