namespace Fralto.Core.Binding;

/// <summary>Which number of a node is followed.</summary>
public enum NumberKind
{
    /// <summary>The last number of its code, or else of its name.</summary>
    Number,

    /// <summary>Its position among its siblings of the same template, or level for a mere place, from 1.</summary>
    Order,
}
