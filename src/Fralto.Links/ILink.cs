using Fralto.Core.Controllers;

namespace Fralto.Links;

/// <summary>The client for one controller, in this process or another. Samples go to the mailbox it was made with; it never throws into its
/// reader.</summary>
public interface ILink
{
    /// <summary>How it stands now.</summary>
    LinkStatus Status { get; }

    /// <summary>The words a tag's newest reading was made of, as they arrived; null before the first, while the device does not give them,
    /// and where a protocol has none.</summary>
    ushort[]? WordsOf(long tagId);

    /// <summary>How much later it is here than where a tag's times come from: positive for a clock that is behind; zero where it is about
    /// the same, and where no times come.</summary>
    TimeSpan ClockOffsetOf(Tag tag);

    /// <summary>Follows other tags from now on, without connecting anew.</summary>
    void Retag(IReadOnlyList<Tag> tags);

    /// <summary>Runs until it is cancelled, reconnecting by itself with back-off; while the device is gone its tags are Bad with the
    /// reason.</summary>
    Task RunAsync(CancellationToken stop);

    /// <summary>Writes a raw value and waits until it reads back.</summary>
    Task<WriteResult> WriteAsync(TagWrite write, CancellationToken stop);

    /// <summary>Lists what the controller has told of itself, or goes on where an earlier answer left off.</summary>
    /// <param name="request">What is asked for.</param>
    /// <param name="stop">Ends the listening early.</param>
    Task<BrowseResult> BrowseAsync(BrowseRequest request, CancellationToken stop);
}
