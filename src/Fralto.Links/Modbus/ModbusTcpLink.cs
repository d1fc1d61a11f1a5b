using System.Diagnostics;
using System.Threading.Channels;
using Fralto.Core.Controllers;
using Fralto.Core.Engine;
using Fralto.Core.Modbus;
using Fralto.Core.Quality;
using Fralto.Core.Scaling;

namespace Fralto.Links.Modbus;

/// <summary>Reads the tags of one Modbus TCP controller at its update interval.</summary>
/// <param name="controller">Where and how often.</param>
/// <param name="tags">What to read.</param>
/// <param name="samples">Where each round's readings go, as one batch.</param>
/// <param name="clock">The time readings are stamped with.</param>
public sealed class ModbusTcpLink(Controller controller, IReadOnlyList<Tag> tags, ChannelWriter<Sample[]> samples, TimeProvider clock) : ILink
{
    private const int TimeoutsBeforeReconnect = 3;
    private static readonly TimeSpan LongestBackOff = TimeSpan.FromSeconds(5);

    private List<ReadBlock> _blocks = [.. ReadPlanner.Plan(tags)];
    private ModbusTcpClient? _client;
    private int _timeouts;
    private volatile Dictionary<long, ushort[]> _words = [];
    private LinkStatus _status = new(LinkState.Starting, clock.GetUtcNow());

    public LinkStatus Status => Volatile.Read(ref _status);

