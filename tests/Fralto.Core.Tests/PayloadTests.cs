using System.Text;
using Fralto.Core.Controllers;
using Fralto.Core.Mqtt;
using Fralto.Core.Protocols;
using Fralto.Core.Quality;
using Fralto.Core.Scaling;

namespace Fralto.Core.Tests;

/// <summary>What payloads of MQTT topics become, the good ones and the broken ones.</summary>
public sealed class PayloadTests
{
    private static readonly long Noon = new DateTime(2026, 6, 1, 12, 0, 0, DateTimeKind.Utc).Ticks;

    [Theory]
    [InlineData("12.5", RawType.Float64, 12.5)]
    [InlineData(" -3e2\n", RawType.Float64, -300)]
    [InlineData("255", RawType.UInt8, 255)]
    [InlineData("on", RawType.Bool, 1)]
    [InlineData("FALSE", RawType.Bool, 0)]
    public void A_bare_payload_is_its_value(string payload, RawType type, double raw) =>
        One("t", type, payload).ShouldBe(new Sample(1, raw, StatusCode.Good, Noon));

    [Theory]
    [InlineData("warm", RawType.Float64, "BadTypeMismatch", "'warm' is no float64")]
    [InlineData("256", RawType.UInt8, "BadTypeMismatch", "no uint8")]
    [InlineData("1.5", RawType.Int32, "BadTypeMismatch", "no int32")]
    [InlineData("", RawType.Float64, "BadNoData", "empty")]
    public void A_bare_payload_that_does_not_fit_is_bad_with_the_reason(string payload, RawType type, string status, string says) =>
        ShouldBeBad(One("t", type, payload), status, says);

    [Theory]
    [InlineData("t#/level", RawType.Float64, 12.5)]
    [InlineData("t#/temps/2", RawType.Float64, 3)]
    [InlineData("t#/on", RawType.Bool, 1)]
    [InlineData("t#/deep/er/text", RawType.Float64, 7.25)]
    public void A_json_payload_is_read_where_the_pointer_leads(string address, RawType type, double raw) =>
        One(address, type, """{"level":12.5,"temps":[1,2,3],"on":true,"deep":{"er":{"text":"7.25"}}}""")
            .ShouldBe(new Sample(1, raw, StatusCode.Good, Noon));

    [Theory]
    [InlineData("t#/nothing", "{}", "BadNoData", "no #/nothing")]
    [InlineData("t#/v", "{\"v\":null}", "BadNoData", "null")]
    [InlineData("t#/v", "{\"v\":{}}", "BadTypeMismatch", "an object came")]
    [InlineData("t#/v", "{\"v\":\"n/a\"}", "BadTypeMismatch", "the text 'n/a'")]
    [InlineData("t#/v", "{\"v\":1", "BadDecodingError", "no JSON")]
    [InlineData("t#/v", "{\"v\":1}{", "BadDecodingError", "no JSON")]
    [InlineData("t#/v", "hello", "BadDecodingError", "no JSON: 'hello'")]
    [InlineData("t#/v", "", "BadDecodingError", "empty")]
    public void A_json_payload_that_has_no_such_value_is_bad_with_the_reason(string address, string payload, string status, string says) =>
        ShouldBeBad(One(address, RawType.Float64, payload), status, says);

    [Theory]
    [InlineData("\"2026-06-01T10:30:00Z\"", 10.5)]
    [InlineData("\"2026-06-01T12:30:00+02:00\"", 10.5)]
    [InlineData("1780309800", 10.5)]
    [InlineData("1780309800000", 10.5)]
    [InlineData("\"2026-06-01T23:00:00Z\"", 23)]
    public void The_device_s_own_time_is_kept_as_it_is_behind_or_ahead(string time, double hour)
    {
        var sample = One("t#/v | time #/ts", RawType.Float64, $"{{\"v\":1,\"ts\":{time}}}");
        (sample.TimeTicks - Noon).ShouldBe((long)((hour - 12) * TimeSpan.TicksPerHour));
    }

    [Theory]
    [InlineData("\"good\"", "Good")]
    [InlineData("192", "Good")]
    [InlineData("\"uncertain\"", "UncertainSensorNotAccurate")]
    [InlineData("64", "UncertainSensorNotAccurate")]
    [InlineData("\"Bad, no sensor\"", "BadDeviceFailure")]
    [InlineData("0", "BadDeviceFailure")]
    [InlineData("false", "BadDeviceFailure")]
    public void The_device_s_own_quality_is_kept(string quality, string status) =>
        One("t#/v | quality #/q", RawType.Float64, $"{{\"v\":1,\"q\":{quality}}}").Status.Name.ShouldBe(status);

    [Fact]
    public void An_array_is_taken_whole_and_one_of_another_length_is_bad_in_every_element()
    {
        var tag = Tag("t#/a", RawType.Float64) with { Count = 3 };
        Read([tag], "{\"a\":[1,2.5,3]}").Select(s => (s.Element, s.Raw)).ShouldBe([(0, 1), (1, 2.5), (2, 3)]);
        var wrong = Read([tag], "{\"a\":[1,2]}");
        wrong.Count.ShouldBe(3);
        wrong.ShouldAllBe(s => s.Status == StatusCode.BadTypeMismatch);
    }

    [Fact]
    public void Several_tags_of_one_topic_are_read_in_one_go_and_one_that_is_missing_harms_no_other()
    {
        var samples = Read(
            [Tag("t#/a", RawType.Float64), Tag("t#/b", RawType.Float64) with { Id = 2 }, Tag("t", RawType.Text) with { Id = 3 }],
            "{\"a\":5}"
        );
        samples.Single(s => s.TagId == 1).Raw.ShouldBe(5);
        samples.Single(s => s.TagId == 2).Status.ShouldBe(StatusCode.BadNoData);
        samples.Single(s => s.TagId == 3).Text.ShouldBe("{\"a\":5}");
    }

