using Fralto.Core.Controllers;
using Fralto.Core.Engine;
using Fralto.Core.Quality;

namespace Fralto.Links.Tests;

/// <summary>The way from a link to the engine: bounded, the newest value wins, and losses are counted.</summary>
public sealed class MailboxTests
{
    [Fact]
    public void Samples_come_out_in_order_while_there_is_room()
    {
        var box = new SampleMailbox(10);
        for (var i = 0; i < 10; i++)
            Post(box, Of(1, i));
        Take(box).Select(s => s.Raw).ShouldBe(Enumerable.Range(0, 10).Select(i => (double)i));
        box.Dropped.ShouldBe(0);
    }

    [Fact]
    public void When_the_reader_falls_behind_the_newest_of_each_tag_is_kept_and_the_overtaken_are_counted()
    {
        var box = new SampleMailbox(4);
        Post(box, Of(1, 1), Of(2, 20));
        for (var i = 2; i <= 100; i++)
            Post(box, Of(1, i));
        var taken = Take(box);
        taken.Where(s => s.TagId == 1).Last().Raw.ShouldBe(100);
        taken.Single(s => s.TagId == 2).Raw.ShouldBe(20, "a slow tag is not lost in the flood of a fast one");
        (taken.Count + box.Dropped).ShouldBe(101);
        taken.Where(s => s.TagId == 1).Select(s => s.Raw).ShouldBeInOrder();
    }

    [Fact]
    public void A_flood_keeps_memory_bounded_by_capacity_and_tags()
    {
        var box = new SampleMailbox(1000);
        for (var i = 0; i < 200_000; i++)
            Post(box, Of(i % 50, i));
        Take(box).Count.ShouldBeLessThanOrEqualTo(1050);
    }

    [Fact]
    public void A_reader_takes_some_at_a_time_and_never_half_a_batch()
    {
        var box = new SampleMailbox(100);
        for (var i = 0; i < 10; i++)
            Post(box, Of(1, i), Of(2, i));
        var some = new List<SampleBatch>();
        box.Take(5, some);
        some.Sum(b => b.Samples.Length).ShouldBe(6);
        Take(box).Count.ShouldBe(14);
    }

    [Fact]
    public void A_batch_says_when_it_arrived_and_what_is_left_since_when()
    {
        var box = new SampleMailbox(100);
        for (var i = 1; i <= 3; i++)
            box.Post(new([Of(1, i)], new(i * 10, 0)));
        var some = new List<SampleBatch>();
        box.Take(1, some).ShouldBe(20);
        some.Single().Arrived.Ticks.ShouldBe(10);
        box.Take(int.MaxValue, some).ShouldBeNull();
    }

    [Fact]
    public void A_value_of_the_past_never_stands_for_the_newest()
    {
        var box = new SampleMailbox(3);
        box.Post(new([Of(1, 1)], default));
        box.Post(new([Of(1, -1), Of(1, -2)], default, IsHistorical: true));
        for (var i = 2; i <= 6; i++)
            box.Post(new([Of(1, i)], default));
        var batches = new List<SampleBatch>();
        box.Take(int.MaxValue, batches);
        batches.Where(b => !b.IsHistorical).SelectMany(b => b.Samples).Select(s => s.Raw).ShouldBeInOrder();
        (batches.Sum(b => b.Samples.Length) + box.Dropped).ShouldBe(8, "what is lost is counted");
    }

    private static void Post(SampleMailbox box, params Sample[] samples) => box.Post(new(samples, default));

    private static List<Sample> Take(SampleMailbox box)
    {
        var batches = new List<SampleBatch>();
        box.Take(int.MaxValue, batches);
        return [.. batches.SelectMany(b => b.Samples)];
    }

    private static Sample Of(long tag, double raw) => new(tag, raw, StatusCode.Good, 1);
}
