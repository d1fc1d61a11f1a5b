using Fralto.Core.Review;

namespace Fralto.Store;

/// <summary>A numbered, frozen model.</summary>
/// <param name="Number">Counted from 1; never used twice.</param>
/// <param name="At">When it was made.</param>
/// <param name="Who">Who made it.</param>
/// <param name="Note">What it is for, in the words of who made it.</param>
/// <param name="Head">The newest entry of the journal that is in it.</param>
/// <param name="Hash">SHA-256 of its content, in hexadecimal digits: two of the same hash hold the same model.</param>
/// <param name="Changes">How many entities it changed against the one that ran before.</param>
/// <param name="Errors">Errors found in it when it was made.</param>
/// <param name="Warnings">Warnings found in it.</param>
/// <param name="Hints">Hints found in it.</param>
/// <param name="Trial">What trying it beside the running plant had shown; null when it was not tried.</param>
/// <param name="Origin">Where it comes from, when it was not made from the working model: another release, a file.</param>
/// <param name="PauseMilliseconds">How long the running plant stood still for it; null while that has not been measured.</param>
public sealed record Release(
    int Number,
    DateTimeOffset At,
    string Who,
    string Note,
    long Head,
    string Hash,
    int Changes,
    int Errors,
    int Warnings,
    int Hints,
    TrialReport? Trial = null,
    string? Origin = null,
    double? PauseMilliseconds = null
);
