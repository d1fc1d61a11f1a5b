using System.Collections.Immutable;
using System.Globalization;
using Fralto.Core.Edits;
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

    public void OnGet() =>
        Form = Selected is { } set
            ? FormState.Of(
                ("Id", set.Id),
                ("Name", set.Name),
                ("Code", set.Code),
                ("States", string.Join("\n", set.States.Select(s => $"{s.Value} {s.Name}")))
            )
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
        var states = ImmutableArray.CreateBuilder<State>();
        var lines = reader.Text("States").Split('\n', StringSplitOptions.TrimEntries);
        for (var i = 0; i < lines.Length; i++)
        {
            if (lines[i].Length == 0)
                continue;
            var parts = lines[i].Split(' ', 2, StringSplitOptions.TrimEntries);
            if (parts.Length == 2 && int.TryParse(parts[0], NumberStyles.AllowLeadingSign, CultureInfo.InvariantCulture, out var value))
                states.Add(new(value, parts[1]));
            else
                reader.Refuse("States", $"Line {i + 1}, '{lines[i]}', is not a whole number, a space and a name.");
        }
        return states.ToImmutable();
    }

    private PageResult Again() => Page();
}
