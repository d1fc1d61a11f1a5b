using Fralto.Core.Exchange;
using Fralto.Core.Plant;
using Fralto.Web.Exchange;
using Microsoft.AspNetCore.Html;

namespace Fralto.Web.Listings;

/// <summary>What taking a file in would do, line by line, with the cells that are refused to be mended.</summary>
internal static class PreviewListing
{
    public const string Name = "preview";

    /// <summary>Lists the lines: what is refused first, then in the order of the file.</summary>
    /// <param name="model">The model.</param>
    /// <param name="waiting">The file.</param>
    /// <param name="page">The page's address.</param>
    /// <param name="antiforgery">What a form has to bring with it.</param>
    /// <param name="preview">Works out what taking it in would do.</param>
    public static Listing<(int Place, ImportLine Line)> Of(
        PlantModel model,
        PendingImport waiting,
        string page,
        string antiforgery,
        Func<ImportResult> preview
    )
    {
        var posts = $"{page}{(page.Contains('?', StringComparison.Ordinal) ? '&' : '?')}handler=";
        return new(
            Name,
            "lines",
            () => [.. preview().Lines.OrderBy(l => l.Outcome == ImportOutcome.Refused ? 0 : 1).Select((l, at) => (at, l))],
            (waiting, model),
            l => $"{l.Place}",
            [
                new("row", "Row", l => l.Line.Row == 0 ? "" : $"{l.Line.Row}")
                {
                    Class = "num",
                    IsRight = true,
                    Number = l => l.Line.Row,
                    IsSearched = false,
                    Width = "narrow",
                },
                new("outcome", "Would be", l => OutcomeOf(l.Line))
                {
                    IsFacet = true,
                    IsSearched = false,
                    Cell = l => new(OutcomeOf(l.Line)) { Class = l.Line.Outcome == ImportOutcome.Refused ? "problem" : "muted" },
                },
                new("what", "What", l => l.Line.Subject) { Class = "tag", Width = "wide" },
                new("column", "Column", l => l.Line.Column) { Class = "num", IsFacet = true },
                new("now", "Now", l => l.Line.Before) { Class = "muted" },
                new("then", "Then, or why not", l => $"{l.Line.After} {l.Line.Reason}".Trim())
                {
                    Width = "wide",
                    Class = "anywhere",
                    Cell = l => new($"{l.Line.After} {l.Line.Reason}".Trim()) { Content = Then(waiting, l.Line, posts, antiforgery) },
                },
            ]
        )
        {
            Page = $"{page}{(page.Contains('?', StringComparison.Ordinal) ? '&' : '?')}token={waiting.Token}",
            Empty = "The file says what is there already: nothing would change.",
        };
    }

    private static string OutcomeOf(ImportLine line) =>
        line.Outcome switch
        {
            ImportOutcome.Added => "+ added",
            ImportOutcome.Changed => line.Reason.Length > 0 ? "± changed, odd" : "± changed",
            ImportOutcome.TakenOut => "− taken out",
            _ => "refused",
        };

    private static IHtmlContent Then(PendingImport waiting, ImportLine line, string posts, string antiforgery)
    {
        if (line.Outcome != ImportOutcome.Refused)
            return line.Reason.Length == 0
                ? Html.Of($"{line.After}")
                : Html.Of($"{line.After} <span class=\"waits small\">△ {line.Reason}</span>");
        if (waiting.Draft is not { } draft || draft.Import.Table.RowOf(line.Row) is not (>= 0 and var at))
            return Html.Of($"<span class=\"num\">{line.After}</span> {line.Reason}");
        var column = draft.Import.ColumnOf(line);
        var hidden = Html.Of(
            $"""
            <input type="hidden" name="__RequestVerificationToken" value="{antiforgery}"><input type="hidden" name="token"
            value="{waiting.Token}"><input type="hidden" name="row" value="{line.Row}">
            """
        );
        var mend =
            column >= 0
                ? Html.Of([
                    Html.Of(
                        $"""
                        <form hx-post="{posts}Mend" hx-trigger="change, submit" hx-target="#import" hx-swap="outerHTML" class="inline">
                        """
                    ),
                    hidden,
                    Html.Of(
                        $"""
                        <input type="hidden" name="column" value="{column}"><input class="form-control form-control-sm num mend"
                        id="mend-{line.Row}-{column}" name="value" value="{draft.Import.Table.Cell(at, column)}"
                        aria-label="Row {line.Row}, {draft.Import.Table.Columns[column]}" autocomplete="off" spellcheck="false"></form>
                        """
                    ),
                ])
                : Html.Of($"<span class=\"num\">{line.After}</span>");
        return Html.Of([
            Html.Of($"<div class=\"line wraps\">"),
            mend,
            Html.Of(
                $"<span>{line.Reason}</span><form hx-post=\"{posts}Leave\" hx-target=\"#import\" hx-swap=\"outerHTML\" class=\"inline\">"
            ),
            hidden,
            Html.Of($"<button class=\"act\" aria-label=\"Leave out row {line.Row}\">leave out</button></form></div>"),
        ]);
    }
}
