namespace Fralto.Core.Tests;

/// <summary>Plants in which few are called as the one that was bound is: one other pump, or two of five tanks.</summary>
public sealed class FewNamedTests
{
    private static readonly string[] Properties = NamedPlant.Three;

    private readonly NamedPlant _plant = new();

    private void Unit(string kind, string code, string name) => _plant.Place(code, name, Basics.EquipmentLevel.Unit, "Quay", kind);

    /// <summary>Units of a kind by number, the tags of each called as is said, and described by what they measure where that is
    /// said.</summary>
    private void Units(string kind, string code, IEnumerable<int> numbers, Func<int, string, string> called, bool areDescribed = false)
    {
        foreach (var number in numbers)
        {
            Unit(kind, $"{code}{number}", $"{kind} {number}");
            foreach (var property in Properties)
                _plant.Tag(called(number, property), description: areDescribed ? property : "");
        }
    }

    private void BindAll(string kind, string unit, Func<string, string> called)
    {
        foreach (var property in Properties)
            _plant.Bind(unit, kind, $"plc {called(property)}", property);
    }

    /// <summary>One other pump is little to go by where more is called so, and V45 says nothing; but where the dryer stands in its tags the
    /// pump stands in its.</summary>
    [Theory]
    [InlineData(true)]
    [InlineData(false)]
    public void Where_other_templates_say_the_same_place_one_other_instance_is_enough(bool isDryerShown)
    {
        static string Pump(int unit, string property) => $"{unit}-{NamedPlant.Opaque(property)}-10-IN";
        static string Dryer(int unit, string property) => $"{unit}-{NamedPlant.Opaque(property)}-20-IN";
        _plant.KindOfThree("Pump");
        _plant.KindOfThree("Dryer");
        Units("Pump", "P", [101, 102], Pump);
        foreach (var property in Properties)
            _plant.Tag(Pump(109, property));
        Units("Dryer", "D", Enumerable.Range(201, 6), Dryer);
        BindAll("Pump", "P101", p => Pump(101, p));
        if (isDryerShown)
            BindAll("Dryer", "D203", p => Dryer(203, p));
        foreach (var property in Properties)
            _plant.Proposed("P102", "Pump", property).ShouldBe(isDryerShown ? $"plc {Pump(102, property)}" : null);
    }

    /// <summary>Three of six tanks are called so, and all that is called so is theirs: that is a way of naming, and no chance; unless
    /// something called so is left over.</summary>
    [Theory]
    [InlineData(false)]
    [InlineData(true)]
    public void What_names_all_there_is_and_leaves_nothing_is_believed_of_few(bool isSomethingLeft)
    {
        static string Called(int unit, string property) => $"IO_{2 * unit + 44}_{property}_10";
        _plant.KindOfThree("Tank");
        Units("Tank", "TK", [1, 2, 3], (unit, property) => $"{unit:00}.tank.{NamedPlant.Opaque(property)}");
        Units("Tank", "TK", [4, 5, 6], Called);
        if (isSomethingLeft)
            foreach (var property in Properties)
                _plant.Tag(Called(9, property));
        BindAll("Tank", "TK4", p => Called(4, p));
        foreach (var unit in new[] { 5, 6 })
        foreach (var property in Properties)
        {
            _plant.Proposed($"TK{unit}", "Tank", property).ShouldBe(isSomethingLeft ? null : $"plc {Called(unit, property)}");
            _plant
                .Answer($"TK{unit}", "Tank", property)
                .Parts.Any(p => p.Words.EndsWith("found on 2 of 5 others, and no other free tag is called so", StringComparison.Ordinal))
                .ShouldBe(!isSomethingLeft);
        }
    }

    /// <summary>265, 270, 275 and 280 go by five from pump 5; counted one by one from pump 6, 280 would be pump 16's, which there is
    /// not.</summary>
    [Fact]
    public void A_step_that_leaves_one_over_is_none_where_another_leaves_none()
    {
        static string Called(int unit, string property) => $"{5 * unit + 240}_{property}_Pump";
        static string Other(int unit, string property) => $"{unit}.{NamedPlant.Opaque(property)}.p.value";
        _plant.KindOfThree("Pump");
        Units("Pump", "P", [1, 2, 3, 4, 9, 10, 11, 12], Other);
        Units("Pump", "P", [5, 6, 7, 8], Called);
        BindAll("Pump", "P6", p => Called(6, p));
        BindAll("Pump", "P12", p => Other(12, p));
        foreach (var unit in new[] { 5, 7, 8 })
        foreach (var property in Properties)
            _plant.Proposed($"P{unit}", "Pump", property).ShouldBe($"plc {Called(unit, property)}");
    }

