using System.Diagnostics;
using System.Threading.Channels;
using Fralto.Core.Controllers;
using Fralto.Core.Modbus;
using Fralto.Core.Properties;
using Fralto.Core.Protocols;
using Fralto.Core.Quality;
using Fralto.Core.Scaling;

namespace Fralto.Links.Modbus;

/// <summary>Reads the tags of one Modbus TCP controller, each at its update interval, and writes to it.</summary>
/// <remarks>One connection, one request at a time. A unit id that does not answer is left alone for a while, so that it does not hold up
/// the others behind the same gateway.</remarks>
public sealed class ModbusTcpLink : Link
{
    private const int TimeoutsBeforeReconnect = 3;
    private const int MostOrders = 64;
    private static readonly TimeSpan SilentUnitRests = TimeSpan.FromSeconds(3);
    private static readonly TimeSpan ReadBackEvery = TimeSpan.FromMilliseconds(100);

    private readonly ModbusConnection _connection;
    private readonly Channel<Order> _orders = Channel.CreateBounded<Order>(
        new BoundedChannelOptions(MostOrders) { FullMode = BoundedChannelFullMode.Wait }
    );
    private readonly Dictionary<int, (long Until, string Why)> _restsUntil = [];
    private volatile Dictionary<long, Block> _blockOf = [];
    private volatile bool _isRetagged = true;
    private volatile bool _isConnected;
    private List<Round> _rounds = [];
    private Task<bool>? _ordered;
    private string? _silence;
    private int _timeouts;

    /// <param name="controller">Where and how often; its connection is one of Modbus.</param>
    /// <param name="tags">What to read.</param>
    /// <param name="mailbox">Where each round's readings go, as one batch.</param>
    /// <param name="clock">The time readings are stamped with.</param>
    public ModbusTcpLink(Controller controller, IReadOnlyList<Tag> tags, SampleMailbox mailbox, TimeProvider clock)
        : base(controller, tags, mailbox, clock) => _connection = (ModbusConnection)controller.Connection;

    /// <summary>Connects once and asks the unit id for one register or tag, to say in words whether and why not it works.</summary>
    public static async Task<LinkTest> TestAsync(ModbusConnection connection, Tag? probe, CancellationToken stop)
    {
        var timeout = TimeSpan.FromSeconds(2);
        var where = $"{connection.Host}:{connection.Port}";
        var unit = probe?.Register!.UnitId ?? connection.UnitId;
        try
        {
            using var client = await ModbusTcpClient.ConnectAsync(connection.Host, connection.Port, timeout, stop);
            var request = probe is null
                ? ModbusRequest.Read(ModbusFunction.ReadHoldingRegisters, 0, 1)
                : ReadPlanner.Plan([probe])[0].Request;
            var asked = probe is null ? "holding 0" : probe.Address.ToString();
            var watch = Stopwatch.StartNew();
            var answer = await client.AskAsync(unit, request, timeout, stop);
            var took = $"{watch.Elapsed.TotalMilliseconds:0.0} ms";
            return answer.Exception switch
            {
                null => new(true, $"{where} answers: unit id {unit} gave {asked} in {took}."),
                ModbusExceptionCode.GatewayPathUnavailable or ModbusExceptionCode.GatewayTargetFailedToRespond => new(
                    false,
                    $"{where} answers, but not for unit id {unit}: {ModbusWords.Explain(answer.Exception.Value)}. Check the unit id."
                ),
                ModbusExceptionCode.IllegalDataAddress
                or ModbusExceptionCode.IllegalFunction
                or ModbusExceptionCode.IllegalDataValue when probe is null => new(
                    true,
                    $"{where} answers: unit id {unit} is there ({took}). It has no {asked} "
                        + $"({ModbusWords.Explain(answer.Exception.Value)}), which need not matter."
                ),
                var code => new(false, $"{where} answers, but refuses {asked} with {ModbusWords.Explain(code.Value)}."),
            };
        }
        catch (LinkException e) when (e.Status == StatusCode.BadTimeout)
        {
            return new(false, $"{where} accepts the connection, but {e.Message}. Check the unit id.");
        }
        catch (LinkException e) when (e.Status == StatusCode.BadDecodingError)
        {
            return new(false, $"{where} accepts the connection, but {e.Message}.");
        }
        catch (LinkException e)
        {
            return new(false, $"Failed: {e.Message}.");
        }
    }

