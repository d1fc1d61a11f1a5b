namespace Fralto.Core.Plant;

/// <summary>One entity before and after an edit. Null before: it is new. Null after: it is gone.</summary>
public sealed record ModelChange(object? Before, object? After)
{
    /// <summary>The change that takes this one back.</summary>
    public ModelChange Inverse => new(After, Before);

    /// <inheritdoc/>
    public override string ToString() => $"{Before ?? "nothing"} becomes {After ?? "nothing"}";
}