    /// <summary>315, 317, 319 and 321 go two by two from pump 101, and as well one by one to pumps 103, 105 and 107: both ways leave
    /// nothing, and neither is proposed as if there were no other.</summary>
    [Fact]
    public void Where_two_ways_leave_nothing_neither_is_believed_for_that()
    {
        static string Called(int unit, string property) =>
            unit <= 104 ? $"{property} Pump {2 * unit + 113}" : $"{NamedPlant.Opaque(property)}_{unit}_pump";
        _plant.KindOfThree("Pump");
        Units("Pump", "P", Enumerable.Range(101, 12), Called, areDescribed: true);
        BindAll("Pump", "P101", p => Called(101, p));
        foreach (var unit in Enumerable.Range(102, 11))
        foreach (var property in Properties)
            new[] { null, $"plc {Called(unit, property)}" }.ShouldContain(_plant.Proposed($"P{unit}", "Pump", property));
        // Both say so: 317 is pump 102's by the one way, and pump 103's by the other.
        foreach (var unit in new[] { 102, 103 })
            _plant.Answer($"P{unit}", "Pump").Reason!.ShouldStartWith("Flow Pump 317 ");
    }

    /// <summary>Every third pump is in the array, nine elements from number to number; that they lie 27 apart says as well that pump 4
    /// follows pump 3.</summary>
    [Fact]
    public void Elements_of_every_third_unit_are_not_given_to_those_that_follow_each_other()
    {
        static string Called(int unit, string property) =>
            unit % 3 == 0
                ? $"P_DATA[{9 * unit + 231 + Array.IndexOf(Properties, property)}]"
                : $"{unit:00}.pump.{NamedPlant.Opaque(property)}";
        _plant.KindOfThree("Pump");
        Units("Pump", "P", Enumerable.Range(1, 12), Called, areDescribed: true);
        BindAll("Pump", "P3", p => Called(3, p));
        foreach (var unit in Enumerable.Range(1, 12).Where(u => u != 3))
        foreach (var property in Properties)
            new[] { null, $"plc {Called(unit, property)}" }.ShouldContain(_plant.Proposed($"P{unit}", "Pump", property));
    }

    /// <summary>There are two pumps; one is bound, and what is left in the array lies as its tags do, four on.</summary>
    [Fact]
    public void Of_two_units_the_second_has_what_is_left()
    {
        static string Called(int unit, string property) => $"root.datap_data[{4 * unit + 117 + Array.IndexOf(Properties, property)}]";
        _plant.KindOfThree("Pump");
        Units("Pump", "P", [1, 2], Called);
        BindAll("Pump", "P1", p => Called(1, p));
        foreach (var property in Properties)
            _plant.Proposed("P2", "Pump", property).ShouldBe($"plc {Called(2, property)}");
    }

    /// <summary>A conveyor 2 called 114 goes by five as the dryers do, of which one is bound: so conveyor 1 is 109. That their kind is said
    /// by a letter or by two makes no difference.</summary>
    [Theory]
    [InlineData("CV")]
    [InlineData("C")]
    public void Units_of_other_templates_that_are_not_bound_bear_a_reckoning_out(string code)
    {
        string Conveyor(int unit, string property) => $"{5 * unit + 104}_{code}_{property}_IN";
        static string Dryer(int unit, string property) => $"{5 * unit + 104}_DR_{property}_IN";
        _plant.KindOfThree("Conveyor");
        _plant.KindOfThree("Dryer");
        Units("Conveyor", code, [1, 2, 3, 4, 5, 6, 7, 8], (unit, p) =>
            unit < 3 ? Conveyor(unit, p) : $"{unit:00}.conv.{NamedPlant.Opaque(p)}"
        );
        Units("Dryer", "DR", [1, 2, 3, 4], Dryer);
        BindAll("Conveyor", $"{code}2", p => Conveyor(2, p));
        BindAll("Dryer", "DR3", p => Dryer(3, p));
        foreach (var property in Properties)
            _plant.Proposed($"{code}1", "Conveyor", property).ShouldBe($"plc {Conveyor(1, property)}");
    }

