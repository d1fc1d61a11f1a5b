using Fralto.Core.Basics;

namespace Fralto.Core.Tests;

/// <summary>Nothing is bound, and names of tags have numbers that units have as well: they are not always theirs.</summary>
public sealed class CountedTagsTests
{
    private readonly NamedPlant _plant = new();

    /// <summary>Element 101 of an array that has three for each tank is not tank 101's, though it is called so.</summary>
    [Theory]
    [InlineData(101)]
    [InlineData(111)]
    public void An_element_is_not_of_the_unit_that_has_its_number(int first)
    {
        Units("Tank", "TK", first, 40);
        for (var element = 0; element < 240; element++)
            if (element % 6 > 2)
                _plant.Tag($"TK[{element}]", description: NamedPlant.Three[element % 3]);
        for (var n = first; n < first + 40; n++)
            foreach (var property in NamedPlant.Three)
                _plant.Proposed($"TK{n}", "Tank", property).ShouldBeNull();
    }

    /// <summary>Where tags are described with their unit, that says whose they are, whatever their numbers.</summary>
    [Fact]
    public void What_is_described_as_of_a_unit_is_that_units_whatever_its_number()
    {
        Units("Tank", "TK", 101, 12);
        for (var n = 101; n < 113; n++)
            foreach (var (property, i) in NamedPlant.Three.Select((p, i) => (p, i)))
                _plant.Tag($"TK[{96 + (n - 101) * 3 + i}]", description: $"TK{n} {property}");
        for (var n = 101; n < 113; n++)
            _plant.Proposed($"TK{n}", "Tank").ShouldBe($"plc TK[{96 + (n - 101) * 3}]");
    }

    /// <summary>Tank 1 is 02 and tank 2 is 04: 02 is not tank 2's.</summary>
    [Theory]
    [InlineData(2)]
    [InlineData(3)]
    public void Numbers_at_a_step_that_run_past_the_last_unit_are_not_those_of_units(int step)
    {
        Units("Tank", "TK", 1, 14);
        for (var n = 1; n <= 14; n++)
            _plant.Tag($"X_Tank{n * step:00}_FLOW", description: "Flow");
        for (var n = 1; n <= 14; n++)
            _plant.Proposed($"TK{n}", "Tank").ShouldBeNull();
    }

    /// <summary>Units that are themselves numbered by tens are called so, and so are those of a plant of which few are modelled.</summary>
    [Theory]
    [InlineData(10, 14)]
    [InlineData(1, 14)]
    [InlineData(1, 3)]
    public void Numbers_that_are_those_of_units_say_whose_a_tag_is(int step, int modelled)
    {
        Units("Tank", "TK", step, modelled, step);
        for (var n = 1; n <= 14; n++)
            foreach (var property in NamedPlant.Three)
                _plant.Tag($"X_Tank{n * step:00}_{property}", description: property);
        for (var n = 1; n <= modelled; n++)
            foreach (var property in NamedPlant.Three)
                _plant.Proposed($"TK{n * step}", "Tank", property).ShouldBe($"plc X_Tank{n * step:00}_{property}");
    }

    private void Units(string kind, string code, int first, int count, int step = 1)
    {
        _plant.KindOfThree(kind);
        for (var n = first; n < first + count * step; n += step)
            _plant.Place($"{code}{n}", $"{kind} {n}", EquipmentLevel.Unit, "Quay", kind);
    }
}
