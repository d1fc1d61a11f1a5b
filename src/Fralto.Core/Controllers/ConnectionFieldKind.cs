namespace Fralto.Core.Controllers;

/// <summary>What a field of a connection holds.</summary>
public enum ConnectionFieldKind
{
    /// <summary>A line of text.</summary>
    Text,

    /// <summary>Several lines of text.</summary>
    Lines,

    /// <summary>A whole number.</summary>
    Whole,

    /// <summary>One of a few words.</summary>
    Choice,

    /// <summary>A password, which is kept apart from the model and never shown.</summary>
    Password,
}
