using Fralto.Core.Planning;
using Fralto.Core.Quality;

namespace Fralto.Core.Engine;

/// <summary>What the engine knows of a point.</summary>
internal struct HotPoint
{
    public PointSetup Setup;
    public double Value;
    public StatusCode Status;

    /// <summary>Limits that are an alarm.</summary>
    public byte Exceeded;

    /// <summary>Limits the value is beyond, whether or not their delay has passed.</summary>
    public byte Crossed;

    /// <summary>True where a formula takes it.</summary>
    public bool Feeds;

    /// <summary>True where it is recorded.</summary>
    public bool IsRecorded;
}
