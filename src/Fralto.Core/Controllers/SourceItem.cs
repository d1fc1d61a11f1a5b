using Fralto.Core.Scaling;

namespace Fralto.Core.Controllers;

/// <summary>Something a controller has told of itself that could become a tag.</summary>
/// <param name="Address">Where it is.</param>
/// <param name="Path">The names that lead to it, the last one its own.</param>
/// <param name="Type">Type of the tag it would become.</param>
/// <param name="Count">Elements of an array; 1 for a single value.</param>
/// <param name="Value">Newest value in words.</param>
/// <param name="Unit">Unit in the device's own spelling; null when it says none.</param>
/// <param name="Range">Range it gives; null when it says none.</param>
/// <param name="Description">What it says of itself.</param>
public sealed record SourceItem(
    TagAddress Address,
    IReadOnlyList<string> Path,
    RawType Type,
    int Count,
    string Value,
    string? Unit = null,
    Span? Range = null,
    string Description = ""
)
{
    /// <summary>Code of the unit, where the device says it by its UNECE code; null where it says a spelling, or none.</summary>
    public string? UnitCode { get; init; }

    /// <summary>What the device lets us do with it, where that is not just reading: "may be written", "may not be read".</summary>
    public string Rights { get; init; } = "";

    /// <summary>States of its numbers by what they are called; empty where it is none of states.</summary>
    public IReadOnlyList<(long Number, string Name)> States { get; init; } = [];

    /// <summary>What the device calls those states together; empty where it does not.</summary>
    public string StatesName { get; init; } = "";

    /// <summary>The path in one line.</summary>
    public string PathText => string.Join('/', Path);
}