    public override void Retag(IReadOnlyList<Tag> tags)
    {
        base.Retag(tags);
        _isRetagged = true;
        _orders.Writer.TryWrite(Order.Wake);
    }

    public override ushort[]? WordsOf(long tagId)
    {
        if (!_blockOf.TryGetValue(tagId, out var block) || block.Last is not { } answer)
            return null;
        var tag = block.Read.Tags.First(t => t.Id == tagId);
        var offset = tag.Register!.Offset - block.Read.Start;
        return tag.IsWireBit
            ? [.. answer.Bits.Slice(offset, tag.Count).Select(b => b ? (ushort)1 : (ushort)0)]
            : answer.Words.AsSpan().Slice(offset, tag.Places).ToArray();
    }

    public override async Task<WriteResult> WriteAsync(TagWrite write, CancellationToken stop)
    {
        if (write.Tag.WhyReadOnly is { } reason)
            return WriteResult.Refused(reason);
        if (!_isConnected)
            return WriteResult.Refused($"nothing was sent: {Status.Reason ?? "not connected"}");
        var order = new Order(write, new(TaskCreationOptions.RunContinuationsAsynchronously));
        if (!_orders.Writer.TryWrite(order))
            return WriteResult.Refused("nothing was sent: too many commands wait for this controller");
        return await order.Done!.Task.WaitAsync(stop);
    }

    protected override async Task ServeAsync(Action connected, CancellationToken stop)
    {
        using var client = await ModbusTcpClient.ConnectAsync(_connection.Host, _connection.Port, Controller.Timeout, stop);
        var seen = 0L;
        _restsUntil.Clear();
        _timeouts = 0;
        _isRetagged = true;
        _isConnected = true;
        try
        {
            while (true)
            {
                if (_isRetagged)
                    PlanRounds();
                if (await NextAsync(stop) is { } round)
                    await PollAsync(client, round, stop);
                await CarryOutAsync(client, stop);
                CountBytes(client.Bytes - seen);
                seen = client.Bytes;
                connected();
            }
        }
        finally
        {
            _isConnected = false;
        }
    }

    protected override void Lost()
    {
        _blockOf = [];
        while (_orders.Reader.TryRead(out var order))
            order.Done?.TrySetResult(WriteResult.Refused("nothing was sent: the connection was lost"));
    }

    private void PlanRounds()
    {
        _isRetagged = false;
        var now = Clock.GetTimestamp();
        _rounds =
        [
            .. Tags.GroupBy(Controller.IntervalOf)
                .OrderBy(g => g.Key)
                .Select(g => new Round(g.Key, now) { Blocks = [.. ReadPlanner.Plan(g, _connection).Select(b => new Block(b))] }),
        ];
        if (_rounds.Count == 0)
            _rounds.Add(new(Controller.UpdateInterval, now));
        Remember();
    }

    private void Remember()
    {
        var blockOf = new Dictionary<long, Block>();
        foreach (var block in _rounds.SelectMany(r => r.Blocks))
        foreach (var tag in block.Read.Tags)
            blockOf[tag.Id] = block;
        _blockOf = blockOf;
        Set(s => s with { RequestsPerPoll = _rounds.Sum(r => r.Blocks.Count) });
    }

    /// <summary>The round that is due, once it is; null when there is an order to carry out before.</summary>
    private async Task<Round?> NextAsync(CancellationToken stop)
    {
        var round = _rounds.MinBy(r => r.Due)!;
        var left = Clock.GetElapsedTime(Clock.GetTimestamp(), round.Due);
        if (left > TimeSpan.Zero)
        {
            // One waiting for orders is kept over many rounds: a new one each round would never be let go of.
            _ordered ??= _orders.Reader.WaitToReadAsync(stop).AsTask();
            if (await Task.WhenAny(Task.Delay(left, Clock, stop), _ordered) == _ordered)
            {
                _ordered = null;
                return null;
            }
            stop.ThrowIfCancellationRequested();
        }
        var step = (long)(round.Interval.TotalSeconds * Clock.TimestampFrequency);
        var now = Clock.GetTimestamp();
        // A round that could not keep its time starts a new count; one that is only a little late keeps the beat.
        if (now - round.Due > step)
        {
            if (round.HasRun)
                Set(s => s with { LatePolls = s.LatePolls + 1 });
            round.Due = now;
        }
        round.Due += step;
        round.HasRun = true;
        return round;
    }

