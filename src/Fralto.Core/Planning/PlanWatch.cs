using Fralto.Core.Rules;

namespace Fralto.Core.Planning;

/// <summary>What a point watches that is the condition of a limit, or tells when one counts.</summary>
/// <param name="Subject">The point the limit belongs to; -1 where that has no value here.</param>
/// <param name="PropertyId">The property the limit belongs to.</param>
/// <param name="Limit">The limit.</param>
public sealed record PlanWatch(int Subject, long PropertyId, LimitFormula Limit);
