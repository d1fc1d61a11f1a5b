using Fralto.Core.Properties;
using Fralto.Core.Scaling;

namespace Fralto.Core.Proposals;

/// <summary>An open cell with the tags that may feed it.</summary>
internal sealed class OpenCell(TemplateMatrix matrix, InstanceNames instance, ResolvedProperty property)
{
    public TemplateMatrix Matrix => matrix;

    public InstanceNames Instance => instance;

    public ResolvedProperty Property => property;

    public List<Candidate> Candidates { get; } = [];

    public Candidate? Given { get; set; }

    public Candidate Of(int position, Slice? slice)
    {
        foreach (var candidate in Candidates)
            if (candidate.Position == position && candidate.Slice == slice)
                return candidate;
        var made = new Candidate(position, slice);
        Candidates.Add(made);
        return made;
    }
}
