using System.Text;
using Fralto.Core.Controllers;
using Fralto.Core.Protocols;
using Fralto.Core.Quality;
using Fralto.Core.Scaling;
using Fralto.Core.Sparkplug;
using Fralto.Links.Sparkplug;
using Fralto.Sparkplug.Wire;
using Fralto.StandIns.Maltings;
using Fralto.StandIns.Mqtt;
using Google.Protobuf;

namespace Fralto.Links.Tests;

/// <summary>Sparkplug B: the bytes against those of an independent library, and the life of edge nodes on a real broker.</summary>
public sealed class SparkplugTests
{
    private const ulong Time = 1_700_000_000_000;

    /// <summary>Bytes encoded by npm sparkplug-payload 1.0.3.</summary>
    [Theory]
    [Trait("source", "npm sparkplug-payload 1.0.3")]
    [InlineData(
        "0880D095FFBC31122F0A04466C6F7710051880D095FFBC31200A4A130A07656E67556E69741208080C42046D332F686900000000000029401800",
        "Flow",
        10u,
        12.5
    )]
    [InlineData("0880D095FFBC3112100A0352756E1880D095FFBC31200B70011802", "Run", 11u, 1)]
    [InlineData("120B0A014E200350FFFFFFFF0F", "N", 3u, -1)]
    public void Payloads_of_another_library_are_read(string hex, string name, uint datatype, double raw)
    {
        var metric = Payload.Parser.ParseFrom(Convert.FromHexString(hex)).Metrics.Single();
        (metric.Name, metric.Datatype).ShouldBe((name, datatype));
        var type = SparkplugValues.TypeOf(metric, datatype)!.Value.Type;
        Read(metric, datatype, type).Single().Raw.ShouldBe(raw);
    }

    [Fact]
    [Trait("source", "npm sparkplug-payload 1.0.3")]
    public void Properties_aliases_nulls_and_deaths_of_another_library_are_read()
    {
        var birth = Payload.Parser.ParseFrom(
            Convert.FromHexString(
                "0880D095FFBC31122F0A04466C6F7710051880D095FFBC31200A4A130A07656E67556E69741208080C42046D332F686900000000000029401800"
            )
        );
        (birth.Timestamp, birth.Seq, birth.Metrics[0].Alias, SparkplugValues.Property(birth.Metrics[0], "engUnit")).ShouldBe(
            (Time, 0UL, 5UL, "m3/h")
        );
        var data = Payload.Parser.ParseFrom(Convert.FromHexString("0880D095FFBC31121410051880D095FFBC31200A690000000000002A401801"));
        (data.Metrics[0].HasName, data.Metrics[0].Alias, data.Metrics[0].DoubleValue).ShouldBe((false, 5UL, 13.0));
        var none = Payload.Parser.ParseFrom(Convert.FromHexString("0880D095FFBC31120E0A01541880D095FFBC31200938011803"));
        Read(none.Metrics[0], 9, RawType.Float32).Single().Status.ShouldBe(StatusCode.BadNoData);
        var death = Payload.Parser.ParseFrom(Convert.FromHexString("0880D095FFBC3112120A0562645365711880D095FFBC3120045803"));
        (death.HasSeq, death.Metrics[0].Name, death.Metrics[0].LongValue).ShouldBe((false, "bdSeq", 3UL));
    }

    /// <summary>The library encodes what we encode into the same bytes (fields in order of their numbers).</summary>
    [Fact]
    [Trait("source", "npm sparkplug-payload 1.0.3")]
    public void What_we_write_are_the_same_bytes()
    {
        var metric = new Metric { Name = "Run", Timestamp = Time };
        SparkplugValues.Write(metric, 11, new TagWrite(Tag(1, "g/e#Run", RawType.Bool), 1));
        Convert
            .ToHexString(
                SparkplugValues.Bytes(
                    new Payload
                    {
                        Timestamp = Time,
                        Seq = 2,
                        Metrics = { metric },
                    }
                )
            )
            .ShouldBe("0880D095FFBC3112100A0352756E1880D095FFBC31200B70011802");
        var negative = new Metric { Name = "N" };
        SparkplugValues.Write(negative, 3, new TagWrite(Tag(1, "g/e#N", RawType.Int32), -1));
        Convert.ToHexString(SparkplugValues.Bytes(new Payload { Metrics = { negative } })).ShouldBe("120B0A014E200350FFFFFFFF0F");
    }

