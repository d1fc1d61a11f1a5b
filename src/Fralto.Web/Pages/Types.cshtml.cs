using Fralto.Core.Edits;
using Fralto.Core.Exchange;
using Fralto.Links;
using Fralto.Web.Exchange;
using Fralto.Web.Forms;
using Microsoft.AspNetCore.Mvc;
using Controller = Fralto.Core.Controllers.Controller;

namespace Fralto.Web.Pages;

/// <summary>Object types of a server: what templates they would make, and their objects as equipment, bound in one action.</summary>
public sealed class TypesModel(RecentResults<TypeLibrary> libraries) : FraltoPage
{
    /// <summary>The controller.</summary>
    [BindProperty(SupportsGet = true)]
    public long At { get; set; }

    /// <summary>The type that is looked at.</summary>
    [BindProperty(SupportsGet = true)]
    public string? Node { get; set; }

    /// <summary>Names what was read of it.</summary>
    [BindProperty(SupportsGet = true)]
    public string? Token { get; set; }

    public Controller? Selected { get; private set; }

    /// <summary>The types there are.</summary>
    public IReadOnlyList<ServerType> All { get; private set; } = [];

    /// <summary>What was read of the type that is looked at.</summary>
    public TypeLibrary? Library { get; private set; }

    /// <summary>Why the server could not be asked.</summary>
    public string? Problem { get; private set; }

    public async Task<IActionResult> OnGetAsync()
    {
        if (!Find())
            return NotFound();
        if (Runtime.Links.TypesOf(At) is not { } source)
            Problem = Runtime.Links.StatusOf(At) is null
                ? "The link has not started yet; try again."
                : $"{Selected!.Name} knows no types of objects.";
        else
            try
            {
                All = await source.TypesAsync(HttpContext.RequestAborted);
                if (Node is not null)
                {
                    Library = libraries.Find(Token) ?? await source.LibraryAsync(Node, HttpContext.RequestAborted);
                    Token ??= libraries.Add(_ => Library);
                }
            }
            catch (LinkException e)
            {
                Problem = e.Message;
            }
        return Page();
    }

    /// <summary>Makes the templates, and the objects that were ticked as equipment below a place, with their tags and bindings.</summary>
    public async Task<IActionResult> OnPostAsync([FromForm] string[] take)
    {
        if (!Find())
            return NotFound();
        var reader = new FormReader(Request.Form);
        Library = libraries.Find(Token);
        if (Library is null)
            reader.Refuse("", "What was read is no longer kept; open the type again.");
        var place = PlaceField.Read(reader, "Place", Model);
        var taken = Library is null ? null : Library with { Objects = [.. Library.Objects.Where(o => take.Contains(o.Id))] };
        if (taken is { Objects.IsEmpty: false } && place is null && !reader.HasProblems)
            reader.Refuse("Place", "Say below which place the objects stand.");
        if (reader.HasProblems || taken is null)
        {
            Refusal = string.Join(" ", reader.State().Problems.Select(p => p.Message));
            return await Again();
        }
        var edit = new TakeLibrary(taken, place, At);
        var outcome = edit.On(Model);
        if (outcome.IsRefused)
        {
            Refusal = string.Join(" ", outcome.Problems.Take(5).Select(p => p.Message));
            return await Again();
        }
        return Do(edit, reader, done => Leave(done), () => Page());

        async Task<IActionResult> Again()
        {
            Form = reader.State();
            Response.StatusCode = StatusCodes.Status422UnprocessableEntity;
            var page = await OnGetAsync();
            return page;
        }
    }

    /// <summary>The template a type becomes where it is there already; null where it would be made.</summary>
    public Core.Templates.Template? Known(LibraryType type) =>
        Model.Templates.Values.FirstOrDefault(t => t.Code.Equals(TakeLibrary.CodeOf(type), StringComparison.OrdinalIgnoreCase));

    /// <summary>Places that equipment may be put below.</summary>
    public IEnumerable<string> Places =>
        Model
            .Equipment.Values.Where(e => e.TemplateId is null)
            .Select(e => Model.Index.PathOf(e.Id))
            .Order(StringComparer.Ordinal)
            .Take(500);

    private RedirectToPageResult Leave(EditOutcome done) =>
        done.Changes.Select(c => c.After).OfType<Core.Templates.Template>().LastOrDefault() is { } template
            ? RedirectToPage("/Bindings", new { template = template.Id })
            : RedirectToPage("/Controllers", new { at = At });

    private bool Find() => (Selected = Model.Controllers.GetValueOrDefault(At)) is not null;
}