    private async Task PollAsync(ModbusTcpClient client, Round round, CancellationToken stop)
    {
        var batch = new List<Sample>(round.Blocks.Sum(b => b.Read.Tags.Length));
        string? refused = null;
        var (answered, silent) = (0, 0);
        var split = false;
        // Blocks a device refuses are split, so the list grows while it is walked.
        for (var i = 0; i < round.Blocks.Count; i++)
        {
            var block = round.Blocks[i];
            if (Rests(block.Read.UnitId))
            {
                silent++;
                refused ??= $"unit id {block.Read.UnitId} does not answer";
                AddBad(batch, block.Read.Tags, StatusCode.BadTimeout, Now, _restsUntil[block.Read.UnitId].Why);
                continue;
            }
            _silence = null;
            if (await AskAsync(client, block.Read.UnitId, block.Read.Request, stop) is not { } answer)
            {
                silent++;
                refused ??= $"unit id {block.Read.UnitId} does not answer";
                block.Last = null;
                var why = _silence ?? $"timed out: no answer to unit id {block.Read.UnitId}";
                _restsUntil[block.Read.UnitId] = (
                    Clock.GetTimestamp() + (long)(SilentUnitRests.TotalSeconds * Clock.TimestampFrequency),
                    why
                );
                AddBad(batch, block.Read.Tags, StatusCode.BadTimeout, Now, why);
                continue;
            }
            answered++;
            if (answer.Exception is not { } code)
            {
                block.Last = answer;
                Decode(block.Read, answer, batch);
            }
            else if (
                code is ModbusExceptionCode.IllegalDataAddress or ModbusExceptionCode.IllegalDataValue
                && ReadPlanner.Split(block.Read) is var (lower, upper)
            )
            {
                CountError();
                round.Blocks[i] = new(lower);
                round.Blocks.Insert(i + 1, new(upper));
                split = true;
                i--;
            }
            else
            {
                CountError();
                block.Last = null;
                refused = ModbusWords.Explain(code);
                foreach (var tag in block.Read.Tags)
                    AddBad(batch, [tag], StatusOf(code), Now, $"{tag.Address}: {refused}");
            }
        }
        if (split)
            Remember();
        Post([.. batch]);
        if (answered == 0 && silent > 0)
        {
            // Nobody answers: perhaps the other end is gone without a word. Silence of every unit three times in a row is the end of the
            // connection.
            if (++_timeouts >= TimeoutsBeforeReconnect)
                throw new LinkException(StatusCode.BadTimeout, $"timed out: {refused}");
            _restsUntil.Clear();
            Enter(LinkState.Down, $"timed out: {refused} within {Controller.Timeout.TotalMilliseconds:0} ms");
            return;
        }
        if (round.Blocks.Count > 0)
            _timeouts = 0;
        round.Refused = refused;
        // What one round is refused stays said while others, read more often, are well.
        var first = _rounds.Select(r => r.Refused).FirstOrDefault(r => r is not null);
        Enter(first is null ? LinkState.Up : LinkState.Partial, first);
    }

    private bool Rests(int unitId) => _restsUntil.TryGetValue(unitId, out var rest) && Clock.GetTimestamp() < rest.Until;

    /// <summary>Asks, and asks again when no answer comes in time; null when none came at all.</summary>
    private async Task<ModbusResponse?> AskAsync(ModbusTcpClient client, int unitId, ModbusRequest request, CancellationToken stop)
    {
        for (var attempt = 0; ; attempt++)
        {
            var watch = Stopwatch.GetTimestamp();
            CountRequest();
            try
            {
                var answer = await client.AskAsync(unitId, request, Controller.Timeout, stop);
                var took = Stopwatch.GetElapsedTime(watch);
                Set(s => s with { RoundTrip = took });
                return answer;
            }
            catch (LinkException e) when (!e.IsBroken)
            {
                Note(_silence = e.Message);
                if (attempt >= _connection.Retries)
                    return null;
            }
        }
    }

