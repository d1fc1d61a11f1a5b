using Fralto.Core.Basics;

namespace Fralto.Core.Exchange;

/// <summary>An object that each object of a type has.</summary>
/// <param name="Code">Its name; of several, a pattern in which {n} stands for the number.</param>
/// <param name="Name">What people call it.</param>
/// <param name="TypeId">Its type.</param>
/// <param name="Level">The level it stands at; null where it does not say.</param>
/// <param name="Count">How many.</param>
public sealed record LibraryPart(string Code, string Name, string TypeId, EquipmentLevel? Level, int Count = 1);
