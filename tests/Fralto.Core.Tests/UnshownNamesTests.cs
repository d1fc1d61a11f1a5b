namespace Fralto.Core.Tests;

/// <summary>Properties of which no tag was bound beside others of which one was.</summary>
public sealed class UnshownNamesTests
{
    private readonly NamedPlant _plant = new();

    private static string Called(int unit, string property) => $"ROOT_{property}_P_{5 * unit + 2000}";

    /// <summary>The pump that was bound has no drain; those of the others are called as their flows are, but for the word.</summary>
    [Theory]
    [InlineData("Drain", true)]
    [InlineData("DRAIN_VALVE", true)]
    [InlineData("V45", false)]
    public void A_property_nobody_has_shown_is_called_as_the_others_but_for_its_own_words(string drain, bool isSaid)
    {
        _plant.Kind("Pump");
        foreach (var property in new[] { "Return", "Drain" })
            _plant.Property("Pump", property);
        foreach (var unit in Enumerable.Range(101, 8))
        {
            _plant.Place($"P{unit}", $"Pump {unit}", Basics.EquipmentLevel.Unit, "Quay", "Pump");
            foreach (var property in new[] { "Flow", "Return" })
                _plant.Tag(Called(unit, property));
            if (unit != 103)
                _plant.Tag(Called(unit, drain));
        }
        foreach (var property in new[] { "Flow", "Return" })
            _plant.Bind("P103", "Pump", $"plc {Called(103, property)}", property);
        foreach (var unit in Enumerable.Range(101, 8).Where(u => u != 103))
            _plant.Proposed($"P{unit}", "Pump", "Drain").ShouldBe(isSaid ? $"plc {Called(unit, drain)}" : null);
        _plant.Proposed("P103", "Pump", "Drain").ShouldBeNull();
    }

    /// <summary>What two properties nobody has shown may be as well is given to neither.</summary>
    [Fact]
    public void What_may_be_either_of_two_properties_nobody_has_shown_stays_open()
    {
        _plant.Kind("Pump");
        foreach (var property in new[] { "Return", "DrainLeft", "DrainRight" })
            _plant.Property("Pump", property);
        foreach (var unit in Enumerable.Range(101, 8))
        {
            _plant.Place($"P{unit}", $"Pump {unit}", Basics.EquipmentLevel.Unit, "Quay", "Pump");
            foreach (var property in new[] { "Flow", "Return", "Drain" })
                _plant.Tag(Called(unit, property));
        }
        foreach (var property in new[] { "Flow", "Return" })
            _plant.Bind("P103", "Pump", $"plc {Called(103, property)}", property);
        foreach (var unit in Enumerable.Range(101, 8))
        foreach (var property in new[] { "DrainLeft", "DrainRight" })
            _plant.Proposed($"P{unit}", "Pump", property).ShouldBeNull();
    }
}
