using Fralto.Core.Controllers;
using Fralto.Core.OpcUa;
using Fralto.Core.Protocols;
using Fralto.Core.Scaling;
using Fralto.Links.OpcUa;
using Fralto.StandIns.OpcUa;

namespace Fralto.Links.Tests;

/// <summary>One independent OPC UA server (npm node-opcua-server) for many tests: starting it costs seconds.</summary>
public class UaFixture : IAsyncLifetime
{
    private readonly string _directory = Directory.CreateTempSubdirectory("fralto-ua-").FullName;

    public UaServer Server { get; private set; } = null!;

    public UaIdentity Identity { get; private set; } = null!;

    /// <summary>A connection to it.</summary>
    internal OpcUaConnection At(UaSecurity? security = null) =>
        new($"opc.tcp://127.0.0.1:{Server.Port}") { Security = security ?? UaSecurity.None };

    internal OpcUaDriver Driver => new(Identity, TimeProvider.System);

    public virtual async ValueTask InitializeAsync()
    {
        Identity = new(Path.Combine(_directory, "client"));
        Server = Make(Path.Combine(_directory, "server"));
        Server.Start();
        await Server.Ready.WaitAsync(TimeSpan.FromSeconds(60));
    }

    /// <summary>Makes the server.</summary>
    protected virtual UaServer Make(string directory) => new(0, directory);

    public virtual async ValueTask DisposeAsync()
    {
        GC.SuppressFinalize(this);
        await Server.DisposeAsync();
        Directory.Delete(_directory, recursive: true);
    }

    /// <summary>Runs a link to it.</summary>
    internal Heard Run(OpcUaConnection connection, string name = "utility-ua", int everyMs = 100) =>
        new(mailbox => Driver.Create(new(new(1, name, connection, TimeSpan.FromMilliseconds(everyMs)), [], mailbox, TimeProvider.System)));

    internal static Tag Tag(long id, string node, RawType type = RawType.Float64, int count = 1) =>
        new(
            id,
            1,
            $"T{id}",
            Protocol.OpcUa.Rules().ReadAddress(node, out var problem) ?? throw new ArgumentException(problem),
            type,
            WordOrder.HighFirst,
            "",
            count
        );

    /// <summary>The stand-in has named its objects by text, and numbers what stands below: browsing finds them.</summary>
    internal static async Task<Dictionary<string, SourceItem>> BrowseAsync(Heard heard)
    {
        await Heard.Eventually(() => heard.Link.Status.State is LinkState.Up or LinkState.Partial, 30, () => $"{heard.Link.Status}");
        var result = await heard.Link.BrowseAsync(new(""), TestContext.Current.CancellationToken);
        result.Problem.ShouldBeNull();
        result.Continuation.ShouldBeNull();
        return result.Items.ToDictionary(i => i.PathText);
    }

    internal static Tag TagOf(SourceItem item, long id) =>
        new(id, 1, $"T{id}", item.Address, item.Type, WordOrder.HighFirst, "", item.Count);
}