    /// <summary>Eclipse Sparkplug 3.0.0, 6.4.16: signed in two's complement; 32-bit unsigned in either field; 8-bit ones as 255 or as all
    /// ones. From memory.</summary>
    [Theory]
    [InlineData(1u, 255UL, -1)]
    [InlineData(1u, 4294967295UL, -1)]
    [InlineData(2u, 65535UL, -1)]
    [InlineData(5u, 255UL, 255)]
    [InlineData(7u, 4294967295UL, 4294967295)]
    public void Whole_numbers_are_read_in_every_form_they_travel_in(uint datatype, ulong bits, double raw)
    {
        var (asInt, asLong) = (new Metric { Name = "N", IntValue = (uint)bits }, new Metric { Name = "N", LongValue = bits });
        foreach (var metric in new[] { asInt, asLong })
            Read(metric, datatype, SparkplugValues.TypeOf(metric, datatype)!.Value.Type).Single().Raw.ShouldBe(raw);
    }

    /// <summary>The specification's own example of a boolean array: 12 values in 0C000000 34 D0 (Eclipse Sparkplug 3.0.0, 6.4.17; from
    /// memory).</summary>
    [Fact]
    public void Arrays_are_taken_element_by_element()
    {
        var booleans = new Metric { Name = "B", BytesValue = ByteString.CopyFrom(0x0C, 0, 0, 0, 0x34, 0xD0) };
        SparkplugValues.TypeOf(booleans, 32).ShouldBe((RawType.Bool, 12));
        Read(booleans, 32, RawType.Bool, 12)
            .Select(s => s.Raw != 0)
            .ShouldBe([false, false, true, true, false, true, false, false, true, true, false, true]);
        var one = new List<Sample>();
        foreach (var i in new[] { 0, 2, 12 })
            SparkplugValues.Read(booleans, 32, Tag(i + 1, $"g/e#B | element {i}", RawType.Bool), 1, one);
        one.Select(s => (s.Raw, s.Status.IsGood, s.Element)).Take(2).ShouldBe([(0, true, 0), (1, true, 0)]);
        one[2].Reason!.ShouldContain("it has no element 12");
        var words = new Metric { Name = "W", BytesValue = ByteString.CopyFrom(0x01, 0x00, 0xFE, 0xFF) };
        Read(words, 23, RawType.Int16, 2).Select(s => s.Raw).ShouldBe([1, -2]);
        Read(words, 23, RawType.Int16, 3).ShouldAllBe(s => s.Status == StatusCode.BadTypeMismatch);
        Read(new Metric { Name = "B", BytesValue = ByteString.CopyFrom(0xFF, 0xFF, 0xFF, 0x7F, 1) }, 32, RawType.Bool, 8)
            .ShouldAllBe(s => s.Status.IsBad);
    }

    [Fact]
    public void Quality_and_type_that_do_not_fit_are_bad_with_the_reason()
    {
        static Metric With(int quality) =>
            new()
            {
                Name = "T",
                DoubleValue = 5,
                Properties = new PropertySet
                {
                    Keys = { "Quality" },
                    Values =
                    {
                        new PropertyValue { Type = 3, IntValue = (uint)quality },
                    },
                },
            };
        Read(With(192), 10, RawType.Float64).Single().Status.ShouldBe(StatusCode.Good);
        Read(With(0), 10, RawType.Float64).Single().Reason!.ShouldContain("bad");
        Read(With(500), 10, RawType.Float64).Single().Reason!.ShouldContain("stale");
        Read(new Metric { Name = "T", StringValue = "warm" }, 12, RawType.Float64).Single().Status.ShouldBe(StatusCode.BadTypeMismatch);
        Read(new Metric { Name = "T", DoubleValue = 1.5 }, 10, RawType.Int16).Single().Status.ShouldBe(StatusCode.BadTypeMismatch);
        Read(new Metric { Name = "T" }, 10, RawType.Float64).Single().Status.ShouldBe(StatusCode.BadDecodingError);
    }

