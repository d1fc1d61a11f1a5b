using Fralto.Core.Controllers;
using Fralto.Core.Edits;
using Fralto.Core.Exchange;
using Fralto.Core.Modbus;
using Fralto.Core.Protocols;
using Fralto.Web.Forms;
using Fralto.Web.Live;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;

namespace Fralto.Web.Pages;

/// <summary>What kinds of devices expose, and the devices whose tags are generated from it.</summary>
public sealed class LayoutsModel : FraltoPage
{
    private const int LongestPoints = 100_000;
    private const int MostEffects = 200;

    /// <summary>The layout shown.</summary>
    [BindProperty(SupportsGet = true)]
    public long? At { get; set; }

    /// <summary>What is being made: layout, change, devices or device.</summary>
    [BindProperty(SupportsGet = true)]
    public string? Open { get; set; }

    /// <summary>The device being changed.</summary>
    [BindProperty(SupportsGet = true)]
    public long? Id { get; set; }

    /// <summary>The controller new devices are for.</summary>
    [BindProperty(SupportsGet = true)]
    public long? Controller { get; set; }

    public DeviceLayout? Selected { get; private set; }

    public IReadOnlyList<Device> Devices { get; private set; } = [];

    /// <summary>What saving would do, looked at before it is done; null when nothing is looked at.</summary>
    public EditOutcome? Effect { get; private set; }

    /// <summary>The effect tag by tag: name, before and after.</summary>
    public IEnumerable<(string Tag, string Before, string After)> Effects =>
        (Effect?.Changes ?? [])
            .Where(c => (c.After ?? c.Before) is Tag)
            .Take(MostEffects)
            .Select(c => (((Tag)(c.After ?? c.Before)!).Name, c.Before is Tag b ? Text(b) : "", c.After is Tag a ? Text(a) : "taken out"));

    public int EffectCount => (Effect?.Changes ?? []).Count(c => (c.After ?? c.Before) is Tag);

    public int LostBindings => (Effect?.Changes ?? []).Count(c => c is { After: null, Before: Core.Bindings.PropertyBinding });

    public IEnumerable<(string Value, string Text)> Controllers =>
        Model
            .Controllers.Values.Where(c => c.Protocol.Rules().HasRegisters)
            .OrderBy(c => c.Name, StringComparer.OrdinalIgnoreCase)
            .Select(c => ($"{c.Id}", c.Name));

    public override LiveScope Scope => base.Scope;

    public void OnGet() => Show();

    /// <summary>Saves a layout; with devices behind it, what that does is shown first.</summary>
    public IActionResult OnPostSave(bool sure)
    {
        var reader = new FormReader(Request.Form);
        var id = reader.Id("Id");
        var points = LayoutText.Parse(reader.Text("Points", LongestPoints), Model.Units, out var problems);
        foreach (var problem in problems)
            reader.Refuse(problem.Field, problem.Message);
        var edit = new SaveLayout(id, reader.Text("Code"), reader.Text("Name"), reader.Text("Separator"), points);
        var hasDevices = id is { } known && Model.Devices.Values.Any(d => d.LayoutId == known);
        if (hasDevices && !sure && !reader.HasProblems && edit.On(Model) is { IsRefused: false } outcome)
        {
            Effect = outcome;
            Form = reader.State();
            return Again("change");
        }
        return Do(
            edit,
            reader,
            saved =>
                RedirectToPage(new { at = saved.Changes.Select(c => c.After).OfType<DeviceLayout>().First().Id, controller = Controller }),
            () => Again(id is null ? "layout" : "change")
        );
    }

    public IActionResult OnPostRemove(long id) =>
        Do(new RemoveLayout(id), new FormReader(Request.Form), _ => RedirectToPage(new { }), () => Again(null));

