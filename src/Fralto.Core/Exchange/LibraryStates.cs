using System.Collections.Immutable;
using Fralto.Core.Properties;

namespace Fralto.Core.Exchange;

/// <summary>An enumeration.</summary>
/// <param name="Code">Its name.</param>
/// <param name="Name">What people call it.</param>
/// <param name="States">Its states.</param>
public sealed record LibraryStates(string Code, string Name, ImmutableArray<State> States);
