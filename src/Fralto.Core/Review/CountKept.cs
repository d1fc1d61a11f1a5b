using Fralto.Core.Planning;

namespace Fralto.Core.Review;

/// <summary>What becomes of what a formula has counted when another plan is put in.</summary>
public static class CountKept
{
    /// <summary>Whether totals, counts and windows of a value go on.</summary>
    /// <param name="from">The plan that runs.</param>
    /// <param name="to">The plan that would be put in.</param>
    /// <param name="equipmentId">The instance.</param>
    /// <param name="propertyId">The property.</param>
    /// <returns>True when all go on, false when one begins anew; null when there is nothing that counts.</returns>
    public static bool? Of(Plan from, Plan to, long equipmentId, long propertyId)
    {
        if (SignaturesOf(from, equipmentId, propertyId) is not { Length: > 0 } before)
            return null;
        // They are carried over by their own text, as the engine does.
        return SignaturesOf(to, equipmentId, propertyId) is { Length: > 0 } after && before.All(after.Contains);
    }

    private static string[]? SignaturesOf(Plan plan, long equipmentId, long propertyId) =>
        plan.PointIndexOf(equipmentId, propertyId) is >= 0 and var point
        && plan.FormulaOf(point) is >= 0 and var formula
        && plan.Formulas[formula].Program is { } program
            ? [.. program.Times.Select(t => t.Signature)]
            : null;
}
