namespace Fralto.Core.NamingRules;

/// <summary>The text of a tag that a naming rule is about.</summary>
public enum TagFace
{
    /// <summary>Its name.</summary>
    Name,

    /// <summary>What the device's documentation says of it.</summary>
    Description,

    /// <summary>Its address, where addresses are words: topics and metrics.</summary>
    Address,
}
