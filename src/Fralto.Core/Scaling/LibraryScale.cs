using Fralto.Core.Basics;

namespace Fralto.Core.Scaling;

/// <summary>A scale by name, said once and used by many properties.</summary>
/// <param name="Id">Stable and opaque.</param>
/// <param name="Code">Unique short form.</param>
/// <param name="Name">What people call it.</param>
/// <param name="Description">What it is for, one line; may be empty.</param>
/// <param name="Scale">The scale.</param>
public sealed record LibraryScale(long Id, string Code, string Name, string Description, Scale Scale) : Entity(Id)
{
    /// <summary>Longest description, in characters.</summary>
    public const int LongestDescription = 300;
}
