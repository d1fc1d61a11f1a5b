using System.Globalization;
using Fralto.Core.Plant;

namespace Fralto.Web.Live;

/// <summary>What an open page looks at.</summary>
/// <param name="Kind">Which kind of thing.</param>
/// <param name="Id">Its id; 0 for nothing and for the whole plant.</param>
/// <param name="Look">The units it is looked at in, as <see cref="UnitLook.Text"/> writes them.</param>
public readonly record struct LiveScope(LiveScopeKind Kind, long Id = 0, string Look = "")
{
    /// <summary>The most values one page follows.</summary>
    public const int MostValues = 5000;

    /// <summary>True where what runs is looked at; elsewhere it is the working model.</summary>
    public bool IsOfReleased => Kind is LiveScopeKind.Header or LiveScopeKind.Running;

    /// <summary>Reads "place:17"; null when it is no scope.</summary>
    public static LiveScope? Parse(string? text)
    {
        var parts = (text ?? "").Split(':');
        return
            parts.Length is 1 or 2
            && Enum.TryParse<LiveScopeKind>(parts[0], ignoreCase: true, out var kind)
            && Enum.IsDefined(kind)
            && !char.IsAsciiDigit(parts[0].FirstOrDefault())
            && (
                parts.Length == 1 ? 0
                : long.TryParse(parts[1], NumberStyles.None, CultureInfo.InvariantCulture, out var id) ? id
                : -1
            )
                is >= 0
                    and var found
            ? new LiveScope(kind, found)
            : null;
    }

    public override string ToString() => $"{Kind.ToString().ToLowerInvariant()}:{Id.ToString(CultureInfo.InvariantCulture)}";

    /// <summary>All points of a plan at and below a place, however many: a list shows them, though an open page follows only so
    /// many.</summary>
    /// <param name="snapshot">How things stand.</param>
    /// <param name="model">The model.</param>
    /// <param name="at">The place; null for the whole plant.</param>
    public static int[] AllPoints(EngineSnapshot snapshot, PlantModel model, long? at)
    {
        if (at is null)
            return [.. Enumerable.Range(0, snapshot.Plan.Shown)];
        var places = model.Index.Below(at).Select(e => e.Id).ToHashSet();
        return [.. Enumerable.Range(0, snapshot.Plan.Shown).Where(i => places.Contains(snapshot.Plan.Points[i].EquipmentId))];
    }

    /// <summary>The points and tags of a plan that belong to the scope.</summary>
    public (int[] Points, int[] Tags) Select(EngineSnapshot snapshot, PlantModel model)
    {
        var id = Id;
        switch (Kind)
        {
            case LiveScopeKind.Place or LiveScopeKind.Running:
                var places = model.Index.Below(id == 0 ? null : id).Select(e => e.Id).ToHashSet();
                return (Points(snapshot, places), []);
            case LiveScopeKind.Matrix:
                return (new LiveScope(LiveScopeKind.Place, id).Select(snapshot, model).Points, AllTags(snapshot));
            case LiveScopeKind.Template:
                var instances = model.Index.FamilyOf(id).SelectMany(t => model.Index.InstancesOf(t.Id)).Select(e => e.Id).ToHashSet();
                // The matrix shows bound values beside raw ones.
                return (Points(snapshot, instances), AllTags(snapshot));
            case LiveScopeKind.Check:
                return (
                    new LiveScope(model.Templates.ContainsKey(id) ? LiveScopeKind.Template : LiveScopeKind.Place, id)
                        .Select(snapshot, model)
                        .Points,
                    []
                );
            case LiveScopeKind.Controller:
                return (
                    [],
                    [
                        .. Enumerable
                            .Range(0, snapshot.Plan.Tags.Length)
                            .Where(i => snapshot.Plan.Tags[i].ControllerId == id)
                            .Take(MostValues),
                    ]
                );
            default:
                return ([], []);
        }
    }

    private static int[] AllTags(EngineSnapshot snapshot) => [.. Enumerable.Range(0, snapshot.Plan.Tags.Length).Take(MostValues)];

    private static int[] Points(EngineSnapshot snapshot, HashSet<long> equipment) =>
        [
            .. Enumerable
                .Range(0, snapshot.Plan.Points.Length)
                .Where(i => equipment.Contains(snapshot.Plan.Points[i].EquipmentId))
                .Take(MostValues),
        ];
}
