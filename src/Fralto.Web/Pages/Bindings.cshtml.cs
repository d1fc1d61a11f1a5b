using System.Collections.Immutable;
using System.Globalization;
using Fralto.Core.Binding;
using Fralto.Core.Controllers;
using Fralto.Core.Edits;
using Fralto.Core.Plant;
using Fralto.Core.Scaling;
using Fralto.Core.Templates;
using Fralto.Web.Forms;
using Fralto.Web.Live;
using Microsoft.AspNetCore.Mvc;

namespace Fralto.Web.Pages;

/// <summary>The board: instances of a template by its properties, each cell a tag.</summary>
public sealed class BindingsModel : FraltoPage
{
    /// <summary>Most instances one page of the board shows.</summary>
    public const int PageSize = 100;

    /// <summary>Most templates shown side by side; the others are in a list.</summary>
    public const int MostChips = 16;

    private const int MostLookedAt = 50;

    private const int MostTags = 200;

    /// <summary>The template whose instances are shown.</summary>
    [BindProperty(SupportsGet = true)]
    public long? Template { get; set; }

    /// <summary>The selected cell: instance and property, joined by a point.</summary>
    [BindProperty(SupportsGet = true)]
    public string? Cell { get; set; }

    /// <summary>Part of a tag's name or description.</summary>
    [BindProperty(SupportsGet = true)]
    public string? Filter { get; set; }

    /// <summary>Page of the board, from 1.</summary>
    [BindProperty(SupportsGet = true)]
    public int Sheet { get; set; } = 1;

    public Template? Selected { get; private set; }

    /// <summary>Templates whose instances have something to bind; those with the most bindings first, then those with instances of their own.</summary>
    public IReadOnlyList<Template> Templates { get; private set; } = [];

    public ImmutableArray<ResolvedProperty> Columns { get; private set; } = [];

    /// <summary>Instances shown, grouped by the place above them.</summary>
    public IReadOnlyList<IGrouping<long, Equipment>> Rows { get; private set; } = [];

    public int Instances { get; private set; }

    public int Sheets => Math.Max(1, (Instances + PageSize - 1) / PageSize);

    public (Equipment Instance, ResolvedProperty Property)? At { get; private set; }

    public IReadOnlyList<(Tag Tag, string? Misfit, PropertyBinding? Used)> Tags { get; private set; } = [];

    public int UnusedTags { get; private set; }

    public override LiveScope Scope => Selected is null ? base.Scope : new(LiveScopeKind.Template, Selected.Id);

    public void OnGet() => Show();

    /// <summary>Binds the selected cell to a tag, or to the part of it that was typed.</summary>
    public IActionResult OnPostBind(long tagId, string? slice)
    {
        var part = string.IsNullOrWhiteSpace(slice) ? null : Slice.Parse(slice);
        return part is null && !string.IsNullOrWhiteSpace(slice)
            ? Change((_, _) => null, $"'{slice}' is no part of a tag; write an element as [12], bits as .4 or .4-6, or both as [2].0-3.")
            : Change((equipment, property) => new Bind(equipment, property, tagId, part));
    }

    public IActionResult OnPostUnbind() => Change((equipment, property) => new Unbind(equipment, property));

    /// <summary>Lets a simulated source stand in for the tag of the selected cell, or hears the tag again.</summary>
    public IActionResult OnPostSimulate(SimulationShape? shape)
    {
        var reader = new FormReader(Request.Form);
        var (low, high) = (reader.Number("Low"), reader.Number("High"));
        return Change((equipment, property) => new Simulate([(equipment, property)], shape, low, high), string.Join(" ", reader.State().Problems.Select(p => p.Message)));
    }

    private IActionResult Change(Func<long, long, Edit?> edit, string wrong = "")
    {
        var (equipment, property) = ParseCell(Cell) ?? (0, 0);
        var reader = new FormReader(Request.Form);
        if (wrong.Length > 0) reader.Refuse("Slice", wrong);
        return Do(
            edit(equipment, property) ?? new Unbind(0, 0), reader, _ => RedirectToPage(new { template = Template, cell = Cell, sheet = Sheet }),
            () =>
            {
                Show();
                Refusal ??= string.Join(" ", Form.Problems.Select(p => p.Message));
                return Page();
            });
    }

