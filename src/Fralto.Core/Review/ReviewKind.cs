namespace Fralto.Core.Review;

/// <summary>What has become of something between two models.</summary>
public enum ReviewKind
{
    /// <summary>It is new.</summary>
    Added,

    /// <summary>Something else is said of it.</summary>
    Changed,

    /// <summary>It is gone.</summary>
    Removed,

    /// <summary>It stands elsewhere.</summary>
    Moved,

    /// <summary>It is fed by another tag, or by none.</summary>
    Rebound,
}
