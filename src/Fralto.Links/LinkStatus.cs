namespace Fralto.Links;

/// <summary>How a link stands and what it has counted since it started.</summary>
/// <param name="State">State now.</param>
/// <param name="Since">Since when it is in this state.</param>
/// <param name="Reason">What is wrong, in words; null when nothing is.</param>
/// <param name="RoundTrip">Time from the last request to its answer; null before the first, and where nothing is asked.</param>
/// <param name="RequestsPerPoll">Requests that read every tag once; 0 where the device sends by itself.</param>
/// <param name="Requests">Requests sent, or messages received where the device sends by itself.</param>
/// <param name="Errors">Requests that failed or were refused, failed connections, and messages that could not be read.</param>
/// <param name="LatePolls">Rounds that began late because the one before took longer than the interval.</param>
/// <param name="Bytes">Bytes sent and received.</param>
/// <param name="Dropped">Samples that were overtaken by newer ones of the same tag before the engine took them.</param>
/// <param name="LastError">The newest error in words, kept after it has gone.</param>
/// <param name="LastErrorAt">When it was.</param>
/// <param name="Clock">How far the clocks of sources are from ours, in words; null where none is further off than the tolerance, or none
/// sends a time.</param>
/// <param name="Remark">Anything else worth knowing, in words; null for nothing.</param>
public sealed record LinkStatus(
    LinkState State,
    DateTimeOffset Since,
    string? Reason = null,
    TimeSpan? RoundTrip = null,
    int RequestsPerPoll = 0,
    long Requests = 0,
    long Errors = 0,
    long LatePolls = 0,
    long Bytes = 0,
    long Dropped = 0,
    string? LastError = null,
    DateTimeOffset? LastErrorAt = null,
    string? Clock = null,
    string? Remark = null
);
