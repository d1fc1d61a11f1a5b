using Fralto.Core.Basics;
using Fralto.Core.Hierarchy;
using Fralto.Core.Plant;
using Fralto.Core.Rules;

namespace Fralto.Core.Edits;

/// <summary>Adds many alike below one place, as one edit: all of them or none.</summary>
public sealed record AddSeries(long? ParentId, EquipmentLevel Level, long? TemplateId, SeriesPattern Pattern) : Edit
{
    private const int MostNamed = 3;

    /// <inheritdoc/>
    public override EditOutcome On(PlantModel model)
    {
        Equipment? parent = null;
        if (ParentId is { } parentId && !model.Equipment.TryGetValue(parentId, out parent))
            return Gone("The place above it");
        var problems = new List<Problem>();
        Check(problems, "Level", Instantiation.Misfit(model, parent?.Level, Level, TemplateId));
        if (TemplateId is { } template && !model.Templates.ContainsKey(template))
            problems.Add(new("TemplateId", "The template no longer exists."));
        if (Pattern.Count is < 1 or > SeriesPattern.Most)
            problems.Add(new("Count", $"A series has 1 to {SeriesPattern.Most} members, not {Pattern.Count}."));
        if (Pattern.Step == 0)
            problems.Add(new("Step", "The step is not 0: every member needs its own number."));
        if (Pattern.Digits is < 1 or > 9)
            problems.Add(new("Digits", $"Numbers have 1 to 9 digits, not {Pattern.Digits}."));
        if (Pattern.Start < 0 || Pattern.Start + (long)Pattern.Step * (Pattern.Count - 1) < 0)
            problems.Add(new("Start", "The numbers would fall below 0."));
        if (!Pattern.Code.Contains(SeriesPattern.Number, StringComparison.Ordinal))
            problems.Add(new("Code", $"Put {SeriesPattern.Number} where the number goes: every member needs its own code."));
        if (problems.Count > 0)
            return EditOutcome.Refused(problems);

        var members = Pattern.Members.ToArray();
        Check(problems, "Name", members.Select(m => Naming.NameProblem(m.Name)).FirstOrDefault(p => p is not null));
        Check(problems, "Code", members.Select(m => Naming.CodeProblem(m.Code)).FirstOrDefault(p => p is not null));
        var taken = model.Index.ChildrenOf(ParentId).Select(e => e.Code).ToHashSet(StringComparer.OrdinalIgnoreCase);
        var clashes = members.Where(m => taken.Contains(m.Code)).Select(m => m.Code).ToArray();
        if (clashes.Length > 0)
            problems.Add(
                new(
                    "Code",
                    $"{(parent is null ? "The plant" : parent.Name)} already has "
                        + $"{string.Join(", ", clashes.Take(MostNamed))}"
                        + $"{(clashes.Length > MostNamed ? $" and {clashes.Length - MostNamed} more" : "")}."
                )
            );
        if (problems.Count > 0)
            return EditOutcome.Refused(problems);
        var order = model.Index.NextOrderBelow(ParentId);
        var made = new List<Equipment>();
        foreach (var (name, code) in members)
        {
            var member = Instantiation.Of(
                model,
                new Equipment(model.NextId + made.Count, code, name, Level, ParentId, TemplateId, order++)
            );
            if (made.Count == 0 && Instantiation.PartMisfit(model, member) is { } misfit)
                return EditOutcome.Refused("Level", misfit);
            made.AddRange(member);
            if (made.Count > Instantiation.Most)
                return EditOutcome.Refused(
                    "Count",
                    $"With their parts that would be more than {Instantiation.Most} nodes at once; add fewer."
                );
        }
        var parts = made.Count - members.Length;
        return EditOutcome.Changed(
            $"Add {Count(members.Length, "member")} {members[0].Name} … "
                + $"{members[^1].Name}{(parts > 0 ? $" with {Count(parts, "part")}" : "")}"
                + $"{(parent is null ? "" : $" below {parent.Name}")}",
            made.Select(Added)
        );
    }
}
