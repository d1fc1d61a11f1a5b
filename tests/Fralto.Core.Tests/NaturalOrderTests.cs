using System.Globalization;
using System.Numerics;
using System.Text.RegularExpressions;
using CsCheck;
using Fralto.Core.Basics;

namespace Fralto.Core.Tests;

public sealed class NaturalOrderTests
{
    private static readonly Gen<string> Names = Gen.Char["aAbB019 _-.éÉ"].Array[0, 24].Select(c => new string(c));

    [Theory]
    [InlineData("Silo 2", "Silo 10")]
    [InlineData("silo 2", "Silo 3")]
    [InlineData("KLN1_TT9", "KLN1_TT11")]
    [InlineData("T2", "T02a")]
    [InlineData("Kiln", "Kiln 1")]
    [InlineData("T999999999999", "T1000000000000")]
    [InlineData("a-1", "a1")]
    public void Numbers_count_and_case_does_not(string first, string then)
    {
        NaturalOrder.Compare(first, then).ShouldBeLessThan(0);
        NaturalOrder.Compare(then, first).ShouldBeGreaterThan(0);
        NaturalOrder.Compare(first, first).ShouldBe(0);
    }

    /// <summary>Sorting by prefixes gives what comparing whole texts gives, which is an order: no text is before itself.</summary>
    [Fact]
    public void Sorting_is_what_comparing_each_with_each_gives() =>
        Gen.Select(Gen.OneOf(Gen.Const(""), Gen.Const("area 12 hall KLN_"), Gen.Const("é7")), Names)
            .Select((begin, name) => begin + name)
            .Array[0, 90]
            .Sample(texts =>
            {
                var sorted = NaturalOrder.Sort(texts, [.. Enumerable.Range(0, texts.Length)]);
                var plain = Enumerable
                    .Range(0, texts.Length)
                    .OrderBy(i => texts[i], Comparer<string>.Create(NaturalOrder.Compare))
                    .ToArray();
                sorted.ShouldBe(plain);
                for (var i = 0; i < sorted.Length; i++)
                for (var j = i + 1; j < sorted.Length; j++)
                    NaturalOrder.Compare(texts[sorted[i]], texts[sorted[j]]).ShouldBeLessThanOrEqualTo(0);
            });

    /// <summary>The reference splits texts into runs of digits and single letters and compares them one by one, the runs as numbers of any
    /// size.</summary>
    [Fact]
    public void It_is_what_comparing_runs_as_numbers_gives() =>
        Gen.Select(Names, Names).Sample((a, b) => Math.Sign(NaturalOrder.Compare(a, b)).ShouldBe(Math.Sign(Plainly(a, b))), iter: 20_000);

    private static int Plainly(string a, string b)
    {
        var (one, other) = (Runs(a), Runs(b));
        foreach (var (x, y) in one.Zip(other))
        {
            var order =
                char.IsAsciiDigit(x[0]) && char.IsAsciiDigit(y[0])
                    ? BigInteger.Parse(x, CultureInfo.InvariantCulture).CompareTo(BigInteger.Parse(y, CultureInfo.InvariantCulture))
                    : x.ToUpperInvariant()[0].CompareTo(y.ToUpperInvariant()[0]);
            if (order != 0)
                return order;
        }
        return one.Length != other.Length ? one.Length.CompareTo(other.Length) : string.CompareOrdinal(a, b);
    }

    private static string[] Runs(string text) => [.. Regex.Matches(text, "[0-9]+|[^0-9]").Select(m => m.Value)];
}
