namespace Fralto.Core.Review;

/// <summary>An alarm that came in one of the two models, or in both.</summary>
/// <param name="EquipmentId">The instance.</param>
/// <param name="PropertyId">The property.</param>
/// <param name="Path">Its path.</param>
/// <param name="Limit">Code of the limit.</param>
/// <param name="Released">How often it stood or came in the released model.</param>
/// <param name="Working">How often it stood or came in the working model.</param>
public sealed record TrialAlarm(long EquipmentId, long PropertyId, string Path, string Limit, int Released, int Working);