    private static void Decode(ReadBlock block, ModbusResponse answer, List<Sample> batch, long at)
    {
        foreach (var tag in block.Tags)
        {
            var offset = tag.Register!.Offset - block.Start;
            if (tag.IsWireBit)
            {
                for (var i = 0; i < tag.Count; i++)
                    batch.Add(new(tag.Id, answer.Bits[offset + i] ? 1 : 0, StatusCode.Good, at, null, i));
                continue;
            }
            var words = answer.Words.AsSpan().Slice(offset, tag.Places);
            if (tag.Register!.Bit is { } bit)
                batch.Add(new(tag.Id, (words[0] >> bit) & 1, StatusCode.Good, at));
            else if (tag.Type == RawType.Text)
                batch.Add(new(tag.Id, double.NaN, StatusCode.Good, at, null, 0, RawCodec.ReadText(words, tag.Count, tag.WordOrder)));
            else
                for (var i = 0; i < tag.Elements; i++)
                    batch.Add(SampleOf(tag, i, words, at));
        }
    }

    private void Decode(ReadBlock block, ModbusResponse answer, List<Sample> batch) => Decode(block, answer, batch, Now);

    private static Sample SampleOf(Tag tag, int element, ReadOnlySpan<ushort> words, long at)
    {
        if (tag is { Type: RawType.Bool, IsArray: true })
            return new(tag.Id, RawCodec.ReadPackedBool(words, element, tag.WordOrder) ? 1 : 0, StatusCode.Good, at, null, element);
        var raw = RawCodec.Read(words[(element * tag.Type.Words())..], tag.Type, tag.WordOrder);
        return double.IsNaN(raw) && tag.Type is RawType.Bcd16 or RawType.Bcd32
            ? new(
                tag.Id,
                raw,
                StatusCode.BadDecodingError,
                at,
                $"{RawCodec.Hex(words.Slice(element * tag.Type.Words(), tag.Type.Words()))} is no BCD: a nibble is above 9",
                element
            )
            : new(tag.Id, raw, StatusCode.Good, at, null, element);
    }

    private async Task CarryOutAsync(ModbusTcpClient client, CancellationToken stop)
    {
        while (_orders.Reader.TryRead(out var order))
        {
            if (order.Write is not { } write)
                continue;
            try
            {
                order.Done!.TrySetResult(await WriteAsync(client, write, stop));
            }
            catch (LinkException e)
            {
                order.Done!.TrySetResult(WriteResult.NotConfirmed(e.Message));
                throw;
            }
            catch (OperationCanceledException)
            {
                order.Done!.TrySetResult(WriteResult.NotConfirmed("Fralto was stopped, or the controller changed, while it was written"));
                throw;
            }
        }
    }

    private async Task<WriteResult> WriteAsync(ModbusTcpClient client, TagWrite write, CancellationToken stop)
    {
        var (tag, at) = (write.Tag, write.Tag.Register!);
        var unit = at.UnitId ?? _connection.UnitId;
        var element = new ReadElement(tag, write.Element);
        var wanted = write.Raw;
        ModbusRequest request;
        if (at.IsBit)
            request = ModbusRequest.WriteCoil(element.Offset, write.Raw != 0);
        else
        {
            var words = new ushort[element.Places];
            if (write.Text is { } text)
            {
                if (!RawCodec.TryWriteText(text, tag.Count, tag.WordOrder, words))
                    return WriteResult.Refused($"'{text}' cannot be written: {tag.Name} holds {tag.Count} printable ASCII characters");
            }
            else
            {
                // A part of a word is put into what the word holds now, so that its other bits stay as they are.
                if (write.Slice is { FirstBit: not null } || element.Bit is not null)
                {
                    if (await ReadAsync(client, unit, element, stop) is not { } now)
                        return WriteResult.Refused("nothing was sent: the word could not be read before");
                    if (now.Exception is { } unreadable)
                        return WriteResult.Refused(ModbusWords.Explain(unreadable));
                    now.Words.CopyTo(words);
                }
                if (element.Bit is { } bit)
                    words[0] = (ushort)(write.Raw != 0 ? words[0] | (1 << bit) : words[0] & ~(1 << bit));
                else if (
                    !RawCodec.TryWrite(wanted = write.Into(RawCodec.Read(words, tag.Type, tag.WordOrder)), tag.Type, tag.WordOrder, words)
                )
                    return WriteResult.Refused(RawCodec.WhyNot(wanted, tag.Type) ?? "it cannot be written");
            }
            request =
                words.Length == 1
                    ? ModbusRequest.WriteRegister(element.Offset, words[0])
                    : ModbusRequest.WriteRegisters(element.Offset, [.. words]);
        }
        if (await AskAsync(client, unit, request, stop) is not { } answer)
            return WriteResult.NotConfirmed($"no answer to unit id {unit} within {Controller.Timeout.TotalMilliseconds:0} ms");
        if (answer.Exception is { } code)
            return WriteResult.Refused(ModbusWords.Explain(code));
        var limit = Clock.GetTimestamp();
        for (var read = ""; ; )
        {
            if (await ReadAsync(client, unit, element, stop) is { Exception: null } back)
            {
                var batch = new List<Sample>();
                if (!tag.IsArray)
                    Decode(new ReadBlock(unit, at.Area, element.Offset, element.Places, [tag]), back, batch);
                Post([.. batch]);
                if (back.Words.AsSpan().SequenceEqual(request.Words.AsSpan()) && back.Bits.AsSpan().SequenceEqual(request.Bits.AsSpan()))
                    return WriteResult.Confirmed;
                read = batch is [var sample] ? sample.Text ?? $"{sample.Raw}" : "something else";
            }
            if (Clock.GetElapsedTime(limit) > ReadBackWithin)
                return WriteResult.NotConfirmed(
                    $"it reads back as {(read.Length > 0 ? read : "nothing")} after {ReadBackWithin.TotalSeconds:0} s"
                );
            await Task.Delay(ReadBackEvery, Clock, stop);
        }
    }

