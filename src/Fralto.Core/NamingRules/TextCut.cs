namespace Fralto.Core.NamingRules;

/// <summary>How a text of a node is cut.</summary>
public enum TextCut
{
    /// <summary>All of it.</summary>
    Whole,

    /// <summary>Its first word.</summary>
    First,

    /// <summary>Its last word.</summary>
    Last,

    /// <summary>The first letters of its words.</summary>
    Initials,

    /// <summary>Its first so many letters.</summary>
    Letters,

    /// <summary>The letter of its position among its siblings, A for the first; written {area.order:letter}.</summary>
    OrderLetter,

    /// <summary>Its first letter and the consonants after it, so many together.</summary>
    Consonants,
}
