namespace Fralto.Core.Controllers;

/// <summary>No device: the tags hold what is written to them.</summary>
public sealed record MemoryConnection : Connection
{
    public override Protocol Protocol => Protocol.Memory;

    public override string Place => "inside Fralto";
}
