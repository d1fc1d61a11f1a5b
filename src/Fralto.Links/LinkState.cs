namespace Fralto.Links;

/// <summary>How a controller's link stands.</summary>
public enum LinkState
{
    /// <summary>Being connected; it has not answered yet since it was started.</summary>
    Connecting,

    /// <summary>Connected and answering.</summary>
    Up,

    /// <summary>Connected, but some requests are refused.</summary>
    Partial,

    /// <summary>Not connected, or not answering.</summary>
    Down,
}
