using System.Runtime.Intrinsics;
using CsCheck;
using Kinetra.Core.Dsp;
using Kinetra.Core.Metering;

namespace Kinetra.Core.Tests.Dsp;

/// <summary>Each inner loop that computes many values at once agrees with the plain form beside it.</summary>
public class WideFormTests
{
    private static readonly Gen<float[]> AnySound = Gen.Select(Gen.Int[0, 999], Gen.Int[0, 256]).Select((seed, length) => Signals.Noise(seed, length));

    [Fact]
    public void Sections_side_by_side_give_what_sections_one_by_one_give()
    {
        var section = Gen.Select(Gen.Int[0, 4], Gen.Double[20, 20_000], Gen.Double[0.3, 8], Gen.Double[-18, 18]).Select((kind, f, q, g) => kind switch
        {
            0 => FilterDesign.Through,
            1 => FilterDesign.HighPass(f, q),
            2 => FilterDesign.LowPass(f, q),
            3 => FilterDesign.Peak(f, q, g),
            _ => FilterDesign.HighShelf(f, 0.7, g),
        });
        Gen.Select(section.Array[1, 9], AnySound, AnySound, AnySound).Sample(
            (sections, one, two, three) =>
            {
                var (wide, plain) = (new SectionBank(sections.Length), new SectionBank(sections.Length));
                wide.Set(sections);
                plain.Set(sections);
                foreach (var sound in new[] { one, two, three })
                {
                    var frames = sound.Select((x, n) => Vector128.Create(x, (double)sound[sound.Length - 1 - n])).ToArray();
                    var same = (Vector128<double>[])frames.Clone();
                    if (frames.Length >= 4)
                    {
                        wide.ProcessWide(frames);
                    }
                    else
                    {
                        wide.Process(frames);
                    }

                    plain.ProcessPlain(same);
                    for (var n = 0; n < frames.Length; n++)
                    {
                        frames[n].GetElement(0).ShouldBe(same[n].GetElement(0), 1e-9);
                        frames[n].GetElement(1).ShouldBe(same[n].GetElement(1), 1e-9);
                    }
                }
            },
            iter: 200);
    }

    [Fact]
    public void True_peaks_sixteen_at_once_are_those_of_the_formula()
    {
        Gen.Select(AnySound, AnySound, Gen.Bool).Sample(
            (one, two, strict) =>
            {
                var (wide, plain) = (new PeakInterpolator(strict), new PeakInterpolator(strict));
                foreach (var sound in new[] { one, two })
                {
                    var (peaks, same) = (new float[sound.Length], new float[sound.Length]);
                    wide.Process(sound, peaks);
                    plain.ProcessPlain(sound, same);
                    ShouldAgree(peaks, same, 1e-6);
                }
            },
            iter: 200);
    }

    [Fact]
    public void A_falling_peak_in_lanes_is_the_one_value_by_value()
    {
        Gen.Select(AnySound, AnySound, Gen.Double[0, 1]).Sample(
            (one, two, memory) =>
            {
                double last = 0, same = 0;
                foreach (var sound in new[] { one, two })
                {
                    var magnitudes = sound.Select(MathF.Abs).ToArray();
                    var plain = (float[])magnitudes.Clone();
                    Recursions.FallingPeak(magnitudes, ref last, memory);
                    Recursions.FallingPeakPlain(plain, ref same, memory);
                    ShouldAgree(magnitudes, plain, 1e-7);
                    last.ShouldBe(same, 1e-12);
                }
            },
            iter: 200);
    }

    [Fact]
    public void A_sliding_sum_in_lanes_is_the_one_value_by_value()
    {
        Gen.Select(AnySound, Gen.Int[0, 999]).Sample(
            (sound, seed) =>
            {
                double sum = 3, same = 3;
                var (values, plain, leaving) = ((float[])sound.Clone(), (float[])sound.Clone(), Signals.Noise(seed, sound.Length));
                Recursions.SlidingSum(values, leaving, ref sum, 0.1);
                Recursions.SlidingSumPlain(plain, leaving, ref same, 0.1);
                ShouldAgree(values, plain, 1e-7);
                sum.ShouldBe(same, 1e-12);
            },
            iter: 200);
    }

