using Fralto.Core.Controllers;
using Fralto.Core.Edits;
using Fralto.Core.Modbus;
using Fralto.Core.Protocols;
using Fralto.Core.Scaling;
using Fralto.Links;
using Fralto.Runtime.Views;
using Fralto.StandIns.Maltings;
using Fralto.Web.Forms;
using Fralto.Web.Listings;
using Fralto.Web.Live;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;

namespace Fralto.Web.Pages;

/// <summary>Controllers, their state, and their tags with raw values now.</summary>
public sealed class ControllersModel(IServiceProvider services, LinkKeeping keeping, CommandWriter commands, ProtocolDrivers drivers)
    : ListingPage
{
    private readonly StandInPlant? _standIns = services.GetService<StandInPlant>();

    /// <summary>What the address asks for.</summary>
    [BindProperty(SupportsGet = true, Name = "")]
    public ControllersQuery Query { get; set; } = new();

    /// <summary>What is shown of it.</summary>
    public ControllerView View { get; private set; } = ControllerView.None;

    /// <inheritdoc/>
    protected override string ListingName => TagListing.Name;

    /// <inheritdoc/>
    protected override IListing? MakeListing() =>
        (View.Selected ?? ControllerView.Of(Model, Runtime, Query.At).Selected) is { } controller
            ? TagListing.Of(Model, Snapshot, Runtime, controller)
            : null;

    /// <summary>What came of trying a connection.</summary>
    public LinkTest? Test { get; private set; }

    /// <summary>The protocol the open form is for.</summary>
    public ProtocolRules FormProtocol =>
        KnownProtocols.Find(Form["Protocol"]) ?? KnownProtocols.Find(Query.Protocol) ?? KnownProtocols.All[0];

    /// <summary>The tag whose parts are named or whose value is written.</summary>
    public Tag? Chosen =>
        Query.Tag is { } id && Model.Tags.GetValueOrDefault(id) is { } tag && tag.ControllerId == View.Selected?.Id ? tag : null;

    /// <summary>True when the controller shown is a stand-in that can be broken.</summary>
    public bool HasStandIn => View.Selected is { } selected && _standIns?.Faults.Any(f => f.Controller == selected.Name) == true;

    public override LiveScope Scope => View.Selected is { } selected ? new(LiveScopeKind.Controller, selected.Id) : base.Scope;

    /// <summary>What is said of the password that is kept.</summary>
    public string PasswordHint =>
        View.Selected is { } its && Query.Open == "change" && keeping.PasswordIsFor(its.Id, its.Connection) is { } place
            ? $"the one that is kept was given for {place}; type it again"
            : "kept encrypted, beside the model";

    public void OnGet() => Show();

    public IActionResult OnGetStatus()
    {
        View = Query.At is null ? View : ControllerView.Of(Model, Runtime, Query.At);
        if (View.Selected is null)
            return NotFound();
        return Partial("_LinkStatus", this);
    }

    /// <summary>The list at the left with the states of now.</summary>
    public IActionResult OnGetList() => Partial("_ControllerList", this);

    public IActionResult OnPostSave()
    {
        var reader = new FormReader(Request.Form);
        var edit = ConnectionFields.Read(reader, reader.Id("Id"));
        // A password alone is no change of the model; it is kept beside it.
        var same =
            edit.Id is { } id
            && Model.Controllers.TryGetValue(id, out var known)
            && edit.On(Model) is { IsRefused: false } outcome
            && outcome.Changes.All(c => known.Equals(c.After));
        if (same && reader.Text("Password") != ConnectionFields.HiddenPassword && !reader.HasProblems)
        {
            KeepPassword(edit.Id!.Value, edit.Connection, reader);
            return RedirectToPage(new { at = edit.Id });
        }
        return Do(
            edit,
            reader,
            saved =>
            {
                KeepPassword(IdOf(saved), edit.Connection, reader);
                return RedirectToPage(new { at = IdOf(saved) });
            },
            () => Again(edit.Id is null ? "controller" : "change")
        );
    }

    public async Task<IActionResult> OnPostTestAsync()
    {
        var reader = new FormReader(Request.Form);
        var id = reader.Id("Id");
        var edit = ConnectionFields.Read(reader, id);
        var problems = edit.On(Workspace.Model)
            .Problems.Where(p => p.Field is not ("Name" or "UpdateIntervalMs" or "UpdateClasses" or "Protocol"))
            .ToArray();
        var named = reader.State().Problems.Where(p => p.Field is not ("UpdateIntervalMs" or "UpdateClasses")).Concat(problems).ToArray();
        if (named.Length > 0)
            Test = new LinkTest(false, string.Join(" ", named.Select(p => p.Message).Distinct()));
        else
        {
            var probe = id is { } known ? Workspace.Model.Index.TagsOf(known).FirstOrDefault() : null;
            var password =
                reader.Text("Password") is var typed && typed == ConnectionFields.HiddenPassword && id is { } kept
                    ? keeping.Password(kept, edit.Connection)
                    : typed;
            Test = await drivers.For(edit.Connection).TestAsync(edit.Connection, password, probe, HttpContext.RequestAborted);
        }
        return Partial("_TestResult", Test);
    }

    public IActionResult OnPostRemove(long id)
    {
        var reader = new FormReader(Request.Form);
        return Do(
            new RemoveController(id),
            reader,
            _ =>
            {
                keeping.SetPassword(id, null, "");
                return RedirectToPage(new { });
            },
            () => Again(null)
        );
    }

    public IActionResult OnPostTag()
    {
        var reader = new FormReader(Request.Form);
        var id = reader.Id("TagId");
        var edit = new SaveTag(
            id,
            Query.At ?? 0,
            reader.Text("Name"),
            TagAddressFields.Read(reader, ProtocolOfTags),
            reader.Choice<RawType>("Type"),
            reader.Has("WordOrder") ? reader.Choice<WordOrder>("WordOrder") : WordOrder.HighFirst,
            reader.Text("Description"),
            reader.Text("Count").Length == 0 ? 1 : reader.Whole("Count", "how many"),
            UnitField.Read(reader, "Unit", Model),
            reader.Text("UpdateClass") is { Length: > 0 } its ? its : null,
            reader.Ends("RangeLow", "RangeHigh", "the range")
        );
        return Do(
            edit,
            reader,
            _ => RedirectToPage(new { at = Query.At, open = id is null ? "tag" : null }),
            () =>
            {
                Query.Tag = id;
                return Again("tag");
            }
        );
    }

    /// <summary>What the form about the selected tags would do, without doing it.</summary>
    public IActionResult OnPostEffect() => Content(TagsForm.Effect(Model, new FormReader(Request.Form), Orders));

    /// <summary>Does to the selected tags what the form says.</summary>
    public IActionResult OnPostTags()
    {
        var reader = new FormReader(Request.Form);
        if (reader.Text("Act") == "make" && TagsForm.Picked(reader, Orders) is { Length: > 0 and <= MakeEquipment.MostTags } tags)
            return Redirect(MakeModel.AddressOf(Query.At ?? 0, tags));
        return Do(
            TagsForm.Read(Model, reader, Orders),
            reader,
            _ => reader.Text("back") is { } back && Url.IsLocalUrl(back) ? LocalRedirect(back) : RedirectToPage(new { at = Query.At }),
            () =>
            {
                Refusal = string.Join(" ", Form.Problems.Take(5).Select(p => p.Message));
                return Again(null);
            }
        );
    }

    public IActionResult OnPostUnfold(long tagId)
    {
        var reader = new FormReader(Request.Form);
        var names = reader.Text("Names", UnfoldTextLength).ReplaceLineEndings("\n").Split('\n');
        return Do(
            new UnfoldTag(tagId, [.. names]),
            reader,
            _ => RedirectToPage(new { at = Query.At }),
            () =>
            {
                Query.Tag = tagId;
                return Again("unfold");
            }
        );
    }

    /// <summary>Lets a simulated source stand in for all that is bound to this controller, or hears its tags again.</summary>
    public IActionResult OnPostSimulate(bool on)
    {
        var cells = Model
            .Index.TagsOf(Query.At ?? 0)
            .SelectMany(t => Model.Index.BindingsOf(t.Id))
            .Select(b => (b.EquipmentId, b.PropertyId));
        return Do(
            new Simulate([.. cells], on ? Core.Bindings.SimulationShape.Wave : null),
            new FormReader(Request.Form),
            _ => RedirectToPage(new { at = Query.At }),
            () => Again(null)
        );
    }

    /// <summary>Writes a tag its raw value, as a memory tag is written.</summary>
    public async Task<IActionResult> OnPostWriteAsync(long tagId)
    {
        var reader = new FormReader(Request.Form);
        if (!Model.Tags.TryGetValue(tagId, out var tag))
            return NotFound();
        var unnoted = "";
        var write = TagWrite.Read(tag, reader.Text("Value"), out var problem);
        if (write is null)
            reader.Refuse("Value", problem!);
        else
        {
            var result = await commands.GiveAsync(write, ValueText.Raw(tag, Snapshot.ReadingsOf(tag)), Actor);
            if (result.Outcome != WriteOutcome.Confirmed)
                reader.Refuse("Value", $"{(result.Outcome == WriteOutcome.Refused ? "Refused" : "Not confirmed")}: {result.Reason}.");
            else if (result.Reason.Length > 0)
                unnoted = $"; {result.Reason}";
        }
        if (!reader.HasProblems)
        {
            Done = $"{tag.Name} holds {reader.Text("Value")}{unnoted}";
            return RedirectToPage(new { at = Query.At });
        }
        Query.Tag = tagId;
        Form = reader.State();
        Response.StatusCode = StatusCodes.Status422UnprocessableEntity;
        return Again("write");
    }

    /// <summary>Longest list of names for parts of a tag.</summary>
    private const int UnfoldTextLength = 100_000;

    private ProtocolRules ProtocolOfTags =>
        (
            Query.At is { } at && Model.Controllers.TryGetValue(at, out var controller)
                ? controller.Protocol
                : Core.Controllers.Protocol.Modbus
        ).Rules();

    private void KeepPassword(long id, Connection connection, FormReader reader)
    {
        if (
            reader.Has("Password")
            && reader.Text("Password") != ConnectionFields.HiddenPassword
            && keeping.SetPassword(id, connection, reader.Text("Password")) is { } unkept
        )
            Done = $"{Done}. The password could not be kept: {unkept}";
        else if (keeping.PasswordIsFor(id, connection) is { } place)
            Done = $"{Done}. The password that is kept was given for {place} and is not sent to {connection.Place}: type it again";
        Runtime.Relink();
    }

    // The controller somebody looked at last is the first he sees again.
    private const string LastCookie = "fralto-controller";

    private long? LastLookedAt =>
        long.TryParse(Request.Cookies[LastCookie], out var last) && Model.Controllers.ContainsKey(last) ? last : null;

    private PageResult Again(string? open)
    {
        Query.Open = open;
        Show(keepForm: true);
        return Page();
    }

    private void Show(bool keepForm = false)
    {
        if (Query.Open != "controller")
            View = ControllerView.Of(Model, Runtime, Query.At ?? LastLookedAt);
        if (Model.Controllers.IsEmpty)
            Query.Open = "controller";
        Query.At = View.Selected?.Id ?? Query.At;
        if (View.Selected is { } looked)
            Response.Cookies.Append(
                LastCookie,
                ValueText.Plain(looked.Id),
                new()
                {
                    SameSite = SameSiteMode.Strict,
                    HttpOnly = true,
                    MaxAge = TimeSpan.FromDays(365),
                }
            );
        if (keepForm)
            return;
        Form = Query.Open switch
        {
            "change" when View.Selected is { } c => ConnectionFields.Of(c, keeping.Password(c.Id, c.Connection) is not null),
            "tag" when Chosen is { } t => FormState.Of(
                ("Name", t.Name),
                ("Area", t.Register?.Area),
                ("Address", TagAddressFields.Text(t.Address)),
                ("Bit", t.Register?.Bit),
                ("UnitId", t.Register?.UnitId),
                ("Type", t.Type),
                ("WordOrder", t.WordOrder),
                ("Description", t.Description),
                ("Count", t.Count == 1 ? "" : ValueText.Plain(t.Count)),
                ("Unit", UnitField.Text(t.Unit, Model)),
                ("UpdateClass", t.UpdateClass),
                ("RangeLow", t.Range?.Low),
                ("RangeHigh", t.Range?.High)
            ),
            "tag" => FormState.Of(
                ("Area", RegisterArea.HoldingRegister),
                ("Type", View.Selected?.Protocol.Rules().HasRegisters == true ? RawType.Int16 : RawType.Float64),
                ("WordOrder", WordOrder.HighFirst)
            ),
            "unfold" when Chosen is { } t => FormState.Of(
                ("Names", string.Join('\n', Enumerable.Range(0, UnfoldTag.PartsOf(t)).Select(i => $"{t.Name}_{i}")))
            ),
            _ => ConnectionFields.New(FormProtocol),
        };
    }
}
