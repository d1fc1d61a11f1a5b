using CsCheck;
using Fralto.Core.Units;

namespace Fralto.Core.Tests;

/// <summary>Numbers of units in OPC UA (Part 8, clause 5.6.4.3).</summary>
public class UnitNumberTests
{
    /// <summary>Values: read from node sets that are published with node-opcua-nodesets 2.140.</summary>
    [Theory]
    [InlineData("CEL", 4408652)]
    [InlineData("MBR", 5063250)]
    [InlineData("P1", 20529)]
    [InlineData("AMP", 4279632)]
    [InlineData("SEC", 5457219)]
    [InlineData("NU", 20053)]
    [InlineData("C26", 4403766)]
    [InlineData("H81", 4732977)]
    public void Numbers_are_those_of_published_models(string code, int number)
    {
        UnitNumber.Of(code).ShouldBe(number);
        UnitNumber.CodeOf(number).ShouldBe(code);
    }

    [Fact]
    public void Every_unit_there_is_has_a_number_that_leads_back()
    {
        // Codes of ours for what UNECE has no code for are longer, and have no number.
        var all = UnitCatalogue.Standard.All.Where(u => u.Code.Length <= 3).ToArray();
        all.Length.ShouldBeGreaterThan(200);
        UnitCatalogue.Standard.All.Except(all).ShouldAllBe(u => UnitNumber.Of(u.Code) == UnitNumber.None);
        all.Select(u => UnitNumber.Of(u.Code)).ShouldBeUnique();
        foreach (var unit in all)
            UnitNumber.CodeOf(UnitNumber.Of(unit.Code)).ShouldBe(unit.Code);
    }

    [Fact]
    public void Whatever_number_comes_is_a_code_that_leads_back_or_none() =>
        Gen.Int.Sample(
            number =>
            {
                if (UnitNumber.CodeOf(number) is { } code)
                    UnitNumber.Of(code).ShouldBe(number);
            },
            iter: 20_000
        );

    [Theory]
    [InlineData("")]
    [InlineData("ABCD")]
    [InlineData("°C")]
    public void What_is_no_code_has_no_number(string code) => UnitNumber.Of(code).ShouldBe(UnitNumber.None);
}
