namespace Fralto.Core.Review;

/// <summary>One thing said of something, before and after.</summary>
/// <param name="Name">What it is: H, unit, formula.</param>
/// <param name="Before">What was said; empty for nothing.</param>
/// <param name="After">What is said now; empty for nothing.</param>
public sealed record FieldChange(string Name, string Before, string After)
{
    /// <summary>It in one line: H 88 → 90.</summary>
    public string Words =>
        After.Length == 0 ? $"{Name} {Before} taken away"
        : Before.Length == 0 ? $"{Name} {After}"
        : $"{Name} {Before} → {After}";
}
