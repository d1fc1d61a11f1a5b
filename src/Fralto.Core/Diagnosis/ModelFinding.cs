using Fralto.Core.Planning;
using Fralto.Core.Plant;

namespace Fralto.Core.Diagnosis;

/// <summary>A finding about an entity that need not be an instance.</summary>
/// <param name="Finding">What is found.</param>
/// <param name="Kind">The kind of what it is about.</param>
/// <param name="Id">Its id.</param>
public sealed record ModelFinding(Finding Finding, EntityKind Kind, long Id);
