namespace Fralto.Core.NamingRules;

/// <summary>Which number of a node is followed.</summary>
public enum NumberKind
{
    /// <summary>The last number of its code, or else of its name.</summary>
    Number,

    /// <summary>The last two digits of its number: 3 of 103. Only for numbers from 100.</summary>
    Tail,

    /// <summary>The digits before the last two of its number: 1 of 103. Only for numbers from 100.</summary>
    Head,

    /// <summary>Its position among its siblings of the same template, or level for a mere place, from 1.</summary>
    Order,

    /// <summary>Its position among all its siblings, from 1.</summary>
    Position,

    /// <summary>Its position among all of its template, or level for a mere place, in the whole plant, from 1.</summary>
    Count,

    /// <summary>Its position among all of its template, or level for a mere place, in its site, from 1; in the whole plant where it stands
    /// above all sites.</summary>
    SiteCount,
}
