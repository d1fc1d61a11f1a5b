using System.Collections.Immutable;
using Fralto.Core.Alarms;
using Fralto.Core.Hierarchy;
using Fralto.Core.Plant;
using Fralto.Core.Review;

namespace Fralto.Runtime.Views;

/// <summary>What a change means at run time: alarms that will raise or clear, values that jump, begin or end, totals that go on or begin
/// anew. Worked out by comparing the two engines that run.</summary>
/// <param name="Lines">What happens, the weightiest first.</param>
/// <param name="Note">A further word; empty for none.</param>
/// <param name="Values">Values now, to be drawn on the ruler of the change: of the working model.</param>
public sealed record ReviewEffect(ImmutableArray<string> Lines, string Note, ImmutableArray<double> Values)
{
    private const int MostLines = 3;
    private const int MostLooked = 2000;
    private const int MostValues = 60;

    /// <summary>The priority of an alarm that comes or goes, for its mark; 0 for none.</summary>
    public int Priority { get; init; }

    /// <summary>True when nothing moves.</summary>
    public bool IsNone { get; init; }

    /// <summary>What a change means.</summary>
    /// <param name="row">The change.</param>
    /// <param name="before">The model before.</param>
    /// <param name="after">The model after.</param>
    /// <param name="released">What runs, with its alarms.</param>
    /// <param name="working">What would run, with its alarms.</param>
    public static ReviewEffect Of(ReviewChange row, PlantModel before, PlantModel after, StandingAlarms released, StandingAlarms working)
    {
        var (said, values) = (new List<(int Weight, string Words)>(), new List<double>());
        var (started, ended, jumped, looked, counts, anew) = (0, 0, 0, 0, 0, 0);
        var priority = 0;
        // What comes of another tag is said where that is said.
        var rebound = row.Kind is ReviewKind.Added or ReviewKind.Removed or ReviewKind.Rebound || row.Of == EntityKinds.Controller;
        foreach (var (node, property) in PointsOf(row, before, after))
        {
            if (++looked > MostLooked)
                break;
            var (was, now) = (released.Snapshot.Find(node.Id, property), working.Snapshot.Find(node.Id, property));
            foreach (var alarm in working.Of(node.Id, property).ExceptBy(released.Of(node.Id, property).Select(a => a.Key), a => a.Key))
                Alarm(alarm, working.Snapshot, "raises");
            foreach (var alarm in released.Of(node.Id, property).ExceptBy(working.Of(node.Id, property).Select(a => a.Key), a => a.Key))
                Alarm(alarm, released.Snapshot, "clears");
            switch (CountKept.Of(released.Snapshot.Plan, working.Snapshot.Plan, node.Id, property))
            {
                case true:
                    counts++;
                    break;
                case false:
                    anew++;
                    break;
            }
            if (now is { Value.Status.IsBad: false } it && double.IsFinite(it.Value.Value) && values.Count < MostValues)
                values.Add(it.Value.Value);
            var (isThere, willBe) = (was is { Value.Status.IsBad: false }, now is { Value.Status.IsBad: false });
            if (
                !rebound
                && !Equals(before.Bindings.GetValueOrDefault((node.Id, property)), after.Bindings.GetValueOrDefault((node.Id, property)))
            )
                continue;
            if (!isThere && willBe)
                started++;
            else if (isThere && !willBe)
                ended++;
            else if (
                isThere
                && willBe
                && !TrialBook.IsSame(was!.Value.Value.Value, now!.Value.Value.Value)
                && was.Value.Value.Text == now.Value.Value.Text
            )
            {
                jumped++;
                said.Add(
                    (
                        2,
                        $"{node.Name}: {was.Value.Point.Text(was.Value.Value.Value, null)} → "
                            + now.Value.Point.WithUnit(now.Value.Value.Value, null)
                    )
                );
            }

            void Alarm(Alarm alarm, EngineSnapshot of, string verb)
            {
                var index = of.Plan.PointIndexOf(alarm.Key.EquipmentId, alarm.Key.PropertyId);
                var limit = index >= 0 ? of.Plan.Points[index].LimitOf(alarm.Key.Condition) : null;
                priority = priority == 0 ? limit?.Priority ?? 3 : Math.Min(priority, limit?.Priority ?? 3);
                said.Add((0, $"{node.Name}: alarm {verb}"));
            }
        }
        if (started > 0)
            said.Add((3, started == 1 ? "1 value starts" : $"{started} values start"));
        if (ended > 0)
            said.Add((1, ended == 1 ? "1 value ends" : $"{ended} values end"));
        if (anew > 0)
            said.Add((1, anew == 1 ? "what it counts begins anew" : $"what {anew} count begins anew"));
        var lines = said.OrderBy(s => s.Weight).Select(s => s.Words).ToArray();
        var notes = new List<string>();
        if (lines.Length > MostLines)
            notes.Add($"and {lines.Length - MostLines} more");
        if (counts > 0)
            notes.Add("what is counted goes on");
        if (looked > MostLooked)
            notes.Add($"the first {MostLooked} values were looked at");
        return new([.. lines.Take(MostLines)], string.Join("; ", notes), [.. values]) { Priority = priority, IsNone = lines.Length == 0 };
    }

    /// <summary>The values a change may move.</summary>
    private static IEnumerable<(Equipment Node, long Property)> PointsOf(ReviewChange row, PlantModel before, PlantModel after)
    {
        if (row.Of == EntityKinds.Template)
        {
            if (row.PropertyId is not { } property)
                return [];
            var model = after.Templates.ContainsKey(row.Id) ? after : before;
            return model.Index.FamilyOf(row.Id).SelectMany(t => model.Index.InstancesOf(t.Id)).Select(e => (e, property));
        }
        if (row.Of == EntityKinds.Controller)
            return row
                .Changes.Select(c => c.After ?? c.Before)
                .OfType<Core.Controllers.Tag>()
                .SelectMany(t => (after.Tags.ContainsKey(t.Id) ? after : before).Index.BindingsOf(t.Id))
                .Select(b => (after.Equipment.GetValueOrDefault(b.EquipmentId) ?? before.Equipment[b.EquipmentId], b.PropertyId));
        if (row.Of != EntityKinds.Equipment)
            return [];
        var its = after.Equipment.ContainsKey(row.Id) ? after : before;
        if (!its.Equipment.TryGetValue(row.Id, out var node))
            return [];
        return row.PropertyId is { } one ? [(node, one)]
            : row.Kind == ReviewKind.Rebound
                ? row.Changes.Select(c => (Core.Bindings.PropertyBinding)(c.After ?? c.Before)!).Select(b => (node, b.PropertyId))
            : row.Kind is ReviewKind.Added or ReviewKind.Removed
                ? its.Index.Below(row.Id).SelectMany(e => its.Index.PropertiesOf(e).Select(p => (e, p.Id)))
            : [];
    }
}
