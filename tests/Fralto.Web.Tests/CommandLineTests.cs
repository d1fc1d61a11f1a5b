using Fralto.Web.Live;

namespace Fralto.Web.Tests;

public sealed class CommandLineTests
{
    [Fact]
    public void The_demo_needs_no_words()
    {
        var (options, problem) = FraltoOptions.Parse(["demo"]);
        problem.ShouldBeNull();
        options!.ShouldSatisfyAllConditions(
            o => o.Port.ShouldBe(5080),
            o => o.StandInPort.ShouldBe(15500),
            o => o.Fresh.ShouldBeFalse(),
            o => o.IsDemo.ShouldBeTrue()
        );
    }

    [Fact]
    public void Every_word_is_heard() =>
        FraltoOptions
            .Parse(["demo", "--port", "6000", "--data", "/d", "--fresh", "--stand-in-ports", "16000"])
            .Options.ShouldBe(new FraltoOptions("demo", "/d", 6000, true, 16000));

    [Theory]
    [InlineData("", "Say serve, demo or stand-ins.")]
    [InlineData("run", "Say serve, demo or stand-ins.")]
    [InlineData("serve", "serve needs --data DIR")]
    [InlineData("serve --data", "needs a value")]
    [InlineData("demo --port 0", "a port from 1 to 65535, not '0'")]
    [InlineData("demo --port http", "not 'http'")]
    [InlineData("demo --speed 3", "--speed is not known")]
    [InlineData("serve --data x --fresh", "--fresh needs a value, or is not known")]
    public void What_cannot_be_understood_is_said(string line, string words)
    {
        var (options, problem) = FraltoOptions.Parse(line.Split(' ', StringSplitOptions.RemoveEmptyEntries));
        options.ShouldBeNull();
        problem!.ShouldContain(words);
    }

    [Theory]
    [InlineData("place:17", LiveScopeKind.Place, 17)]
    [InlineData("matrix:17", LiveScopeKind.Matrix, 17)]
    [InlineData("header", LiveScopeKind.Header, 0)]
    [InlineData("Controller:3", LiveScopeKind.Controller, 3)]
    public void A_scope_reads_as_it_writes(string text, LiveScopeKind kind, long id)
    {
        LiveScope.Parse(text).ShouldBe(new LiveScope(kind, id));
        LiveScope.Parse(new LiveScope(kind, id).ToString()).ShouldBe(new LiveScope(kind, id));
    }

    [Theory]
    [InlineData(null)]
    [InlineData("")]
    [InlineData("1:1")]
    [InlineData("place:x")]
    [InlineData("place:1:2")]
    [InlineData("place:99999999999999999999")]
    public void What_is_no_scope_is_refused(string? text) => LiveScope.Parse(text).ShouldBeNull();
}
