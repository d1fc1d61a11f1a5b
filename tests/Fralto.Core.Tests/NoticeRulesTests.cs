using Fralto.Core.Edits;
using Fralto.Core.Exchange;
using Fralto.Core.Limits;
using Fralto.Core.Notices;
using Fralto.Core.Rules;

namespace Fralto.Core.Tests;

/// <summary>What makes a list of who is told, a mail server and the languages wrong; and that a list follows its place.</summary>
public sealed class NoticeRulesTests
{
    private static readonly NoticeList Fine = new("Shift", ["shift@maltings.test"]);
    private readonly PlantBuilder _plant = PlantBuilder.Kiln((LimitCondition.High, 90, 1, 2));

    public static TheoryData<string, Func<NoticeList, NoticeList>> Wrong =>
        new()
        {
            { "Name", l => l with { Name = "" } },
            { "Addresses", l => l with { Addresses = [] } },
            { "Addresses", l => l with { Addresses = ["shift"] } },
            { "Addresses", l => l with { Addresses = ["a@b@c"] } },
            { "Addresses", l => l with { Addresses = ["a b@maltings.test"] } },
            { "Addresses", l => l with { Addresses = ["a@maltings..test"] } },
            { "Addresses", l => l with { Addresses = ["a@maltings.test\r\nBcc: b@maltings.test"] } },
            { "Addresses", l => l with { Addresses = [$"{new string('a', 65)}@maltings.test"] } },
            { "Priorities", l => l with { Priorities = [5] } },
            { "Label", l => l with { Label = "early" } },
            { "From", l => l with { From = new(6, 0) } },
            { "RepeatAfter", l => l with { RepeatAfter = TimeSpan.FromSeconds(1) } },
            { "RepeatAfter", l => l with { RepeatAfter = TimeSpan.FromDays(365) } },
            { "Repeats", l => l with { Repeats = 0 } },
            { "EscalateTo", l => l with { EscalateAfter = TimeSpan.FromMinutes(5) } },
            { "EscalateTo", l => l with { EscalateAfter = TimeSpan.FromMinutes(5), EscalateTo = "Nobody" } },
            { "EscalateTo", l => l with { EscalateAfter = TimeSpan.FromMinutes(5), EscalateTo = "Shift" } },
            { "Language", l => l with { Language = "german" } },
        };

    [Theory]
    [MemberData(nameof(Wrong))]
    public void What_is_wrong_with_a_list_is_said_at_its_field(string field, Func<NoticeList, NoticeList> spoil) =>
        new SaveNoticeLists([spoil(Fine)]).On(_plant.Model).Problems.Select(p => p.Field).Distinct().ShouldBe([field]);

    [Fact]
    public void Two_lists_of_one_name_a_server_that_is_none_and_languages_that_are_none_are_refused()
    {
        Fields(new SaveNoticeLists([Fine, Fine with { Name = "shift" }])).ShouldBe(["Name"]);
        Fields(new SaveMailServer(new("no host!", 0, MailSecurity.None, "nobody"))).ShouldBe(["Host", "Port", "MailFrom"]);
        Fields(new SaveAlarmSetup(["en", "EN"], 400)).ShouldBe(["Languages"]);
        Fields(new SaveAlarmSetup(["klingonisch"], 0)).ShouldBe(["LogDays", "Languages"]);
        Fields(new SaveNoticeLists([Fine])).ShouldBeEmpty();
    }

    [Fact]
    public void A_list_follows_its_place_and_a_place_somebody_is_told_of_stays()
    {
        var quay = _plant["Quay"];
        _plant.Do(_ => new SaveNoticeLists([Fine with { PlaceId = quay }]));
        ModelFormat.DocumentOf(_plant.Model).NoticeLists!.Single().Place.ShouldBe("Corvane/Quay");
        _plant.Refused(_ => new RemoveEquipment(quay))[0].Message.ShouldContain("Shift is told of the alarms below");
        _plant.Refused(b => new RemoveEquipment(b["Corvane"]))[0].Message.ShouldContain("Shift is told of the alarms below");
        var table = ImportTable.Of(_plant.Model, TableKind.NoticeLists);
        new ImportTable(TableKind.NoticeLists, table).Preview(_plant.Model).Lines.ShouldBeEmpty();
        var elsewhere = new Table(
            table.Columns,
            [.. table.Rows.Select(r => r.Select(c => c == "Corvane/Quay" ? "No/Where" : c).ToArray())]
        );
        new ImportTable(TableKind.NoticeLists, elsewhere)
            .Preview(_plant.Model)
            .Lines.ShouldContain(l => l.Outcome == ImportOutcome.Refused && l.Column == "place");
        _plant.Do(_ => new SaveNoticeLists([Fine]));
        _plant.Do(_ => new RemoveEquipment(quay));
        Integrity.Problems(_plant.Model).ShouldBeEmpty();
    }

    private IEnumerable<string> Fields(Edit edit) => edit.On(_plant.Model).Problems.Select(p => p.Field).Distinct();
}
