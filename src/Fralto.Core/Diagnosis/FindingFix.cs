using Fralto.Core.Edits;

namespace Fralto.Core.Diagnosis;

/// <summary>What mends a finding where only one answer is certain.</summary>
/// <param name="Words">What it does, as a button says it.</param>
/// <param name="Edit">The edit.</param>
public sealed record FindingFix(string Words, Edit Edit);