    private static (long Equipment, long Property)? ParseCell(string? cell) =>
        cell?.Split('.') is [var e, var p]
            && long.TryParse(e, NumberStyles.None, CultureInfo.InvariantCulture, out var equipment)
            && long.TryParse(p, NumberStyles.None, CultureInfo.InvariantCulture, out var property) ? (equipment, property) : null;

    private void Show()
    {
        Templates = [.. Model.Templates.Values
            .Where(t => Model.Index.PropertiesOf(t.Id).Any(p => p.TakesTag) && InstancesOf(t).Any())
            .OrderByDescending(t => Model.Index.InstancesOf(t.Id).Take(MostLookedAt).Sum(e => Model.Index.BoundCountOf(e.Id)))
            .ThenByDescending(t => Model.Index.InstanceCountOf(t.Id) > 0).ThenBy(t => t.Name, StringComparer.Ordinal)];
        Selected = Template is { } id ? Model.Templates.GetValueOrDefault(id) : Templates.Count > 0 ? Templates[0] : null;
        if (Selected is not { } selected) return;
        Template = selected.Id;
        Columns = [.. Model.Index.PropertiesOf(selected.Id).Where(p => p.TakesTag)];
        var instances = InstancesOf(selected).ToArray();
        Instances = instances.Length;
        if (ParseCell(Cell) is var (equipment, property) && instances.FirstOrDefault(e => e.Id == equipment) is { } instance && Columns.FirstOrDefault(p => p.Id == property) is { } column)
            At = (instance, column);
        Sheet = Math.Clamp(Sheet, 1, Sheets);
        Rows = [.. instances.Skip((Sheet - 1) * PageSize).Take(PageSize).GroupBy(e => e.ParentId ?? 0)];
        UnusedTags = Model.Tags.Count - Model.Index.UsedTagCount;
        Tags = [.. TagsFor(At?.Property)];
    }

    /// <summary>Instances of the template and of what inherits from it: they all have its properties.</summary>
    private IEnumerable<Equipment> InstancesOf(Template template) => Model.Index.FamilyOf(template.Id).SelectMany(t => Model.Index.InstancesOf(t.Id));

    /// <summary>True when part of a tag may be what the cell needs: an element of an array, or bits of a word.</summary>
    public bool TakesSlice(Tag tag) => tag.IsArray || (tag.Type.SliceableBits() > 0 && At?.Property.Declaration.Type is PropertyType.Boolean or PropertyType.State or PropertyType.Integer);

    /// <summary>Why no part of a tag fits; null when some part may.</summary>
    private string? FitOf(ResolvedProperty property, Tag tag)
    {
        var element = tag.IsArray ? 0 : (int?)null;
        return BindingRules.Misfit(Model, property, tag, element is null ? null : new(element)) is { } misfit
            && (tag.Type.SliceableBits() == 0 || BindingRules.Misfit(Model, property, tag, new(element, 0, property.Declaration.Type == PropertyType.Boolean ? 1 : 2)) is not null) ? misfit : null;
    }

    private IEnumerable<(Tag Tag, string? Misfit, PropertyBinding? Used)> TagsFor(ResolvedProperty? property) => Model.Tags.Values
        .Where(t => string.IsNullOrWhiteSpace(Filter) || t.Name.Contains(Filter, StringComparison.OrdinalIgnoreCase) || t.Description.Contains(Filter, StringComparison.OrdinalIgnoreCase))
        .Select(t => (Tag: t, Misfit: property is null ? null : FitOf(property, t), Used: Model.Index.BindingsOf(t.Id).FirstOrDefault()))
        .OrderBy(t => t.Misfit is not null).ThenBy(t => t.Used is not null).ThenBy(t => t.Tag.Name, StringComparer.OrdinalIgnoreCase)
        .Take(MostTags);
}
