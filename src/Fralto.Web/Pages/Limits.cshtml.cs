using Fralto.Core.Edits;
using Fralto.Core.Limits;
using Fralto.Core.Properties;
using Fralto.Core.Templates;
using Fralto.Web.Forms;
using Fralto.Web.Live;
using Microsoft.AspNetCore.Mvc;

namespace Fralto.Web.Pages;

/// <summary>One field of all limits of a template, as columns: a spreadsheet's column is pasted into them, and all of it is one
/// edit.</summary>
public sealed class LimitsModel : FraltoPage
{
    /// <summary>The template.</summary>
    [BindProperty(SupportsGet = true)]
    public long At { get; set; }

    /// <summary>The field.</summary>
    [BindProperty(SupportsGet = true)]
    public LimitField What { get; set; }

    /// <summary>The template; null when it is no longer there.</summary>
    public Template? Template => Model.Templates.GetValueOrDefault(At);

    /// <summary>The properties that have limits.</summary>
    public IEnumerable<ResolvedProperty> Properties =>
        Template is null
            ? []
            : Model.Index.PropertiesOf(At).Where(p => p.Declaration.Type.IsNumeric() && p.Declaration.Kind != PropertyKind.Fixed);

    /// <summary>The fields in words.</summary>
    public static IEnumerable<(LimitField Field, string Words)> Fields =>
        [
            (LimitField.Setpoint, "setpoint"),
            (LimitField.Deadband, "deadband"),
            (LimitField.Priority, "priority"),
            (LimitField.OnDelay, "on-delay, s"),
            (LimitField.OffDelay, "off-delay, s"),
        ];

    /// <summary>Name of the field of a limit.</summary>
    /// <param name="property">The property.</param>
    /// <param name="condition">The limit.</param>
    public static string NameOf(ResolvedProperty property, LimitCondition condition) => ChangeLimits.FieldOf(property.Id, condition);

    /// <summary>What an empty field inherits; null for nothing.</summary>
    /// <param name="property">The property.</param>
    /// <param name="condition">The limit.</param>
    public string? InheritedOf(ResolvedProperty property, LimitCondition condition) =>
        Model.Index.InheritedOf(At, property).Limits.TryGetValue(condition, out var its) ? ValueText.Plain(Of(its)) : null;

    public IActionResult OnGet()
    {
        if (Template is null)
            return Redirect("/templates");
        What = Enum.IsDefined(What) ? What : LimitField.Setpoint;
        Form = FormState.Of(
            from property in Properties
            from condition in LimitConditions.All
            where property.Own.Limits.ContainsKey(condition)
            select (NameOf(property, condition), (object?)ValueText.Plain(Of(property.Own.Limits[condition])))
        );
        return Page();
    }

    public IActionResult OnPost()
    {
        if (Template is null)
            return Redirect("/templates");
        var reader = new FormReader(Request.Form);
        return Do(Read(reader), reader, _ => RedirectToPage(new { at = At, what = What }), Page);
    }

    /// <summary>What the form as it stands would do.</summary>
    public IActionResult OnPostEffect()
    {
        if (Template is null)
            return NotFound();
        var reader = new FormReader(Request.Form);
        var outcome = Read(reader).On(Model);
        if (reader.HasProblems || outcome.IsRefused)
            return Content((reader.State().Problems.FirstOrDefault() ?? outcome.Problems[0]).Message);
        var next = Model.Apply(outcome.Changes);
        var reached = Model
            .Index.FamilyOf(At)
            .SelectMany(t => Model.Index.InstancesOf(t.Id))
            .Count(e =>
                Model.Index.PropertiesOf(e).Zip(next.Index.PropertiesOf(next.Equipment[e.Id])).Any(p => p.First.Facts != p.Second.Facts)
            );
        return Content($"{outcome.Summary}; reaches {(reached == 1 ? "1 instance" : $"{reached} instances")}");
    }

    private ChangeLimits Read(FormReader reader)
    {
        var values = new List<ChangeLimits.Value>();
        foreach (var property in Properties)
        foreach (var condition in LimitConditions.All)
        {
            var name = NameOf(property, condition);
            if (!reader.Has(name))
                continue;
            var value = reader.Number(name);
            if (What == LimitField.Priority && value is { } p && p is not (1 or 2 or 3 or 4))
                reader.Refuse(name, "A priority is 1, 2, 3 or 4.");
            values.Add(new(property.Id, condition, value));
        }
        return new(At, What, [.. values]);
    }

    private double? Of(LimitPatch limit) =>
        What switch
        {
            LimitField.Setpoint => limit.Setpoint,
            LimitField.Deadband => limit.Deadband,
            LimitField.Priority => limit.Priority,
            LimitField.OnDelay => limit.OnDelay,
            _ => limit.OffDelay,
        };
}
