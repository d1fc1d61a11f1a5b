namespace Fralto.Links;

/// <summary>How a link stands and what it has counted since it started.</summary>
/// <param name="State">State now.</param>
/// <param name="Since">Since when it is in this state.</param>
/// <param name="Reason">What is wrong, in words; null when nothing is.</param>
/// <param name="RoundTrip">Time from the last request to its answer; null before the first.</param>
/// <param name="RequestsPerPoll">Requests one round of reading takes.</param>
/// <param name="Requests">Requests sent.</param>
/// <param name="Errors">Requests that failed or were refused, and failed connections.</param>
/// <param name="LatePolls">Rounds that began late because the one before took longer than the interval.</param>
/// <param name="LastError">The newest error in words, kept after it has gone.</param>
/// <param name="LastErrorAt">When it was.</param>
public sealed record LinkStatus(
    LinkState State,
    DateTimeOffset Since,
    string? Reason = null,
    TimeSpan? RoundTrip = null,
    int RequestsPerPoll = 0,
    long Requests = 0,
    long Errors = 0,
    long LatePolls = 0,
    string? LastError = null,
    DateTimeOffset? LastErrorAt = null);
