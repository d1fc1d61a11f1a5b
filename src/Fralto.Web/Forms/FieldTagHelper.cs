using System.Globalization;
using System.Text.Encodings.Web;
using Microsoft.AspNetCore.Razor.TagHelpers;

namespace Fralto.Web.Forms;

/// <summary>A labelled field with its problem beneath it: &lt;field state="form" name="Port" label="Port" /&gt;.</summary>
[HtmlTargetElement("field", TagStructure = TagStructure.NormalOrSelfClosing)]
public sealed class FieldTagHelper : TagHelper
{
    /// <summary>The form it belongs to.</summary>
    public FormState State { get; set; } = FormState.Empty;

    /// <summary>Name of the field.</summary>
    public string Name { get; set; } = "";

    /// <summary>What stands above it.</summary>
    public string Label { get; set; } = "";

    /// <summary>A line beneath it; a problem takes its place.</summary>
    public string? Hint { get; set; }

    /// <summary>Makes it a choice: value and text of each option.</summary>
    public IEnumerable<(string Value, string Text)>? Options { get; set; }

    /// <summary>More than one makes it a text of so many lines.</summary>
    public int Lines { get; set; } = 1;

    /// <summary>Id of a list of suggestions; "units" searches the catalogue of units, and an address is asked with what is
    /// typed.</summary>
    public string? Suggest { get; set; }

    /// <summary>What it holds: text, number for the monospaced, decimal keyboard, or password, which is not shown.</summary>
    public string Holds { get; set; } = "text";

    /// <summary>Keeps ids apart when the same form stands twice on a page.</summary>
    public string Prefix { get; set; } = "f";

    /// <summary>What an empty field amounts to, shown faintly in it.</summary>
    public string? Otherwise { get; set; }

    /// <summary>Puts the cursor here when the page opens.</summary>
    public bool Focus { get; set; }

    public override void Process(TagHelperContext context, TagHelperOutput output)
    {
        var encode = HtmlEncoder.Default;
        var id = $"{Prefix}-{Name}";
        var problem = State.ProblemOf(Name);
        var value = State[Name];
        // A password that was typed is in no page, not even in the one that refuses the form.
        var isTaken = Holds == "password" && value.Length > 0 && value != ConnectionFields.HiddenPassword;
        if (isTaken)
            value = "";
        var note = problem ?? (isTaken ? "type it again: what was typed is not shown" : Hint);
        output.TagName = "div";
        output.TagMode = TagMode.StartTagAndEndTag;
        output.Attributes.SetAttribute("class", problem is null ? "field" : "field wrong");

        var common =
            $"id=\"{encode.Encode(id)}\" name=\"{encode.Encode(Name)}\"{(Focus ? " autofocus" : "")}"
            + (note is null ? "" : $" aria-describedby=\"{encode.Encode(id)}-note\"")
            + (problem is null ? "" : " aria-invalid=\"true\"");
        string OptionOf((string Value, string Text) o) =>
            $"<option value=\"{encode.Encode(o.Value)}\"{(o.Value == value ? " selected" : "")}>{encode.Encode(o.Text)}</option>";
        var control =
            Options is not null
                ? $"<select class=\"form-select form-select-sm\" " + $"{common}>{string.Concat(Options.Select(OptionOf))}</select>"
            : Lines > 1
                ? $"<textarea class=\"form-control form-control-sm\" rows=\"{Lines.ToString(CultureInfo.InvariantCulture)}\" "
                    + $"{common}>\n{encode.Encode(value)}</textarea>"
            : $"<input class=\"form-control form-control-sm{(Holds == "number" ? " num" : "")}\" "
                + $"autocomplete=\"{(Holds == "password" ? "new-password" : "off")}\"{(Holds == "password" ? " type=\"password\"" : "")} "
                + $"spellcheck=\"false\" {common} value=\"{encode.Encode(value)}\""
                + (Holds == "number" ? " inputmode=\"decimal\"" : "")
                + (Otherwise is null ? "" : $" placeholder=\"{encode.Encode(Otherwise)}\"")
                + (
                    Suggest is null ? ""
                    : Suggest == "units" ? Proposing("/units?handler=Suggest&q=", "Units")
                    : Suggest.StartsWith('/') ? Proposing(Suggest, Label)
                    : $" list=\"{encode.Encode(Suggest)}\""
                )
                + " />";
        output.Content.SetHtmlContent(
            $"<label for=\"{encode.Encode(id)}\">{encode.Encode(Label)}</label>{control}"
                + (
                    note is null
                        ? ""
                        : $"<small id=\"{encode.Encode(id)}-note\" "
                            + $"class=\"{(problem is null ? "hint" : "problem")}\">{encode.Encode(note)}</small>"
                )
        );
    }

    private static string Proposing(string address, string label) =>
        $" role=\"combobox\" aria-autocomplete=\"list\" aria-expanded=\"false\" data-suggest=\"{HtmlEncoder.Default.Encode(address)}\" "
        + $"data-suggest-label=\"{HtmlEncoder.Default.Encode(label)}\"";
}
