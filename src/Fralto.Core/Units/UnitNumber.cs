namespace Fralto.Core.Units;

/// <summary>Units of OPC UA: their numbers are the bytes of their UNECE code, read as one number (OPC UA Part 8, clause 5.6.4.3).</summary>
public static class UnitNumber
{
    /// <summary>Where the numbers are those of UNECE codes.</summary>
    public const string Namespace = "http://www.opcfoundation.org/UA/units/un/cefact";

    /// <summary>What stands for no number.</summary>
    public const int None = -1;

    private const int LongestCode = 3;

    /// <summary>The number of a code; <see cref="None"/> for one that is none: empty, longer than three characters, or not ASCII.</summary>
    public static int Of(string code)
    {
        if (code.Length is 0 or > LongestCode || code.Any(c => c is < '!' or > '~'))
            return None;
        var number = 0;
        foreach (var letter in code)
            number = number << 8 | letter;
        return number;
    }

    /// <summary>The code of a number; null for a number that is none.</summary>
    public static string? CodeOf(int number)
    {
        var code = "";
        for (; number > 0; number >>= 8)
        {
            var letter = (char)(number & 0xFF);
            if (letter is < '!' or > '~' || code.Length == LongestCode)
                return null;
            code = letter + code;
        }
        return code.Length > 0 ? code : null;
    }
}
