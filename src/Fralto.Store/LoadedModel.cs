using Fralto.Core.Plant;
using Fralto.Core.Rules;

namespace Fralto.Store;

/// <summary>A model as it was read, and what could not be read.</summary>
/// <param name="Model">The model: whole, without what was set aside.</param>
/// <param name="Aside">What was set aside. It stays where it is kept, untouched.</param>
public sealed record LoadedModel(PlantModel Model, IReadOnlyList<SetAside> Aside);
