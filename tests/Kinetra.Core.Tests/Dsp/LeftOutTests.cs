using CsCheck;
using Kinetra.Core.Dsp;
using Kinetra.Core.Processors;
using Kinetra.Core.Signal;

namespace Kinetra.Core.Tests.Dsp;

/// <summary>What is left out because it cannot matter does not matter: to the bit.</summary>
public class LeftOutTests
{
    [Fact]
    public void What_cannot_reach_a_floor_is_not_computed_and_above_it_every_true_peak_is_the_same_to_the_bit()
    {
        var (above, below) = (0, 0);
        Gen.Select(AnyBlocks, Gen.Double[-30, 15], Gen.Bool).Sample(
            (blocks, decibels, strict) =>
            {
                var (all, some, highest) = (new PeakInterpolator(strict), new PeakInterpolator(strict), new PeakInterpolator(strict));
                var floor = (float)Signals.FromDb(decibels);
                foreach (var block in blocks)
                {
                    var (peaks, told) = (new float[block.Length], new float[block.Length]);
                    all.Process(block, peaks);
                    some.Process(block, told, floor);
                    for (var n = 0; n < block.Length; n++)
                    {
                        MathF.Max(told[n], floor).ShouldBe(MathF.Max(peaks[n], floor));
                        _ = peaks[n] > floor ? above++ : below++;
                    }

                    var known = peaks.Length % 3 == 0 ? floor : 0;
                    highest.Highest(block, known).ShouldBe(peaks.Append(known).Max());
                }
            },
            iter: 400,
            threads: 1);
        above.ShouldBeGreaterThan(10_000);
        below.ShouldBeGreaterThan(10_000);
    }

    [Fact]
    public void A_pass_of_a_limiter_that_leaves_out_what_cannot_matter_gives_the_same_samples_to_the_bit()
    {
        var (lowered, rested) = (0, 0);
        Gen.Select(AnyBlocks.Array[1, 12], Gen.Double[-20, 6], Gen.Int[2, LimiterStage.MaxLookAhead], Gen.Bool).Sample(
            (sounds, ceiling, lookAhead, strict) =>
            {
                var (plain, skips) = (new LimiterStage(2, lookAhead, strict, skips: false), new LimiterStage(2, lookAhead, strict));
                foreach (var (block, at) in sounds.SelectMany(s => s).Select((b, i) => (b, i)))
                {
                    // Now and then the ceiling moves, and long silence lets it come to rest.
                    var ceilings = Enumerable.Range(0, block.Length).Select(n => (float)Signals.FromDb(ceiling + (at % 5 == 0 ? n / 300.0 : 0))).ToArray();
                    var quiet = at % 7 > 3 ? 0.001f : 1;
                    float[] left = [.. block.Select(x => x * quiet)], right = [.. block.Reverse().Select(x => x * quiet / 2)];
                    float[] sameLeft = [.. left], sameRight = [.. right];
                    var gains = skips.Process(left, right, ceilings, 0.99).ToArray();
                    plain.Process(sameLeft, sameRight, ceilings, 0.99).ToArray().ShouldBe(gains);
                    left.ShouldBe(sameLeft);
                    right.ShouldBe(sameRight);
                    _ = gains.Min() < 1 ? lowered++ : rested++;
                }
            },
            iter: 150,
            threads: 1);
        lowered.ShouldBeGreaterThan(200);
        rested.ShouldBeGreaterThan(200);
    }

    // Whole blocks, and parts of them, of noise, tones near half of the rate and single samples, each as loud as it likes.
    private static readonly Gen<float[][]> AnyBlocks = Gen.Select(Gen.Int[0, 1_000_000], Gen.Int[1, 8], (seed, count) =>
    {
        var random = new Random(seed);
        return Enumerable.Range(0, count).Select(_ =>
        {
            var length = random.Next(4) > 0 ? AudioFormat.BlockFrames : random.Next(1, AudioFormat.BlockFrames + 1);
            var (amplitude, kind, step) = (Signals.FromDb((random.NextDouble() * 60) - 50), random.Next(4), 1 + (random.NextDouble() * 2.1));
            return Enumerable.Range(0, length).Select(n => (float)(amplitude * kind switch
            {
                0 => (random.NextDouble() * 2) - 1,
                1 => Math.Sin(n * step),
                2 => n % 97 == 0 ? 1 : 0,
                _ => n < length / 2 ? 0 : n % 2 == 0 ? 1 : -1,
            })).ToArray();
        }).ToArray();
    });
}
