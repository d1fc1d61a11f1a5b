using Fralto.Core.Controllers;
using Fralto.Core.OpcUa;

namespace Fralto.Links.OpcUa;

/// <summary>What an OPC UA server offers: ways to secure a connection, logins, and its certificate.</summary>
/// <param name="Application">What it calls itself.</param>
/// <param name="Ways">Ways that can be chosen, the best first, with the logins each takes.</param>
/// <param name="Others">Ways it offers that Fralto does not speak, in its words.</param>
/// <param name="Certificate">Its certificate; null where it shows none.</param>
public sealed record UaOffer(
    string Application,
    IReadOnlyList<(UaSecurity Security, IReadOnlyList<UaLogin> Logins)> Ways,
    IReadOnlyList<string> Others,
    UaServerCertificate? Certificate
)
{
    /// <summary>The best way it offers.</summary>
    public UaSecurity? Best => Ways.Select(w => w.Security).FirstOrDefault();
}
