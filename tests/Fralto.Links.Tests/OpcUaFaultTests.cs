using System.Diagnostics;
using Fralto.Core.OpcUa;
using Fralto.Core.Quality;

namespace Fralto.Links.Tests;

/// <summary>An OPC UA server that breaks, beside the tests of one that does not (npm node-opcua-server 2.140).</summary>
[Trait("source", "npm node-opcua-server 2.140.0")]
public sealed class OpcUaFaultTests(UaFixture ua) : IClassFixture<UaFixture>
{
    /// <summary>What its child is started for, so that no other is killed.</summary>
    private const string Name = "breaks-ua";

    [Fact]
    public async Task Whatever_breaks_the_link_is_back_by_itself_and_says_why_meanwhile()
    {
        ua.Identity.Trust(ua.Server.Certificate!);
        await using var heard = ua.Run(ua.At(UaSecurity.Usual), Name);
        var items = await UaFixture.BrowseAsync(heard);
        heard.Link.Retag([
            UaFixture.TagOf(items["Utilities/HeatLoop/SupplyTemperature"], 1),
            UaFixture.TagOf(items["Utilities/CompressedAir/Compressor1/Pressure"], 2),
        ]);
        await Says("Loop.Supply", 80, 1);

        await ua.Server.SetFaultAsync("bad", true);
        await heard.IsBad(2, StatusCode.BadSensorFailure, "the sensor has failed");
        await ua.Server.SetFaultAsync("bad", false);

        await ua.Server.SetFaultAsync("session", true);
        await Says("Loop.Supply", 81, 1);

        // The child is killed: another takes its place.
        KillChildren();
        await Heard.Eventually(() => heard.Link.Status.State == LinkState.Down, 20);
        await Says("Loop.Supply", 82, 1);

        await ua.Server.SetFaultAsync("gone", true);
        await Heard.Eventually(() => heard.Link.Status.State == LinkState.Down && heard[1]!.Value.Status.IsBad, 30);
        await ua.Server.SetFaultAsync("gone", false);
        await Says("Loop.Supply", 83, 1);

        // The namespaces have other numbers after this start; tags are kept by their address.
        await ua.Server.SetFaultAsync("namespaces", true);
        await Says("Loop.Supply", 84, 1);
        await ua.Server.SetFaultAsync("namespaces", false);

        // Another certificate is another server, until somebody says otherwise.
        await ua.Server.SetFaultAsync("certificate", true);
        await Heard.Eventually(
            () => heard.Link.Status.Reason?.Contains("not trusted yet", StringComparison.Ordinal) == true,
            30,
            () => $"{heard.Link.Status}"
        );
        ua.Identity.Trust(ua.Server.Certificate!);
        await Says("Loop.Supply", 85, 1);

        // Whom we trust no longer is left at once.
        ua.Identity.Distrust(ua.Server.Certificate!);
        await Heard.Eventually(() => heard.Link.Status.Reason?.Contains("no longer trusted", StringComparison.Ordinal) == true);
        ua.Identity.Trust(ua.Server.Certificate!);
        await Says("Loop.Supply", 86, 1);

        async Task Says(string name, double value, long tag)
        {
            await ua.Server.SayAsync(new() { [name] = value });
            await Heard.Eventually(
                () => heard[tag] is { Status.IsGood: true } s && s.Raw == value,
                40,
                () => $"{heard[tag]}; {heard.Link.Status}"
            );
        }

        static void KillChildren()
        {
            foreach (var process in Process.GetProcessesByName("node"))
                if (IsOurs(process.Id))
                    process.Kill();
        }

        static bool IsOurs(int id)
        {
            try
            {
                return File.ReadAllText($"/proc/{id}/cmdline").EndsWith($"{Name}\0", StringComparison.Ordinal)
                    && File.ReadLines($"/proc/{id}/status").Contains($"PPid:\t{Environment.ProcessId}");
            }
            catch (IOException)
            {
                // It ended while it was looked at.
                return false;
            }
        }
    }

    [Fact]
    public async Task A_wire_that_is_cut_or_goes_dead_is_told_and_the_link_is_back_by_itself()
    {
        ua.Identity.Trust(ua.Server.Certificate!);
        using var relay = new Relay(ua.Server.Port);
        await using var heard = ua.Run(ua.At(UaSecurity.Usual) with { Endpoint = $"opc.tcp://127.0.0.1:{relay.Port}" }, "wire-ua");
        heard.Link.Retag([UaFixture.Tag(1, "nsu=urn:corvane:utilities;s=Loop.Return")]);
        await IsBack();
        // In the middle of a message: of the greeting, of the channel, of a session, of values.
        foreach (var bytes in new[] { 10, 2000, 9000 })
        {
            var before = relay.Cuts;
            relay.CutAfter = bytes;
            await Heard.Eventually(() => relay.Cuts > before, 30, () => $"{bytes}: {heard.Link.Status}");
            await Heard.Eventually(
                () => heard.Link.Status.State == LinkState.Down && heard[1]!.Value.Status.IsBad,
                30,
                () => $"{bytes}: {heard[1]}; {heard.Link.Status}"
            );
            relay.CutAfter = int.MaxValue;
            await IsBack();
        }
        relay.IsDead = true;
        await Heard.Eventually(
            () => heard.Link.Status.State == LinkState.Down && heard[1]!.Value.Status.IsBad,
            60,
            () => $"{heard[1]}; {heard.Link.Status}"
        );
        relay.IsDead = false;
        await IsBack();

        Task IsBack() =>
            Heard.Eventually(
                () => heard.Link.Status.State == LinkState.Up && heard[1] is { Status.IsGood: true },
                60,
                () => $"{heard[1]}; {heard.Link.Status}"
            );
    }
}
