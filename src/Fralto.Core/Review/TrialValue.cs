namespace Fralto.Core.Review;

/// <summary>A value that was another in the working model than in the released one, on the same samples.</summary>
/// <param name="EquipmentId">The instance.</param>
/// <param name="PropertyId">The property.</param>
/// <param name="Path">Its path.</param>
/// <param name="Unit">Symbol of the unit in the working model; null for none.</param>
/// <param name="Released">The value of the released model at the time they were furthest apart; null while it was Bad.</param>
/// <param name="Working">The value of the working model then; null while it was Bad.</param>
/// <param name="Apart">How far they were apart, in the unit; 0 where one of them was Bad.</param>
/// <param name="Share">How far that is as a share of the range, where there is one; else of the larger value.</param>
public sealed record TrialValue(
    long EquipmentId,
    long PropertyId,
    string Path,
    string? Unit,
    double? Released,
    double? Working,
    double Apart,
    double Share
);