    [Fact]
    public async Task Births_give_values_data_by_alias_follows_deaths_mark_and_the_state_is_told()
    {
        await using var broker = await Mosquitto.StartAsync();
        await using var listener = await TestPublisher.ConnectAsync(broker.Port, null, "spBv1.0/STATE/fralto");
        await using (
            var heard = Run(
                broker.Port,
                Tag(1, "G/E/D#t", RawType.Float64),
                Tag(2, "G/E#n", RawType.Int32),
                Tag(3, "G/E/D#drive/speed", RawType.Float64),
                Tag(4, "G/E/D#missing", RawType.Float64)
            )
        )
        {
            await Heard.Eventually(() =>
                listener.Heard.Any(m => Encoding.UTF8.GetString(m.Payload).Contains("\"online\":true", StringComparison.Ordinal))
            );
            var edge = await Edge.ConnectAsync(broker.Port, 3);
            await edge.BearAsync();
            await heard.Holds(1, 20);
            await heard.Holds(2, 7);
            await heard.Holds(3, 1450);
            await heard.IsBad(4, StatusCode.BadNodeIdUnknown, "the birth of G/E/D has no metric missing");
            await edge.SayAsync(
                "DDATA",
                "D",
                new Metric
                {
                    Alias = 10,
                    DoubleValue = 21.5,
                    Timestamp = Time,
                }
            );
            await heard.Holds(1, 21.5);
            heard[1]!.Value.TimeTicks.ShouldBe(DateTime.UnixEpoch.AddMilliseconds(Time).Ticks, "the device's own time");
            await edge.SayAsync(
                "DDATA",
                "D",
                new Metric
                {
                    Alias = 10,
                    DoubleValue = 99,
                    IsHistorical = true,
                }
            );
            await edge.SayAsync("DDEATH", "D");
            await heard.IsBad(1, StatusCode.BadNoCommunication, " UTC from G/E/D");
            heard[1]!.Value.Raw.ShouldBe(double.NaN);
            heard[2]!.Value.Status.IsGood.ShouldBeTrue("the node itself lives");
            await Heard.Eventually(() =>
                heard.Link.Status.Remark?.Contains("1 historical value passed over", StringComparison.Ordinal) == true
            );
            await edge.BearAsync();
            await heard.Holds(1, 20);
            edge.Break();
            await heard.IsBad(2, StatusCode.BadNoCommunication, " UTC from G/E");
            await heard.IsBad(1, StatusCode.BadNoCommunication, " UTC from G/E");
        }
        await Heard.Eventually(() =>
            Encoding.UTF8.GetString(listener.Heard.Last().Payload).Contains("\"online\":false", StringComparison.Ordinal)
        );
    }

    /// <summary>Hundreds of nodes that speak and never announce themselves: some are asked each second, and each that does not answer is
    /// left longer.</summary>
    [Fact]
    public async Task Rebirths_are_asked_for_within_bounds_in_all_and_of_each()
    {
        await using var broker = await Mosquitto.StartAsync();
        await using var heard = Run(broker.Port, Tag(1, "G/E/D#t", RawType.Float64));
        await Heard.Eventually(() => heard.Link.Status.State != LinkState.Connecting);
        await using var listener = await TestPublisher.ConnectAsync(broker.Port, null, "spBv1.0/+/NCMD/+");
        await using var crowd = await TestPublisher.ConnectAsync(broker.Port);
        var begin = DateTime.UtcNow;
        for (var round = 0; round < 3; round++)
        for (var node = 0; node < 300; node++)
            await crowd.SayAsync(
                $"spBv1.0/G/NDATA/X{node}",
                new Payload
                {
                    Timestamp = Time,
                    Seq = 0,
                    Metrics =
                    {
                        new Metric { Alias = 1, DoubleValue = 1 },
                    },
                }.ToByteArray()
            );
        await Heard.Eventually(() => listener.Heard.Count >= 40, 20);
        var seconds = (DateTime.UtcNow - begin).TotalSeconds;
        listener.Heard.Count.ShouldBeLessThanOrEqualTo((int)((seconds + 2) * 20));
    }

    [Fact]
    public async Task A_gap_or_an_unknown_alias_asks_for_a_rebirth_and_a_late_death_of_an_earlier_session_is_passed_over()
    {
        await using var broker = await Mosquitto.StartAsync();
        await using var heard = Run(broker.Port, Tag(1, "G/E/D#t", RawType.Float64));
        await Heard.Eventually(() => heard.Link.Status.State != LinkState.Connecting);
        await using var edge = await Edge.ConnectAsync(broker.Port, 9);
        await edge.BearAsync();
        await heard.Holds(1, 20);
        edge.Skip(3);
        await edge.SayAsync("DDATA", "D", new Metric { Alias = 10, DoubleValue = 22 });
        await edge.IsAskedForRebirthAsync();
        heard.Link.Status.LastError!.ShouldContain("messages of G/E are missing before number");
        await edge.SayAsync(
            "NDEATH",
            null,
            new Metric
            {
                Name = "bdSeq",
                Datatype = 4,
                LongValue = 8,
            }
        );
        await edge.SayAsync("DDATA", "D", new Metric { Alias = 10, DoubleValue = 23 });
        await heard.Holds(1, 23);
    }