    /// <summary>Two of eight mills are called by their letters, one of which is bound, and nothing else is called so.</summary>
    [Fact]
    public void Letters_that_leave_nothing_are_believed_as_numbers_are()
    {
        static string Called(char unit, string property) => $"{unit}:{NamedPlant.Opaque(property)}:20";
        _plant.KindOfThree("Mill");
        foreach (var unit in "ABCDEFGH")
        {
            Unit("Mill", $"M_{unit}", $"Mill {unit}");
            foreach (var property in Properties)
                _plant.Tag(unit < 'C' ? Called(unit, property) : $"mill{unit - 'A' + 41}/{property.Length}");
        }
        BindAll("Mill", "M_B", p => Called('B', p));
        foreach (var property in Properties)
            _plant.Proposed("M_A", "Mill", property).ShouldBe($"plc {Called('A', property)}");
    }

    private void Hall(string code, IEnumerable<int> numbers, Func<int, string, string> called)
    {
        _plant.Place(code, $"Hall {code}", Basics.EquipmentLevel.Area, "Quay");
        foreach (var number in numbers)
        {
            _plant.Place($"P{number}", $"Pump {number}", Basics.EquipmentLevel.Unit, code, "Pump", $"{code}{number}");
            foreach (var property in Properties)
                _plant.Tag(called(number, property));
        }
    }

    /// <summary>Each hall has pumps 10 and 20. Of hall B the only other is called as the one that was shown, and nothing is left; with a
    /// third there it is one of two, and that is little.</summary>
    [Theory]
    [InlineData(false)]
    [InlineData(true)]
    public void Of_the_two_of_a_hall_the_second_has_what_is_left(bool hasThird)
    {
        static string Called(int unit, string property) => $"B_Pump_{NamedPlant.Opaque(property)}_{unit + 226}";
        _plant.KindOfThree("Pump");
        Hall("A", [10, 20], (unit, property) => $"ns2-{unit}-{NamedPlant.Opaque(property)}-A");
        Hall("B", [10, 20], Called);
        if (hasThird)
            _plant.Place("P30", "Pump 30", Basics.EquipmentLevel.Unit, "B", "Pump", "B30");
        BindAll("Pump", "B10", p => Called(10, p));
        foreach (var property in Properties)
        {
            _plant.Proposed("B20", "Pump", property).ShouldBe(hasThird ? null : $"plc {Called(20, property)}");
            _plant.Proposed("A20", "Pump", property).ShouldBeNull();
        }
    }

    /// <summary>Of the drains of pumps 5 and 6 there are limits and nothing else. What others have behind whole names is no drain; where
    /// no other has it, it may be how drains are called.</summary>
    [Theory]
    [InlineData(true)]
    [InlineData(false)]
    public void What_others_have_behind_whole_names_is_not_taken_for_what_is_missing(bool haveOthersIt)
    {
        _plant.Kind("Pump");
        _plant.Property("Pump", "Drain");
        foreach (var number in Enumerable.Range(1, 6))
        {
            Unit("Pump", $"P{number}", $"Pump {number}");
            _plant.Tag($"Pump_{number}_Flow");
            if (haveOthersIt)
                _plant.Tag($"Pump_{number}_Flow_LOLIM");
            if (number >= 5)
                _plant.Tag($"Pump_{number}_Drain_LOLIM");
        }
        _plant.Bind("P2", "Pump", "plc Pump_2_Flow");
        _plant.Proposed("P6", "Pump").ShouldBe("plc Pump_6_Flow");
        foreach (var pump in new[] { "P5", "P6" })
        {
            var its = _plant.Answer(pump, "Pump", "Drain");
            (its.TagId is null).ShouldBe(haveOthersIt);
            if (haveOthersIt)
                its.Reason.ShouldBe($"Pump_{pump[1]}_Drain_LOLIM was passed over: LOLIM is what others have behind their whole names.");
        }
    }
}
