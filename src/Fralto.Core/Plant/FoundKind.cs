namespace Fralto.Core.Plant;

/// <summary>What can be found.</summary>
public enum FoundKind
{
    Equipment,
    Template,
    Property,
    Tag,
    Scale,
}
