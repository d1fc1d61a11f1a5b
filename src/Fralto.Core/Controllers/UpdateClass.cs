using Fralto.Core.OpcUa;

namespace Fralto.Core.Controllers;

/// <summary>How often some tags of a controller are read, under a name.</summary>
/// <param name="Name">Unique in its controller, for example slow.</param>
/// <param name="Interval">Time between two reads.</param>
public sealed record UpdateClass(string Name, TimeSpan Interval)
{
    /// <summary>Time between two samples, where the device samples by itself; null for what the connection says.</summary>
    public TimeSpan? Sampling { get; init; }

    /// <summary>How many values the device keeps of a tag between two publishes, 1 to <see cref="OpcUaConnection.MostQueued"/>; null for
    /// what the connection says.</summary>
    public int? Queue { get; init; }

    /// <summary>Smallest change that is told, in percent of a tag's range; null for what the connection says.</summary>
    public double? Deadband { get; init; }

    /// <summary>Whether it says how the device samples.</summary>
    public bool IsSampled => (Sampling, Queue, Deadband) is not (null, null, null);
}
