using Fralto.Store;

namespace Fralto.Runtime.Releasing;

/// <summary>What came of a release.</summary>
/// <param name="Release">The release; null when none was made.</param>
/// <param name="Problem">Why none was made; null when one was.</param>
public sealed record ReleaseOutcome(Release? Release, string? Problem)
{
    internal static ReleaseOutcome Refused(string problem) => new(null, problem);
}
