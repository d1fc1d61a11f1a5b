using Fralto.Core.Plant;

namespace Fralto.Bench.Naming;

/// <summary>A generated plant whose right bindings are known.</summary>
/// <param name="Style">How its tags are named.</param>
/// <param name="Model">The plant, its templates and its tags, with nothing bound.</param>
/// <param name="Truth">The tag of each cell that has one: what a person with the drawings would bind.</param>
internal sealed record NamingPlant(string Style, PlantModel Model, IReadOnlyDictionary<(long EquipmentId, long PropertyId), long> Truth);
