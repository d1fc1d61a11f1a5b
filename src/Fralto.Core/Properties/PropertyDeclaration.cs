namespace Fralto.Core.Properties;

/// <summary>One named thing a template says its instances have. What is known about it stands in patches.</summary>
/// <param name="Id">Stable id; the same in every descendant and instance.</param>
/// <param name="Code">Short form used in paths, unique in the template, its ancestors and its descendants.</param>
/// <param name="Name">What people call it.</param>
/// <param name="Kind">Where the value comes from.</param>
/// <param name="Type">What the value is.</param>
/// <param name="IsRequired">True when every instance needs a tag for it; false leaves it open without a warning.</param>
public sealed record PropertyDeclaration(long Id, string Code, string Name, PropertyKind Kind, PropertyType Type, bool IsRequired = true)
{
    /// <summary>True for the kinds that are bound to a tag.</summary>
    public bool TakesTag => Kind is PropertyKind.Measured or PropertyKind.Command;
}
