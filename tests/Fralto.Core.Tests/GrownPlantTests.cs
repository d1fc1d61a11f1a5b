using Fralto.Core.Basics;

namespace Fralto.Core.Tests;

/// <summary>How plants are named that grew over the years: numbers put together from several, copies, old numbers.</summary>
public sealed class GrownPlantTests
{
    private static readonly (string Code, string Name, int[] Numbers)[] Areas =
    [
        ("PRI", "Primary crushing", [1, 2, 4, 5]),
        ("SEC", "Secondary crushing", [1, 2, 3, 5, 6]),
        ("WSH", "Washing", [2, 3, 4]),
    ];

    private readonly NamedPlant _plant = new();

    /// <summary>Units of the areas; a unit is known as area and number.</summary>
    private void Units(string kind, Func<int, int, (string Code, string Name)> called, string site = "Quay")
    {
        for (var area = 1; area <= Areas.Length; area++)
        {
            var (code, name, numbers) = Areas[area - 1];
            if (!_plant.Builder.Knows($"{site} {code}"))
                _plant.Place(code, name, EquipmentLevel.Area, site, key: $"{site} {code}");
            foreach (var n in numbers)
                _plant.Place(
                    called(area, n).Code,
                    called(area, n).Name,
                    EquipmentLevel.Unit,
                    $"{site} {code}",
                    kind,
                    $"{site} {kind} {area} {n}"
                );
        }
    }

    private static IEnumerable<(int Area, int Number)> All => Areas.SelectMany((a, i) => a.Numbers.Select(n => (i + 1, n)));

    /// <summary>Pump 102 is called 1302 and fan 102 1402: the digits of a number, and between them what stands for the kind. Their
    /// places among others run otherwise, as numbers have gaps.</summary>
    [Fact]
    public void The_digits_of_a_number_may_stand_apart()
    {
        foreach (var (kind, digit) in new[] { ("Pump", 3), ("Fan", 4) })
        {
            _plant.Kind(kind);
            Units(kind, (area, n) => ($"{kind[0]}{area}{n:00}", $"{kind} {area}{n:00}"));
            foreach (var (area, n) in All)
                _plant.Tag($"{area}{digit}{n:00}-FT");
        }
        _plant.Bind("Quay Pump 1 2", "Pump", "plc 1302-FT");
        _plant.Bind("Quay Fan 2 1", "Fan", "plc 2401-FT");
        foreach (var (area, n) in All.Where(u => u != (1, 2)))
            _plant.Proposed($"Quay Pump {area} {n}", "Pump").ShouldBe($"plc {area}3{n:00}-FT");
        foreach (var (area, n) in All.Where(u => u != (2, 1)))
            _plant.Proposed($"Quay Fan {area} {n}", "Fan").ShouldBe($"plc {area}4{n:00}-FT");
    }

    /// <summary>Site, area and pump in one number: 2 is the East, the second site of the works.</summary>
    [Fact]
    public void A_number_may_hold_that_of_site_area_and_unit()
    {
        _plant.Kind("Pump");
        (string Code, int Number)[] sites = [("East", 2), ("West", 3)];
        foreach (var (site, number) in sites)
        {
            _plant.Place(site, $"{site} pit", EquipmentLevel.Site, "Works");
            Units("Pump", (_, n) => ($"P-{n:00}", $"Pump {n}"), site);
            foreach (var (area, n) in All)
                _plant.Tag($"FT{number}{area}4{n:00}");
        }
        _plant.Bind("West Pump 1 2", "Pump", "plc FT31402");
        foreach (var (site, number) in sites)
        foreach (var (area, n) in All.Where(u => site == "East" || u != (1, 2)))
            _plant.Proposed($"{site} Pump {area} {n}", "Pump").ShouldBe($"plc FT{number}{area}4{n:00}");
    }

    /// <summary>What the controller of the control room has again was passed over twice, so it is not what the third area wants.</summary>
    [Fact]
    public void What_a_controller_has_again_from_all_others_is_passed_over()
    {
        _plant.Kind("Pump");
        Units("Pump", (area, n) => ($"P{area}{n:00}", $"Pump {area}{n:00}"));
        _plant.Controller("room");
        for (var area = 1; area <= Areas.Length; area++)
            _plant.Controller($"plc{area}");
        foreach (var (area, n) in All)
        {
            _plant.Tag($"P{area}{n:00}.Flow", $"plc{area}");
            _plant.Tag($"P{area}{n:00}.Flow", "room");
        }
        _plant.Bind("Quay Pump 1 2", "Pump", "plc1 P102.Flow");
        _plant.Bind("Quay Pump 2 3", "Pump", "plc2 P203.Flow");
        foreach (var (area, n) in All.Where(u => u is not ((1, 2) or (2, 3))))
            _plant.Proposed($"Quay Pump {area} {n}", "Pump").ShouldBe($"plc{area} P{area}{n:00}.Flow");
    }

