using Fralto.Core.Diagnosis;
using Fralto.Core.Planning;
using Fralto.Web.Listings;

namespace Fralto.Web.Pages;

/// <summary>Everything there is to say of the plant, as one list.</summary>
public sealed class FindingsModel(FindingCache findings) : ListingPage
{
    /// <summary>All findings.</summary>
    public IReadOnlyList<ModelFinding> All => _all ??= findings.All;

    private IReadOnlyList<ModelFinding>? _all;

    /// <summary>How many there are of each severity, in words.</summary>
    public string Summary
    {
        get
        {
            if (All.Count == 0)
                return "nothing is found";
            string Of(FindingSeverity severity, string one) =>
                All.Count(f => f.Finding.Severity == severity) is var count && count == 1 ? $"1 {one}" : $"{count} {one}s";
            return $"{Of(FindingSeverity.Error, "error")}, {Of(FindingSeverity.Warning, "warning")}, {Of(FindingSeverity.Hint, "hint")}";
        }
    }

    /// <inheritdoc/>
    protected override string ListingName => "findings";

    public void OnGet()
    {
        // The list reads itself.
    }

    /// <inheritdoc/>
    protected override IListing? MakeListing() =>
        new Listing<ModelFinding>(
            ListingName,
            "findings",
            () => All,
            All,
            f => f.Key,
            [
                new("severity", "Severity", f => f.Finding.Severity.ToString())
                {
                    IsFacet = true,
                    Width = "narrow",
                    Class = "severity",
                    Number = f => (int)f.Finding.Severity,
                },
                new("code", "Code", f => f.Finding.Code)
                {
                    IsFacet = true,
                    Width = "narrow",
                    Class = "num",
                    Cell = f => new(f.Finding.Code) { Href = $"/findings/kinds#{f.Finding.Code}", Title = f.Meaning.Title },
                },
                new("what", "What", f => f.Meaning.Title) { IsFacet = true },
                new("subject", "Of", f => f.Finding.Subject) { Cell = f => new(f.Finding.Subject) { Href = FindingPlace.Of(Model, f) } },
                new("words", "In words", f => f.Finding.Words) { Width = "wide" },
                new("place", "Place", f => f.PathIn(Model)) { Width = "wide" },
                new("above", "Area", f => AreaOf(f.PathIn(Model))) { IsFacet = true, IsAside = true },
            ]
        )
        {
            Page = "/findings",
            Empty = "There is nothing to say of this plant.",
        };

    /// <summary>The first places of a path, to choose by.</summary>
    private static string AreaOf(string path) => path.Length == 0 ? "no place" : string.Join('/', path.Split('/').Take(3));
}
