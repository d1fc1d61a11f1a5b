namespace Fralto.Core.Diagnosis;

/// <summary>One measure of the alarm load.</summary>
/// <param name="Name">What is measured.</param>
/// <param name="Value">How it is.</param>
/// <param name="Wanted">At most this is wanted.</param>
/// <param name="AtMost">At most this can be managed.</param>
/// <param name="Unit">% or nothing.</param>
public sealed record LoadMeasure(string Name, double Value, double Wanted, double AtMost, string Unit)
{
    /// <summary>False where there were too few alarms for the measure to say anything.</summary>
    public bool IsJudged { get; init; } = true;

    /// <summary>How it stands; met where it is not judged.</summary>
    public LoadVerdict Verdict =>
        !IsJudged || Value <= Wanted ? LoadVerdict.Met
        : Value <= AtMost ? LoadVerdict.Manageable
        : LoadVerdict.NotMet;
}
