using Fralto.Core.Quality;

namespace Fralto.Core.OpcUa;

/// <summary>What status codes of a server mean, in words a person can act on (OPC UA Part 4, clause 7.39; numbers from its StatusCode
/// file).</summary>
public static class UaStatusText
{
    private static readonly Dictionary<uint, string> Said = new()
    {
        [0x80010000] = "the server met an error it was not made for",
        [0x80020000] = "the server says it failed in itself",
        [0x80030000] = "the server is out of memory",
        [0x80040000] = "the server is out of a resource",
        [0x80050000] = "the network broke off",
        [0x80060000] = "it could not be put into a message",
        [0x80070000] = "the message could not be read",
        [0x80080000] = "the message is larger than is taken",
        [0x800A0000] = "no answer came in time",
        [0x800B0000] = "the server does not do this",
        [0x800C0000] = "the server is shutting down",
        [0x800D0000] = "the server cannot be reached",
        [0x80120000] = "the certificate is not usable",
        [0x80130000] = "a security check failed; is our certificate trusted at the server?",
        [0x80140000] = "a certificate is outside its time: it has run out, or is not valid yet",
        [0x80150000] = "the certificate of the authority is outside its time",
        [0x80160000] = "the certificate names another host",
        [0x80170000] = "the certificate names another application than the server says it is",
        [0x80180000] = "the certificate is not for this use",
        [0x801A0000] = "the certificate is not trusted",
        [0x801B0000] = "it could not be found out whether the certificate was taken back",
        [0x801D0000] = "the certificate was taken back",
        [0x801F0000] = "this user may not do that",
        [0x80200000] = "the server takes no such login",
        [0x80210000] = "the server does not know the user or the password",
        [0x80220000] = "the secure channel is not there any more",
        [0x80250000] = "the session is not there any more",
        [0x80260000] = "the server closed the session",
        [0x80280000] = "the subscription is not there any more",
        [0x80310000] = "the server does not hear the device behind it",
        [0x80320000] = "no value has come yet",
        [0x80330000] = "the node's name is not well formed",
        [0x80340000] = "the server has no such node",
        [0x80350000] = "the node has no value",
        [0x80360000] = "the array has no such part",
        [0x80370000] = "the array holds nothing there",
        [0x803A0000] = "the node cannot be read",
        [0x803B0000] = "the node cannot be written",
        [0x803C0000] = "the value is out of what it takes",
        [0x803D0000] = "the server does not support this",
        [0x803E0000] = "what was asked for is not there",
        [0x803F0000] = "the object behind it was taken out",
        [0x80540000] = "the server does not take this way of securing",
        [0x80550000] = "the server does not take this security policy",
        [0x80560000] = "the server allows no more sessions",
        [0x80740000] = "the value is of another type",
        [0x80780000] = "the server takes no more publish requests",
        [0x80890000] = "something is set wrong at the server",
        [0x808A0000] = "the server is not connected to the device",
        [0x808B0000] = "the device has failed",
        [0x808C0000] = "the sensor has failed",
        [0x808D0000] = "the device is out of service",
        [0x80AC0000] = "the connection was refused",
        [0x80AD0000] = "the connection broke off",
        [0x80AE0000] = "the connection was closed",
        [0x408F0000] = "the server does not hear the device; this is its last value",
        [0x40900000] = "this is the last value known",
        [0x40910000] = "a value put in place of the true one",
        [0x40920000] = "the value it began with",
        [0x40930000] = "the sensor is not accurate",
        [0x40940000] = "the value lies outside its units' range",
        [0x40950000] = "worked out of fewer sources than it should be",
    };

    /// <summary>The words for a status; the standard's name, or its number, where there are none. Null for Good.</summary>
    public static string? Words(StatusCode status) =>
        status.IsGood ? null
        : Said.TryGetValue(status.Value & 0xFFFF0000, out var words) ? words
        : $"the server says {status.Name}";
}