    [Fact]
    public void The_branching_detector_without_a_branch_is_the_papers()
    {
        Gen.Select(AnySound, Gen.Double[0, 0.9999], Gen.Double[0, 0.9999], Gen.Double[0, 30]).Sample(
            (sound, attack, release, before) =>
            {
                var wanted = sound.Select(x => Math.Max(0, 40 * x)).ToArray();
                var reached = (float[])wanted.Clone();
                var last = before;
                var most = Recursions.Branching(reached, ref last, attack, release);
                double y = before, largest = 0;
                for (var n = 0; n < wanted.Length; n++)
                {
                    y = wanted[n] + ((wanted[n] > y ? attack : release) * (y - wanted[n]));
                    largest = Math.Max(largest, y);
                    ((double)reached[n]).ShouldBe(y, 1e-5);
                }

                last.ShouldBe(y, 1e-9);
                most.ShouldBe(largest, 1e-9);
            },
            iter: 200);
    }

    [Fact]
    public void Pairs_are_written_as_they_were_read()
    {
        AnySound.Sample(left =>
        {
            var right = left.Reverse().ToArray();
            var pairs = new Vector128<double>[left.Length];
            Pairs.Load(left, right, pairs);
            pairs.Select(p => (float)p.GetElement(0)).ShouldBe(left);
            pairs.Select(p => (float)p.GetElement(1)).ShouldBe(right);
            var (leftAgain, rightAgain) = (new float[left.Length], new float[left.Length]);
            Pairs.Store(pairs, leftAgain, rightAgain);
            leftAgain.ShouldBe(left);
            rightAgain.ShouldBe(right);
        });
    }

    [Fact]
    public void Eight_signals_turned_into_lanes_and_back_are_where_they_were()
    {
        Gen.Select(Gen.Int[0, 999], Gen.Int[1, 16], Gen.Int[0, 3]).Sample((seed, fours, at) =>
        {
            float[][] signals = [.. Enumerable.Range(0, Lanes.Count).Select(s => Signals.Noise(seed + s, (4 * fours) + at))];
            var (lanes, plain) = (new Vector512<double>[4 * fours], new Vector512<double>[4 * fours]);
            Lanes.Load(signals, at, lanes);
            Lanes.LoadPlain(signals, at, plain);
            lanes.ShouldBe(plain);

            float[][] back = [.. signals.Select(s => new float[s.Length])], same = [.. signals.Select(s => new float[s.Length])];
            Lanes.Store(lanes, back, at);
            var values = lanes.SelectMany(v => Enumerable.Range(0, Lanes.Count).Select(l => (float)v[l])).ToArray();
            Lanes.StorePlain(values, same, at);
            for (var s = 0; s < Lanes.Count; s++)
            {
                back[s].ShouldBe(same[s]);
                back[s][at..].ShouldBe(signals[s][at..]);
            }
        });
    }

    [Fact]
    public void A_channel_taken_out_of_frames_is_every_nth_sample()
    {
        Gen.Select(Gen.Int[1, 8], Gen.Int[0, 100], Gen.Int[0, 999]).Sample((channels, frames, seed) =>
        {
            var interleaved = Signals.Noise(seed, channels * frames);
            for (var c = 0; c < channels; c++)
            {
                var plane = new float[frames];
                Interleaving.Take(interleaved, channels, c, plane);
                plane.ShouldBe(interleaved.Where((_, i) => i % channels == c));
            }
        });
    }

    [Fact]
    public void Decibels_sixteen_at_once_are_those_one_by_one_to_the_bit()
    {
        AnySound.Sample(sound =>
        {
            var (magnitudes, factors) = (sound.Select(MathF.Abs).ToArray(), sound.Select(x => 200 * x).ToArray());
            var (decibels, gains) = ((float[])magnitudes.Clone(), (float[])factors.Clone());
            Decibels.OfMagnitudes(decibels);
            Decibels.ToFactors(gains);
            decibels.ShouldBe(magnitudes.Select(Decibels.OfMagnitude));
            gains.ShouldBe(factors.Select(Decibels.ToFactor));
        });
    }

