namespace Fralto.Links.Tests;

/// <summary>How far a source's clock is from ours, found from times that took their time to come.</summary>
public sealed class SourceClockTests
{
    private const long Second = TimeSpan.TicksPerSecond;
    private static readonly long Noon = new DateTime(2026, 6, 1, 12, 0, 0, DateTimeKind.Utc).Ticks;

    [Theory]
    [InlineData(0)]
    [InlineData(300)]
    [InlineData(-300)]
    [InlineData(86_400)]
    public void Whatever_the_way_takes_the_clock_is_found_from_what_came_quickest(int behind)
    {
        var random = new Random(behind);
        var clock = new SourceClock();
        clock.Measured.ShouldBeNull();
        for (var i = 0; i < 500; i++)
        {
            var told = Noon + i * Second;
            clock.Observe(told - behind * Second, told + (long)((0.01 + random.NextDouble() * (i % 50 == 0 ? 30 : 1)) * Second));
        }
        clock.Measured!.Value.TotalSeconds.ShouldBe(behind, 0.2);
        clock.Offset.ShouldBe(behind == 0 ? TimeSpan.Zero : clock.Measured!.Value);
    }

    [Fact]
    public void A_clock_that_is_put_right_is_right_within_two_minutes()
    {
        var clock = new SourceClock();
        for (var i = 0; i < 100; i++)
            clock.Observe(Noon + (i + 300) * Second, Noon + i * Second);
        clock.Offset.TotalSeconds.ShouldBe(-300);
        for (var i = 100; i < 221; i++)
            clock.Observe(Noon + i * Second, Noon + i * Second);
        clock.Offset.ShouldBe(TimeSpan.Zero);
    }

    [Fact]
    public void Our_own_clock_put_back_is_no_riddle()
    {
        var clock = new SourceClock();
        for (var i = 0; i < 10; i++)
            clock.Observe(Noon + i * Second, Noon + i * Second);
        for (var i = 10; i < 20; i++)
            clock.Observe(Noon + i * Second, Noon + (i - 3600) * Second);
        clock.Offset.TotalSeconds.ShouldBe(-3600);
    }
}