    [Fact]
    public async Task Broken_protobufs_are_counted_and_nothing_stops()
    {
        await using var broker = await Mosquitto.StartAsync();
        await using var heard = Run(broker.Port, Tag(1, "G/E/D#t", RawType.Float64));
        await Heard.Eventually(() => heard.Link.Status.State != LinkState.Connecting);
        await using var edge = await Edge.ConnectAsync(broker.Port, 0);
        await edge.BearAsync();
        await heard.Holds(1, 20);
        byte[] good = Convert.FromHexString(
            "0880D095FFBC31122F0A04466C6F7710051880D095FFBC31200A4A130A07656E67556E69741208080C42046D332F686900000000000029401800"
        );
        var random = new Random(3);
        for (var cut = 1; cut < good.Length; cut += 4)
            await edge.RawAsync("DDATA", "D", good[..cut]);
        for (var i = 0; i < 50; i++)
        {
            var noise = new byte[random.Next(1, 200)];
            random.NextBytes(noise);
            await edge.RawAsync("DDATA", "D", noise);
        }
        await edge.RawAsync("DDATA", "D", [.. Enumerable.Repeat((byte)0x12, 5 * 1024 * 1024)]);
        await Heard.Eventually(() => heard.Link.Status.Errors > 10);
        await edge.BearAsync();
        await edge.SayAsync("DDATA", "D", new Metric { Alias = 10, DoubleValue = 31 });
        await heard.Holds(1, 31);
    }

    [Fact]
    public async Task The_box_edge_of_the_maltings_is_browsed_commanded_and_found_again()
    {
        await using var broker = new StandInBroker(0);
        await broker.OpenAsync();
        await using var edge = new BoxEdge([new Box(1, 3), new Box(2, 20)], () => broker.Port, TimeProvider.System);
        using var stop = new CancellationTokenSource();
        var running = RunEdgeAsync(edge, stop.Token);
        var setpoint = Tag(1, "Corvane/box-edge/box-1#air/setpoint", RawType.Float32);
        await using var heard = Run(
            broker.Port,
            setpoint,
            Tag(2, "Corvane/box-edge/box-2#carriage/position", RawType.Float32),
            Tag(3, "Corvane/box-edge/box-1#contacts", RawType.Bool) with
            {
                Count = 8,
            }
        );
        await heard.Holds(1, 14.5);
        await Heard.Eventually(() => heard[2] is { Status.IsGood: true });
        await heard.Holds(3, 1, 2);
        var found = await heard.Link.BrowseAsync(new(""), default);
        var item = found.Items.Single(i => i.Address.ToString() == "Corvane/box-edge/box-1#bed/mid");
        (item.Type, item.Unit, item.Range, item.Description).ShouldBe(
            (RawType.Float32, "degC", new Span(0, 40), "bed temperature, middle")
        );
        found.Items.ShouldContain(i => i.Address.ToString() == "Corvane/box-edge/box-1#carriage/moving" && i.Type == RawType.Bool);
        found.Items.ShouldNotContain(i => i.PathText.Contains("bdSeq"));
        (await heard.Link.WriteAsync(TagWrite.Of(setpoint, 16.25, null, out _)!, default)).ShouldBe(WriteResult.Confirmed);
        await heard.Holds(1, 16.25);
        // A tag that comes later has its value at once: what the births said is known.
        heard.Link.Retag([
            setpoint,
            Tag(9, "Corvane/box-edge/box-2#phase", RawType.Int32),
            Tag(10, "Corvane/box-edge/box-2#nothing", RawType.Int32),
        ]);
        await Heard.Eventually(() => heard[9] is { Status.IsGood: true });
        await heard.IsBad(10, StatusCode.BadNodeIdUnknown, "has no metric nothing");
        (await heard.Link.WriteAsync(TagWrite.Of(setpoint, 90, null, out _)!, default)).Outcome.ShouldBe(
            WriteOutcome.NotConfirmed,
            "the edge node keeps to 8 to 25"
        );
        edge.Switch(true);
        await heard.IsBad(1, StatusCode.BadNoCommunication, " UTC from Corvane/box-edge");
        edge.Switch(false);
        await heard.Holds(1, 16.25);
        await stop.CancelAsync();
        await running;
    }

