using Fralto.Core.Planning;
using Fralto.Core.Plant;

namespace Fralto.Runtime;

/// <summary>A model that has been compiled.</summary>
/// <param name="Model">The model.</param>
/// <param name="Map">From the plan that ran when it was asked for to its own.</param>
/// <param name="Findings">What the planner says of it.</param>
internal sealed record MadePlan(PlantModel Model, PlanMap Map, FindingList Findings);
