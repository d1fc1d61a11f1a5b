namespace Fralto.Core.Proposals;

/// <summary>What makes a binding look wrong, the gravest first.</summary>
public enum DoubtKind
{
    /// <summary>Its value and another's lie in each other's range, or the other way round than everywhere else.</summary>
    Swapped,

    /// <summary>Its tag is not the one that the naming of the others leads to expect.</summary>
    Name,

    /// <summary>Its tag is in another unit, type or word order than those of the others.</summary>
    Reading,

    /// <summary>Its value is far from those of the others, or outside the range.</summary>
    Value,

    /// <summary>Its value is bad or has not come yet.</summary>
    NoValue,

    /// <summary>Its tag feeds other properties too.</summary>
    Shared,
}