    private static async Task RunEdgeAsync(BoxEdge edge, CancellationToken stop)
    {
        var begin = TimeProvider.System.GetTimestamp();
        while (!stop.IsCancellationRequested)
        {
            var real = TimeProvider.System.GetElapsedTime(begin);
            await edge.AdvanceToAsync(real, real, CancellationToken.None);
            await Task.Delay(50, CancellationToken.None);
        }
    }

    private static Tag Tag(long id, string address, RawType type) =>
        new(id, 1, $"T{id}", Protocol.Sparkplug.Rules().ReadAddress(address, out _)!, type, WordOrder.HighFirst, "");

    private static List<Sample> Read(Metric metric, uint datatype, RawType type, int count = 1)
    {
        var samples = new List<Sample>();
        SparkplugValues.Read(metric, datatype, Tag(1, "g/e#m", type) with { Count = count }, 1, samples);
        return samples;
    }

    private static Heard Run(int port, params Tag[] tags) =>
        new(m => new SparkplugLink(
            new(1, "edge", new SparkplugConnection("127.0.0.1", port), TimeSpan.Zero),
            tags,
            m,
            TimeProvider.System,
            null
        ));

    /// <summary>An edge node that does what a test tells it to.</summary>
    private sealed class Edge(TestPublisher publisher, ulong bdSeq) : IAsyncDisposable
    {
        private ulong _seq;

        public static async Task<Edge> ConnectAsync(int port, ulong bdSeq) =>
            new(
                await TestPublisher.ConnectAsync(
                    port,
                    (
                        "spBv1.0/G/NDEATH/E",
                        new Payload
                        {
                            Metrics =
                            {
                                new Metric
                                {
                                    Name = "bdSeq",
                                    Datatype = 4,
                                    LongValue = bdSeq,
                                },
                            },
                        }.ToByteArray()
                    ),
                    "spBv1.0/G/NCMD/E"
                ),
                bdSeq
            );

        public async Task BearAsync()
        {
            _seq = 255;
            await SayAsync(
                "NBIRTH",
                null,
                new Metric
                {
                    Name = "bdSeq",
                    Datatype = 4,
                    LongValue = bdSeq,
                },
                new Metric
                {
                    Name = "n",
                    Alias = 1,
                    Datatype = 3,
                    IntValue = 7,
                }
            );
            await SayAsync(
                "DBIRTH",
                "D",
                new Metric
                {
                    Name = "t",
                    Alias = 10,
                    Datatype = 10,
                    DoubleValue = 20,
                },
                new Metric
                {
                    Name = "drive",
                    Datatype = 19,
                    TemplateValue = new()
                    {
                        TemplateRef = "Drive",
                        Metrics =
                        {
                            new Metric
                            {
                                Name = "speed",
                                Datatype = 10,
                                DoubleValue = 1450,
                            },
                        },
                    },
                }
            );
        }

        public void Skip(ulong messages) => _seq += messages;

        public Task SayAsync(string message, string? device, params Metric[] metrics)
        {
            var payload = new Payload { Timestamp = Time, Metrics = { metrics } };
            if (message != "NDEATH")
                payload.Seq = _seq = (_seq + 1) % 256;
            return RawAsync(message, device, payload.ToByteArray());
        }

        public Task RawAsync(string message, string? device, byte[] bytes) =>
            publisher.SayAsync($"spBv1.0/G/{message}/E{(device is null ? "" : "/" + device)}", bytes);

        /// <summary>Waits until a rebirth is asked for: Node Control/Rebirth, true.</summary>
        public async Task IsAskedForRebirthAsync()
        {
            var asked = publisher.Heard.Count;
            await Heard.Eventually(() =>
                publisher
                    .Heard.Skip(Math.Max(0, asked - 1))
                    .Any(m =>
                        Payload.Parser.ParseFrom(m.Payload).Metrics.Any(x => x is { Name: "Node Control/Rebirth", BooleanValue: true })
                    )
            );
        }

        public void Break() => publisher.Break();

        public ValueTask DisposeAsync() => publisher.DisposeAsync();
    }
}
