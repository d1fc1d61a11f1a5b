namespace Fralto.Web.Pages;

/// <summary>What each kind of finding means, why it matters and how it is mended.</summary>
public sealed class FindingKindsModel : FraltoPage
{
    public void OnGet()
    {
        // The page says what is known of all kinds.
    }
}
