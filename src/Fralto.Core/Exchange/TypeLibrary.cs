using System.Collections.Immutable;

namespace Fralto.Core.Exchange;

/// <summary>Object types and objects as OPC UA knows them, from a server or a NodeSet2 file: what templates and equipment can be made
/// of.</summary>
/// <param name="States">Enumerations.</param>
/// <param name="Types">Object types, in any order.</param>
/// <param name="Objects">Objects, those above before those below.</param>
public sealed record TypeLibrary(
    ImmutableArray<LibraryStates> States,
    ImmutableArray<LibraryType> Types,
    ImmutableArray<LibraryObject> Objects
);
