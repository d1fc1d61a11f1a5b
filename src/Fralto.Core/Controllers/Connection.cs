namespace Fralto.Core.Controllers;

/// <summary>How a controller is reached: one kind for each protocol.</summary>
public abstract record Connection
{
    /// <summary>What is spoken.</summary>
    public abstract Protocol Protocol { get; }

    /// <summary>Where it is, in one line.</summary>
    public abstract string Place { get; }
}
