using Fralto.Core.Controllers;
using Fralto.Core.Edits;
using Fralto.Core.Scaling;
using Fralto.Links;
using Fralto.Links.Modbus;
using Fralto.StandIns.Maltings;
using Fralto.Web.Forms;
using Fralto.Web.Live;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Controller = Fralto.Core.Controllers.Controller;

namespace Fralto.Web.Pages;

/// <summary>Controllers, their state, and their tags with raw values now.</summary>
public sealed class ControllersModel(IServiceProvider services) : FraltoPage
{
    /// <summary>Tags shown at once.</summary>
    public const int PageSize = 200;

    private readonly StandInPlant? _standIns = services.GetService<StandInPlant>();

    /// <summary>The controller shown.</summary>
    [BindProperty(SupportsGet = true)]
    public long? At { get; set; }

    /// <summary>What is being added or changed: controller, change or tag.</summary>
    [BindProperty(SupportsGet = true)]
    public string? Open { get; set; }

    /// <summary>The tag being changed.</summary>
    [BindProperty(SupportsGet = true)]
    public long? Tag { get; set; }

    /// <summary>Part of a tag's name or description.</summary>
    [BindProperty(SupportsGet = true)]
    public string? Filter { get; set; }

    /// <summary>Page of the tag list, from 1.</summary>
    [BindProperty(SupportsGet = true)]
    public int Sheet { get; set; } = 1;

    public Controller? Selected { get; private set; }

    public LinkStatus? Status { get; private set; }

    public IReadOnlyList<Tag> Tags { get; private set; } = [];

    public int MatchingTags { get; private set; }

    public int Sheets => Math.Max(1, (MatchingTags + PageSize - 1) / PageSize);

    public LinkTest? Test { get; private set; }

    public IReadOnlyList<Fault> Faults => _standIns is null || Selected is null ? [] : [.. _standIns.Faults.Where(f => f.Controller == Selected.Name)];

    public override LiveScope Scope => Selected is null ? base.Scope : new(LiveScopeKind.Controller, Selected.Id);

    public static IEnumerable<(string Value, string Text)> Areas =>
    [
        (nameof(RegisterArea.HoldingRegister), "holding (4xxxx)"),
        (nameof(RegisterArea.InputRegister), "input (3xxxx)"),
        (nameof(RegisterArea.Coil), "coil (0xxxx)"),
        (nameof(RegisterArea.DiscreteInput), "discrete (1xxxx)"),
    ];

    public static IEnumerable<(string Value, string Text)> Types => new[]
    {
        RawType.Bool, RawType.Int8, RawType.UInt8, RawType.Int16, RawType.UInt16, RawType.Int32, RawType.UInt32, RawType.Int64, RawType.UInt64, RawType.Float32, RawType.Float64, RawType.Bcd16, RawType.Bcd32, RawType.Text,
    }.Select(t => (t.ToString(), t.Word()));

    public static IEnumerable<(string Value, string Text)> Orders =>
        Enum.GetValues<WordOrder>().Select(o => (o.ToString(), $"{o.Letters()}, {(o.IsLowFirst() ? "low" : "high")} word first{(o.IsSwapped() ? ", bytes swapped" : "")}"));

    public void OnGet() => Show();

    public IActionResult OnGetStatus()
    {
        if (At is not { } at || !Model.Controllers.ContainsKey(at)) return NotFound();
        Status = Runtime.Links.StatusOf(at);
        return Partial("_LinkStatus", this);
    }

    /// <summary>The list at the left with the states of now.</summary>
    public IActionResult OnGetList() => Partial("_ControllerList", this);

    public IActionResult OnPostSave()
    {
        var reader = new FormReader(Request.Form);
        var edit = ReadController(reader, reader.Id("Id"));
        return Do(edit, reader, outcome => RedirectToPage(new { at = IdOf(outcome) }), () => Again(edit.Id is null ? "controller" : "change"));
    }

    public async Task<IActionResult> OnPostTestAsync()
    {
        var reader = new FormReader(Request.Form);
        var id = reader.Id("Id");
        var edit = ReadController(reader, id);
        var problems = edit.On(Workspace.Model).Problems.Where(p => p.Field is not ("Name" or "UpdateIntervalMs")).ToArray();
        var named = reader.State().Problems.Where(p => p.Field != "UpdateIntervalMs").Concat(problems).ToArray();
        if (named.Length > 0)
        {
            Test = new LinkTest(false, string.Join(" ", named.Select(p => p.Message).Distinct()));
        }
        else
        {
            var probe = id is { } known ? Workspace.Model.Index.TagsOf(known).FirstOrDefault() : null;
            Test = await ModbusTcpLink.TestAsync(new Controller(0, "", edit.Host, edit.Port, edit.UnitId, TimeSpan.FromSeconds(1)), probe, HttpContext.RequestAborted);
        }
        return Partial("_TestResult", Test);
    }

