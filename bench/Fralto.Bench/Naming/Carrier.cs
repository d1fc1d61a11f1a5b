namespace Fralto.Bench.Naming;

/// <summary>What says which cell a tag belongs to.</summary>
internal enum Carrier
{
    /// <summary>Its name, in words and numbers.</summary>
    Name,

    /// <summary>Its place in an array that counts all units through.</summary>
    Array,

    /// <summary>Its address in a block that counts all units through.</summary>
    Block,

    /// <summary>Its description; its name says nothing.</summary>
    Description,
}
