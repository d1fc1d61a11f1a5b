using Fralto.Core.Alarms;
using Fralto.Core.Engine;
using Fralto.Core.Hierarchy;
using Fralto.Core.Rules;
using Fralto.Links;
using Fralto.Runtime.Views;
using Fralto.Store;
using Fralto.Web.Live;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;

namespace Fralto.Web.Pages;

/// <summary>The alarms that stand: by place in the order of the process, on one axis of what came first and what is due first.</summary>
public sealed class AlarmsModel(TimeProvider clock, RunStore store) : FraltoPage
{
    /// <inheritdoc/>
    protected override bool ShowsReleased => true;

    private const int MostNamed = 4;
    private const int LastEvents = 6;
    private const int LongestComment = 500;

    /// <summary>What the address says.</summary>
    [BindProperty(SupportsGet = true, Name = "")]
    public AlarmQuery Query { get; set; } = new();

    public override LiveScope Scope => new(LiveScopeKind.Place);

    /// <summary>The board.</summary>
    public AlarmBoard Board => _board ??= AlarmBoard.Of(Model, Snapshot, Query.Filter, clock.GetUtcNow(), Query.Order);

    private AlarmBoard? _board;

    /// <summary>The alarm that is open; null for none, or when it is normal again.</summary>
    public AlarmBoardRow? Selected =>
        AlarmQuery.KeyOf(Query.At) is { } key
        && Snapshot.Alarms.FirstOrDefault(a => a.Key == key) is { } alarm
        && AlarmFacts.Of(Snapshot, alarm) is { } facts
        && Model.Equipment.ContainsKey(key.EquipmentId)
            ? AlarmBoard.RowOf(Model, facts, Board.Now)
            : null;

    /// <summary>The last steps of the alarm that is open, newest first.</summary>
    public IReadOnlyList<AlarmEvent> LastOf(AlarmKey key) => [.. store.AlarmEvents(new() { Key = key }, LastEvents).Select(e => e.Event)];

    /// <summary>How often an alarm was raised in the last seven days.</summary>
    public int RaisedLately(AlarmKey key) =>
        store.CountAlarmEvents(
            new()
            {
                Key = key,
                From = Board.Now.AddDays(-7),
                Causes = [AlarmCause.ConditionRaised],
            }
        );

    /// <summary>What a captured value is now; empty for a fixed text.</summary>
    /// <param name="facts">The alarm.</param>
    /// <param name="key">Under which name it was captured.</param>
    public string CapturedNow(AlarmFacts facts, string key) =>
        AlarmText.CapturesOf(facts.Says.Capture ?? "").FirstOrDefault(c => c.Name == key && c.Property is not null)
            is { Property: { } name }
        && Snapshot.Plan.PointNamed(facts.Alarm.Key.EquipmentId, name) is >= 0 and var point
        && Snapshot.ValueOf(point) is var value
            ? Snapshot.Plan.Points[point].WithUnit(value.Value, value.Text)
            : "";

    /// <summary>Places to look at only.</summary>
    public IEnumerable<Equipment> OtherPlaces => AllPlaces.Where(p => !Query.Place.Contains(p.Id));

    /// <summary>What somebody has kept as his own area, as an address; null for nothing.</summary>
    public string? Area =>
        Request.Cookies[AlarmQuery.AreaCookie] is { Length: > 0 and < 1000 } kept && !kept.Contains("//", StringComparison.Ordinal)
            ? $"/alarms?{kept}"
            : null;

    /// <summary>How many limits are watched; what is not watched is not said to be kept.</summary>
    public LimitWatch Watch => _watch ??= LimitWatch.Of(Snapshot.Plan, i => Snapshot.ValueOf(i).Status.IsBad);

    private LimitWatch? _watch;

    /// <summary>What can be said of the limits when there is no alarm to show.</summary>
    public string Quiet =>
        !Runtime.IsRunning ? "The engine does not run yet: no limit is being watched."
        : Board.All > 0 ? "No alarm of these stands."
        : Watch.Total == 0 ? "No limit is being watched: no property that is bound has one."
        : Watch.Watched == Watch.Total
            ? Watch.Total == 1 ? "No alarm. The one limit that is watched is kept."
                : $"No alarm. All {Watch.Total} limits that are watched are kept."
        : Watch.Watched == 0 ? "Whether there is an alarm is not known: no limit is being watched."
        : $"No alarm at the {Limits(Watch.Watched)} being watched.";

    /// <summary>What is not being watched and why; empty when everything is.</summary>
    public string Unwatched
    {
        get
        {
            if (Watch.Unwatched.IsEmpty)
                return "";
            var down = Watch
                .Unwatched.Where(u => u.Key != 0 && Runtime.Links.StatusOf(u.Key)?.State is not (LinkState.Up or LinkState.Partial))
                .ToArray();
            var others = Watch.Unwatched.Except(down).Sum(u => u.Value);
            string NameOf(long id) => Model.Controllers.TryGetValue(id, out var controller) ? controller.Name : "one taken out";
            return string.Join(
                " ",
                new[]
                {
                    down.Length == 0
                        ? ""
                        : $"{(down.Length == 1 ? "1 controller" : $"{down.Length} controllers")} down "
                            + $"({string.Join(", ", down.Take(MostNamed).Select(d => NameOf(d.Key)))}"
                            + $"{(down.Length > MostNamed ? " …" : "")}): "
                            + $"{Limits(down.Sum(d => d.Value))} {Are(down.Sum(d => d.Value))} not being watched.",
                    others == 0
                        ? ""
                        : $"{Limits(others)} {Are(others)} not being watched, because "
                            + $"{(others == 1 ? "its value is" : "their values are")} bad.",
                }.Where(s => s.Length > 0)
            );
        }
    }

