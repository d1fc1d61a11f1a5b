namespace Fralto.Core.Proposals;

/// <summary>A word a property is called by.</summary>
internal sealed record PropertyWord(string Meaning, double Weight, IReadOnlyList<string> Spellings, IReadOnlyList<string> Meanings);
