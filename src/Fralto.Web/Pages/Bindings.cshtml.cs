using System.Globalization;
using Fralto.Core.Bindings;
using Fralto.Core.Controllers;
using Fralto.Core.Edits;
using Fralto.Core.NamingRules;
using Fralto.Core.Proposals;
using Fralto.Core.Protocols;
using Fralto.Core.Scaling;
using Fralto.Runtime.Views;
using Fralto.Web.Forms;
using Fralto.Web.Live;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;

namespace Fralto.Web.Pages;

/// <summary>The matrix: instances down, properties across, each cell a tag; what is open is proposed for.</summary>
public sealed class BindingsModel(ProposalCache proposals, ProposalMemory memory) : FraltoPage
{
    /// <summary>A matrix is shown after this without proposals, which follow.</summary>
    private static readonly TimeSpan FirstPaint = TimeSpan.FromMilliseconds(200);

    /// <summary>What the address asks for.</summary>
    [BindProperty(SupportsGet = true, Name = "")]
    public MatrixQuery Query { get; set; } = new();

    /// <summary>What is shown of it.</summary>
    public MatrixView View { get; private set; } = null!;

    /// <summary>What was pasted and could not be bound.</summary>
    public string Pasted { get; private set; } = "";

    public override LiveScope Scope =>
        Query.Place is { } place ? new(LiveScopeKind.Matrix, place)
        : Query.Template is { } id ? new(LiveScopeKind.Template, id)
        : base.Scope;

    public void OnGet() => Show();

    /// <summary>The tags for the selected cell as they are filtered while typing.</summary>
    public IActionResult OnGetTags()
    {
        Show();
        return Partial("_MatrixTags", this);
    }

    /// <summary>What is said of the selected cell, when another is taken in hand.</summary>
    public IActionResult OnGetHead()
    {
        Show();
        return Partial("_MatrixHead", this);
    }

    /// <summary>The tags that have changed lately, drawn again every few seconds.</summary>
    public IActionResult OnGetMoving()
    {
        Show();
        return Partial("_MatrixMoving", this);
    }

    /// <summary>For each property why a tag cannot feed it; empty text where it can.</summary>
    public IActionResult OnGetFits(long tagId)
    {
        Show();
        if (!Model.Tags.TryGetValue(tagId, out var tag))
            return NotFound();
        return new JsonResult(View.MisfitsOf(tag).ToDictionary(m => m.Key.ToString(CultureInfo.InvariantCulture), m => m.Value));
    }

    /// <summary>Binds the selected cell to a tag, or to the part of it that was typed.</summary>
    public IActionResult OnPostBind(long tagId, string? slice, bool share)
    {
        var part = string.IsNullOrWhiteSpace(slice) ? null : Slice.Parse(slice);
        return part is null && !string.IsNullOrWhiteSpace(slice)
            ? Refused($"'{slice}' is no part of a tag; write an element as [12], bits as .4 or .4-6, or both as [2].0-3.")
            : Change(cell => new Bind(cell.EquipmentId, cell.PropertyId, tagId, part, share));
    }

    /// <summary>Binds the selected cell to the tag that a text means: the one of this name, or the only one that matches. Where several do,
    /// nothing is bound.</summary>
    public IActionResult OnPostType(string? text)
    {
        Query.Filter = (text ?? "").Trim();
        Show();
        if (View.At is not { } at || Query.Filter.Length == 0)
            return Refused("Choose a cell and type part of a tag's name.");
        var cell = $"{at.Instance.Name} {at.Property.Name}";
        if (View.MeantTag is not { } tag)
            return Refused(
                View.Tags.Count == 0
                    ? $"{cell}: no tag matches '{Query.Filter}'; nothing is bound."
                    : $"{cell}: {View.Tags.Count}{(View.HasMoreTags ? " or more" : "")} tags match '{Query.Filter}'; "
                        + "nothing is bound. Go on typing, or choose one."
            );
        Query.Filter = null;
        return Change(c => new Bind(c.EquipmentId, c.PropertyId, tag.Id, null, false));
    }

    /// <summary>Declares a tag and binds the selected cell to it.</summary>
    public IActionResult OnPostDeclare()
    {
        var reader = new FormReader(Request.Form);
        if (reader.Id("ControllerId") is not { } id || !Model.Controllers.TryGetValue(id, out var controller))
            return Refused("Choose the controller the tag is of.");
        var (place, type) = (reader.Text("Address", TagAddress.Longest), RawTypes.Parse(reader.Text("Type")));
        var address = controller.Protocol.Rules().ReadAddress(place, out var problem);
        Form = reader.State();
        if (address is null)
            return Refused(problem ?? $"'{place}' is no address of {controller.Name}.");
        if (type is null)
            return Refused($"'{reader.Text("Type")}' is no type; write one such as int16, float32, bool or int16[8].");
        return Change(cell => new DeclareAndBind(
            cell.EquipmentId,
            cell.PropertyId,
            new(
                null,
                controller.Id,
                reader.Text("Name"),
                address,
                type.Value.Type,
                WordOrder.HighFirst,
                reader.Text("Description"),
                type.Value.Count
            )
        ));
    }

