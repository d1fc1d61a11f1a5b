using Fralto.Core.NamingRules;
using Fralto.Core.Proposals;

namespace Fralto.Core.Tests;

/// <summary>What words and letters of the trade are taken to mean.</summary>
public sealed class TradeWordTests
{
    [Theory]
    [Trait("source", "ANSI/ISA-5.1, table of identification letters, from memory")]
    [InlineData("TT", "temperature")]
    [InlineData("TIC", "temperature")]
    [InlineData("PDT", "pressure")]
    [InlineData("PDT", "differential")]
    [InlineData("LT", "level")]
    [InlineData("FT", "flow")]
    [InlineData("FQ", "total")]
    [InlineData("WQ", "total")]
    [InlineData("JQ", "energy")]
    [InlineData("SC", "speed")]
    [InlineData("IT", "current")]
    [InlineData("WT", "mass")]
    [InlineData("ZS", "position")]
    [InlineData("XV", "valve")]
    [InlineData("LSH", "*alarm")]
    [InlineData("LSH", "full")]
    [InlineData("LSL", "empty")]
    [InlineData("PSH", "*high")]
    [InlineData("XA", "fault")]
    [InlineData("ZSO", "open")]
    [InlineData("ZSC", "closed")]
    public void Instrument_letters_say_what_is_measured(string letters, string meaning) =>
        InstrumentLetters.Of(letters.ToLowerInvariant()).ShouldContain(meaning);

    [Theory]
    [InlineData("t", "temperature")]
    [InlineData("p", "pressure")]
    public void A_letter_by_itself_may_say_what_is_measured(string letter, string meaning) =>
        InstrumentLetters.OfOne(letter).ShouldContain(meaning);

    [Theory]
    [InlineData("to")]
    [InlineData("kiln")]
    [InlineData("t")]
    [InlineData("ttwx")]
    [InlineData("tun")]
    public void Other_words_are_no_instrument_letters(string word) => InstrumentLetters.Of(word).ShouldBeEmpty();

    [Theory]
    [Trait("source", "common practice, no source")]
    [InlineData("Temp", "temperature")]
    [InlineData("TMPRTR", "temperature")]
    [InlineData("Füllstand", "level")]
    [InlineData("FST", "level")]
    [InlineData("Durchfluss", "flow")]
    [InlineData("Drehz", "speed")]
    [InlineData("Störung", "fault")]
    [InlineData("caudal", "flow")]
    [InlineData("Presión", "pressure")]
    [InlineData("VEL", "speed")]
    [InlineData("SP", "*setpoint")]
    public void Words_of_three_languages_mean_the_same(string word, string meaning) =>
        TradeWords.Of(NameToken.Of(word).Single().Text).ShouldContain(meaning);

    [Theory]
    [Trait("source", "common practice, no source")]
    [InlineData("Zulufttemperatur", "zuluft temperatur")]
    [InlineData("Betriebsdruck", "betrieb druck")]
    [InlineData("Luftdrucksollwert", "luft druck sollwert")]
    [InlineData("Kesseltemperatur", "kessel temperatur")]
    [InlineData("watertemp", "water temp")]
    [InlineData("MOTORCURRENT", "motor current")]
    [InlineData("temperature", "")]
    [InlineData("Zustand", "")]
    [InlineData("Widerstand", "")]
    [InlineData("Volumenstrom", "")]
    [InlineData("standby", "")]
    [InlineData("download", "")]
    public void Words_that_are_put_together_are_taken_apart(string word, string parts) =>
        string.Join(' ', TradeWords.PartsOf(NameToken.Of(word).Single().Text)).ShouldBe(parts);

    [Theory]
    [InlineData("lvl", "level", true)]
    [InlineData("lev", "level", true)]
    [InlineData("level", "level", false)]
    [InlineData("vel", "level", false)]
    [InlineData("le", "level", false)]
    public void A_word_cut_short_is_its_start_or_its_consonants(string word, string full, bool isShort) =>
        TradeWords.IsShort(word, full).ShouldBe(isShort);

    [Fact]
    public void Addresses_lie_on_a_line_when_four_in_five_do()
    {
        AddressLine.Through(1, [(1, 10), (2, 50), (3, 90), (4, 130)])!.At(6).ShouldBe(210);
        AddressLine.Through(1, [(5, 170), (1, 10), (2, 50), (3, 90), (4, 999)])!.At(4).ShouldBe(130);
        AddressLine.Through(1, [(1, 10), (2, 17), (3, 90), (4, 999)]).ShouldBeNull();
        AddressLine.Through(1, [(1, 10), (1, 10)]).ShouldBeNull();
    }
}
