namespace Fralto.Links;

/// <summary>How a controller's link stands.</summary>
public enum LinkState
{
    /// <summary>Not yet asked.</summary>
    Starting,

    /// <summary>Connected and answering.</summary>
    Up,

    /// <summary>Connected, but some requests are refused.</summary>
    Partial,

    /// <summary>Not connected, or not answering.</summary>
    Down,
}
