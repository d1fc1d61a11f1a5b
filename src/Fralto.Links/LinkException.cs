using Fralto.Core.Quality;

namespace Fralto.Links;

/// <summary>A device could not be asked, or did not answer as it should; the message says why in words.</summary>
public sealed class LinkException : Exception
{
    public LinkException(StatusCode status, string message, Exception? inner = null)
        : base(message, inner) => Status = status;

    /// <summary>The quality the device's tags take.</summary>
    public StatusCode Status { get; }

    /// <summary>True when the connection itself is of no more use.</summary>
    public bool IsBroken => Status != StatusCode.BadTimeout;
}
