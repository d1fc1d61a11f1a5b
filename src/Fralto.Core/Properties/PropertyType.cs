namespace Fralto.Core.Properties;

/// <summary>What a property's value is.</summary>
public enum PropertyType
{
    /// <summary>A number with a fraction.</summary>
    Number,

    /// <summary>A whole number.</summary>
    Integer,

    /// <summary>True or false.</summary>
    Boolean,

    /// <summary>An integer whose meanings a state list names.</summary>
    State,

    /// <summary>Text.</summary>
    Text,

    /// <summary>A moment, as ISO 8601.</summary>
    Time,
}
