using Fralto.Links;

namespace Fralto.Web.Exchange;

/// <summary>A look through what a controller tells of itself, which may take a while: it goes on while nobody waits for it.</summary>
public sealed class Browsing
{
    private readonly Action _enough;
    private readonly TimeProvider _clock;
    private readonly long _since;
    private int _found;

    /// <summary>Begins to look.</summary>
    /// <param name="browse">Looks.</param>
    /// <param name="request">What is asked for.</param>
    /// <param name="before">What an earlier look has found, which this one goes on from.</param>
    /// <param name="clock">The clock.</param>
    public Browsing(Func<BrowseRequest, Task<BrowseResult>> browse, BrowseRequest request, BrowseResult? before, TimeProvider clock)
    {
        (_clock, _since) = (clock, clock.GetTimestamp());
        var enough = new CancellationTokenSource();
        _enough = enough.Cancel;
        Ended = RunAsync();

        async Task<BrowseResult> RunAsync()
        {
            try
            {
                var result = await browse(request with { Found = n => Volatile.Write(ref _found, n), Enough = enough.Token });
                return before?.With(result) ?? result;
            }
            catch (LinkException e)
            {
                return (before ?? new([])) with { Problem = e.Message };
            }
            catch (Exception e) when (e is OperationCanceledException or ObjectDisposedException)
            {
                return (before ?? new([])) with { Problem = "the link was begun anew while it looked; browse again" };
            }
        }
    }

    /// <summary>The controller that is asked.</summary>
    public long ControllerId { get; init; }

    /// <summary>How many were found so far.</summary>
    public int Found => Volatile.Read(ref _found);

    /// <summary>How long it has been going on.</summary>
    public TimeSpan Elapsed => _clock.GetElapsedTime(_since);

    /// <summary>What it finds, once it has ended.</summary>
    public Task<BrowseResult> Ended { get; }

    /// <summary>What it has found; null while it goes on.</summary>
    public BrowseResult? Result => Ended.IsCompletedSuccessfully ? Ended.Result : null;

    /// <summary>Ends it with what it has found so far.</summary>
    public void Stop() => _enough();
}
