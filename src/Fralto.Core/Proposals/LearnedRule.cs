using Fralto.Core.NamingRules;

namespace Fralto.Core.Proposals;

/// <summary>A naming rule learned from the bindings of a template, or kept by a person.</summary>
/// <param name="TemplateId">The template.</param>
/// <param name="PropertyId">The property.</param>
/// <param name="Face">The text of the tags it is about.</param>
/// <param name="Pattern">The rule.</param>
/// <param name="Strength">How far it can be trusted, 0 to 1.</param>
/// <param name="Found">Instances looked at for which it names a free tag.</param>
/// <param name="Of">Instances looked at.</param>
/// <param name="IsKept">True for one a person has kept.</param>
/// <param name="IsSupposed">True for one without any example.</param>
/// <param name="Examples">How many bindings bear it out.</param>
public sealed record LearnedRule(
    long TemplateId,
    long PropertyId,
    TagFace Face,
    NamePattern Pattern,
    double Strength,
    int Found,
    int Of,
    bool IsKept,
    bool IsSupposed,
    int Examples
);
