using System.Collections.Immutable;
using Fralto.Core.Basics;
using Fralto.Core.Controllers;
using Fralto.Core.Scaling;

namespace Fralto.Core.Memory;

/// <summary>What is known of memory: no device, only what people and programs write.</summary>
public sealed class MemoryRules : ProtocolRules
{
    /// <inheritdoc/>
    public override Protocol Protocol => Protocol.Memory;

    /// <inheritdoc/>
    public override string Words => "memory";

    /// <inheritdoc/>
    public override bool HasDevice => false;

    /// <inheritdoc/>
    public override string AddressHint => "empty, or: start 20, retained";

    /// <inheritdoc/>
    public override (string Label, string Hint)? Interval => null;

    /// <inheritdoc/>
    public override ImmutableArray<ConnectionField> Fields => [];

    /// <inheritdoc/>
    public override Connection New => new MemoryConnection();

    /// <inheritdoc/>
    public override Connection Read(ConnectionEntry entry) => new MemoryConnection();

    /// <inheritdoc/>
    public override ConnectionEntry Write(Connection connection, ConnectionEntry entry) => entry with { Protocol = Protocol };

    /// <inheritdoc/>
    public override IEnumerable<Problem> Problems(Connection connection) => [];

    /// <inheritdoc/>
    public override IEnumerable<Problem> Problems(Tag tag)
    {
        if (tag.Type is RawType.Bcd16 or RawType.Bcd32)
            yield return new("Type", $"{tag.Type.Word()} is a way to read registers; memory holds numbers.");
        if (tag.IsArray)
            yield return new("Count", "A tag of memory holds one value.");
        if (((MemoryAddress)tag.Address).Start is { } start && TagWrite.Read(tag, start, out var problem) is null)
            yield return new("Address", $"The start value: {problem}");
    }

    private protected override TagAddress? Address(string text, out string? problem) => MemoryAddress.Parse(text, out problem);
}