    /// <summary>Two areas have a controller each, and all pumps are called alike: the third has the one that is left.</summary>
    [Fact]
    public void Where_each_area_has_its_own_controller_the_next_has_too()
    {
        _plant.Kind("Pump");
        Units("Pump", (_, n) => ($"P-{n:00}", $"Pump {n}"));
        foreach (var plc in new[] { "kiln", "belt", "mill" })
            _plant.Controller(plc);
        foreach (var (area, n) in All)
            _plant.Tag($"POMPE_{n}_DEBIT", new[] { "kiln", "belt", "mill" }[area - 1]);
        _plant.Bind("Quay Pump 1 2", "Pump", "kiln POMPE_2_DEBIT");
        _plant.Bind("Quay Pump 2 3", "Pump", "belt POMPE_3_DEBIT");
        foreach (var n in Areas[2].Numbers)
            _plant.Proposed($"Quay Pump 3 {n}", "Pump").ShouldBe($"mill POMPE_{n}_DEBIT");
    }

    /// <summary>In one area 20 was added to all numbers; elsewhere a tag that says 22 is a pump's that the model does not have.</summary>
    [Fact]
    public void What_is_added_to_numbers_in_one_area_is_not_in_another()
    {
        _plant.Kind("Pump");
        Units("Pump", (_, n) => ($"P-{n:00}", $"Pump {n}"));
        foreach (var (area, n) in All)
            _plant.Tag($"{Areas[area - 1].Code}_P_{(area == 2 ? n + 20 : n):000}_FLW");
        _plant.Tag("PRI_P_022_FLW");
        _plant.Bind("Quay Pump 2 3", "Pump", "plc SEC_P_023_FLW");
        _plant.Proposed("Quay Pump 1 2", "Pump").ShouldNotBe("plc PRI_P_022_FLW");
        foreach (var n in Areas[1].Numbers.Where(n => n != 3))
            _plant.Proposed($"Quay Pump 2 {n}", "Pump").ShouldBe($"plc SEC_P_{n + 20:000}_FLW");
    }

    /// <summary>Tags are numbered through the plant, pumps area by area: without an example nothing says so, with one it is
    /// clear.</summary>
    [Fact]
    public void Numbers_that_run_through_the_plant_are_not_those_of_its_areas()
    {
        _plant.Kind("Pump");
        Units("Pump", (_, n) => ($"P-{n:00}", $"Pump {n}"));
        (int Area, int Number)[] units = [.. All];
        for (var i = 0; i < units.Length; i++)
            _plant.Tag($"PUMP_{i + 1:00}_FLOW");
        foreach (var (area, n) in units)
            _plant.Proposed($"Quay Pump {area} {n}", "Pump").ShouldBeNull();
        _plant.Bind("Quay Pump 1 4", "Pump", "plc PUMP_03_FLOW");
        for (var i = 0; i < units.Length; i++)
            if (i != 2)
                _plant.Proposed($"Quay Pump {units[i].Area} {units[i].Number}", "Pump").ShouldBe($"plc PUMP_{i + 1:00}_FLOW");
    }

    /// <summary>The SC of SC01 is a screen: it does not say Secondary crushing.</summary>
    [Fact]
    public void What_calls_a_unit_does_not_call_its_area_too()
    {
        _plant.Kind("Screen");
        Units("Screen", (_, n) => ($"SC-{n:00}", $"Screen {n}"));
        foreach (var (area, n) in All.Where(u => u.Area != 2))
            _plant.Tag($"{Areas[area - 1].Code}_SC{n:00}_Flow");
        _plant.Proposed("Quay Screen 1 2", "Screen").ShouldBe("plc PRI_SC02_Flow");
        foreach (var n in Areas[1].Numbers)
            _plant.Proposed($"Quay Screen 2 {n}", "Screen").ShouldBeNull();
    }

    /// <summary>Each name has the number of a channel, which follows nothing: what is said beside it is enough, unless two say
    /// it.</summary>
    [Fact]
    public void The_number_of_a_channel_says_nothing()
    {
        _plant.Kind("Pump");
        Units("Pump", (_, n) => ($"P-{n:00}", $"Pump {n}"));
        string Name(int area, int n, int channel) => $"IO{channel}_{Areas[area - 1].Code}_P{n:00}_Vf";
        foreach (var (area, n) in All)
            _plant.Tag(Name(area, n, 100 + (area * 317 + n * 131) % 800));
        _plant.Tag(Name(3, 4, 999));
        _plant.Bind("Quay Pump 1 2", "Pump", $"plc {Name(1, 2, 100 + (317 + 262) % 800)}");
        foreach (var (area, n) in All.Where(u => u != (1, 2)))
            _plant
                .Proposed($"Quay Pump {area} {n}", "Pump")
                .ShouldBe((area, n) == (3, 4) ? null : $"plc {Name(area, n, 100 + (area * 317 + n * 131) % 800)}");
    }

    /// <summary>Of Washing the initials are one letter, where those of the others are two.</summary>
    [Fact]
    public void One_word_has_initials_too()
    {
        _plant.Kind("Pump");
        Units("Pump", (_, n) => ($"PU-{n:00}", $"Pump {n}"));
        foreach (var (area, n) in All)
            _plant.Tag($"{new[] { "PC", "SC", "W" }[area - 1]}PU{n}FT");
        _plant.Bind("Quay Pump 3 2", "Pump", "plc WPU2FT");
        foreach (var (area, n) in All.Where(u => u != (3, 2)))
            _plant.Proposed($"Quay Pump {area} {n}", "Pump").ShouldBe($"plc {new[] { "PC", "SC", "W" }[area - 1]}PU{n}FT");
    }
}
