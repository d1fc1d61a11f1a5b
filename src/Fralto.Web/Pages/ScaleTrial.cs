using Fralto.Core.Scaling;
using Fralto.Core.Units;

namespace Fralto.Web.Pages;

/// <summary>A scale on trial: its curve, and what it would make of the values of now.</summary>
/// <param name="Scale">The scale; null when it is not whole.</param>
/// <param name="Problem">What is wrong with it; empty when nothing is.</param>
/// <param name="Effects">What would become of each living value.</param>
/// <param name="Units">Where symbols come from.</param>
public sealed record ScaleTrial(Scale? Scale, string Problem, IReadOnlyList<ScaleTrial.Effect> Effects, UnitSet Units)
{
    /// <summary>One value before and after.</summary>
    public sealed record Effect(string What, string Raw, string Before, string After, string Unit);
}
