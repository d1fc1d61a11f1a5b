namespace Fralto.Core.Planning;

/// <summary>A plan and what the planner found on the way.</summary>
public sealed record PlanResult(Plan Plan, FindingList Findings);
