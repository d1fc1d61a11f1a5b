using Fralto.Core.Plant;

namespace Fralto.Core.Controllers;

/// <summary>A device Fralto talks to, here over Modbus TCP.</summary>
/// <param name="Id">Stable and opaque.</param>
/// <param name="Name">Unique name, for example kiln-plc.</param>
/// <param name="Host">Host name or IP address.</param>
/// <param name="Port">TCP port, 1 to 65535; Modbus is assigned 502.</param>
/// <param name="UnitId">Modbus unit identifier, 0 to 255.</param>
/// <param name="UpdateInterval">Time between two reads of each tag.</param>
public sealed record Controller(long Id, string Name, string Host, int Port, int UnitId, TimeSpan UpdateInterval) : Entity(Id)
{
    /// <summary>Shortest update interval.</summary>
    public static readonly TimeSpan ShortestInterval = TimeSpan.FromMilliseconds(50);

    /// <summary>Longest update interval.</summary>
    public static readonly TimeSpan LongestInterval = TimeSpan.FromHours(1);

    /// <summary>How long an answer may take: the update interval, between 100 ms and 2 s.</summary>
    public TimeSpan Timeout => TimeSpan.FromMilliseconds(Math.Clamp(UpdateInterval.TotalMilliseconds, 100, 2000));

    /// <summary>After this long without an update a tag counts as stale: three intervals (common practice, no source).</summary>
    public TimeSpan StaleAfter => UpdateInterval * 3;
}
