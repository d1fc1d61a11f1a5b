namespace Fralto.Core.NamingRules;

/// <summary>Text that is the same for all instances.</summary>
/// <param name="Text">As written in the name.</param>
public sealed record FixedPiece(string Text) : PatternPiece
{
    private string? _key;

    /// <inheritdoc/>
    public bool Equals(FixedPiece? other) => other is not null && Text == other.Text;

    /// <inheritdoc/>
    public override int GetHashCode() => Text.GetHashCode(StringComparison.Ordinal);

    internal override bool Write(IFollowed instance, ref KeyWriter key)
    {
        key.Add(_key ??= NameToken.KeyOf(Text));
        return true;
    }

    internal override string? TextFor(IFollowed instance) => Text;

    /// <inheritdoc/>
    public override string ToString() => Text.Replace("{", "{{", StringComparison.Ordinal).Replace("}", "}}", StringComparison.Ordinal);
}
