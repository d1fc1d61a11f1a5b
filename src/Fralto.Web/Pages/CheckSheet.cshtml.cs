using Fralto.Core.Bindings;
using Fralto.Core.Controllers;
using Fralto.Core.Hierarchy;
using Fralto.Core.Properties;
using Microsoft.AspNetCore.Mvc;

namespace Fralto.Web.Pages;

/// <summary>The loop check of a place on paper: every binding with its tag, its signal and room for what was seen.</summary>
public sealed class CheckSheetModel : FraltoPage
{
    /// <summary>The most lines of a sheet.</summary>
    public const int Most = 2000;

    /// <summary>The place; null to choose one.</summary>
    [BindProperty(SupportsGet = true)]
    public long? At { get; set; }

    /// <summary>The place.</summary>
    public Equipment? Place => At is { } at ? Model.Equipment.GetValueOrDefault(at) : null;

    /// <summary>The lines: instance by instance in the order of the plant, property by property in the order of the template.</summary>
    public IReadOnlyList<(Equipment Node, ResolvedProperty Property, PropertyBinding Binding, Tag Tag)> Lines =>
        [
            .. Model
                .Index.Below(At)
                .Where(e => e.TemplateId is not null)
                .SelectMany(e => Model.Index.PropertiesOf(e).Select(p => (Node: e, Property: p)))
                .Select(l => (l.Node, l.Property, Binding: Model.Bindings.GetValueOrDefault((l.Node.Id, l.Property.Id))))
                .Where(l => l.Binding is not null)
                .Select(l => (l.Node, l.Property, l.Binding!, Model.Tags[l.Binding!.TagId]))
                .Take(Most),
        ];

    /// <summary>How many bindings of each place are checked, and by whom.</summary>
    public IEnumerable<(Equipment Place, int Checked, int All, string By)> Share =>
        AllPlaces
            .Select(p => (Place: p, Bound: Model.Index.Below(p.Id).SelectMany(Model.Index.BoundOf).ToArray()))
            .Where(p => p.Bound.Length > 0)
            .Select(p =>
                (
                    p.Place,
                    p.Bound.Count(b => b.Checked is not null),
                    p.Bound.Length,
                    string.Join(", ", p.Bound.Select(b => b.Checked?.By).OfType<string>().Distinct().Order(StringComparer.Ordinal).Take(4))
                )
            );

    public IActionResult OnGet() => At is not null && Place is null ? NotFound() : Page();
}