    [Fact]
    public void Sixty_four_kilobytes_of_json_are_read_and_more_than_a_megabyte_is_refused()
    {
        var filler = new string('x', 64 * 1024);
        One("t#/v", RawType.Float64, $"{{\"x\":\"{filler}\",\"v\":4}}").Raw.ShouldBe(4);
        ShouldBeBad(
            One("t#/v", RawType.Float64, $"{{\"x\":\"{new string('x', PayloadReader.Longest)}\",\"v\":4}}"),
            "BadDecodingError",
            "bytes"
        );
        ShouldBeBad(One("t#/v", RawType.Float64, string.Concat(Enumerable.Repeat("[", 10_000))), "BadDecodingError", "no JSON");
    }

    [Fact]
    public void Invalid_utf8_is_bad_as_json_and_readable_as_text()
    {
        byte[] broken = [0x7B, 0x22, 0x76, 0x22, 0x3A, 0x22, 0xFF, 0xFE, 0x22, 0x7D];
        var samples = new List<Sample>();
        new PayloadReader([
            Tag("t#/v", RawType.Text),
            Tag("t", RawType.Text) with
            {
                Id = 2,
            },
            Tag("t", RawType.Float64) with
            {
                Id = 3,
            },
        ]).Read(broken, Noon, samples);
        samples.Count.ShouldBe(3);
        samples.Single(s => s.TagId == 1).Status.IsBad.ShouldBeTrue();
        samples.Single(s => s.TagId == 2).Text.ShouldNotBeNull();
        samples.Single(s => s.TagId == 3).Status.ShouldBe(StatusCode.BadTypeMismatch);
    }

    [Fact]
    public void Browsing_shows_every_leaf_with_its_type_and_arrays_as_wholes()
    {
        var items = PayloadTree
            .Of("silo/S01", Encoding.UTF8.GetBytes("""{"level":{"m":1.5},"on":true,"temps":[1,2,3],"name":"Silo 1","a/b":1}"""))
            .ToArray();
        items
            .Select(i => $"{i.Address} {i.Type} {i.Count}")
            .ShouldBe([
                "silo/S01#/level/m Float64 1",
                "silo/S01#/on Bool 1",
                "silo/S01#/temps Float64 3",
                "silo/S01#/name Text 1",
                "silo/S01#/a~1b Float64 1",
            ]);
        PayloadTree.Of("t", "17.2"u8).Single().Type.ShouldBe(RawType.Float64);
        PayloadTree.Of("t", "{broken"u8).Single().Type.ShouldBe(RawType.Text);
    }

    [Fact]
    public void Whatever_bytes_come_every_tag_gets_its_sample()
    {
        var random = new Random(7);
        Tag[] tags = [Tag("t", RawType.Float64), Tag("t#/a", RawType.Int16) with { Id = 2 }, Tag("t#/a/b", RawType.Text) with { Id = 3 }];
        var reader = new PayloadReader(tags);
        var alphabet = "{}[]\":,.0123456789truefalsn \\eE-+\u00ff\u0000"u8.ToArray();
        for (var round = 0; round < 3000; round++)
        {
            var payload = Enumerable.Range(0, random.Next(60)).Select(_ => alphabet[random.Next(alphabet.Length)]).ToArray();
            var samples = new List<Sample>();
            reader.Read(payload, Noon, samples);
            samples.Select(s => s.TagId).Order().ShouldBe([1, 2, 3]);
        }
    }

    private static Tag Tag(string address, RawType type) =>
        new(1, 9, "T", Protocol.Mqtt.Rules().ReadAddress(address, out _)!, type, WordOrder.HighFirst, "");

    private static Sample One(string address, RawType type, string payload) => Read([Tag(address, type)], payload).Single();

    private static List<Sample> Read(Tag[] tags, string payload)
    {
        var samples = new List<Sample>();
        new PayloadReader(tags).Read(Encoding.UTF8.GetBytes(payload), Noon, samples);
        return samples;
    }

    private static void ShouldBeBad(Sample sample, string status, string says)
    {
        sample.Status.Name.ShouldBe(status);
        sample.Reason!.ShouldContain(says);
    }

    /// <summary>Half a character pair in an escape is legal JSON and no text (RFC 8259, section 8.2): it spoils what says it, and nothing
    /// else.</summary>
    [Fact]
    [Trait("source", "RFC 8259, section 8.2")]
    public void Half_a_character_pair_spoils_only_what_says_it()
    {
        var payload = System.Text.Encoding.UTF8.GetBytes("""{"a":"\ud83d","\udc00":1,"t":{"\ud800":2,"b":21.5},"q":"\ud83d"}""");
        PayloadTree.Of("t", payload).Select(i => i.PathText).ShouldBe(["t/a", "t/t/b", "t/q"]);
        Tag Of(long id, string pointer, RawType type) =>
            new(id, 1, $"T{id}", new TopicAddress("t", pointer), type, WordOrder.HighFirst, "");
        var samples = new List<Core.Controllers.Sample>();
        new PayloadReader([Of(1, "/a", RawType.Text), Of(2, "/t/b", RawType.Float64), Of(3, "/a", RawType.Float64)]).Read(
            payload,
            5,
            samples
        );
        samples.Single(s => s.TagId == 1).Reason!.ShouldContain("half of a character pair");
        samples.Single(s => s.TagId == 2).Raw.ShouldBe(21.5);
        samples.Single(s => s.TagId == 3).Status.IsBad.ShouldBeTrue();
    }
}
