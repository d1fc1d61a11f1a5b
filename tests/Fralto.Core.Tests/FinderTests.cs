using Fralto.Core.Plant;

namespace Fralto.Core.Tests;

public sealed class FinderTests
{
    private readonly PlantModel _model = PlantBuilder.Kiln().Model;

    [Theory]
    [InlineData("kiln 1", "Kiln 1")]
    [InlineData("KLN1", "Kiln 1")]
    [InlineData("quay/kl", "Kiln 1")]
    [InlineData("kiln", "Kiln")]
    [InlineData("tt1", "TT11")]
    [InlineData("plc tt", "TT11")]
    [InlineData("air temp", "Air-on temperature")]
    [InlineData("airon", "Air-on temperature")]
    public void Any_part_finds_and_the_closest_comes_first(string text, string first) =>
        Finder.Find(_model, text, 10)[0].Name.ShouldBe(first);

    [Theory]
    [InlineData("")]
    [InlineData("   ")]
    [InlineData("kiln nowhere")]
    public void Every_word_must_match(string text) => Finder.Find(_model, text, 10).ShouldBeEmpty();

    [Fact]
    public void No_more_are_found_than_asked_for_and_a_property_leads_to_its_template()
    {
        Finder.Find(_model, "i", 2).Count.ShouldBe(2);
        var property = Finder.Find(_model, "air-on", 5).Single(f => f.Kind == FoundKind.Property);
        _model.Templates[property.OwnerId].Properties.ShouldContain(p => p.Id == property.Id);
    }

    [Theory]
    [InlineData("kiln 1 air-on")]
    [InlineData("AIR-ON kln1")]
    [InlineData("quay airon")]
    public void Some_words_name_an_instance_and_the_others_a_property_of_it(string text)
    {
        var found = Finder.Find(_model, text, 10).First(f => f.Kind == FoundKind.Value);
        var instance = _model.Equipment[found.OwnerId];
        var property = _model.Index.PropertiesOf(instance).Single(p => p.Id == found.Id);
        found.Name.ShouldBe($"{instance.Name} {property.Name}");
        found.Where.ShouldBe(_model.Index.PathOf(instance.Id));
    }

    [Fact]
    public void A_property_alone_finds_no_instance_and_one_word_too_many_nothing()
    {
        Finder.Find(_model, "air-on", 50).ShouldNotContain(f => f.Kind == FoundKind.Value);
        Finder.Find(_model, "kiln 1 air-on nowhere", 50).ShouldBeEmpty();
    }
}
