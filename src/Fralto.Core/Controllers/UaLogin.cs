namespace Fralto.Core.Controllers;

/// <summary>As whom Fralto comes to a server (user identity tokens, OPC UA Part 4, clause 7.41).</summary>
public enum UaLogin
{
    /// <summary>As nobody in particular.</summary>
    Anonymous,

    /// <summary>With a name and a password.</summary>
    Password,

    /// <summary>With the certificate Fralto shows everywhere.</summary>
    Certificate,
}
