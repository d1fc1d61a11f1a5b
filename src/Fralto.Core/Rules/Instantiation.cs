using Fralto.Core.Basics;
using Fralto.Core.Hierarchy;
using Fralto.Core.Plant;
using Fralto.Core.Templates;

namespace Fralto.Core.Rules;

/// <summary>Makes a node with everything its template says it has: its parts, and their parts.</summary>
internal static class Instantiation
{
    /// <summary>The most nodes one edit may make.</summary>
    public const int Most = 50_000;

    /// <summary>The node and its parts, each parent before its children; ids run on from the node's.</summary>
    public static IReadOnlyList<Equipment> Of(PlantModel model, Equipment node) => Add(model, node, [], 0);

    /// <summary>Why a part cannot stand where its template puts it, given the level of what holds it; null when all can.</summary>
    public static string? PartMisfit(PlantModel model, IReadOnlyList<Equipment> made)
    {
        var levels = made.ToDictionary(e => e.Id, e => e.Level);
        foreach (var part in made.Skip(1))
            if (Misfit(model, levels[part.ParentId!.Value], part.Level, part.TemplateId) is { } misfit)
                return $"Its part {part.Name} does not fit: {misfit}";
        return null;
    }

    /// <summary>The parts of its template that a node lacks, as they would be made; a child with the code of a part and a fitting template
    /// counts as that part.</summary>
    public static IEnumerable<(TemplatePart Part, string Name, string Code)> Missing(PlantModel model, Equipment node)
    {
        if (node.TemplateId is not { } template)
            yield break;
        var children = model.Index.ChildrenOf(node.Id).ToArray();
        foreach (var part in model.Index.PartsOf(template))
        {
            var lacking = part.Count - children.Count(c => c.PartId == part.Id);
            foreach (var (name, code) in part.Members.Where(m => !children.Any(c => Same(c.Code, m.Code))).Take(Math.Max(lacking, 0)))
                yield return (part, name, code);
        }
    }

    /// <summary>Why a template cannot stand at a level below a parent; null when it can.</summary>
    public static string? Misfit(PlantModel model, EquipmentLevel? parent, EquipmentLevel level, long? templateId)
    {
        if (LevelRules.Misfit(parent, level) is { } misfit)
            return misfit;
        if (templateId is not { } id || !model.Templates.TryGetValue(id, out var template))
            return null;
        var levels = model.Index.LevelsOf(id);
        return levels.IsEmpty || levels.Contains(level)
            ? null
            : $"{template.Name} stands at the level {string.Join(" or ", levels.Select(LevelRules.NameOf))}, not at "
                + $"{LevelRules.NameOf(level)}.";
    }

    private static List<Equipment> Add(PlantModel model, Equipment node, List<Equipment> made, int depth)
    {
        var first = made.Count == 0 ? node.Id : made[0].Id;
        made.Add(node);
        if (node.TemplateId is not { } template || depth > 20)
            return made;
        var order = 0;
        foreach (var part in model.Index.PartsOf(template))
        foreach (var (name, code) in part.Members)
        {
            if (made.Count >= Most)
                return made;
            Add(
                model,
                new Equipment(first + made.Count, code, name, part.Level, node.Id, part.TemplateId, ++order, part.Id),
                made,
                depth + 1
            );
        }
        return made;
    }

    private static bool Same(string one, string other) => string.Equals(one, other, StringComparison.OrdinalIgnoreCase);
}
