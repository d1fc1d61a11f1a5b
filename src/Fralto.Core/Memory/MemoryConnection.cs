using Fralto.Core.Controllers;

namespace Fralto.Core.Memory;

/// <summary>No device: the tags hold what is written to them.</summary>
public sealed record MemoryConnection : Connection
{
    /// <inheritdoc/>
    public override Protocol Protocol => Protocol.Memory;

    /// <inheritdoc/>
    public override bool IsTimed => false;

    /// <inheritdoc/>
    public override string Place => "inside Fralto";
}
