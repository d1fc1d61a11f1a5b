namespace Fralto.Core.Plant;

/// <summary>What can be found.</summary>
public enum FoundKind
{
    /// <summary>A node of the plant.</summary>
    Equipment,

    /// <summary>A template.</summary>
    Template,

    /// <summary>A property of a template.</summary>
    Property,

    /// <summary>A property of an instance.</summary>
    Value,

    /// <summary>A tag.</summary>
    Tag,

    /// <summary>A scale of the library.</summary>
    Scale,
}
