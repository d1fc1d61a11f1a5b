using Fralto.Core.Basics;

namespace Fralto.Core.Tests;

/// <summary>Few of many units are called by a number that is reckoned from theirs; nothing else is called so.</summary>
public sealed class FewReckonedTests
{
    private readonly NamedPlant _plant = new();

    /// <summary>Dryer 1 of hall H40 is called ..H40_233 and that of H20 ..H20_233: that does not say that the 233 stays as it is and the
    /// channel follows the dryer.</summary>
    [Fact]
    public void What_another_hall_calls_by_the_same_numbers_does_not_say_how_they_follow()
    {
        _plant.KindOfThree("Dryer");
        foreach (var hall in new[] { 10, 20, 30, 40 })
        {
            _plant.Place($"H{hall}", $"Hall {hall}", EquipmentLevel.Area, "Quay");
            foreach (var n in new[] { 1, 2 })
                _plant.Place($"DR{n:00}", $"Dryer {n}", EquipmentLevel.Unit, $"H{hall}", "Dryer", $"H{hall} DR{n}");
        }
        foreach (var (hall, n) in new[] { (40, 1), (40, 2), (20, 1), (20, 2) })
        foreach (var property in NamedPlant.Three)
            _plant.Tag($"chan1{property}10H{hall}_{n + 232}");
        foreach (var property in NamedPlant.Three)
            _plant.Bind("H40 DR1", "Dryer", $"plc chan1{property}10H40_233", property);
        foreach (var property in NamedPlant.Three)
        {
            _plant.Proposed("H40 DR2", "Dryer", property).ShouldBe($"plc chan1{property}10H40_234");
            _plant.Proposed("H20 DR2", "Dryer", property).ShouldBe($"plc chan1{property}10H20_234");
            _plant.Proposed("H30 DR2", "Dryer", property).ShouldBeNull();
        }
    }

    /// <summary>Four elements a dryer, the last of them free: three a dryer would name each tag once as well, and cut dryers in
    /// two.</summary>
    [Fact]
    public void What_cuts_units_in_two_does_not_reckon_where_they_begin()
    {
        _plant.KindOfThree("Dryer");
        for (var n = 1; n <= 9; n++)
            _plant.Place($"DR{n}", $"Dryer {n}", EquipmentLevel.Unit, "Quay", "Dryer");
        int[] having = [1, 2, 3, 5];
        foreach (var n in having)
        foreach (var (property, i) in NamedPlant.Three.Select((p, i) => (p, i)))
        {
            _plant.Tag($"dr[{n * 4 + i + 383}]");
            if (n == 1)
                _plant.Bind("DR1", "Dryer", $"plc dr[{4 + i + 383}]", property);
        }
        foreach (var n in having.Skip(1))
        foreach (var (property, i) in NamedPlant.Three.Select((p, i) => (p, i)))
            _plant.Proposed($"DR{n}", "Dryer", property).ShouldBe($"plc dr[{n * 4 + i + 383}]");
    }

    /// <summary>One tag of fifteen has a unit no flow has: somebody set it wrong, and the rule holds all the same.</summary>
    [Fact]
    public void One_tag_that_the_property_cannot_have_does_not_refute_a_rule()
    {
        _plant.KindOfThree("Pump");
        for (var n = 101; n <= 113; n++)
            _plant.Place($"P{n}", $"Pump {n}", EquipmentLevel.Unit, "Quay", "Pump");
        int[] having = [108, 101, 102, 104, 110];
        foreach (var n in having)
        foreach (var property in NamedPlant.Three)
        {
            _plant.Tag($"P {n + 11} {NamedPlant.Opaque(property)}", unit: (n, property) == (104, "Drain") ? "CEL" : "MQH");
            if (n == 108)
                _plant.Bind("P108", "Pump", $"plc P {n + 11} {NamedPlant.Opaque(property)}", property);
        }
        foreach (var n in having.Skip(1))
            _plant.Proposed($"P{n}", "Pump").ShouldBe($"plc P {n + 11} {NamedPlant.Opaque("Flow")}");
    }
}
