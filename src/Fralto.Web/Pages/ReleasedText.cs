using Fralto.Core.Review;

namespace Fralto.Web.Pages;

/// <summary>What runs in place of what is being edited.</summary>
public static class ReleasedText
{
    /// <summary>Where a controller is really reached while its address has not been released; null where it is what is shown.</summary>
    /// <param name="state">Both models.</param>
    /// <param name="controllerId">The controller.</param>
    public static string? OfController(WorkspaceState state, long controllerId) =>
        state.IsUnreleased
        && state.Model.Controllers.TryGetValue(controllerId, out var working)
        && state.Released.Controllers.TryGetValue(controllerId, out var released)
        && working.Connection != released.Connection
            ? $"still reached at {released.Connection.Place}: its new address is not released yet"
            : null;

    /// <summary>What the released model says of a property of a template or instance, in words; null where it says the same.</summary>
    /// <param name="state">Both models.</param>
    /// <param name="layer">The template or instance.</param>
    /// <param name="propertyId">The property.</param>
    public static string? Of(WorkspaceState state, long layer, long propertyId)
    {
        if (!state.IsUnreleased)
            return null;
        var fields = ReviewList.FactsOf(state.Released, state.Model, layer, propertyId);
        return fields is null ? "new; not released yet"
            : fields.Count == 0 ? null
            : $"released: {string.Join("; ", fields.Select(f => $"{f.Name} {(f.Before.Length > 0 ? f.Before : "nothing")}"))}";
    }
}