    private Task<ModbusResponse?> ReadAsync(ModbusTcpClient client, int unit, ReadElement element, CancellationToken stop) =>
        AskAsync(client, unit, new ReadBlock(unit, element.Area, element.Offset, element.Places, []).Request, stop);

    private static StatusCode StatusOf(ModbusExceptionCode code) =>
        code switch
        {
            ModbusExceptionCode.IllegalDataAddress => StatusCode.BadNodeIdUnknown,
            ModbusExceptionCode.IllegalFunction => StatusCode.BadNotSupported,
            ModbusExceptionCode.IllegalDataValue => StatusCode.BadOutOfRange,
            ModbusExceptionCode.GatewayPathUnavailable or ModbusExceptionCode.GatewayTargetFailedToRespond => StatusCode.BadNoCommunication,
            _ => StatusCode.BadDeviceFailure,
        };

    /// <summary>Where one element of a tag is on the wire.</summary>
    private readonly struct ReadElement
    {
        public ReadElement(Tag tag, int element)
        {
            var at = tag.Register!;
            Area = at.Area;
            Bit = at.Bit;
            if (at.IsBit)
                (Offset, Places) = (at.Offset + element, 1);
            else if (tag is { Type: RawType.Bool, IsArray: true })
            {
                // Booleans packed into words: the one register, and the one bit of it.
                var within = element % 32;
                Offset = at.Offset + element / 32 * 2 + (within >= 16 == tag.WordOrder.IsLowFirst() ? 1 : 0);
                Bit = tag.WordOrder.IsSwapped() ? (within % 16 + 8) % 16 : within % 16;
                Places = 1;
            }
            else
                (Offset, Places) = (at.Offset + element * tag.Type.Words(), tag.IsArray ? tag.Type.Words() : tag.Places);
        }

        public RegisterArea Area { get; }

        public int Offset { get; }

        public int Places { get; }

        public int? Bit { get; }
    }

    /// <summary>Blocks read at one interval.</summary>
    private sealed class Round(TimeSpan interval, long due)
    {
        public TimeSpan Interval => interval;

        public long Due { get; set; } = due;

        public bool HasRun { get; set; }

        /// <summary>What was refused the last time, in words; null when nothing was.</summary>
        public string? Refused { get; set; }

        public List<Block> Blocks { get; init; } = [];
    }

    /// <summary>A block and the newest answer to it.</summary>
    private sealed class Block(ReadBlock read)
    {
        public ReadBlock Read => read;

        public volatile ModbusResponse? Last;
    }

    /// <summary>A value to write and who waits for what comes of it; or just a call to look up.</summary>
    private sealed record Order(TagWrite? Write, TaskCompletionSource<WriteResult>? Done)
    {
        public static readonly Order Wake = new(null, null);
    }
}