    /// <summary>Adds a series of devices; the tags it makes are shown first.</summary>
    public IActionResult OnPostDevices(bool sure)
    {
        var reader = new FormReader(Request.Form);
        int Optional(string field, string what, int otherwise) => reader.Text(field).Length == 0 ? otherwise : reader.Whole(field, what);
        var edit = new AddDevices(
            reader.Whole("ControllerId", "the controller"),
            At ?? 0,
            reader.Text("Name"),
            Optional("First", "the first number", 1),
            Optional("HowMany", "how many", 1),
            reader.Whole("Base", "the base address"),
            Optional("Stride", "the stride", 0),
            Optional("BitBase", "the base of bits", 0),
            Optional("BitStride", "the stride of bits", 0),
            reader.Text("UnitId").Length == 0 ? null : reader.Whole("UnitId", "the unit id"),
            Optional("UnitStride", "the step of unit ids", 0),
            Optional("Digits", "how many digits", 1)
        );
        if (!sure && !reader.HasProblems && edit.On(Model) is { IsRefused: false } outcome)
        {
            Effect = outcome;
            Form = reader.State();
            return Again("devices");
        }
        return Do(edit, reader, _ => RedirectToPage(new { at = At, controller = Controller }), () => Again("devices"));
    }

    public IActionResult OnPostDevice(bool sure)
    {
        var reader = new FormReader(Request.Form);
        var edit = new SaveDevice(
            Id ?? 0,
            reader.Text("Name"),
            reader.Whole("Base", "the base address"),
            reader.Text("BitBase").Length == 0 ? 0 : reader.Whole("BitBase", "the base of bits"),
            reader.Text("UnitId").Length == 0 ? null : reader.Whole("UnitId", "the unit id")
        );
        if (!sure && !reader.HasProblems && edit.On(Model) is { IsRefused: false } outcome)
        {
            Effect = outcome;
            Form = reader.State();
            return Again("device");
        }
        return Do(edit, reader, _ => RedirectToPage(new { at = At, controller = Controller }), () => Again("device"));
    }

    public IActionResult OnPostRemoveDevice(long id) =>
        Do(
            new RemoveDevice(id),
            new FormReader(Request.Form),
            _ => RedirectToPage(new { at = At, controller = Controller }),
            () => Again(null)
        );

    private static string Text(Tag tag) => $"{tag.Name}: {tag.TypeText} at {tag.Address}";

    private PageResult Again(string? open)
    {
        Open = open;
        Show(keepForm: true);
        return Page();
    }

    private void Show(bool keepForm = false)
    {
        if (Open != "layout")
            Selected = At is { } at
                ? Model.Layouts.GetValueOrDefault(at)
                : Model.Layouts.Values.MinBy(l => l.Name, StringComparer.OrdinalIgnoreCase);
        if (Model.Layouts.IsEmpty)
            Open = "layout";
        if (Selected is { } selected)
        {
            At = selected.Id;
            Devices =
            [
                .. Model
                    .Devices.Values.Where(d => d.LayoutId == selected.Id)
                    .OrderBy(d => Model.Controllers[d.ControllerId].Name, StringComparer.Ordinal)
                    .ThenBy(d => d.UnitId)
                    .ThenBy(d => d.Base),
            ];
        }
        if (keepForm)
            return;
        Form = Open switch
        {
            "change" when Selected is { } l => FormState.Of(
                ("Id", l.Id),
                ("Code", l.Code),
                ("Name", l.Name),
                ("Separator", l.Separator),
                ("Points", LayoutText.Write(l.Points, Model.Units))
            ),
            "device" when Id is { } id && Model.Devices.GetValueOrDefault(id) is { } d => FormState.Of(
                ("Name", d.Name),
                ("Base", d.Base),
                ("BitBase", d.BitBase),
                ("UnitId", d.UnitId)
            ),
            "devices" => FormState.Of(
                ("ControllerId", Controller),
                ("First", 1),
                ("HowMany", 10),
                ("Base", 0),
                (
                    "Stride",
                    Selected is { } s && s.Points.Any(p => p.Area is RegisterArea.InputRegister or RegisterArea.HoldingRegister)
                        ? s.Points.Max(p => p.Offset) + 1
                        : 0
                )
            ),
            _ => FormState.Of(("Separator", "_")),
        };
    }
}
