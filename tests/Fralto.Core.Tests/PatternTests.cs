using Fralto.Core.NamingRules;
using Fralto.Core.Proposals;

namespace Fralto.Core.Tests;

/// <summary>Naming rules as people write them. The notation is ours.</summary>
public sealed class PatternTests
{
    private static readonly PlantBuilder Plant = PlantBuilder.Kiln();

    [Theory]
    [InlineData("KLN{number}_TT11", "KLN1_TT11")]
    [InlineData("{site.code}/{code}/temp", "Quay/KLN1/temp")]
    [InlineData("LT-{number*100+1:0000}", "LT-0101")]
    [InlineData("{parent.name:initials}.{name:first}", "TQ.KILN")]
    [InlineData("{site.name:letters3}{number+9}", "TAR10")]
    [InlineData("{site.name:consonants}", "TRNQY")]
    [InlineData("{order:letter}{site.order:letter}-T", "AA-T")]
    [InlineData("P{{x}}{order}", "P{x}1")]
    [InlineData("CONTACTS | [{number*16-16}]", "CONTACTS[0]")]
    [InlineData("{code}_ST | .4-6", "KLN1_ST.4-6")]
    [InlineData("W | [2].{number}-{number+1}", "W[2].1-2")]
    public void A_rule_names_the_tag_of_an_instance_and_reads_back_as_it_is_written(string rule, string tag)
    {
        var pattern = NamePattern.Parse(rule, out var problem);
        problem.ShouldBeNull();
        pattern!.ToString().ShouldBe(rule);
        NamePattern.Parse(pattern.ToString(), out _).ShouldBe(pattern);
        var nodes = new PlantNames(Plant.Model);
        pattern.TextFor(nodes.Of(Plant["KLN1"])).ShouldBe(tag);
    }

    [Theory]
    [InlineData("", "Write the rule")]
    [InlineData("KLN{number", "without its }")]
    [InlineData("KLN}", "without its {")]
    [InlineData("KLN{size}", "not understood")]
    [InlineData("KLN{number*0}", "not understood")]
    [InlineData("KLN{number:x}", "not understood")]
    [InlineData("{roof.code}", "not understood")]
    [InlineData("W | 3", "no part of a tag")]
    [InlineData("W | [2", "no part of a tag")]
    [InlineData("W | .{number}-{order}", "no part of a tag")]
    public void What_is_no_rule_is_refused_with_words(string rule, string words)
    {
        NamePattern.Parse(rule, out var problem).ShouldBeNull();
        problem!.ShouldContain(words);
    }

    [Theory]
    [InlineData("Kiln2AirOn_TT11", "kiln|2|air|on|tt|11")]
    [InlineData("PLCTank03", "plc|tank|03")]
    [InlineData("Füllstand-Behälter7", "fullstand|behalter|7")]
    [InlineData("valueOfpH", "value|ofph")]
    [InlineData("pH 4", "ph|4")]
    [InlineData("12345678901", "12345678901")]
    public void Names_part_where_people_see_words_and_numbers(string name, string parts) =>
        string.Join('|', NameToken.Of(name).Select(t => t.Text)).ShouldBe(parts);

    [Fact]
    public void Names_are_compared_by_words_and_numbers()
    {
        NameToken.KeyOf("KLN-02_TT.11").ShouldBe(NameToken.KeyOf("kln2tt11"));
        NameToken.KeyOf("DB1.W12").ShouldNotBe(NameToken.KeyOf("DB11.W2"));
        NameToken.KeyOf("A1.23").ShouldNotBe(NameToken.KeyOf("A12.3"));
    }
}
