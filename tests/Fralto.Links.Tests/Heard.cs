using System.Collections.Concurrent;
using Fralto.Core.Controllers;
using Fralto.Core.Engine;
using Fralto.Core.Quality;

namespace Fralto.Links.Tests;

/// <summary>Runs a link and keeps the newest sample of each tag.</summary>
internal sealed class Heard : IAsyncDisposable
{
    private readonly CancellationTokenSource _stop = new();
    private readonly ConcurrentDictionary<(long Tag, int Element), Sample> _newest = new();
    private readonly ConcurrentDictionary<long, ConcurrentQueue<double>> _raws = new();
    private readonly Task _running;
    private readonly Task _hearing;
    private long _count;

    public Heard(Func<SampleMailbox, ILink> make)
    {
        Mailbox = new SampleMailbox();
        Link = make(Mailbox);
        _running = Link.RunAsync(_stop.Token);
        _hearing = Task.Run(HearAsync);
    }

    public SampleMailbox Mailbox { get; }

    public ILink Link { get; }

    /// <summary>Samples heard so far.</summary>
    public long Count => Interlocked.Read(ref _count);

    public Sample? this[long tag, int element = 0] => _newest.TryGetValue((tag, element), out var sample) ? sample : null;

    /// <summary>The Good raw values of a tag, in the order they were heard.</summary>
    public IReadOnlyList<double> RawsOf(long tag) => _raws.TryGetValue(tag, out var raws) ? [.. raws] : [];

    /// <summary>Waits until something holds.</summary>
    public static async Task Eventually(Func<bool> holds, double seconds = 10, Func<string>? else_ = null)
    {
        var until = DateTime.UtcNow.AddSeconds(seconds);
        while (!holds())
        {
            if (DateTime.UtcNow > until)
                throw new ShouldAssertException($"it did not happen in time: {else_?.Invoke()}");
            await Task.Delay(10);
        }
    }

    /// <summary>Waits until a tag has a Good value.</summary>
    public Task Holds(long tag, double raw, int element = 0) =>
        Eventually(
            () => this[tag, element] is { Status.IsGood: true } s && s.Raw == raw,
            else_: () => $"{this[tag, element]}; {Link.Status}"
        );

    /// <summary>Waits until a tag is Bad with a reason.</summary>
    public Task IsBad(long tag, StatusCode status, string says) =>
        Eventually(
            () => this[tag] is { } s && s.Status == status && s.Reason!.Contains(says, StringComparison.Ordinal),
            else_: () => $"{this[tag]}; {Link.Status}"
        );

    public async ValueTask DisposeAsync()
    {
        await _stop.CancelAsync();
        await _running;
        await _hearing;
        _stop.Dispose();
    }

    private async Task HearAsync()
    {
        var batches = new List<SampleBatch>();
        while (!_stop.IsCancellationRequested)
        {
            Mailbox.Take(int.MaxValue, batches);
            foreach (var sample in batches.Where(b => !b.IsHistorical).SelectMany(b => b.Samples))
            {
                _newest[(sample.TagId, sample.Element)] = sample;
                Interlocked.Increment(ref _count);
                if (sample.Status.IsGood)
                    _raws.GetOrAdd(sample.TagId, _ => []).Enqueue(sample.Raw);
            }
            batches.Clear();
            await Task.Delay(2, CancellationToken.None);
        }
    }
}
