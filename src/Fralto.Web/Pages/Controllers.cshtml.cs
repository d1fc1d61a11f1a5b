using Fralto.Core.Controllers;
using Fralto.Core.Edits;
using Fralto.Core.Limits;
using Fralto.Core.Memory;
using Fralto.Core.Modbus;
using Fralto.Core.Protocols;
using Fralto.Core.Scaling;
using Fralto.Links;
using Fralto.StandIns.Maltings;
using Fralto.Web.Forms;
using Fralto.Web.Live;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Controller = Fralto.Core.Controllers.Controller;

namespace Fralto.Web.Pages;

/// <summary>Controllers, their state, and their tags with raw values now.</summary>
public sealed class ControllersModel(IServiceProvider services, LinkKeeping keeping, CommandWriter commands, ProtocolDrivers drivers)
    : FraltoPage
{
    /// <summary>Tags shown at once.</summary>
    public const int PageSize = 200;

    private readonly StandInPlant? _standIns = services.GetService<StandInPlant>();

    /// <summary>The controller shown.</summary>
    [BindProperty(SupportsGet = true)]
    public long? At { get; set; }

    /// <summary>What is being added or changed: controller, change, tag, unfold or write.</summary>
    [BindProperty(SupportsGet = true)]
    public string? Open { get; set; }

    /// <summary>What a new controller speaks.</summary>
    [BindProperty(SupportsGet = true)]
    public string? Protocol { get; set; }

    /// <summary>The tag being changed.</summary>
    [BindProperty(SupportsGet = true)]
    public long? Tag { get; set; }

    /// <summary>Part of a tag's name, address or description.</summary>
    [BindProperty(SupportsGet = true)]
    public string? Filter { get; set; }

    /// <summary>Which tags: all, unused, still (never changed) or bad.</summary>
    [BindProperty(SupportsGet = true)]
    public string? Only { get; set; }

    /// <summary>Page of the tag list, from 1.</summary>
    [BindProperty(SupportsGet = true)]
    public int ListPage { get; set; } = 1;

    public Controller? Selected { get; private set; }

    public LinkStatus? Status { get; private set; }

    public LinkRates? Rates { get; private set; }

    public IReadOnlyList<Tag> Tags { get; private set; } = [];

    public int MatchingTags { get; private set; }

    public int Unused { get; private set; }

    public int Still { get; private set; }

    public int BadTags { get; private set; }

    public int ListPages => Math.Max(1, (MatchingTags + PageSize - 1) / PageSize);

    public LinkTest? Test { get; private set; }

    /// <summary>The protocol the open form is for.</summary>
    public ProtocolRules FormProtocol => KnownProtocols.Find(Form["Protocol"]) ?? KnownProtocols.Find(Protocol) ?? KnownProtocols.All[0];

    /// <summary>The tag whose parts are named or whose value is written.</summary>
    public Tag? Chosen => Tag is { } id && Model.Tags.GetValueOrDefault(id) is { } tag && tag.ControllerId == Selected?.Id ? tag : null;

    public bool HasStandIn => _standIns is not null && Selected is not null && _standIns.Faults.Any(f => f.Controller == Selected.Name);

    /// <summary>Bindings that can be simulated because the controller is not there; 0 while it is.</summary>
    public int CanSimulate =>
        Status?.State == LinkState.Down && Selected is not null
            ? Model.Index.TagsOf(Selected.Id).Sum(t => Model.Index.BindingsOf(t.Id).Count())
            : 0;

    public override LiveScope Scope => Selected is null ? base.Scope : new(LiveScopeKind.Controller, Selected.Id);

    public static IEnumerable<(string Value, string Text)> Areas =>
        [
            (nameof(RegisterArea.HoldingRegister), "holding (4xxxx)"),
            (nameof(RegisterArea.InputRegister), "input (3xxxx)"),
            (nameof(RegisterArea.Coil), "coil (0xxxx)"),
            (nameof(RegisterArea.DiscreteInput), "discrete (1xxxx)"),
        ];

    /// <summary>Raw types that a protocol knows.</summary>
    public IEnumerable<(string Value, string Text)> Types =>
        new[]
        {
            RawType.Bool,
            RawType.Int8,
            RawType.UInt8,
            RawType.Int16,
            RawType.UInt16,
            RawType.Int32,
            RawType.UInt32,
            RawType.Int64,
            RawType.UInt64,
            RawType.Float32,
            RawType.Float64,
            RawType.Bcd16,
            RawType.Bcd32,
            RawType.Text,
        }
            .Where(t => Selected?.Protocol.Rules().HasRegisters == true || t is not (RawType.Bcd16 or RawType.Bcd32))
            .Select(t => (t.ToString(), t.Word()));

    public static IEnumerable<(string Value, string Text)> Orders =>
        Enum.GetValues<WordOrder>()
            .Select(o =>
                (o.ToString(), $"{o.Letters()}, {(o.IsLowFirst() ? "low" : "high")} word first{(o.IsSwapped() ? ", bytes swapped" : "")}")
            );

    /// <summary>The update classes of the controller, the first its own interval.</summary>
    public IEnumerable<(string Value, string Text)> Classes =>
        [
            ("", "as the controller"),
            .. Selected!.UpdateClasses.Select(c => (c.Name, $"{c.Name}, every {c.Interval.TotalMilliseconds:0} ms")),
        ];

    /// <summary>What is said of the password that is kept.</summary>
    public string PasswordHint =>
        Selected is { } its && Open == "change" && keeping.PasswordIsFor(its.Id, its.Connection) is { } place
            ? $"the one that is kept was given for {place}; type it again"
            : "kept encrypted, beside the model";

    public void OnGet() => Show();

    public IActionResult OnGetStatus()
    {
        if (At is not { } at || !Model.Controllers.TryGetValue(at, out var controller))
            return NotFound();
        Selected = controller;
        (Status, Rates) = (Runtime.Links.StatusOf(at), Runtime.Links.RatesOf(at));
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
            At ?? 0,
            reader.Text("Name"),
            ReadAddress(reader),
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
            _ => RedirectToPage(new { at = At, open = id is null ? "tag" : null }),
            () =>
            {
                Tag = id;
                return Again("tag");
            }
        );
    }

    public IActionResult OnPostRemoveTag(long tagId) =>
        Do(new RemoveTag(tagId), new FormReader(Request.Form), _ => RedirectToPage(new { at = At }), () => Again(null));

    public IActionResult OnPostUnfold(long tagId)
    {
        var reader = new FormReader(Request.Form);
        var names = reader.Text("Names", UnfoldTextLength).ReplaceLineEndings("\n").Split('\n');
        return Do(
            new UnfoldTag(tagId, [.. names]),
            reader,
            _ => RedirectToPage(new { at = At }),
            () =>
            {
                Tag = tagId;
                return Again("unfold");
            }
        );
    }

    /// <summary>Lets a simulated source stand in for all that is bound to this controller, or hears its tags again.</summary>
    public IActionResult OnPostSimulate(bool on)
    {
        var cells = Model.Index.TagsOf(At ?? 0).SelectMany(t => Model.Index.BindingsOf(t.Id)).Select(b => (b.EquipmentId, b.PropertyId));
        return Do(
            new Simulate([.. cells], on ? Core.Bindings.SimulationShape.Wave : null),
            new FormReader(Request.Form),
            _ => RedirectToPage(new { at = At }),
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
            return RedirectToPage(new { at = At });
        }
        Tag = tagId;
        Form = reader.State();
        Response.StatusCode = StatusCodes.Status422UnprocessableEntity;
        return Again("write");
    }

    /// <summary>An address where there is little room: its end, which is what differs.</summary>
    public static string Short(TagAddress address) =>
        address.Place is { Length: > ShortAddress } text ? $"…{text[^(ShortAddress - 1)..]}" : address.Place;

    private const int ShortAddress = 15;

    /// <summary>State of a link in one word.</summary>
    public static string Word(LinkState? state) =>
        state switch
        {
            LinkState.Up => "up",
            LinkState.Partial => "up, not all there",
            LinkState.Down => "down",
            _ => "starting",
        };

    /// <summary>Longest list of names for parts of a tag.</summary>
    private const int UnfoldTextLength = 100_000;

    private TagAddress ReadAddress(FormReader reader)
    {
        var rules = (
            At is { } at && Model.Controllers.TryGetValue(at, out var controller) ? controller.Protocol : Core.Controllers.Protocol.Modbus
        ).Rules();
        if (rules.HasRegisters)
        {
            int? Optional(string field, string what) => reader.Text(field).Length == 0 ? null : reader.Whole(field, what);
            if (reader.Text("Bit").Contains('-', StringComparison.Ordinal))
            {
                reader.Refuse(
                    "Bit",
                    $"'{reader.Text("Bit")}' is a range of bits, and an address names one or none. Leave this empty, and bind the "
                        + $"part .{reader.Text("Bit")} of the tag."
                );
                return new ModbusAddress(
                    reader.Choice<RegisterArea>("Area"),
                    reader.Whole("Address", "the address on the wire"),
                    null,
                    Optional("UnitId", "the unit id")
                );
            }
            return new ModbusAddress(
                reader.Choice<RegisterArea>("Area"),
                reader.Whole("Address", "the address on the wire"),
                Optional("Bit", "the bit"),
                Optional("UnitId", "the unit id")
            );
        }
        if (rules.ReadAddress(reader.Text("Address", TagAddress.Longest), out var problem) is { } address)
            return address;
        reader.Refuse("Address", problem!);
        return new MemoryAddress();
    }

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

    private PageResult Again(string? open)
    {
        Open = open;
        Show(keepForm: true);
        return Page();
    }

    private void Show(bool keepForm = false)
    {
        if (Open != "controller")
            Selected = At is { } at
                ? Model.Controllers.GetValueOrDefault(at)
                : Model.Controllers.Values.MinBy(c => c.Name, StringComparer.OrdinalIgnoreCase);
        if (Model.Controllers.IsEmpty)
            Open = "controller";
        if (Selected is { } selected)
        {
            At = selected.Id;
            (Status, Rates) = (Runtime.Links.StatusOf(selected.Id), Runtime.Links.RatesOf(selected.Id));
            ShowTags(selected);
        }
        if (keepForm)
            return;
        Form = Open switch
        {
            "change" when Selected is { } c => ConnectionFields.Of(c, keeping.Password(c.Id, c.Connection) is not null),
            "tag" when Chosen is { } t => FormState.Of(
                ("Name", t.Name),
                ("Area", t.Register?.Area),
                ("Address", t.Register is { } register ? register.Offset : t.Address),
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
                ("Type", Selected?.Protocol.Rules().HasRegisters == true ? RawType.Int16 : RawType.Float64),
                ("WordOrder", WordOrder.HighFirst)
            ),
            "unfold" when Chosen is { } t => FormState.Of(
                ("Names", string.Join('\n', Enumerable.Range(0, UnfoldTag.PartsOf(t)).Select(i => $"{t.Name}_{i}")))
            ),
            _ => ConnectionFields.New(FormProtocol),
        };
    }

    private void ShowTags(Controller selected)
    {
        var all = Model.Index.TagsOf(selected.Id);
        bool IsBad(Tag tag) => Snapshot.Reading(tag.Id) is { Status.IsBad: true };
        bool IsStill(Tag tag) => Snapshot.Reading(tag.Id) is { Changes: <= 1 } && !tag.IsArray;
        (Unused, Still, BadTags) = (all.Count(t => !Model.Index.IsUsed(t.Id)), all.Count(IsStill), all.Count(IsBad));
        bool Has(string text) => text.Contains(Filter!, StringComparison.OrdinalIgnoreCase);
        var matching = all.Where(t =>
                Only switch
                {
                    "unused" => !Model.Index.IsUsed(t.Id),
                    "still" => IsStill(t),
                    "bad" => IsBad(t),
                    _ => true,
                }
            )
            .Where(t => string.IsNullOrWhiteSpace(Filter) || Has(t.Name) || Has(t.Description) || Has(t.Address.ToString()))
            .ToArray();
        MatchingTags = matching.Length;
        ListPage = Math.Clamp(ListPage, 1, ListPages);
        Tags = [.. matching.Skip((ListPage - 1) * PageSize).Take(PageSize)];
    }
}
