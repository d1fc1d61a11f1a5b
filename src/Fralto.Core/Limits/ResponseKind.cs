namespace Fralto.Core.Limits;

/// <summary>What a response does.</summary>
public enum ResponseKind
{
    /// <summary>Calls an HTTP address.</summary>
    Call,

    /// <summary>Gives a command property a value.</summary>
    Write,

    /// <summary>Publishes to a topic of a broker; nothing has to come back.</summary>
    Publish,
}
