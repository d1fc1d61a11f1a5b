namespace Fralto.Core.Proposals;

/// <summary>What is looked at to judge a tag.</summary>
public enum ScorePartKind
{
    /// <summary>A naming rule learned from examples.</summary>
    Rule,

    /// <summary>The device's description of the tag.</summary>
    Description,

    /// <summary>The words in its name, by the trade's dictionary and the instrument letters.</summary>
    Words,

    /// <summary>The place its texts speak of.</summary>
    Place,

    /// <summary>Its raw type.</summary>
    Type,

    /// <summary>Its unit.</summary>
    Unit,

    /// <summary>Its documented range.</summary>
    Range,

    /// <summary>Its value now.</summary>
    Value,

    /// <summary>Its address among those of the neighbours.</summary>
    Neighbours,

    /// <summary>Another tag, or another cell, that fits as well.</summary>
    Rival,
}
