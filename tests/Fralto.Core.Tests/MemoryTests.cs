namespace Fralto.Core.Tests;

/// <summary>What is measured of the whole process, so that nothing else may run beside it.</summary>
[CollectionDefinition(nameof(MemoryTests), DisableParallelization = true)]
[Collection(nameof(MemoryTests))]
public sealed class MemoryTests
{
    [Fact]
    public void A_limit_that_is_crossed_back_and_forth_for_ever_costs_no_more_and_more()
    {
        var (engine, tags) = TwoTimesTests.Running(86_400);
        for (var i = 0; i < 20_000; i++)
            TwoTimesTests.Read(engine, tags[0], i % 2 == 0 ? 90 : 20, i * 0.1);
        var before = GC.GetTotalMemory(true);
        for (var i = 20_000; i < 200_000; i++)
            TwoTimesTests.Read(engine, tags[0], i % 2 == 0 ? 90 : 20, i * 0.1);
        // Entries kept for all that waited and was taken back would be some 4 MB.
        (GC.GetTotalMemory(true) - before).ShouldBeLessThan(1_000_000);
    }
}
