using System.Collections.Immutable;
using Fralto.Core.Basics;
using Fralto.Core.Diagnosis;
using Fralto.Core.Edits;
using Fralto.Core.Hierarchy;
using Fralto.Web.Forms;
using Microsoft.AspNetCore.Mvc;

namespace Fralto.Web.Pages;

/// <summary>How codes and names are written in this plant.</summary>
public sealed class CodesModel : FraltoPage
{
    private const string OfNames = " name";

    /// <summary>Places whose code or name is written otherwise.</summary>
    public IReadOnlyList<(Equipment Node, bool IsName, string Meant)> Apart => _apart ??= [.. ModelFindings.WrittenApart(Model)];

    private IReadOnlyList<(Equipment Node, bool IsName, string Meant)>? _apart;

    /// <summary>The findings to look at: of codes, or of names where only those are written otherwise.</summary>
    public string Shown => Apart.Any(a => !a.IsName) ? ModelFindings.CodeApart : ModelFindings.NameWrittenApart;

    public void OnGet() =>
        Form = FormState.Of(
            (
                "Patterns",
                string.Join(
                    '\n',
                    Model
                        .NamingConventions.Values.OrderBy(p => p.Id)
                        .Select(p =>
                            $"{(p.TemplateId is { } id ? Model.Templates[id].Code : LevelRules.NameOf(p.Level!.Value))}"
                            + $"{(p.IsOfNames ? OfNames : "")}: {p.Text}"
                        )
                )
            )
        );

    public IActionResult OnPostSave()
    {
        var reader = new FormReader(Request.Form);
        var patterns = ImmutableArray.CreateBuilder<(EquipmentLevel? Level, long? TemplateId, bool IsOfNames, string Text)>();
        foreach (var line in reader.Text("Patterns").Split('\n', StringSplitOptions.RemoveEmptyEntries | StringSplitOptions.TrimEntries))
        {
            var colon = line.IndexOf(':', StringComparison.Ordinal);
            if (colon < 0)
            {
                reader.Refuse("Patterns", $"'{line}' says no pattern; write what it is of, a colon and the pattern: unit: K#.");
                continue;
            }
            var (of, text) = (line[..colon].Trim(), line[(colon + 1)..].Trim());
            var isOfNames = of.EndsWith(OfNames, StringComparison.OrdinalIgnoreCase);
            if (isOfNames)
                of = of[..^OfNames.Length].Trim();
            if (NamingConvention.Problem(isOfNames, text) is { } wrong)
                reader.Refuse("Patterns", $"'{line}': {wrong}");
            else if (Model.Templates.Values.FirstOrDefault(t => t.Code.Equals(of, StringComparison.OrdinalIgnoreCase)) is { } template)
                patterns.Add((null, template.Id, isOfNames, text));
            else if (
                LevelRules.FromTheTop.Where(l => LevelRules.NameOf(l).Equals(of, StringComparison.OrdinalIgnoreCase)).ToArray()
                is [var level]
            )
                patterns.Add((level, null, isOfNames, text));
            else
                reader.Refuse(
                    "Patterns",
                    $"'{of}' is no level and no code of a template. Levels: "
                        + $"{string.Join(", ", LevelRules.FromTheTop.Select(LevelRules.NameOf))}."
                );
        }
        return Do(new SaveNamingConventions(patterns.ToImmutable()), reader, _ => RedirectToPage(), Page);
    }
}