    /// <summary>Takes the tag off the selected cell, or the tags off all of its instance with its parts.</summary>
    public IActionResult OnPostUnbind(bool row) =>
        Change(cell =>
            row
                ? new UnbindMany([
                    .. Model.Index.Below(cell.EquipmentId).SelectMany(Model.Index.BoundOf).Select(b => (b.EquipmentId, b.PropertyId)),
                ])
                : new Unbind(cell.EquipmentId, cell.PropertyId)
        );

    /// <summary>Gives the selected cell and another each other's tags.</summary>
    public IActionResult OnPostSwap(string? other)
    {
        var marked = CellText.Read(other ?? Query.Mark);
        Query.Mark = null;
        return marked is { } with ? Change(cell => new SwapBindings(cell, with)) : Refused("Choose the other cell first.");
    }

    /// <summary>Goes on with the series that begins at the selected cell.</summary>
    public IActionResult OnPostFill()
    {
        Show();
        return Change(_ => new BindMany(View.Fill));
    }

    /// <summary>Binds what was pasted: tags line by line downwards from the selected cell, tabs go right.</summary>
    public IActionResult OnPostPaste(string? text)
    {
        Show();
        if (View.At is not { } at)
            return Refused("Choose the cell that the first line is for.");
        if (View.SectionOf(at.Instance) is not { } section)
            return Refused(
                $"{at.Instance.Name} is not shown any more{(Query.Only == "open" ? ", since nothing is open there" : "")}; show all "
                    + $"instances, or choose another cell."
            );
        var (lines, problems) = View.Pasted(text ?? "", section);
        if (problems.Count == 0)
            return Change(_ => new BindMany(lines), "Paste");
        Pasted = text ?? "";
        return Refused(string.Join(" ", problems));
    }

    /// <summary>Binds what was shown as proposed: for one cell, one property, or the window. What has changed since, and what was not
    /// shown, is not bound.</summary>
    /// <param name="column">Only this property.</param>
    /// <param name="one">Only this cell, whether proposed or held back.</param>
    /// <param name="shown">The proposals as they were shown.</param>
    /// <param name="everywhere">True for all windows, shown or not.</param>
    public IActionResult OnPostAccept(long? column, string? one, string? shown, bool everywhere)
    {
        Show();
        var (lines, left) = View.Accepted(shown ?? "", column, CellText.Read(one), everywhere);
        if (lines.IsEmpty)
            return Refused("Nothing of what was shown is proposed any more; the plant or the values have changed. Look again.");
        return Change(
            _ => new BindMany(lines),
            done: left > 0 ? $"; {left} that had changed since {(left == 1 ? "it was" : "they were")} shown left as they are" : ""
        );
    }

    /// <summary>Remembers that a proposed tag is not the right one, or forgets it.</summary>
    public IActionResult OnPostRefuse(long tagId, bool forget) =>
        Change(cell => new RefuseTags([new(cell.EquipmentId, cell.PropertyId, tagId)], forget));

    /// <summary>Keeps a naming rule with a template; an empty one takes out what was kept.</summary>
    public IActionResult OnPostRule(long templateId, long propertyId, TagFace face, string? rule) =>
        Change(_ => new KeepRule(templateId, propertyId, face, rule ?? ""));

    /// <summary>Lets a simulated source stand in for the tag of the selected cell, or hears the tag again.</summary>
    public IActionResult OnPostSimulate(SimulationShape? shape)
    {
        var reader = new FormReader(Request.Form);
        var (low, high) = (reader.Number("Low"), reader.Number("High"));
        var wrong = string.Join(" ", reader.State().Problems.Select(p => p.Message));
        return wrong.Length > 0 ? Refused(wrong) : Change(cell => new Simulate([cell], shape, low, high));
    }

    private PageResult Refused(string message)
    {
        Response.StatusCode = StatusCodes.Status422UnprocessableEntity;
        if (View is null)
            Show();
        Refusal = message;
        return Page();
    }

    private IActionResult Change(Func<(long EquipmentId, long PropertyId), Edit> edit, string what = "", string done = "")
    {
        var reader = new FormReader(Request.Form);
        return Do(
            edit(CellText.Read(Query.Cell) ?? (0, 0)),
            reader,
            _ =>
            {
                Done += done;
                return Redirect(Query.AddressOf(Query.Cell));
            },
            () =>
            {
                Show();
                Refusal = string.Join(
                    " ",
                    Form.Problems.Take(5)
                        .Select(p =>
                            what.Length > 0 && int.TryParse(p.Field, NumberStyles.None, CultureInfo.InvariantCulture, out var line)
                                ? $"Entry {line + 1}: {p.Message}"
                                : p.Message
                        )
                );
                Pasted = what.Length > 0 ? reader.Text("text", int.MaxValue) : "";
                return Page();
            }
        );
    }

    private void Show()
    {
        Query.Certainty = Math.Clamp(Query.Certainty, 1, 100);
        var asked = Query.Question(HttpMethods.IsGet(Request.Method) && !Query.Wait ? FirstPaint : null);
        View = MatrixView.Of(Model, asked, proposals, memory);
        Query.Settle(View);
    }
}
