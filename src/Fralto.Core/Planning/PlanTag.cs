namespace Fralto.Core.Planning;

/// <summary>One tag of a plan.</summary>
/// <param name="TagId">The tag.</param>
/// <param name="ControllerId">The controller it lives in.</param>
/// <param name="StaleAfter">Without an update for this long its value counts as stale.</param>
public sealed record PlanTag(long TagId, long ControllerId, TimeSpan StaleAfter);
