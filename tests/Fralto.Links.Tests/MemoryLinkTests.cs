using Fralto.Core.Controllers;
using Fralto.Core.Memory;
using Fralto.Core.Quality;
using Fralto.Core.Scaling;
using Fralto.Links.Memory;

namespace Fralto.Links.Tests;

/// <summary>Tags without a device: start values, writes, and what comes back after a restart.</summary>
public sealed class MemoryLinkTests
{
    private static readonly Controller Memory = new(1, "notes", new MemoryConnection(), TimeSpan.Zero);
    private static readonly Tag Empty = new(1, 1, "empty", new MemoryAddress(), RawType.Float64, WordOrder.HighFirst, "");
    private static readonly Tag Start = new(2, 1, "start", new MemoryAddress("20.5"), RawType.Float64, WordOrder.HighFirst, "");
    private static readonly Tag Kept = new(3, 1, "kept", new MemoryAddress("1", true), RawType.UInt16, WordOrder.HighFirst, "");
    private static readonly Tag Text = new(4, 1, "text", new MemoryAddress("none yet", true), RawType.Text, WordOrder.HighFirst, "");
    private readonly Dictionary<long, string> _store = [];

    [Fact]
    public async Task A_tag_begins_with_its_start_value_or_waits_for_the_first_write()
    {
        await using var heard = Run();
        await heard.Holds(2, 20.5);
        await heard.IsBad(1, StatusCode.BadWaitingForInitialData, "nothing has been written");
        await Heard.Eventually(() => heard[4]?.Text == "none yet");
        (await heard.Link.WriteAsync(TagWrite.Read(Empty, "-3", out _)!, default)).ShouldBe(WriteResult.Confirmed);
        await heard.Holds(1, -3);
        heard.Link.Status.State.ShouldBe(LinkState.Up);
    }

    [Fact]
    public async Task What_is_retained_comes_back_after_a_restart_and_the_rest_begins_anew()
    {
        await using (var heard = Run())
        {
            await heard.Holds(3, 1);
            await heard.Link.WriteAsync(TagWrite.Read(Kept, "7", out _)!, default);
            await heard.Link.WriteAsync(TagWrite.Read(Start, "99", out _)!, default);
            await heard.Link.WriteAsync(TagWrite.Read(Text, "Lot 12", out _)!, default);
            await heard.Link.WriteAsync(TagWrite.Of(Kept, 1, Slice.Parse(".4"), out _)!, default);
            await heard.Holds(3, 7 | 16);
        }
        await using var again = Run();
        await again.Holds(3, 7 | 16);
        await again.Holds(2, 20.5);
        await Heard.Eventually(() => again[4]?.Text == "Lot 12");
    }

    [Fact]
    public async Task A_new_tag_is_there_at_once_and_the_others_keep_what_they_hold()
    {
        await using var heard = new Heard(m => new MemoryLink(Memory, [Start], m, TimeProvider.System, _ => null, (_, _) => null));
        await heard.Link.WriteAsync(TagWrite.Read(Start, "5", out _)!, default);
        heard.Link.Retag([Start, Kept]);
        await heard.Holds(3, 1);
        await heard.Holds(2, 5);
    }

    private Heard Run() =>
        new(m => new MemoryLink(
            Memory,
            [Empty, Start, Kept, Text],
            m,
            TimeProvider.System,
            id => _store.GetValueOrDefault(id),
            (id, value) =>
            {
                _store[id] = value;
                return null;
            }
        ));
}
