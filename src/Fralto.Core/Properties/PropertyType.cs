namespace Fralto.Core.Properties;

/// <summary>What a property's value is.</summary>
public enum PropertyType
{
    Number,
    Integer,

    /// <summary>True or false.</summary>
    Boolean,

    /// <summary>An integer whose meanings a state list names.</summary>
    State,
    Text,

    /// <summary>A moment, as ISO 8601.</summary>
    Time,
}
