using Fralto.Core.Basics;

namespace Fralto.Core.Tests;

/// <summary>What units have lies side by side in an array, with nothing between to say where one unit ends: only all properties together
/// tell how it is counted.</summary>
public sealed class SideBySideTests
{
    private static readonly string[] Properties = NamedPlant.Three;

    private readonly NamedPlant _plant = new();

    private static string Element(int number, string property) => $"DR[{number + Array.IndexOf(Properties, property)}]";

    /// <summary>Three halls have dryers 1 to 9 each; those of the middle one lie in an array that is counted through. Each property alone
    /// finds more at a step of one, which takes what is the next property's.</summary>
    [Fact]
    public void What_names_each_once_together_is_compared_though_each_finds_fewer_alone()
    {
        static string Counted(int unit, string property) => Element(3 * (unit + 9) + 10, property);
        _plant.KindOfThree("Dryer");
        foreach (var hall in new[] { "A", "B", "C" })
        {
            _plant.Place(hall, $"Hall {hall}", EquipmentLevel.Area, "Quay");
            foreach (var unit in Enumerable.Range(1, 9))
            {
                _plant.Place($"DR{unit}", $"Dryer {unit}", EquipmentLevel.Unit, hall, "Dryer", $"{hall}{unit}");
                foreach (var property in Properties)
                    _plant.Tag(hall == "B" ? Counted(unit, property) : $"{hall}:{NamedPlant.Opaque(property)}:{unit + 153}:dry");
            }
        }
        foreach (var property in Properties)
            _plant.Bind("B4", "Dryer", $"plc {Counted(4, property)}", property);
        foreach (var unit in new[] { 1, 2, 3, 5, 6, 7, 8, 9 })
        foreach (var property in Properties)
            _plant.Proposed($"B{unit}", "Dryer", property).ShouldBe($"plc {Counted(unit, property)}");
        // Neither does it reach into the other halls, whose dryers 1 to 9 are called alike.
        foreach (var hall in new[] { "A", "C" })
        foreach (var property in Properties)
            _plant.Proposed($"{hall}5", "Dryer", property).ShouldBeNull();
    }

    /// <summary>Dryers 4, 9, 16 and 23 lie in an array, three elements each: no two of them are next to each other, so nothing lies a step
    /// of three from the one that was bound.</summary>
    [Fact]
    public void What_a_unit_takes_up_is_a_step_though_none_lies_next_to_it()
    {
        int[] counted = [4, 9, 16, 23];
        static string Counted(int unit, string property) => Element(3 * unit + 40, property);
        _plant.KindOfThree("Dryer");
        foreach (var unit in Enumerable.Range(1, 24))
        {
            _plant.Place($"DR{unit}", $"Dryer {unit}", EquipmentLevel.Unit, "Quay", "Dryer");
            foreach (var property in Properties)
                _plant.Tag(counted.Contains(unit) ? Counted(unit, property) : $"{unit:00}.dry.{NamedPlant.Opaque(property)}");
        }
        foreach (var property in Properties)
            _plant.Bind("DR9", "Dryer", $"plc {Counted(9, property)}", property);
        foreach (var unit in new[] { 4, 16, 23 })
        foreach (var property in Properties)
            _plant.Proposed($"DR{unit}", "Dryer", property).ShouldBe($"plc {Counted(unit, property)}");
    }

    /// <summary>Two sites with two halls each: the A2 of a tag is the code of its hall, and no A before the number of site 2.</summary>
    [Fact]
    public void A_code_that_is_written_out_is_no_letter_and_the_number_of_something_else()
    {
        static string Called(char unit, int hall, string property) => $"{NamedPlant.Opaque(property)} {unit} A{hall} 10";
        _plant.KindOfThree("Dryer");
        foreach (var site in new[] { 1, 2 })
        {
            _plant.Place($"S{site}", $"Site {site}", EquipmentLevel.Site, "Works");
            _plant.Controller($"plc{site}");
            foreach (var hall in new[] { 1, 2 })
            {
                _plant.Place($"A{hall}", $"Area {hall}", EquipmentLevel.Area, $"S{site}", key: $"S{site}A{hall}");
                foreach (var unit in "ABCDEFG")
                {
                    _plant.Place($"DR_{unit}", $"Dryer {unit}", EquipmentLevel.Unit, $"S{site}A{hall}", "Dryer", $"S{site}A{hall}{unit}");
                    foreach (var property in Properties)
                        _plant.Tag(Called(unit, hall, property), $"plc{site}");
                }
            }
        }
        foreach (var property in Properties)
            _plant.Bind("S2A2C", "Dryer", $"plc2 {Called('C', 2, property)}", property);
        foreach (var hall in new[] { 1, 2 })
        foreach (var unit in "ABDEFG")
        foreach (var property in Properties)
            _plant.Proposed($"S2A{hall}{unit}", "Dryer", property).ShouldBe($"plc2 {Called(unit, hall, property)}");
    }

    /// <summary>Conveyors 101 to 103 lie ten words apart in a block: 102 times ten is far beyond the 160 of the second.</summary>
    [Fact]
    public void Units_counted_from_a_hundred_lie_ten_apart_in_a_block_that_begins_below()
    {
        static string Word(int unit, string property) => $"DB20.W{10 * unit - 860 + 2 * Array.IndexOf(Properties, property)}";
        _plant.KindOfThree("Conveyor");
        foreach (var unit in new[] { 101, 102, 103 })
        {
            _plant.Place($"CV{unit}", $"Conveyor {unit}", EquipmentLevel.Unit, "Quay", "Conveyor");
            foreach (var property in Properties)
                _plant.Tag(Word(unit, property));
        }
        foreach (var property in Properties)
            _plant.Bind("CV102", "Conveyor", $"plc {Word(102, property)}", property);
        foreach (var unit in new[] { 101, 103 })
        foreach (var property in Properties)
            _plant.Proposed($"CV{unit}", "Conveyor", property).ShouldBe($"plc {Word(unit, property)}");
    }
}
