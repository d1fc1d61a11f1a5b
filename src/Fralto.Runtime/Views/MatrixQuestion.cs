namespace Fralto.Runtime.Views;

/// <summary>Which part of the matrix is asked for.</summary>
public sealed record MatrixQuestion
{
    /// <summary>The template whose instances are shown; null for the first there is.</summary>
    public long? TemplateId { get; init; }

    /// <summary>The place whose instances of all templates are shown, in place of one template.</summary>
    public long? PlaceId { get; init; }

    /// <summary>True for only the instances with something open.</summary>
    public bool OnlyOpen { get; init; }

    /// <summary>True shows fixed, entered and calculated properties too.</summary>
    public bool AllProperties { get; init; }

    /// <summary>Window of the matrix, from 1; held within what there is.</summary>
    public int Window { get; init; } = 1;

    /// <summary>Certainty from which a tag is proposed, 0 to 1.</summary>
    public double Threshold { get; init; }

    /// <summary>The selected cell.</summary>
    public (long EquipmentId, long PropertyId)? Cell { get; init; }

    /// <summary>A cell taken to be swapped with another.</summary>
    public (long EquipmentId, long PropertyId)? Mark { get; init; }

    /// <summary>Part of a tag's name or description; empty for all tags.</summary>
    public string Filter { get; init; } = "";

    /// <summary>How long proposals are waited for; null for as long as they take.</summary>
    public TimeSpan? Patience { get; init; }
}
