using Fralto.Core.Controllers;
using Fralto.Core.Mqtt;
using Fralto.Core.Quality;
using Fralto.Core.Scaling;
using Fralto.Links;
using Fralto.Web.Exchange;

namespace Fralto.Web.Tests;

/// <summary>A look through a controller that goes on while nobody waits for it.</summary>
public sealed class BrowsingTests
{
    private static readonly SourceItem One = Item("a"),
        Two = Item("b");

    [Fact]
    public async Task It_says_how_far_it_is_until_it_has_ended()
    {
        var answer = new TaskCompletionSource<BrowseResult>();
        BrowseRequest? asked = null;
        var browsing = new Browsing(
            request =>
            {
                asked = request;
                return answer.Task;
            },
            new("here", "there"),
            null,
            TimeProvider.System
        );
        (browsing.Found, browsing.Result).ShouldBe((0, null));
        (asked!.Filter, asked.Continuation).ShouldBe(("here", "there"));
        asked.Found!(12);
        browsing.Found.ShouldBe(12);
        asked.Enough.IsCancellationRequested.ShouldBeFalse();
        browsing.Stop();
        asked.Enough.IsCancellationRequested.ShouldBeTrue();
        answer.SetResult(new([One]));
        (await browsing.Ended).Items.ShouldBe([One]);
        browsing.Result.ShouldNotBeNull();
    }

    [Fact]
    public async Task Going_on_adds_to_what_was_found_and_keeps_it_where_it_fails()
    {
        var before = new BrowseResult([One], null, "on");
        var more = new Browsing(_ => Task.FromResult(new BrowseResult([Two])), new(""), before, TimeProvider.System);
        (await more.Ended).Items.ShouldBe([One, Two]);
        var failed = new Browsing(
            _ => Task.FromException<BrowseResult>(new LinkException(StatusCode.BadTimeout, "it did not answer")),
            new(""),
            before,
            TimeProvider.System
        );
        var kept = await failed.Ended;
        (kept.Items.Single(), kept.Problem, kept.Continuation).ShouldBe((One, "it did not answer", "on"));
        var stopped = new Browsing(
            _ => Task.FromException<BrowseResult>(new ObjectDisposedException("link")),
            new(""),
            null,
            TimeProvider.System
        );
        (await stopped.Ended).Problem.ShouldNotBeNull().ShouldContain("browse again");
    }

    private static SourceItem Item(string topic) => new(new TopicAddress(topic), [topic], RawType.Float64, 1, "1", null, null, "");
}
