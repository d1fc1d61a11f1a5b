using Fralto.Core.Formulas;

namespace Fralto.Core.Planning;

/// <summary>All instances below a place that a formula takes together.</summary>
/// <param name="Use">What is worked out of them.</param>
/// <param name="Formula">The formula that takes it.</param>
/// <param name="Names">What the members are called, in plant order.</param>
internal sealed record PlanSet(SetUse Use, int Formula, string[] Names);
