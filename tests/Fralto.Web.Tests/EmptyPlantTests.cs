using System.Net;

namespace Fralto.Web.Tests;

/// <summary>What a plant with nothing in it answers: asked only, so one process answers all of it.</summary>
public sealed class EmptyPlantTests(EmptyPlant plant) : IClassFixture<EmptyPlant>
{
    [Theory]
    [InlineData("/controllers", "Add a controller")]
    [InlineData("/templates", "Add a template")]
    [InlineData("/states", "Add a state list")]
    [InlineData("/plant", "Add an enterprise")]
    [InlineData("/bindings", "There is nothing to bind yet")]
    [InlineData("/live", "Nothing is bound")]
    [InlineData("/alarms", "No limit is being watched")]
    [InlineData("/journal", "No edit has been made yet")]
    public async Task An_empty_view_says_what_to_do_first(string page, string words) =>
        WebUtility.HtmlDecode(await plant.Fralto.Http.GetStringAsync(page)).ShouldContain(words);

    [Theory]
    [InlineData("/api/v1/values?path=No/Such", HttpStatusCode.NotFound, "Nothing has the path No/Such.")]
    [InlineData("/api/v1/values?path=a%3Cb", HttpStatusCode.BadRequest, "A path is codes")]
    [InlineData("/live/events?scope=everything", HttpStatusCode.BadRequest, "A scope is")]
    [InlineData("/live/events?scope=place:-1", HttpStatusCode.BadRequest, "A scope is")]
    [InlineData("/nowhere", HttpStatusCode.NotFound, "There is nothing at this address.")]
    [InlineData("/live?at=999", HttpStatusCode.NotFound, "There is nothing at this address.")]
    public async Task A_wrong_request_says_what_is_wrong(string address, HttpStatusCode status, string words)
    {
        var response = await plant.Fralto.Http.GetAsync(address);
        response.StatusCode.ShouldBe(status);
        (await response.Content.ReadAsStringAsync()).ShouldContain(words);
    }

    [Fact]
    public async Task Without_a_log_alarms_are_judged_by_nothing()
    {
        var page = WebUtility.HtmlDecode(await plant.Fralto.Http.GetStringAsync("/alarms/load"));
        page.ShouldContain("there is nothing to judge yet");
        page.ShouldContain("too early");
        page.ShouldNotContain("✓ met");
        page.ShouldNotContain("The log begins");
    }

    [Theory]
    [InlineData("/scales")]
    [InlineData("/units?q=no-such-unit")]
    [InlineData("/units?unit=NOPE")]
    public async Task Empty_pages_are_pages(string address) =>
        (await plant.Fralto.Http.GetAsync(address)).StatusCode.ShouldBe(HttpStatusCode.OK);

    [Theory]
    [InlineData("/chain?at=1&property=2")]
    [InlineData("/chain?at=x&property=")]
    [InlineData("/ruler?handler=Fit&at=1&property=2")]
    public async Task What_is_not_there_is_not_found(string address) =>
        (await plant.Fralto.Http.GetAsync(address)).StatusCode.ShouldBe(HttpStatusCode.NotFound);

    [Theory]
    [InlineData("/browse?at=999999")]
    [InlineData("/taglist?at=999999")]
    [InlineData("/stand-ins")]
    public async Task Pages_of_what_is_not_there_say_so(string page) =>
        (await plant.Fralto.Http.GetAsync(page)).StatusCode.ShouldBe(HttpStatusCode.NotFound);

    [Theory]
    [InlineData("/controllers?at=abc&tag=x&listPage=-5")]
    [InlineData("/live?command=1.2")]
    [InlineData("/live?command=a.b.c")]
    [InlineData("/layouts?at=999&open=device&id=77")]
    [InlineData("/controllers?open=controller&protocol=Nonsense")]
    public async Task Odd_addresses_are_answered_with_a_page(string page) =>
        ((int)(await plant.Fralto.Http.GetAsync(page)).StatusCode).ShouldBeLessThan(500);
}
