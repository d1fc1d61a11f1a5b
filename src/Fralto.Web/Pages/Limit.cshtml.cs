using Fralto.Core.Basics;
using Fralto.Core.Edits;
using Fralto.Core.Limits;
using Fralto.Core.Properties;
using Fralto.Core.Rules;
using Fralto.Web.Forms;
using Microsoft.AspNetCore.Mvc;

namespace Fralto.Web.Pages;

/// <summary>All that one layer says of one limit of a property.</summary>
public sealed class LimitModel : FraltoPage
{
    /// <summary>The template or instance.</summary>
    [BindProperty(SupportsGet = true)]
    public long At { get; set; }

    /// <summary>The property.</summary>
    [BindProperty(SupportsGet = true)]
    public long Property { get; set; }

    /// <summary>Code of the limit; empty for a new one.</summary>
    [BindProperty(SupportsGet = true)]
    public string? Limit { get; set; }

    /// <summary>Name of the layer.</summary>
    public string Layer => Model.Templates.GetValueOrDefault(At)?.Name ?? Model.Index.PathOf(At);

    /// <summary>True on an instance.</summary>
    public bool IsInstance => Model.Equipment.ContainsKey(At);

    /// <summary>The property with all that its layers say; null when it is no longer there.</summary>
    public ResolvedProperty? Resolved =>
        (
            Model.Templates.ContainsKey(At) ? Model.Index.PropertiesOf(At)
            : Model.Equipment.TryGetValue(At, out var node) && node.TemplateId is not null ? Model.Index.PropertiesOf(node)
            : []
        ).FirstOrDefault(p => p.Id == Property);

    /// <summary>True for a limit that is not there yet.</summary>
    public bool IsNew => string.IsNullOrEmpty(Limit);

    /// <summary>The level that is meant; null for another limit.</summary>
    public LimitCondition? Level => LimitConditions.Find(Limit);

    /// <summary>True where a layer above says something of it, which empty fields inherit.</summary>
    public bool IsRefined => Inherited != LimitPatch.Empty;

    /// <summary>What the layers above say of it.</summary>
    public LimitPatch Inherited
    {
        get
        {
            if (Resolved is not { } resolved || resolved.DeclaredBy == At)
                return LimitPatch.Empty;
            var facts = IsInstance
                ? Model.Index.PropertiesOf(Model.Equipment[At].TemplateId!.Value).First(p => p.Id == Property).Facts
                : Model.Index.InheritedOf(At, resolved);
            return SaysOf(facts) ?? LimitPatch.Empty;
        }
    }

    /// <summary>What is suggested to begin with; null where nothing is.</summary>
    public LimitSuggestion? Suggestion => LimitSuggestion.For(Model.Units.Find(Resolved?.Facts.Unit));

    /// <summary>Where one came from and goes back to.</summary>
    public string Back => IsInstance ? $"/plant?at={At}&property={Property}" : $"/templates?at={At}&property={Property}";

    public IActionResult OnGet()
    {
        if (Resolved is not { } resolved)
            return Redirect("/alarms/limits");
        Form = FormState.Of([.. LimitFields.Of(Limit ?? "", SaysOf(resolved.Own) ?? LimitPatch.Empty)]);
        return Page();
    }

    public IActionResult OnPost()
    {
        if (Resolved is not { } resolved)
            return Redirect("/alarms/limits");
        var reader = new FormReader(Request.Form);
        var code = IsNew
            ? reader.Text("Code") is { Length: > 0 } typed
                ? typed
                : Naming.Suggest(reader.Text("Kind"))
            : Limit!;
        var result = Do(
            new SaveLimit(At, resolved.Id, code, LimitFields.Read(reader, !IsNew && Level is not null), IsNew),
            reader,
            _ => Redirect(Back),
            Page
        );
        // What is wrong is said at its field, without what tells limits apart.
        Form = reader.State(Form.Problems.Select(p => new Problem(FieldOf(p.Field, code), Plain(p.Message, code))));
        return result;
    }

    public IActionResult OnPostRemove()
    {
        if (Resolved is null)
            return Redirect("/alarms/limits");
        var reader = new FormReader(Request.Form);
        return Do(new SaveLimit(At, Property, Limit ?? "", null), reader, _ => Redirect(Back), Page);
    }

    private LimitPatch? SaysOf(PropertyPatch facts) =>
        Level is { } level ? facts.Limits.GetValueOrDefault(level) : facts.Others.GetValueOrDefault(Limit ?? "");

    private static string Plain(string message, string code) =>
        message.StartsWith($"{code}: ", StringComparison.OrdinalIgnoreCase)
            ? char.ToUpperInvariant(message[code.Length + 2]) + message[(code.Length + 3)..]
            : message;

    private static string FieldOf(string field, string code)
    {
        var prefix = LimitFormulaRules.FieldOf(code, "");
        return field.StartsWith(prefix, StringComparison.OrdinalIgnoreCase) ? field[prefix.Length..] : field;
    }
}