    /// <summary>Connects once and asks the unit id for one register or tag, to say in words whether and why not it works.</summary>
    public static async Task<LinkTest> TestAsync(Controller controller, Tag? probe, CancellationToken stop)
    {
        var timeout = TimeSpan.FromSeconds(2);
        var where = $"{controller.Host}:{controller.Port}";
        try
        {
            using var client = await ModbusTcpClient.ConnectAsync(controller.Host, controller.Port, timeout, stop);
            var request = probe is null ? ModbusRequest.Read(ModbusFunction.ReadHoldingRegisters, 0, 1) : ReadPlanner.Plan([probe])[0].Request;
            var asked = probe is null ? "holding 0" : probe.Address.ToString();
            var watch = Stopwatch.StartNew();
            var answer = await client.AskAsync(controller.UnitId, request, timeout, stop);
            var took = $"{watch.Elapsed.TotalMilliseconds:0.0} ms";
            return answer.Exception switch
            {
                null => new(true, $"{where} answers: unit id {controller.UnitId} gave {asked} in {took}."),
                ModbusExceptionCode.GatewayPathUnavailable or ModbusExceptionCode.GatewayTargetFailedToRespond =>
                    new(false, $"{where} answers, but not for unit id {controller.UnitId}: {ModbusWords.Explain(answer.Exception.Value)}. Check the unit id."),
                ModbusExceptionCode.IllegalDataAddress or ModbusExceptionCode.IllegalFunction or ModbusExceptionCode.IllegalDataValue when probe is null =>
                    new(true, $"{where} answers: unit id {controller.UnitId} is there ({took}). It has no {asked} ({ModbusWords.Explain(answer.Exception.Value)}), which need not matter."),
                var code => new(false, $"{where} answers, but refuses {asked} with {ModbusWords.Explain(code.Value)}."),
            };
        }
        catch (LinkException e) when (e.Status == StatusCode.BadTimeout)
        {
            return new(false, $"{where} accepts the connection, but unit id {controller.UnitId} does not answer within 2 s. Check the unit id.");
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

    public ushort[]? WordsOf(long tagId) => _words.GetValueOrDefault(tagId);

    public async Task RunAsync(CancellationToken stop)
    {
        var backOff = controller.UpdateInterval;
        var next = clock.GetTimestamp();
        try
        {
            while (!stop.IsCancellationRequested)
            {
                try
                {
                    _client ??= await ModbusTcpClient.ConnectAsync(controller.Host, controller.Port, controller.Timeout, stop);
                    await PollAsync(stop);
                    backOff = controller.UpdateInterval;
                    next = await WaitAsync(next, stop);
                }
                catch (LinkException e)
                {
                    Fail(e);
                    var wait = e.IsBroken ? backOff : controller.UpdateInterval;
                    if (e.IsBroken) backOff = backOff * 2 < LongestBackOff ? backOff * 2 : Longer(LongestBackOff, controller.UpdateInterval);
                    await Task.Delay(wait, clock, stop);
                    next = clock.GetTimestamp();
                }
            }
        }
        catch (OperationCanceledException) when (stop.IsCancellationRequested)
        {
            // Stopping is how a link ends.
        }
        finally
        {
            _client?.Dispose();
        }
    }

    private static TimeSpan Longer(TimeSpan one, TimeSpan other) => one > other ? one : other;

    private async Task PollAsync(CancellationToken stop)
    {
        var batch = new List<Sample>(tags.Count);
        var words = new Dictionary<long, ushort[]>(tags.Count);
        string? refused = null;
        // Blocks a device refuses are split, so the list grows while it is walked.
        for (var i = 0; i < _blocks.Count; i++)
        {
            var block = _blocks[i];
            var watch = Stopwatch.GetTimestamp();
            var answer = await _client!.AskAsync(controller.UnitId, block.Request, controller.Timeout, stop);
            _timeouts = 0;
            var errors = answer.Exception is null ? 0 : 1;
            Set(s => s with { RoundTrip = Stopwatch.GetElapsedTime(watch), Requests = s.Requests + 1, Errors = s.Errors + errors });
            if (answer.Exception is not { } code)
            {
                Decode(block, answer, batch, words);
            }
            else if (code is ModbusExceptionCode.IllegalDataAddress or ModbusExceptionCode.IllegalDataValue && ReadPlanner.Split(block) is var (first, second))
            {
                _blocks[i] = first;
                _blocks.Insert(i + 1, second);
                i--;
            }
            else
            {
                refused = ModbusWords.Explain(code);
                var at = clock.GetUtcNow().UtcTicks;
                foreach (var tag in block.Tags) AddBad(batch, tag, StatusOf(code), at, $"{tag.Address}: {refused}");
            }
        }
        _words = words;
        samples.TryWrite([.. batch]);
        Enter(refused is null ? LinkState.Up : LinkState.Partial, refused);
    }

    private void Decode(ReadBlock block, ModbusResponse answer, List<Sample> batch, Dictionary<long, ushort[]> kept)
    {
        var at = clock.GetUtcNow().UtcTicks;
        foreach (var tag in block.Tags)
        {
            var offset = tag.Address.Offset - block.Start;
            if (tag.Address.IsBit)
            {
                var bits = new ushort[tag.Count];
                for (var i = 0; i < bits.Length; i++)
                {
                    bits[i] = answer.Bits[offset + i] ? (ushort)1 : (ushort)0;
                    batch.Add(new(tag.Id, bits[i], StatusCode.Good, at, null, i));
                }
                kept[tag.Id] = bits;
                continue;
            }
            var words = answer.Words.AsSpan().Slice(offset, tag.Places);
            kept[tag.Id] = words.ToArray();
            if (tag.Type == RawType.Text) batch.Add(new(tag.Id, double.NaN, StatusCode.Good, at, null, 0, RawCodec.ReadText(words, tag.Count, tag.WordOrder)));
            else
                for (var i = 0; i < tag.Elements; i++) batch.Add(SampleOf(tag, i, words, at));
        }
    }

    private static Sample SampleOf(Tag tag, int element, ReadOnlySpan<ushort> words, long at)
    {
        if (tag is { Type: RawType.Bool, IsArray: true }) return new(tag.Id, RawCodec.ReadPackedBool(words, element, tag.WordOrder) ? 1 : 0, StatusCode.Good, at, null, element);
        var raw = RawCodec.Read(words[(element * tag.Type.Words())..], tag.Type, tag.WordOrder);
        return double.IsNaN(raw) && tag.Type is RawType.Bcd16 or RawType.Bcd32
            ? new(tag.Id, raw, StatusCode.BadDecodingError, at, $"{RawCodec.Hex(words.Slice(element * tag.Type.Words(), tag.Type.Words()))} is no BCD: a nibble is above 9", element)
            : new(tag.Id, raw, StatusCode.Good, at, null, element);
    }

    private static void AddBad(List<Sample> batch, Tag tag, StatusCode status, long at, string reason)
    {
        for (var i = 0; i < tag.Elements; i++) batch.Add(new(tag.Id, double.NaN, status, at, reason, i));
    }

    private void Fail(LinkException e)
    {
        if (e.IsBroken || ++_timeouts >= TimeoutsBeforeReconnect)
        {
            _client?.Dispose();
            _client = null;
            _timeouts = 0;
            // A device that comes back may have other addresses; start with large blocks again.
            _blocks = [.. ReadPlanner.Plan(tags)];
        }
        var now = clock.GetUtcNow();
        _words = [];
        var batch = new List<Sample>(tags.Count);
        foreach (var tag in tags) AddBad(batch, tag, e.Status, now.UtcTicks, e.Message);
        samples.TryWrite([.. batch]);
        Set(s => s with { Errors = s.Errors + 1 });
        Enter(LinkState.Down, e.Message);
    }

    private async Task<long> WaitAsync(long last, CancellationToken stop)
    {
        var step = (long)(controller.UpdateInterval.TotalSeconds * clock.TimestampFrequency);
        var due = last + step;
        var left = clock.GetElapsedTime(clock.GetTimestamp(), due);
        if (left > TimeSpan.Zero)
        {
            await Task.Delay(left, clock, stop);
            return due;
        }
        Set(s => s with { LatePolls = s.LatePolls + 1 });
        await Task.Yield();
        return clock.GetTimestamp();
    }

    private void Enter(LinkState state, string? reason)
    {
        var now = clock.GetUtcNow();
        Set(s => s with
        {
            State = state,
            Since = s.State == state ? s.Since : now,
            Reason = reason,
            RequestsPerPoll = _blocks.Count,
            LastError = reason ?? s.LastError,
            LastErrorAt = reason is null ? s.LastErrorAt : now,
        });
    }

    private void Set(Func<LinkStatus, LinkStatus> change) => Volatile.Write(ref _status, change(_status));

    private static StatusCode StatusOf(ModbusExceptionCode code) => code switch
    {
        ModbusExceptionCode.IllegalDataAddress => StatusCode.BadNodeIdUnknown,
        ModbusExceptionCode.IllegalFunction => StatusCode.BadNotSupported,
        ModbusExceptionCode.IllegalDataValue => StatusCode.BadOutOfRange,
        ModbusExceptionCode.GatewayPathUnavailable or ModbusExceptionCode.GatewayTargetFailedToRespond => StatusCode.BadNoCommunication,
        _ => StatusCode.BadDeviceFailure,
    };
}
