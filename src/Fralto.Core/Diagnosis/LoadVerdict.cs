namespace Fralto.Core.Diagnosis;

/// <summary>How a measure of the alarm load stands.</summary>
public enum LoadVerdict
{
    /// <summary>As wanted.</summary>
    Met,

    /// <summary>More than wanted, and no more than can be managed.</summary>
    Manageable,

    /// <summary>More than can be managed.</summary>
    NotMet,
}
