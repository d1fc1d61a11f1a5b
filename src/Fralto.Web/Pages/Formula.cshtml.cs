using Fralto.Core.Formulas;
using Fralto.Core.Hierarchy;
using Fralto.Core.Pictures;
using Fralto.Core.Properties;
using Fralto.Core.Rules;
using Fralto.Web.Forms;
using Microsoft.AspNetCore.Mvc;

namespace Fralto.Web.Pages;

/// <summary>What a formula that is being typed amounts to, and the words it may go on with.</summary>
public sealed class FormulaModel : FraltoPage
{
    private const int MostWords = 12;
    private const int LongestWord = 80;

    /// <summary>The template or instance whose formula it is.</summary>
    [BindProperty(SupportsGet = true)]
    public long At { get; set; }

    /// <summary>The property; null for a new one.</summary>
    [BindProperty(SupportsGet = true)]
    public long? Property { get; set; }

    /// <summary>There is no page by itself.</summary>
    public IActionResult OnGet() => RedirectToPage("/Templates", new { at = Model.Templates.ContainsKey(At) ? At : (long?)null });

    /// <summary>What the formula of the form amounts to.</summary>
    public async Task<IActionResult> OnPostReportAsync()
    {
        var reader = new FormReader(Request.Form);
        if (PropertyOf(reader) is not { } property)
            return Content("");
        if (string.IsNullOrWhiteSpace(property.Facts.Formula))
            return property.Declaration.Kind == PropertyKind.Command ? Content("") : Partial("_FormulaWords", FormulaFunction.All);
        var windows = property.Id == 0 ? WindowSet.Of(property.Facts.Formula) : [];
        if (windows.Count > 0)
            property = property with { Facts = property.Facts with { Formula = windows[0].Formula } };
        var instances = Model.Equipment.TryGetValue(At, out var one) ? [one] : FormulaReport.InstancesOf(Model, At).ToArray();
        var running = await Runtime.AskAsync(
            (engine, now) =>
                instances
                    .Select(e => (e.Id, Point: engine.Plan.PointIndexOf(e.Id, property.Id)))
                    .Where(e => e.Point >= 0)
                    .Select(e => (e.Id, Reading: engine.StepsOf(e.Point, now)))
                    .Where(e => e.Reading is not null)
                    .ToDictionary(e => e.Id, e => e.Reading!)
        );
        var snapshot = Runtime.WorkingSnapshot;
        var report = FormulaReport.Of(
            Model,
            At,
            property,
            (equipment, its) => snapshot.Find(equipment, its)?.Value,
            id => running?.GetValueOrDefault(id)
        );
        return Partial(
            "_FormulaReport",
            new FormulaView(Model, property, report, UsesOf(property), UsersOf(property)) { Windows = [.. windows.Select(w => w.Length)] }
        );
    }

    /// <summary>Words the formula may go on with: properties first, then functions and words of the language.</summary>
    public IActionResult OnGetWords(string? q)
    {
        var typed = q is { Length: > 0 and < LongestWord } ? q : "";
        var names =
            Model.Equipment.TryGetValue(At, out var node) && node.TemplateId is not null ? FormulaNames.Of(Model, node)
            : Model.Templates.ContainsKey(At) ? FormulaNames.Of(Model, At)
            : null;
        var all = (names?.Known() ?? [])
            .Where(code => names!.TypeOf(new(ReferencePlace.Own, 0, code)) is not { Kind: FormulaKind.Text })
            .Select(code => new FormulaWord(
                code,
                names!.TypeOf(new(ReferencePlace.Own, 0, code))?.Words(Model.Units) ?? "",
                NameOf(names, code)
            ))
            .Concat(FormulaFunction.All.Select(f => new FormulaWord($"{f.Name}(", f.Example, f.Words)))
            .Concat(FormulaFunction.Keywords.Select(k => new FormulaWord(k.Word, "", k.Meaning)))
            .Concat(
                Model
                    .Templates.Values.OrderBy(t => t.Code, StringComparer.Ordinal)
                    .Select(t => new FormulaWord(t.Code, "", $"template {t.Name}"))
            );
        return Partial(
            "_FormulaOptions",
            all.Where(w => w.Text.StartsWith(typed, StringComparison.OrdinalIgnoreCase))
                .Concat(
                    all.Where(w =>
                        typed.Length > 1
                        && !w.Text.StartsWith(typed, StringComparison.OrdinalIgnoreCase)
                        && w.Text.Contains(typed, StringComparison.OrdinalIgnoreCase)
                    )
                )
                .DistinctBy(w => w.Text)
                .Take(MostWords)
                .ToArray()
        );
    }

    private static string NameOf(FormulaNames names, string code) => names.Find(new(ReferencePlace.Own, 0, code))?.Property.Name ?? "";

    /// <summary>The property as the form would make it; null when it is not calculated, or the layer is gone.</summary>
    private ResolvedProperty? PropertyOf(FormReader reader)
    {
        var isInstance = Model.Equipment.TryGetValue(At, out var node) && node.TemplateId is not null;
        if (!isInstance && !Model.Templates.ContainsKey(At))
            return null;
        var known = Model.Index.PropertiesOf(isInstance ? node!.TemplateId!.Value : At).FirstOrDefault(p => p.Id == Property);
        var (kind, type) =
            known is not null && (isInstance || known.DeclaredBy != At)
                ? (known.Declaration.Kind, known.Declaration.Type)
                : (reader.Choice<PropertyKind>("Kind"), reader.Choice<PropertyType>("Type"));
        if (kind is not (PropertyKind.Calculated or PropertyKind.Command))
            return null;
        var inherited =
            known is null ? PropertyPatch.Empty
            : isInstance ? known.Facts
            : Model.Index.InheritedOf(At, known);
        var said = FactFields.Read(Model, reader, kind, type, inherited);
        var code = reader.Text("Code") is { Length: > 0 } typed ? typed : known?.Code ?? "It";
        return new(
            new(known?.Id ?? 0, code, known?.Name ?? reader.Text("Name"), kind, type),
            known?.DeclaredBy ?? At,
            inherited.With(said),
            said
        );
    }

    private FormulaNeighbour[] UsesOf(ResolvedProperty property) =>
        [
            .. FormulaUses
                .UsesOf(Model, At, property)
                .Select(u => new FormulaNeighbour(
                    u.Property,
                    u.Reference,
                    $"/templates?at={u.Property.DeclaredBy}&property={u.Property.Id}",
                    [
                        .. FormulaUses
                            .UsesOf(Model, u.Property.DeclaredBy, u.Property)
                            .Select(s => new FormulaNeighbour(
                                s.Property,
                                s.Reference,
                                $"/templates?at={s.Property.DeclaredBy}&property={s.Property.Id}",
                                []
                            )),
                    ]
                )),
        ];

    private FormulaNeighbour[] UsersOf(ResolvedProperty property) =>
        property.Id == 0
            ? []
            :
            [
                .. FormulaUses
                    .UsersOf(Model, property.Id)
                    .Select(u => new FormulaNeighbour(
                        u.User,
                        u.Layer is Equipment e ? e.Name : Model.Templates[u.Layer.Id].Name,
                        u.Layer is Equipment
                            ? $"/plant?at={u.Layer.Id}&property={u.User.Id}"
                            : $"/templates?at={u.Layer.Id}&property={u.User.Id}",
                        []
                    )),
            ];
}
