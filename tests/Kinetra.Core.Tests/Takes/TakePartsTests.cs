using CsCheck;
using Kinetra.Core.Takes;

namespace Kinetra.Core.Tests.Takes;

public class TakePartsTests
{
    [Fact]
    public void Split_at_marks_nothing_of_what_is_kept_is_lost_or_twice_and_each_part_begins_with_a_mark_of_a_person() =>
        Gen.Select(Gen.Long[1, 1_000], Gen.Long[-50, 1_100], Gen.Long[-50, 1_100], Gen.Select(Gen.Long[0, 1_000], Gen.Bool).Array[0, 12]).Sample((frames, from, to, set) =>
        {
            var marks = set.OrderBy(m => m.Item1).Select((m, n) => new TimeLineMark(m.Item1, $"{n}", m.Item2)).ToList();
            var kept = TakeParts.Kept(frames, from, to);
            var parts = TakeParts.AtMarks(kept, marks);
            parts.SelectMany(p => Enumerable.Range((int)p.Start, (int)p.Frames)).ShouldBe(Enumerable.Range((int)kept.Start, (int)kept.Frames));
            parts.ShouldAllBe(p => p.Frames > 0);
            foreach (var part in parts.Where(p => p.Start != kept.Start))
            {
                marks.ShouldContain(m => m.Frame == part.Start && !m.ByProgram && m.Words == part.Words);
            }

            parts.Length.ShouldBe(marks.Where(m => !m.ByProgram && m.Frame > kept.Start && m.Frame < kept.End).Select(m => m.Frame).Distinct().Count() + 1);
        });

    [Theory]
    [InlineData(0, null, 0, 100)]
    [InlineData(20, null, 20, 100)]
    [InlineData(20, 50L, 20, 50)]
    [InlineData(50, 20L, 0, 100)]
    [InlineData(200, null, 0, 100)]
    [InlineData(-5, 1_000L, 0, 100)]
    public void Ends_that_leave_nothing_keep_the_whole(long from, long? to, long start, long end)
    {
        var kept = TakeParts.Kept(100, from, to);
        (kept.Start, kept.End).ShouldBe((start, end));
    }
}
