using Fralto.Core.Review;

namespace Fralto.Runtime.Releasing;

/// <summary>How a trial stands.</summary>
/// <param name="IsOn">True while it goes on.</param>
/// <param name="For">How long it was to last.</param>
/// <param name="Until">When it ends; the beginning of time while it waits for the working model to run.</param>
/// <param name="Report">What it has shown; null while there is nothing yet.</param>
public sealed record TrialState(bool IsOn, TimeSpan For, DateTimeOffset Until, TrialReport? Report)
{
    /// <summary>Nothing is being tried, and nothing was.</summary>
    public static readonly TrialState None = new(false, TimeSpan.Zero, default, null);

    /// <summary>True when it went on for as long as it was to.</summary>
    public bool IsOver => !IsOn && Report is not null;
}
