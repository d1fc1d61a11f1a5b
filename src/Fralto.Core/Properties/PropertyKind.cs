namespace Fralto.Core.Properties;

/// <summary>Where a property's value comes from.</summary>
public enum PropertyKind
{
    /// <summary>Read from a tag.</summary>
    Measured,

    /// <summary>Bound to a tag that can be written; read back like a measured one.</summary>
    Command,

    /// <summary>Set in the model, once for the template or for each instance.</summary>
    Fixed,

    /// <summary>Entered by people while the plant runs.</summary>
    Entered,

    /// <summary>Computed from other properties by a formula.</summary>
    Calculated,
}
