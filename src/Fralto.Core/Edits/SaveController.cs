using System.Collections.Immutable;
using Fralto.Core.Controllers;
using Fralto.Core.Modbus;
using Fralto.Core.Plant;
using Fralto.Core.Properties;
using Fralto.Core.Protocols;
using Fralto.Core.Rules;
using Fralto.Core.Scaling;

namespace Fralto.Core.Edits;

/// <summary>Adds a controller, or changes one when an id is given.</summary>
/// <param name="UpdateClasses">Other intervals by name; null leaves them as they are.</param>
public sealed record SaveController(
    long? Id,
    string Name,
    Connection Connection,
    double UpdateIntervalMs,
    ImmutableArray<UpdateClass>? UpdateClasses = null
) : Edit
{
    private const double Beyond = 1e9;

    /// <summary>The same for a Modbus TCP device with nothing special.</summary>
    public SaveController(long? id, string name, string host, int port, int unitId, int updateIntervalMs)
        : this(id, name, new ModbusConnection(host, port, unitId), updateIntervalMs) { }

    /// <inheritdoc/>
    public override EditOutcome On(PlantModel model)
    {
        Controller? before = null;
        if (Id is { } id && !model.Controllers.TryGetValue(id, out before))
            return Gone("The controller");
        var interval = double.IsFinite(UpdateIntervalMs) ? Math.Clamp(UpdateIntervalMs, -1, Beyond) : -1;
        var after = new Controller(Id ?? model.NextId, Name, Connection, TimeSpan.FromMilliseconds(interval))
        {
            UpdateClasses = UpdateClasses ?? before?.UpdateClasses ?? [],
        };
        var problems = EntityRules.Problems(after).ToList();
        if (model.Controllers.Values.Any(c => c.Id != Id && string.Equals(c.Name, Name, StringComparison.OrdinalIgnoreCase)))
            problems.Add(new(nameof(Name), $"There is already a controller named {Name}."));
        if (before is not null && before.Protocol != after.Protocol && model.Index.TagsOf(before.Id).Count > 0)
            problems.Add(
                new(
                    "Protocol",
                    $"{before.Name} has tags with addresses of {before.Protocol.Words()}; add another controller for "
                        + $"{after.Protocol.Words()}."
                )
            );
        foreach (var gone in before?.UpdateClasses.Where(c => !after.UpdateClasses.Any(n => Same(n.Name, c.Name))) ?? [])
            if (model.Index.TagsOf(before!.Id).Count(t => t.UpdateClass is { } its && Same(its, gone.Name)) is > 0 and var tags)
                problems.Add(
                    new("UpdateClasses", $"The update class {gone.Name} is used by {Count(tags, "tag")}; give them another first.")
                );
        if (problems.Count > 0)
            return EditOutcome.Refused(problems);
        return EditOutcome.Changed(before is null ? $"Add controller {Name}" : $"Change controller {Name}", new ModelChange(before, after));
    }

    private static bool Same(string one, string other) => string.Equals(one, other, StringComparison.OrdinalIgnoreCase);
}
