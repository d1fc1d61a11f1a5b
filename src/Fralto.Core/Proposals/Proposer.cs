namespace Fralto.Core.Proposals;

/// <summary>Proposes tags for the open cells of the matrix: learns naming rules from what is bound, weighs every candidate, and gives each
/// tag away once.</summary>
/// <remarks>Pure: model and values in, proposals with reasons out. Precision comes first; what is not clear is held back or left
/// open.</remarks>
public static class Proposer
{
    /// <summary>Looks for tags for the open cells.</summary>
    public static ProposalMatrix Propose(ProposalQuestion question)
    {
        lock (question.Memory.LearningOf(question.Model).Gate)
            return Answer(question);
    }

    private static ProposalMatrix Answer(ProposalQuestion question)
    {
        var model = question.Model;
        var below = question.Below is { } place ? model.Index.Below(place).Select(e => e.Id).ToHashSet() : null;
        var families = question.Templates?.SelectMany(t => model.Index.FamilyOf(t)).Select(t => t.Id).ToHashSet();
        var run = new ProposalRun(question);
        foreach (var template in model.Templates.Values.OrderBy(t => t.Id))
        {
            if (families is not null && !families.Contains(template.Id))
                continue;
            var properties = model.Index.PropertiesOf(template.Id).Where(p => p.TakesTag).ToArray();
            if (properties.Length == 0)
                continue;
            var instances = model.Index.InstancesOf(template.Id).ToArray();
            var asked = instances.Where(e => below?.Contains(e.Id) != false && question.Instances?.Contains(e.Id) != false).ToArray();
            if (asked.Length > 0)
                run.Add(template, properties, instances, asked);
        }
        return run.Solve();
    }
}
