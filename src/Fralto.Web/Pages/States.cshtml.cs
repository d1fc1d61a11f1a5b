using System.Collections.Immutable;
using Fralto.Core.Edits;
using Fralto.Core.Exchange;
using Fralto.Core.Properties;
using Fralto.Core.Templates;
using Fralto.Web.Forms;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;

namespace Fralto.Web.Pages;

/// <summary>State lists: names for the values of integers.</summary>
public sealed class StatesModel : FraltoPage
{
    /// <summary>The list being changed; null while one is being added.</summary>
    [BindProperty(SupportsGet = true)]
    public long? At { get; set; }

    public StateList? Selected => At is { } at ? Model.StateLists.GetValueOrDefault(at) : null;

    /// <summary>How many properties a list names the states of.</summary>
    public int UsesOf(long id) => Users(id).Count();

    /// <summary>The properties a list names the states of, each with the template that says so.</summary>
    public IEnumerable<(Template Template, PropertyDeclaration Property)> Users(long id) =>
        Model
            .Templates.Values.OrderBy(t => t.Name, StringComparer.Ordinal)
            .SelectMany(t =>
                t.Patches.Where(p => p.Value.StateListId == id)
                    .Select(p => (t, Model.Index.PropertiesOf(t.Id).First(d => d.Id == p.Key).Declaration))
            );

    /// <summary>How many instances a change of the selected set reaches.</summary>
    public int Reach =>
        Selected is null
            ? 0
            : Users(Selected.Id)
                .SelectMany(u => Model.Index.FamilyOf(u.Template.Id))
                .DistinctBy(t => t.Id)
                .Sum(t => Model.Index.InstanceCountOf(t.Id));

    /// <summary>The code of a common list to begin with.</summary>
    [BindProperty(SupportsGet = true)]
    public string? From { get; set; }

    /// <summary>Common lists that the plant does not have yet.</summary>
    public IEnumerable<StateList> Common =>
        StateCatalogue.All.Where(c =>
            Model.StateLists.Values.All(s => s.Name != c.Name && !s.Code.Equals(c.Code, StringComparison.OrdinalIgnoreCase))
        );

    public void OnGet() =>
        Form = (Selected ?? StateCatalogue.All.FirstOrDefault(c => c.Code == From)) is { } set
            ? FormState.Of(("Id", Selected?.Id), ("Name", set.Name), ("Code", set.Code), ("States", StateText.Of(set.States)))
            : FormState.Empty;

    public IActionResult OnPostSave()
    {
        var reader = new FormReader(Request.Form);
        var name = reader.Text("Name");
        var code = reader.Text("Code") is { Length: > 0 } given ? given : Core.Basics.Naming.Suggest(name);
        var edit = new SaveStateList(reader.Id("Id"), code, name, ReadStates(reader));
        return Do(edit, reader, outcome => RedirectToPage(new { at = IdOf(outcome) }), Again);
    }

    public IActionResult OnPostRemove(long id) =>
        Do(new RemoveStateList(id), new FormReader(Request.Form), _ => RedirectToPage(new { }), Again);

    private static ImmutableArray<State> ReadStates(FormReader reader)
    {
        var states = StateText.Read(reader.Text("States"), out var problems);
        foreach (var problem in problems)
            reader.Refuse("States", problem);
        return states;
    }

    private PageResult Again() => Page();
}
