using System.Text.Json.Nodes;
using Fralto.Core.Edits;
using Fralto.Runtime.Tests;
using Fralto.Web.Live;
using Microsoft.Extensions.Logging.Abstractions;

namespace Fralto.Web.Tests;

/// <summary>What open pages are told, turn by turn: everything first, then what has changed, and nobody is waited for.</summary>
public sealed class LiveFeedTests : IAsyncLifetime
{
    private static readonly LiveScope Everywhere = new(LiveScopeKind.Place);

    private readonly Plant _plant = new();
    private readonly List<CancellationTokenSource> _open = [];
    private LiveFeed _feed = null!;

    public async ValueTask InitializeAsync()
    {
        await _plant.BegunAsync();
        var log = new AlarmLog(_plant.Store.Run, _plant.Workspace, _plant.Clock, NullLogger<AlarmLog>.Instance);
        _feed = new(
            _plant.Runtime,
            _plant.Workspace,
            new HeaderFigures(_plant.Workspace, _plant.Runtime, _plant.Store, log, _plant.Findings),
            NullLogger<LiveFeed>.Instance
        );
    }

    public async ValueTask DisposeAsync()
    {
        foreach (var window in _open)
            window.Dispose();
        await _plant.DisposeAsync();
        await _feed.DisposeAsync();
    }

    [Fact]
    public async Task A_window_is_told_everything_and_then_what_has_changed_alone()
    {
        await Say("one", "T1", 60);
        var window = Open(Everywhere);
        Texts(await Next(window)).ShouldBe(["60.0", "–"]);
        await Say("one", "T1", 61);
        Texts(await NextValues(window)).ShouldContain("61.0");
        await Say("two", "T2", 7);
        Texts(await NextValues(window)).ShouldBe(["7.0"]);
    }

    [Fact]
    public async Task Windows_that_look_at_the_same_are_served_by_one_text()
    {
        var windows = Enumerable.Range(0, 50).Select(_ => Open(Everywhere)).ToArray();
        foreach (var window in windows)
            await Next(window);
        await Say("one", "T1", 60);
        var first = await NextText(windows[0]);
        foreach (var window in windows.Skip(1))
            (await NextText(window)).ShouldBeSameAs(first);
    }

    [Fact]
    public async Task A_window_that_does_not_read_is_let_go_and_the_others_go_on()
    {
        var (idle, busy) = (Open(Everywhere), Open(Everywhere));
        await Next(idle);
        await Next(busy);
        for (var turn = 0; turn < 60; turn++)
        {
            await Say("one", "T1", 10 + turn);
            Texts(await NextValues(busy)).ShouldContain($"{10 + turn}.0");
        }
        var told = 0;
        while (await idle.MoveNextAsync())
            told++;
        told.ShouldBe(40, "what its mailbox holds is still its own");
    }

    [Fact]
    public async Task Another_model_is_told_whole_to_whoever_looks()
    {
        await Say("one", "T1", 60);
        var window = Open(Everywhere);
        await Next(window);
        _plant.Do(m => new SaveTemplate(m.Templates.Keys.Single(), "Kiln", "Drying kiln", null, ""));
        await _plant.Until(() => ReferenceEquals(_plant.Runtime.RunningModel, _plant.Model), turns: true);
        await Say("two", "T2", 7);
        var texts = new HashSet<string>();
        while (!texts.IsSupersetOf(["60.0", "7.0"]))
            texts.UnionWith(Texts(await NextValues(window)));
    }

    [Fact]
    public async Task A_window_that_comes_when_the_last_one_has_gone_begins_with_everything()
    {
        await Say("one", "T1", 60);
        var first = Open(Everywhere);
        await Next(first);
        await _open[0].CancelAsync();
        await Should.ThrowAsync<OperationCanceledException>(async () => await first.MoveNextAsync());
        await Say("one", "T1", 61);
        Texts(await Next(Open(Everywhere))).ShouldBe(["61.0", "–"]);
    }

    private IAsyncEnumerator<string> Open(LiveScope scope)
    {
        var stop = CancellationTokenSource.CreateLinkedTokenSource(TestContext.Current.CancellationToken);
        _open.Add(stop);
        return _feed.ListenAsync(scope, stop.Token).GetAsyncEnumerator(stop.Token);
    }

    /// <summary>Lets a device say a number, and the engine take it.</summary>
    private async Task Say(string controller, string tag, double raw)
    {
        _plant.Driver[controller].Read(tag, raw);
        var point = tag == "T1" ? "K1" : "K2";
        await _plant.Until(() => _plant.ValueOf(point).Value.Equals(raw), turns: true);
    }

    private static async Task<string> NextText(IAsyncEnumerator<string> window)
    {
        (await window.MoveNextAsync().AsTask().WaitAsync(TimeSpan.FromSeconds(20), TestContext.Current.CancellationToken)).ShouldBeTrue();
        return window.Current;
    }

    private static async Task<JsonNode> Next(IAsyncEnumerator<string> window) => JsonNode.Parse(await NextText(window))!;

    /// <summary>The next that holds values; figures of the header may come between.</summary>
    private static async Task<JsonNode> NextValues(IAsyncEnumerator<string> window)
    {
        while (true)
            if (await Next(window) is var told && told["values"] is not null)
                return told;
    }

    private static string[] Texts(JsonNode told) => [.. told["values"]!.AsObject().Select(v => v.Value!["text"]!.GetValue<string>())];
}
