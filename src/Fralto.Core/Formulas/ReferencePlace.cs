namespace Fralto.Core.Formulas;

/// <summary>Where a formula looks for a property.</summary>
public enum ReferencePlace
{
    /// <summary>At the instance itself, or in a part of it.</summary>
    Own,

    /// <summary>At the place above.</summary>
    Above,

    /// <summary>At the nearest place up the hierarchy that has it.</summary>
    Nearest,
}
