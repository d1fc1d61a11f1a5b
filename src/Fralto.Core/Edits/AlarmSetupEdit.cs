using Fralto.Core.Plant;
using Fralto.Core.Rules;

namespace Fralto.Core.Edits;

/// <summary>Changes a part of what the alarms of the plant share.</summary>
public abstract record AlarmSetupEdit : Edit
{
    /// <inheritdoc/>
    public sealed override EditOutcome On(PlantModel model)
    {
        var before = model.AlarmSetups.Values.FirstOrDefault();
        var after = Changed(before ?? model.AlarmSetup with { Id = model.NextId });
        var problems = EntityRules.Problems(after).ToArray();
        return problems.Length > 0 ? EditOutcome.Refused(problems) : EditOutcome.Changed(Summary, new ModelChange(before, after));
    }

    /// <summary>The edit in words.</summary>
    private protected abstract string Summary { get; }

    /// <summary>What is shared after it.</summary>
    private protected abstract AlarmSetup Changed(AlarmSetup setup);
}
