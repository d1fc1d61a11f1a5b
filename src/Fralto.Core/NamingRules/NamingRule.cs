namespace Fralto.Core.NamingRules;

/// <summary>A naming rule a person has kept with a template, so that it holds without examples.</summary>
/// <param name="PropertyId">The property whose tags it names.</param>
/// <param name="Face">The text of the tags it is about.</param>
/// <param name="Pattern">The rule.</param>
public sealed record NamingRule(long PropertyId, TagFace Face, NamePattern Pattern);
