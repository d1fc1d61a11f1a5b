using Fralto.Core.Controllers;

namespace Fralto.Links;

/// <summary>Everything Fralto knows of talking one protocol.</summary>
public interface IProtocolDriver
{
    /// <summary>The protocol.</summary>
    Protocol Protocol { get; }

    /// <summary>Makes the link to a controller; it does nothing before it is run.</summary>
    ILink Create(LinkSetup setup);

    /// <summary>Connects once and asks for something, to say in words whether and why not it works.</summary>
    /// <param name="connection">How the controller is reached.</param>
    /// <param name="password">The password to send; null for none.</param>
    /// <param name="probe">A tag to ask for, where the protocol asks; null for whatever is always there.</param>
    /// <param name="stop">Cancels.</param>
    Task<LinkTest> TestAsync(Connection connection, string? password, Tag? probe, CancellationToken stop);
}
