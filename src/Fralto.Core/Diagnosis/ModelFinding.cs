using Fralto.Core.Planning;
using Fralto.Core.Plant;

namespace Fralto.Core.Diagnosis;

/// <summary>A finding of the plant: what, how much it matters, and about what.</summary>
/// <param name="Finding">What is found.</param>
/// <param name="Kind">The kind of what it is about; null for a tag, which its subject tells.</param>
/// <param name="Id">Its id.</param>
public sealed record ModelFinding(Finding Finding, EntityKind? Kind, long Id)
{
    /// <summary>What the code means.</summary>
    public FindingKind Meaning => FindingKind.Of(Finding.Code);

    /// <summary>What tells it from all others.</summary>
    public string Key => $"{Finding.Code}.{Kind?.Id}.{Id}.{Finding.Subject}";

    /// <summary>The path of the node it is about; empty for what is of no place, or no longer there.</summary>
    /// <param name="model">The model.</param>
    public string PathIn(PlantModel model) =>
        Kind == EntityKinds.Equipment && model.Equipment.ContainsKey(Id) ? model.Index.PathOf(Id) : "";
}
