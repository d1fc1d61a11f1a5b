using Fralto.Core.Pictures;
using Fralto.Core.Plant;
using Fralto.Core.Properties;

namespace Fralto.Web.Pages;

/// <summary>What is shown under a formula that is being typed.</summary>
/// <param name="Model">The model.</param>
/// <param name="Property">The property as it would be.</param>
/// <param name="Report">What the formula amounts to.</param>
/// <param name="Uses">What it takes.</param>
/// <param name="Users">What takes it.</param>
public sealed record FormulaView(
    PlantModel Model,
    ResolvedProperty Property,
    FormulaReport Report,
    IReadOnlyList<FormulaNeighbour> Uses,
    IReadOnlyList<FormulaNeighbour> Users
)
{
    /// <summary>Lengths of windows that are said at once, each of which becomes a property of its own; empty for one.</summary>
    public IReadOnlyList<string> Windows { get; init; } = [];
}
