using Fralto.Core.Controllers;
using Fralto.Core.Edits;
using Fralto.Core.Protocols;
using Fralto.Links;
using Fralto.Web.Exchange;
using Fralto.Web.Forms;
using Fralto.Web.Live;
using Microsoft.AspNetCore.Mvc;
using Controller = Fralto.Core.Controllers.Controller;

namespace Fralto.Web.Pages;

/// <summary>What a controller tells of itself, to take tags from: one by one, a branch, or an array as a whole.</summary>
[RequestFormLimits(ValueCountLimit = 5000)]
public sealed class BrowseModel(RecentResults<BrowseResult> browsings) : FraltoPage
{
    /// <summary>Most lines shown.</summary>
    public const int MostShown = 1000;

    /// <summary>The controller.</summary>
    [BindProperty(SupportsGet = true)]
    public long At { get; set; }

    /// <summary>What to listen to, an MQTT topic filter.</summary>
    [BindProperty(SupportsGet = true)]
    public string? Listen { get; set; }

    /// <summary>Part of a path, a value or a description.</summary>
    [BindProperty(SupportsGet = true)]
    public string? Filter { get; set; }

    /// <summary>Names what was listed before.</summary>
    [BindProperty(SupportsGet = true)]
    public string? Token { get; set; }

    /// <summary>Names what was listed before, to go on from where it left off.</summary>
    [BindProperty(SupportsGet = true)]
    public string? On { get; set; }

    public Controller? Selected { get; private set; }

    public BrowseResult? Result { get; private set; }

    /// <summary>Lines of the tree: branches, and items that could become tags.</summary>
    public IReadOnlyList<(string[] Path, SourceItem? Item, Tag? Tag, int Below)> Lines { get; private set; } = [];

    /// <summary>How many match the filter.</summary>
    public int Count { get; private set; }

    /// <summary>Why something that was found cannot become a tag; null when it can.</summary>
    public string? WhyNot(SourceItem item) => item.Address.KeepingProblem();

    public override LiveScope Scope => base.Scope;

    public async Task<IActionResult> OnGetAsync()
    {
        if (!Find())
            return NotFound();
        var before = browsings.Find(On);
        if (browsings.Find(Token) is { } kept)
            Result = kept;
        else if (Selected!.Protocol.Rules().BrowseHint is null || Listen is not null)
        {
            Result = await Runtime.Links.BrowseAsync(
                At,
                new(string.IsNullOrWhiteSpace(Listen) ? "#" : Listen.Trim(), before?.Continuation),
                HttpContext.RequestAborted
            );
            Result = before?.With(Result) ?? Result;
            Token = browsings.Add(_ => Result);
        }
        Show();
        return Page();
    }

    /// <summary>Makes tags of what was chosen.</summary>
    public IActionResult OnPost([FromForm] string?[]? take, [FromForm] bool unfold)
    {
        if (!Find())
            return NotFound();
        var reader = new FormReader(Request.Form);
        Result = browsings.Find(Token);
        if (Result is null)
            reader.Refuse("", "What was listed is no longer kept; browse again.");
        var chosen = (take ?? []).OfType<string>().ToHashSet(StringComparer.Ordinal);
        // A branch ends with a slash and stands for all below it that is shown: what a filter hides nobody has ticked.
        var branches = chosen.Where(t => t.EndsWith('/')).ToArray();
        var items = Matching()
            .Where(i => chosen.Contains(i.Address.ToString()) || branches.Any(b => i.PathText.StartsWith(b, StringComparison.Ordinal)))
            .Where(i => WhyNot(i) is null);
        return Do(
            new DeclareTags(At, [.. items], unfold),
            reader,
            _ => RedirectToPage("/Controllers", new { at = At }),
            () =>
            {
                Show();
                Refusal ??= string.Join(" ", Form.Problems.Take(5).Select(p => p.Message));
                return Page();
            }
        );
    }

    private bool Find() => (Selected = Model.Controllers.GetValueOrDefault(At)) is not null;

    private SourceItem[] Matching()
    {
        bool Has(string text) => text.Contains(Filter!, StringComparison.OrdinalIgnoreCase);
        return
        [
            .. (Result?.Items ?? []).Where(i => string.IsNullOrWhiteSpace(Filter) || Has(i.PathText) || Has(i.Value) || Has(i.Description)),
        ];
    }

    private void Show()
    {
        if (Result is null)
            return;
        var declared = Model
            .Index.TagsOf(At)
            .GroupBy(t => t.Address.Place)
            .ToDictionary(g => g.Key, g => g.First(), StringComparer.Ordinal);
        var matching = Matching();
        Count = matching.Length;
        var below = matching
            .SelectMany(i => Enumerable.Range(1, i.Path.Count - 1).Select(n => string.Join('/', i.Path.Take(n)) + "/"))
            .GroupBy(p => p)
            .ToDictionary(g => g.Key, g => g.Count(), StringComparer.Ordinal);
        var lines = new List<(string[], SourceItem?, Tag?, int)>();
        string[] open = [];
        foreach (var item in matching)
        {
            if (lines.Count >= MostShown)
                break;
            var branch = item.Path.Take(item.Path.Count - 1).ToArray();
            var common = open.Zip(branch).TakeWhile(p => p.First == p.Second).Count();
            for (var n = common + 1; n <= branch.Length; n++)
                lines.Add((branch[..n], null, null, below[string.Join('/', branch.Take(n)) + "/"]));
            open = branch;
            lines.Add(([.. item.Path], item, declared.GetValueOrDefault(item.Address.Place), 0));
        }
        Lines = lines;
    }
}
