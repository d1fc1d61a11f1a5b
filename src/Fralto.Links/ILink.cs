namespace Fralto.Links;

/// <summary>The client for one controller. Samples go to the channel it was made with; it never throws into its reader.</summary>
public interface ILink
{
    /// <summary>How it stands now.</summary>
    LinkStatus Status { get; }

    /// <summary>The words a tag's newest reading was made of, as they arrived; null before the first, while the device does not give them, and where a protocol has none.</summary>
    ushort[]? WordsOf(long tagId);

    /// <summary>Reads until it is cancelled, reconnecting by itself with back-off; while the device is gone its tags are Bad with the reason.</summary>
    Task RunAsync(CancellationToken stop);
}