    private static string Limits(int count) => count == 1 ? "1 limit" : $"{count} limits";

    private static string Are(int count) => count == 1 ? "is" : "are";

    public void OnGet()
    {
        // The page renders itself from the newest snapshot.
    }

    /// <summary>What is being watched, asked for again every few seconds: a controller that goes down moves no alarm.</summary>
    public IActionResult OnGetWatch() => Partial("_AlarmWatch", this);

    /// <summary>The board as it stands now.</summary>
    public IActionResult OnGetLists() => Partial("_AlarmLists", this);

    /// <summary>True while a piece of the page is asked for.</summary>
    public bool IsPiece { get; private set; }

    /// <summary>How the open alarm stands now, and its last steps; what is being typed stays.</summary>
    public IActionResult OnGetFacts()
    {
        IsPiece = true;
        return Selected is null
            ? Content("""<div id="alarm-facts"><p><b>This alarm is normal again.</b></p></div>""", "text/html")
            : Partial("_AlarmFacts", this);
    }

    /// <summary>Adds a place to those that are looked at.</summary>
    public IActionResult OnGetPlace(long add)
    {
        Query.Place = Query.Place.Contains(add) || !Model.Equipment.ContainsKey(add) ? Query.Place : [.. Query.Place, add];
        return Redirect(Query.AddressOf("/alarms"));
    }

    /// <summary>Keeps what is looked at as one's own area.</summary>
    public IActionResult OnPostArea()
    {
        if (Query.IsAll)
            Response.Cookies.Delete(AlarmQuery.AreaCookie);
        else
            Response.Cookies.Append(
                AlarmQuery.AreaCookie,
                Query.Text,
                new()
                {
                    MaxAge = TimeSpan.FromDays(365),
                    SameSite = SameSiteMode.Strict,
                    HttpOnly = true,
                }
            );
        return Redirect(Query.AddressOf("/alarms", Query.At));
    }

    /// <summary>Does something to one alarm, to those of a place, or to all that are shown.</summary>
    /// <param name="act">What.</param>
    /// <param name="key">The alarm.</param>
    /// <param name="below">The place whose alarms are meant, of those that are shown; 0 for all that are shown.</param>
    /// <param name="comment">What is said with it.</param>
    /// <param name="minutes">How long it is shelved.</param>
    /// <param name="seen">When the last of those that were shown was raised, in UTC ticks: what came later has not been seen.</param>
    public async Task<IActionResult> OnPostActAsync(AlarmCause act, string? key, long? below, string? comment, double? minutes, long? seen)
    {
        var keys =
            AlarmQuery.KeyOf(key) is { } one ? [one]
            : below is null ? []
            : Board
                .Standing.Where(f => f.Alarm.State.IsUnacknowledged() && f.Alarm.RaisedAt.UtcTicks <= (seen ?? 0))
                .Where(f => below == 0 || (Model.Equipment[f.Alarm.Key.EquipmentId].ParentId ?? -1) == below)
                .Select(f => f.Alarm.Key)
                .ToArray();
        var said = (comment ?? "").Trim();
        if (!ModelState.IsValid || keys.Length == 0)
            return Refuse(key is null && below is null ? "Say which alarm." : "There is nothing to acknowledge any more.");
        if (said.Length > LongestComment || said.Any(char.IsControl))
            return Refuse($"A comment is one line of at most {LongestComment} characters.");
        if (act is < AlarmCause.AcknowledgedByOperator or AlarmCause.NoLongerWatched or AlarmCause.ClearedByTime)
            return Refuse("This is not done by a person.");
        var acts = new List<AlarmAct>();
        foreach (var its in keys)
        {
            var says = Snapshot.Find(its.EquipmentId, its.PropertyId)?.Point.LimitOf(its.Condition)?.Says;
            var (wanted, why) = AlarmActs.Of(Model, its, says, act, said, minutes);
            if (wanted is null)
                return Refuse(Sentence(why));
            acts.Add(wanted);
        }
        var refused = await Runtime.ActAsync(acts, Actor);
        if (refused.Count == acts.Count)
            return Refuse(Sentence(refused[0].Why));
        Done =
            $"{Words(act)}{(acts.Count - refused.Count > 1 ? $" {acts.Count - refused.Count} alarms" : "")}"
            + (refused.Count > 0 ? $"; {refused.Count} not: {refused[0].Why}" : "");
        return Redirect(Query.AddressOf("/alarms", Query.At));
    }

    private PageResult Refuse(string why)
    {
        Refusal = why;
        Response.StatusCode = StatusCodes.Status422UnprocessableEntity;
        return Page();
    }

    private static string Sentence(string words) => words.Length == 0 ? "" : $"Nothing was done: {words}.";

    private static string Words(AlarmCause act) =>
        act switch
        {
            AlarmCause.AcknowledgedByOperator => "Acknowledged",
            AlarmCause.ResetByOperator => "Reset",
            AlarmCause.ShelvedByOperator => "Shelved",
            AlarmCause.UnshelvedByOperator => "Brought back",
            AlarmCause.TakenOutOfService => "Taken out of service",
            _ => "Put back in service",
        };
}