    public IActionResult OnPostRemove(long id)
    {
        var reader = new FormReader(Request.Form);
        return Do(new RemoveController(id), reader, _ => RedirectToPage(new { }), () => Again(null));
    }

    public IActionResult OnPostTag()
    {
        var reader = new FormReader(Request.Form);
        var id = reader.Id("TagId");
        var edit = new SaveTag(
            id, At ?? 0, reader.Text("Name"), reader.Choice<RegisterArea>("Area"), reader.Whole("Offset", "the address on the wire"),
            reader.Choice<RawType>("Type"), reader.Choice<WordOrder>("WordOrder"), reader.Text("Description"),
            reader.Text("Count").Length == 0 ? 1 : reader.Whole("Count", "how many"), UnitField.Read(reader, "Unit", Model));
        return Do(edit, reader, _ => RedirectToPage(new { at = At, open = id is null ? "tag" : null }), () =>
        {
            Tag = id;
            return Again("tag");
        });
    }

    public IActionResult OnPostRemoveTag(long tagId) =>
        Do(new RemoveTag(tagId), new FormReader(Request.Form), _ => RedirectToPage(new { at = At }), () => Again(null));

    public async Task<IActionResult> OnPostFaultAsync(string key, bool on)
    {
        if (_standIns is null || !await _standIns.SetFaultAsync(key, on)) return NotFound();
        return RedirectToPage(new { at = At });
    }

    /// <summary>State of a link in one word.</summary>
    public static string Word(LinkState? state) => state switch
    {
        LinkState.Up => "up",
        LinkState.Partial => "up, some tags refused",
        LinkState.Down => "down",
        _ => "starting",
    };

    private static SaveController ReadController(FormReader reader, long? id) => new(
        id, reader.Text("Name"), reader.Text("Host"), reader.Whole("Port", "the TCP port"), reader.Whole("UnitId", "the unit id"), reader.Whole("UpdateIntervalMs", "the update interval in ms"));

    private PageResult Again(string? open)
    {
        Open = open;
        Show(keepForm: true);
        return Page();
    }

    private void Show(bool keepForm = false)
    {
        if (Open != "controller") Selected = At is { } at ? Model.Controllers.GetValueOrDefault(at) : Model.Controllers.Values.MinBy(c => c.Name, StringComparer.OrdinalIgnoreCase);
        if (Model.Controllers.IsEmpty) Open = "controller";
        if (Selected is { } selected)
        {
            At = selected.Id;
            Status = Runtime.Links.StatusOf(selected.Id);
            var matching = Model.Index.TagsOf(selected.Id)
                .Where(t => string.IsNullOrWhiteSpace(Filter) || t.Name.Contains(Filter, StringComparison.OrdinalIgnoreCase) || t.Description.Contains(Filter, StringComparison.OrdinalIgnoreCase))
                .ToArray();
            MatchingTags = matching.Length;
            Sheet = Math.Clamp(Sheet, 1, Sheets);
            Tags = [.. matching.Skip((Sheet - 1) * PageSize).Take(PageSize)];
        }
        if (keepForm) return;
        Form = Open switch
        {
            "change" when Selected is { } c => FormState.Of(
                ("Id", c.Id), ("Name", c.Name), ("Host", c.Host), ("Port", c.Port), ("UnitId", c.UnitId), ("UpdateIntervalMs", c.UpdateInterval.TotalMilliseconds)),
            "tag" when Tag is { } id && Model.Tags.GetValueOrDefault(id) is { } t => FormState.Of(
                ("Name", t.Name), ("Area", t.Address.Area), ("Offset", t.Address.Offset), ("Type", t.Type), ("WordOrder", t.WordOrder), ("Description", t.Description),
                ("Count", t.Count == 1 ? "" : ValueText.Plain(t.Count)), ("Unit", UnitField.Text(t.Unit, Model))),
            "tag" => FormState.Of(("Area", RegisterArea.HoldingRegister), ("Type", RawType.Int16), ("WordOrder", WordOrder.HighFirst)),
            _ => FormState.Of(("Port", 502), ("UnitId", 1), ("UpdateIntervalMs", 1000)),
        };
    }
}
