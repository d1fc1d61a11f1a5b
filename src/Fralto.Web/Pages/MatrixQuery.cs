using System.Globalization;
using Fralto.Core.Proposals;
using Fralto.Runtime.Views;
using Fralto.Web.Forms;

namespace Fralto.Web.Pages;

/// <summary>What the address of the matrix says.</summary>
public sealed class MatrixQuery
{
    private const int UsualCertainty = (int)(ProposalQuestion.DefaultThreshold * 100);

    /// <summary>The template whose instances are shown.</summary>
    public long? Template { get; set; }

    /// <summary>The place whose instances of all templates are shown, in place of one template.</summary>
    public long? Place { get; set; }

    /// <summary>"open" for only the instances with something open.</summary>
    public string? Only { get; set; }

    /// <summary>True shows fixed, entered and calculated properties too.</summary>
    public bool All { get; set; }

    /// <summary>The selected cell: instance and property, joined by a point.</summary>
    public string? Cell { get; set; }

    /// <summary>A cell taken to be swapped with another.</summary>
    public string? Mark { get; set; }

    /// <summary>Part of a tag's name or description.</summary>
    public string? Filter { get; set; }

    /// <summary>Window of the matrix, from 1.</summary>
    public int ListPage { get; set; } = 1;

    /// <summary>Certainty from which a tag is proposed, in hundredths.</summary>
    public int Certainty { get; set; } = UsualCertainty;

    /// <summary>True lists the tags that have changed in the last seconds.</summary>
    public bool Moving { get; set; }

    /// <summary>True waits for proposals, however long they take; else a page that would have to wait is shown without them
    /// first.</summary>
    public bool Wait { get; set; }

    /// <summary>The question as the matrix takes it.</summary>
    /// <param name="patience">How long proposals are waited for; null for as long as they take.</param>
    public MatrixQuestion Question(TimeSpan? patience) =>
        new()
        {
            TemplateId = Template,
            PlaceId = Place,
            OnlyOpen = Only == "open",
            AllProperties = All,
            Window = ListPage,
            Threshold = Certainty / 100.0,
            Cell = CellText.Read(Cell),
            Mark = CellText.Read(Mark),
            Filter = Filter ?? "",
            Patience = patience,
        };

    /// <summary>Takes over what is shown, where the address asked for something that is not there.</summary>
    public void Settle(MatrixView view) => (Template, Place, ListPage) = (view.TemplateId, view.PlaceId, view.Window);

    /// <summary>The matrix as it is shown, for addresses and forms.</summary>
    /// <param name="cell">The cell that is selected there.</param>
    public Dictionary<string, string> Route(string? cell = null) =>
        new List<(string Key, string? Value)>
        {
            ("template", Place is null ? Template?.ToString(CultureInfo.InvariantCulture) : null),
            ("place", Place?.ToString(CultureInfo.InvariantCulture)),
            ("only", Only),
            ("all", All ? "true" : null),
            ("listPage", ListPage > 1 ? ListPage.ToString(CultureInfo.InvariantCulture) : null),
            ("certainty", Certainty == UsualCertainty ? null : Certainty.ToString(CultureInfo.InvariantCulture)),
            ("mark", Mark),
            ("cell", cell),
        }
            .Where(p => !string.IsNullOrEmpty(p.Value))
            .ToDictionary(p => p.Key, p => p.Value!);

    /// <summary>Address of the matrix with a change.</summary>
    /// <param name="cell">The cell that is selected there.</param>
    /// <param name="other">What is said otherwise; null or empty says it no longer.</param>
    public string AddressOf(string? cell = null, params (string Key, string? Value)[] other)
    {
        var route = Route(cell);
        foreach (var (key, value) in other)
        {
            route.Remove(key);
            if (!string.IsNullOrEmpty(value))
                route[key] = value;
        }
        return $"/bindings?{string.Join('&', route.Select(p => $"{p.Key}={Uri.EscapeDataString(p.Value)}"))}";
    }
}
