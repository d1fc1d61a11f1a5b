using Fralto.Core.Scaling;

namespace Fralto.Bench.Naming;

/// <summary>A tag to be.</summary>
/// <param name="Name">Its name.</param>
/// <param name="Description">What the controller says about it.</param>
/// <param name="Raw">Its raw type.</param>
/// <param name="Unit">Its unit, told only where devices say theirs.</param>
/// <param name="Controller">Its controller.</param>
/// <param name="Cell">The cell it is right for; null for one that is right for none.</param>
internal sealed record TagDraft(string Name, string Description, RawType Raw, string? Unit, string Controller, (long, long)? Cell);
