using System.Globalization;
using Fralto.Core.Plant;
using Microsoft.AspNetCore.Mvc;

namespace Fralto.Web.Pages;

/// <summary>What a text finds, as the list under the header's field.</summary>
public sealed class FindModel : FraltoPage
{
    private const int Most = 12;

    [BindProperty(SupportsGet = true, Name = "q")]
    public string? Text { get; set; }

    public IReadOnlyList<Found> Results { get; private set; } = [];

    public void OnGet() => Results = Finder.Find(Model, Text ?? "", Most);

    /// <summary>Where a result leads.</summary>
    public static string AddressOf(Found found) =>
        string.Create(
            CultureInfo.InvariantCulture,
            $"{found.Kind switch
    {
        FoundKind.Equipment => $"/plant?at={found.Id}",
        FoundKind.Template => $"/templates?at={found.Id}",
        FoundKind.Scale => $"/scales?at={found.Id}",
        FoundKind.Property => $"/templates?at={found.OwnerId}&property={found.Id}",
        FoundKind.Value => $"/plant?at={found.OwnerId}&property={found.Id}",
        _ => $"/controllers?at={found.OwnerId}&filter={Uri.EscapeDataString(found.Name)}",
    }}"
        );
}
