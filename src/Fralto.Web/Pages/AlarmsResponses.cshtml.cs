using System.Collections.Immutable;
using Fralto.Core.Edits;
using Fralto.Core.Limits;
using Fralto.Web.Forms;
using Microsoft.AspNetCore.Mvc;

namespace Fralto.Web.Pages;

/// <summary>What alarms set off: named once, then named by limits, or by priority and label.</summary>
public sealed class AlarmsResponsesModel : FraltoPage
{
    /// <summary>True while a new one is written.</summary>
    [BindProperty(SupportsGet = true)]
    public bool Add { get; set; }

    /// <summary>The response that is open; null for none.</summary>
    [BindProperty(SupportsGet = true)]
    public string? Open { get; set; }

    /// <summary>What a response can do.</summary>
    public static IEnumerable<(string Value, string Text)> Kinds { get; } =
    [
        (nameof(ResponseKind.Call), "calls an HTTP address"),
        (nameof(ResponseKind.Write), "writes a command property"),
        (nameof(ResponseKind.Publish), "publishes to a broker"),
    ];

    /// <summary>The response that is open as it is kept; null for a new one.</summary>
    public AlarmResponse? Known => Model.Responses.FirstOrDefault(r => r.Name == Open);

    /// <summary>How many limits name it.</summary>
    public int UsesOf(AlarmResponse response) =>
        Model
            .Templates.Values.SelectMany(t => t.Patches.Values)
            .Concat(Model.Equipment.Values.Where(e => !e.Patches.IsEmpty).SelectMany(e => e.Patches.Values))
            .SelectMany(p => p.Limits.Values.Concat(p.Others.Values))
            .Count(l =>
                (l.Responses ?? "").Split(',', StringSplitOptions.TrimEntries).Contains(response.Name, StringComparer.OrdinalIgnoreCase)
            );

    public void OnGet()
    {
        if (Known is { } known)
            Form = FormState.Of(
                ("Name", known.Name),
                ("Kind", known.Kind),
                ("Target", known.Target),
                ("Text", known.Text),
                ("ClearText", known.ClearText),
                ("Priorities", string.Join(", ", known.Priorities)),
                ("Label", known.Label)
            );
    }

    public IActionResult OnPostSave()
    {
        var reader = new FormReader(Request.Form);
        var priorities = new List<int>();
        foreach (var text in reader.Text("Priorities").Split(',', StringSplitOptions.RemoveEmptyEntries | StringSplitOptions.TrimEntries))
            if (text is "1" or "2" or "3" or "4")
                priorities.Add(text[0] - '0');
            else
                reader.Refuse("Priorities", "Priorities are 1 to 4, with commas between them.");
        var response = new AlarmResponse(
            reader.Text("Name"),
            reader.Choice<ResponseKind>("Kind"),
            reader.Text("Target"),
            reader.Text("Text").ReplaceLineEndings("\n")
        )
        {
            ClearText = reader.Text("ClearText").ReplaceLineEndings("\n") is { Length: > 0 } clear ? clear : null,
            Priorities = [.. priorities.Distinct().Order()],
            Label = reader.Text("Label") is { Length: > 0 } label ? label : null,
        };
        var all = Known is { } known ? Model.Responses.Replace(known, response) : Model.Responses.Add(response);
        return Do(new SaveResponses(all), reader, _ => RedirectToPage(new { open = (string?)null, add = (bool?)null }), Again);
    }

    public IActionResult OnPostRemove() =>
        Do(
            new SaveResponses(Known is { } known ? Model.Responses.Remove(known) : Model.Responses),
            new FormReader(Request.Form),
            _ => RedirectToPage(new { open = (string?)null, add = (bool?)null }),
            Again
        );

    private IActionResult Again()
    {
        Refusal = string.Join(" ", Form.Problems.Where(p => p.Field == "Responses").Select(p => p.Message)) is { Length: > 0 } text
            ? text
            : null;
        Add = Known is null;
        return Page();
    }
}
