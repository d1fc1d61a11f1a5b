using Fralto.Core.Scaling;

namespace Fralto.Web.Pages;

/// <summary>A scale on trial: its curve, and what it would make of the values of now.</summary>
/// <param name="Scale">The scale; null when it is not whole.</param>
/// <param name="Problem">What is wrong with it; empty when nothing is.</param>
/// <param name="Effects">What would become of each living value.</param>
/// <param name="IsNew">True while it is being added, when what is missing is no mistake yet.</param>
public sealed record ScaleTrial(Scale? Scale, string Problem, IReadOnlyList<ScaleTrial.Effect> Effects, bool IsNew)
{
    /// <summary>One value before and after.</summary>
    public sealed record Effect(string What, string Raw, string Before, string After, string Unit);
}
