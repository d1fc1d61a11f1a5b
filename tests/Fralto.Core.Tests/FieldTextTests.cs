using CsCheck;
using Fralto.Core.Scaling;

namespace Fralto.Core.Tests;

/// <summary>A number and a span are read alike wherever they are written.</summary>
public sealed class FieldTextTests
{
    [Fact]
    public void A_number_reads_back_as_it_is_written() =>
        Gen.Double[-1e12, 1e12]
            .Sample(number =>
            {
                var text = number.ToString("R", System.Globalization.CultureInfo.InvariantCulture);
                FieldText.Number(text, out var problem).ShouldBe(number);
                problem.ShouldBeNull();
                FieldText.Number($" {text.Replace('.', ',')} ", out _, hasDecimalComma: true).ShouldBe(number);
            });

    [Theory]
    [InlineData("71,5", "'71,5' is no number; write decimals with a point, as in 71.5.")]
    [InlineData("NaN", "'NaN' is no number.")]
    [InlineData("Infinity", "'Infinity' is no number.")]
    [InlineData("1e999", "'1e999' is no number.")]
    [InlineData("", "'' is no number.")]
    [InlineData("7 1", "'7 1' is no number.")]
    public void What_is_no_number_says_what_would_do(string text, string message)
    {
        FieldText.Number(text, out var problem).ShouldBeNull();
        problem.ShouldBe(message);
    }

    [Theory]
    [InlineData("1/60", 1.0 / 60)]
    [InlineData(" 9 / 5 ", 1.8)]
    [InlineData("-1/4", -0.25)]
    [InlineData("1.5/3", 0.5)]
    [InlineData("1/0", null)]
    [InlineData("0/0", null)]
    [InlineData("1/2/3", null)]
    [InlineData("/2", null)]
    [InlineData("2/", null)]
    [InlineData("a/2", null)]
    public void A_fraction_is_a_number(string text, double? number) => FieldText.Number(text, out _).ShouldBe(number);

    [Theory]
    [InlineData("-12", -12L)]
    [InlineData(" 7 ", 7L)]
    [InlineData("7.0", null)]
    [InlineData("99999999999999999999", null)]
    public void A_whole_number_has_no_point(string text, long? whole)
    {
        FieldText.Whole(text, out var problem).ShouldBe(whole);
        (problem is null).ShouldBe(whole is not null);
    }

    [Fact]
    public void A_span_has_both_ends_or_neither()
    {
        var said = new List<(bool IsHigh, string Message)>();
        Span? Read(string low, string high)
        {
            said.Clear();
            return FieldText.Ends(low, high, "the range", (isHigh, message) => said.Add((isHigh, message)));
        }
        Read("", "").ShouldBeNull();
        said.ShouldBeEmpty();
        Read("0", "120").ShouldBe(new Span(0, 120));
        said.ShouldBeEmpty();
        Read("0", "").ShouldBeNull();
        said.ShouldBe([(true, "Give both ends of the range, or neither.")]);
        Read("", "5").ShouldBeNull();
        said.ShouldBe([(false, "Give both ends of the range, or neither.")]);
        Read("x", "y").ShouldBeNull();
        said.ShouldBe([(false, "'x' is no number."), (true, "'y' is no number.")]);
    }
}
