using System.Net;
using System.Net.Sockets;

namespace Fralto.Links.Tests;

/// <summary>Ports for programs that are started by tests.</summary>
/// <remarks>They lie below those a system gives out by itself (from 32768 on Linux): one of these, free when it was asked for, may be
/// somebody else's by the time the program has started.</remarks>
internal static class Ports
{
    private const int InARow = 20;

    // Browser tests take theirs from 12000 to 28000.
    private const int ForBrokers = 10_000;
    private const int ForFralto = 28_000;

    private static int _taken = Random.Shared.Next(1000);

    /// <summary>A port for a broker.</summary>
    public static int ForBroker() => Free(ForBrokers, 2000);

    /// <summary>The first of a few ports in a row, for a whole Fralto and for stand-ins.</summary>
    public static int ForProgram() => Free(ForFralto, 4740);

    private static int Free(int from, int count)
    {
        while (true)
        {
            var first = from + Interlocked.Increment(ref _taken) % (count / InARow) * InARow;
            if (Enumerable.Range(first, InARow).All(IsFree))
                return first;
        }
    }

    private static bool IsFree(int port)
    {
        using var probe = new TcpListener(IPAddress.Loopback, port);
        try
        {
            probe.Start();
            return true;
        }
        catch (SocketException)
        {
            return false;
        }
    }
}
