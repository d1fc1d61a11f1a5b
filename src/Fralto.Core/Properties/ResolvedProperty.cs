using System.Collections.Immutable;
using Fralto.Core.Limits;

namespace Fralto.Core.Properties;

/// <summary>A property with everything its layers say, folded from the root template down to one template or instance.</summary>
/// <param name="Declaration">The property itself.</param>
/// <param name="DeclaredBy">Id of the template that declares it.</param>
/// <param name="Facts">The folded patch.</param>
/// <param name="Own">What the last layer (this template, or the instance) says itself; empty when it only inherits.</param>
public sealed record ResolvedProperty(PropertyDeclaration Declaration, long DeclaredBy, PropertyPatch Facts, PropertyPatch Own)
{
    /// <summary>Id of the property.</summary>
    public long Id => Declaration.Id;

    /// <summary>Its code.</summary>
    public string Code => Declaration.Code;

    /// <summary>Its name.</summary>
    public string Name => Declaration.Name;

    /// <summary>True when it is bound to a tag.</summary>
    public bool TakesTag => Declaration.TakesTag;

    /// <summary>The limits in force, highest first.</summary>
    public ImmutableArray<Limit> Limits => Facts.LimitsInForce;
}
