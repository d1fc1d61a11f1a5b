using System.Collections.Immutable;
using Fralto.Core.Limits;

namespace Fralto.Core.Rules;

/// <summary>One limit as the catalogue lists it: where it is said, what it says, and what is missing in it.</summary>
/// <param name="Layer">The template or instance that says it.</param>
/// <param name="IsInstance">True for an instance.</param>
/// <param name="Where">Name of the template, or path of the instance.</param>
/// <param name="PropertyId">The property.</param>
/// <param name="Property">Its name.</param>
/// <param name="Code">Code of the limit.</param>
/// <param name="Says">What all layers down to this one say of it.</param>
/// <param name="Own">What this layer says.</param>
/// <param name="Condition">The condition in words.</param>
/// <param name="Reach">Instances it holds for.</param>
/// <param name="Missing">What is missing or odd, each in a few words.</param>
public sealed record CatalogueLimit(
    long Layer,
    bool IsInstance,
    string Where,
    long PropertyId,
    string Property,
    string Code,
    LimitPatch Says,
    LimitPatch Own,
    string Condition,
    int Reach,
    ImmutableArray<string> Missing
)
{
    /// <summary>1 to 4.</summary>
    public int Priority => Says.Priority ?? Limit.DefaultPriority;

    /// <summary>What tells it from all others.</summary>
    public string Key => $"{Layer}.{PropertyId}.{Code}";
}
