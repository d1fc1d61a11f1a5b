namespace Fralto.Core.Diagnosis;

/// <summary>How an alarm comes and goes.</summary>
public enum AlarmNature
{
    /// <summary>It came once.</summary>
    Once,

    /// <summary>It comes again and again.</summary>
    Repeating,

    /// <summary>It mostly goes by itself within a minute, before anybody acts.</summary>
    Fleeting,

    /// <summary>It came three times or more within a minute (common practice, no source).</summary>
    Chattering,
}