    [Fact]
    public void Decibels_are_those_of_the_logarithm_and_of_the_power()
    {
        Gen.Double[-139, 60].Sample(
            decibels =>
            {
                var factor = (float)Signals.FromDb(decibels);
                ((double)Decibels.OfMagnitude(factor)).ShouldBe(Signals.Db(factor), 2e-5);
                (Decibels.ToFactor((float)decibels) / Signals.FromDb((float)decibels)).ShouldBe(1, 2e-6);
            },
            iter: 20_000);
        ((double)Decibels.OfMagnitude(0)).ShouldBe(Decibels.Floor, 2e-5);
        Decibels.ToFactor(0).ShouldBe(1);
        Decibels.ToFactor(-0f).ShouldBe(1);
        Decibels.ToFactor(float.NegativeInfinity).ShouldBeInRange(0, 1e-37f);
    }

    [Fact]
    public void Four_times_the_rate_and_back_is_the_same_in_whole_blocks_and_in_crumbs()
    {
        Gen.Select(Gen.Int[0, 999], Gen.Int[1, 15]).Sample(
            (seed, crumb) =>
            {
                var sound = Signals.Noise(seed, 256);
                var (whole, parts) = (new float[256], new float[256]);
                Through(new Oversampler(), sound, whole);
                var oversampler = new Oversampler();
                for (var at = 0; at < sound.Length; at += crumb)
                {
                    var length = Math.Min(crumb, sound.Length - at);
                    Through(oversampler, sound.AsSpan(at, length), parts.AsSpan(at, length));
                }

                ShouldAgree(whole, parts, 1e-6);
            },
            iter: 50);

        static void Through(Oversampler oversampler, ReadOnlySpan<float> sound, Span<float> back)
        {
            var over = new float[sound.Length * Oversampler.Factor];
            oversampler.Up(sound, over);
            oversampler.Down(over, back);
        }
    }

    [Fact]
    public void What_turns_evenly_is_the_sine_of_its_phase_however_long_it_turns()
    {
        Gen.Select(Gen.Double[0, 6], Gen.Double[0, 3], Gen.Int[1, 256].Array[1, 40]).Sample((begin, step, pieces) =>
        {
            var (phase, done) = (begin, 0L);
            foreach (var piece in pieces)
            {
                var sines = new double[piece];
                Turning.Sines(sines, ref phase, step);
                for (var n = 0; n < piece; n++)
                {
                    sines[n].ShouldBe(Math.Sin(begin + ((done + n) * step)), 1e-9);
                }

                done += piece;
            }
        });
    }

    [Fact]
    public void The_largest_magnitude_is_found_wherever_it_stands() =>
        AnySound.Sample(sound => Recursions.LargestMagnitude(sound).ShouldBe(sound.Length == 0 ? 0 : sound.Max(MathF.Abs)));

    [Fact]
    public void Left_and_right_weighted_at_once_have_the_energy_of_each_alone()
    {
        Gen.Select(Gen.Int[0, 99], Gen.Int[0, 2_000]).Sample((seed, length) =>
        {
            var (left, right) = (Signals.Noise(seed, length), Signals.Noise(seed + 100, length));
            var (both, alone, other) = (new StereoKWeighting(), default(KWeighting), default(KWeighting));
            for (var round = 0; round < 2; round++)
            {
                var energy = both.Energy(left, right);
                energy.Left.ShouldBe(alone.SumOfSquares(left), 1e-9);
                energy.Right.ShouldBe(other.SumOfSquares(right), 1e-9);
            }
        });
    }

    private static void ShouldAgree(float[] one, float[] other, double within)
    {
        for (var n = 0; n < one.Length; n++)
        {
            ((double)one[n]).ShouldBe(other[n], within);
        }
    }
}
