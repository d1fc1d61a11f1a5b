using System.Collections.Immutable;
using System.Globalization;
using Fralto.Core.Binding;
using Fralto.Core.Edits;
using Fralto.Core.Plant;
using Fralto.Core.Templates;
using Fralto.Web.Forms;
using Fralto.Web.Live;
using Microsoft.AspNetCore.Mvc;

namespace Fralto.Web.Pages;

/// <summary>The bindings a commissioning team has to look at: those that look wrong first, then what nobody has checked since it was bound.</summary>
public sealed class ChecksModel(ProposalDesk desk, TimeProvider clock) : FraltoPage
{
    /// <summary>Most bindings one page shows.</summary>
    public const int PageSize = 100;

    /// <summary>Only bindings of this template and of what inherits from it.</summary>
    [BindProperty(SupportsGet = true)]
    public long? Template { get; set; }

    /// <summary>Only bindings below this place.</summary>
    [BindProperty(SupportsGet = true)]
    public long? Place { get; set; }

    /// <summary>"wrong" for what looks wrong, "all" with what is checked; otherwise what is left to check.</summary>
    [BindProperty(SupportsGet = true)]
    public string? Show { get; set; }

    /// <summary>Page, from 1.</summary>
    [BindProperty(SupportsGet = true)]
    public int Sheet { get; set; } = 1;

    public IReadOnlyList<Line> Lines { get; private set; } = [];

    public IReadOnlyList<Template> Templates { get; private set; } = [];

    /// <summary>How many bindings there are here, are left to check, and look wrong.</summary>
    public (int All, int Left, int Wrong) Count { get; private set; }

    public int Shown { get; private set; }

    public int Sheets => Math.Max(1, (Shown + PageSize - 1) / PageSize);

    public override LiveScope Scope => new(LiveScopeKind.Check, Place ?? Template ?? 0);

    public void OnGet() => List();

    /// <summary>Marks the ticked bindings as checked, or asks for another check.</summary>
    public IActionResult OnPost(string?[]? cells, bool again)
    {
        var chosen = (cells ?? []).OfType<string>().Select(c => c.Split('.')).Where(c => c.Length == 2).Select(c => (long.TryParse(c[0], NumberStyles.None, CultureInfo.InvariantCulture, out var e) ? e : 0, long.TryParse(c[1], NumberStyles.None, CultureInfo.InvariantCulture, out var p) ? p : 0)).ToImmutableArray();
        IActionResult Again()
        {
            List();
            return Page();
        }
        if (!chosen.IsEmpty) return Do(new MarkChecked(chosen, again ? null : new(ModelWorkspace.LocalUser, clock.GetUtcNow())), new FormReader(Request.Form), _ => Redirect(Link()), Again);
        Response.StatusCode = StatusCodes.Status422UnprocessableEntity;
        Refusal = "Tick the bindings you have looked at.";
        return Again();
    }

    /// <summary>Address of this list with a change.</summary>
    public string Link(params (string Key, string? Value)[] other)
    {
        var route = new Dictionary<string, string?> { ["template"] = Template?.ToString(CultureInfo.InvariantCulture), ["place"] = Place?.ToString(CultureInfo.InvariantCulture), ["show"] = Show, ["sheet"] = Sheet > 1 ? Sheet.ToString(CultureInfo.InvariantCulture) : null };
        foreach (var (key, value) in other) route[key] = value;
        return $"/checks?{string.Join('&', route.Where(r => !string.IsNullOrEmpty(r.Value)).Select(r => $"{r.Key}={Uri.EscapeDataString(r.Value!)}"))}";
    }

    private void List()
    {
        Templates = [.. Model.Templates.Values.Where(t => Model.Index.FamilyOf(t.Id).SelectMany(f => Model.Index.InstancesOf(f.Id)).Any(e => Model.Index.BoundCountOf(e.Id) > 0)).OrderBy(t => t.Name, StringComparer.Ordinal)];
        var below = Place is { } place && Model.Equipment.ContainsKey(place) ? Model.Index.Below(place).Select(e => e.Id).ToHashSet() : null;
        var families = Template is { } template && Model.Templates.ContainsKey(template) ? Model.Index.FamilyOf(template).Select(t => t.Id).ToHashSet() : null;
        var doubts = desk.Doubts(Model, families).ToLookup(d => (d.EquipmentId, d.PropertyId));
        var order = 0;
        var all = Model.Index.EquipmentInOrder.Where(e => e.TemplateId is { } t && families?.Contains(t) != false && below?.Contains(e.Id) != false)
            .SelectMany(e => Model.Index.BoundOf(e).Select(b => new Line(e, Model.Index.PropertiesOf(e).First(p => p.Id == b.PropertyId), b, [.. doubts[(e.Id, b.PropertyId)]], order++))).ToArray();
        Count = (all.Length, all.Count(l => l.Binding.Checked is null), all.Count(l => l.Doubts.Count > 0));
        var shown = all.Where(l => Show switch { "all" => true, "wrong" => l.Doubts.Count > 0, _ => l.Binding.Checked is null })
            .OrderBy(l => l.Doubts.Count == 0).ThenBy(l => l.Doubts.Count == 0 ? 0 : (int)l.Doubts[0].Kind).ThenBy(l => l.Order).ToArray();
        Shown = shown.Length;
        Sheet = Math.Clamp(Sheet, 1, Sheets);
        Lines = [.. shown.Skip((Sheet - 1) * PageSize).Take(PageSize)];
    }

    /// <summary>A binding to look at.</summary>
    /// <param name="Instance">The instance.</param>
    /// <param name="Property">The property.</param>
    /// <param name="Binding">The binding.</param>
    /// <param name="Doubts">What looks wrong, the gravest first.</param>
    /// <param name="Order">Its place in the plant.</param>
    public sealed record Line(Equipment Instance, ResolvedProperty Property, PropertyBinding Binding, IReadOnlyList<BindingDoubt> Doubts, int Order);
}
