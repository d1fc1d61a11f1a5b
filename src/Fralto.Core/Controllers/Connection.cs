namespace Fralto.Core.Controllers;

/// <summary>How a controller is reached: one kind for each protocol.</summary>
public abstract record Connection
{
    /// <summary>What is spoken.</summary>
    public abstract Protocol Protocol { get; }

    /// <summary>Where it is, in one line.</summary>
    public abstract string Place { get; }

    /// <summary>Where a password may be sent: host, port, and whether anybody on the way can read it; null where none is sent.</summary>
    public virtual string? PasswordPlace => null;

    /// <summary>True where an update interval says how often news come, so that a tag without them grows stale.</summary>
    public virtual bool IsTimed => true;

    /// <summary>The connection with another TCP port; itself where there is none.</summary>
    public virtual Connection AtPort(int port) => this;
}
