using Fralto.Core.Controllers;
using Fralto.Core.OpcUa;
using Fralto.Core.Protocols;
using Fralto.Core.Scaling;
using Fralto.Links.OpcUa;
using Fralto.StandIns.OpcUa;

namespace Fralto.Links.Tests;

/// <summary>One independent OPC UA server (npm node-opcua-server) for many tests: starting it costs seconds.</summary>
public sealed class UaFixture : IAsyncLifetime
{
    private readonly string _directory = Directory.CreateTempSubdirectory("fralto-ua-").FullName;

    public UaServer Server { get; private set; } = null!;

    public UaIdentity Identity { get; private set; } = null!;

    /// <summary>A connection to it.</summary>
    internal OpcUaConnection At(UaSecurity? security = null) =>
        new($"opc.tcp://127.0.0.1:{Server.Port}") { Security = security ?? UaSecurity.None };

    internal OpcUaDriver Driver => new(Identity, TimeProvider.System);

    public async ValueTask InitializeAsync()
    {
        Server = new(0, Path.Combine(_directory, "server"));
        Identity = new(Path.Combine(_directory, "client"));
        Server.Start();
        await Server.Ready.WaitAsync(TimeSpan.FromSeconds(60));
    }

    public async ValueTask DisposeAsync()
    {
        await Server.DisposeAsync();
        Directory.Delete(_directory, recursive: true);
    }

    /// <summary>Runs a link to it.</summary>
    internal Heard Run(OpcUaConnection connection, string? password = null, params Tag[] tags) =>
        new(mailbox =>
            Driver.Create(
                new(new(1, "utility-ua", connection, TimeSpan.FromMilliseconds(100)), tags, mailbox, TimeProvider.System)
                {
                    Password = password,
                }
            )
        );

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
}
