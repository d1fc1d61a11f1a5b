using Fralto.Core.Rules;

namespace Fralto.Web.Pages;

/// <summary>What could not be read when Fralto started.</summary>
public sealed class LeftOutModel : FraltoPage
{
    /// <summary>The finding's stable code.</summary>
    public const string Code = "FR109";

    private const int MostShown = 500;

    public IEnumerable<SetAside> Shown => Workspace.Aside.Take(MostShown);

    public void OnGet()
    {
        // The page shows what was found at the start.
    }
}
