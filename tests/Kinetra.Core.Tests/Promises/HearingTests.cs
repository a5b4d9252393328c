using CsCheck;
using Kinetra.Core.Promises;
using Kinetra.Core.Signal;

namespace Kinetra.Core.Tests.Promises;

/// <summary>What is heard is found in the samples alone. The judge made them: it knows what it put in.</summary>
public class HearingTests
{
    private const int Rate = HeardSound.Rate;
    private static readonly float[][] Voices = [.. Enumerable.Range(0, 5).Select(Voice)];
    private static readonly Hearing Hearing = new();

    [Fact]
    public void A_leak_of_any_level_at_any_delay_is_found_as_loud_and_as_late_as_it_is_or_lies_below_the_floor_that_is_told() =>
        Gen.Select(Gen.Double[-75, -10], Gen.Int[0, 12_000], Gen.Bool, Gen.Int[0, 3]).Sample(
            (level, delay, isTwo, under) =>
            {
                // Others as loud as they are, late by what a mix is; one of them rises and falls.
                var listener = new float[HeardSound.Kept];
                for (var other = 1; other <= under; other++)
                {
                    Add(listener, Voices[other], 20 + other, n => other == 2 ? 0.6 + (0.4 * Math.Sin(n / 9_000.0)) : 1);
                }

                Add(listener, Voices[0], delay, _ => Signals.FromDb(level));
                Hearing.Know([.. Voices.Select((v, i) => new Reference(i, v))]);
                var heard = isTwo ? Hearing.Listen(listener, new float[HeardSound.Kept]) : Hearing.Listen(listener);
                var leak = heard[0];
                leak.Sounds.ShouldBeTrue();
                if (leak.Arrivals.IsEmpty)
                {
                    level.ShouldBeLessThan(leak.FloorDecibels + (leak.FloorDecibels == Hearing.Finest ? 3.5 : 0));
                }
                else
                {
                    var found = leak.Arrivals.ShouldHaveSingleItem();
                    found.GainDecibels.ShouldBe(level, level > -25 ? 1.5 : 3.5);
                    found.DelayMilliseconds.ShouldBe(1_000.0 * delay / Rate, 0.5);
                }

                for (var other = 1; other < Voices.Length; other++)
                {
                    heard[other].Arrivals.Length.ShouldBe(other <= under ? 1 : 0, $"voice {other}");
                }
            },
            iter: 60,
            threads: 1);

    [Fact]
    public void The_floor_is_no_excuse_at_20_dB_below_a_show_of_three_a_leak_is_always_found()
    {
        for (var seed = 0; seed < 5; seed++)
        {
            var listener = new float[HeardSound.Kept];
            Enumerable.Range(1, 3).ToList().ForEach(other => Add(listener, Voices[other], 24, _ => 1));
            Add(listener, Voices[0], 1_000 * seed, _ => Signals.FromDb(-40));
            Hearing.Know([.. Voices.Select((v, i) => new Reference(i, v))]);
            Hearing.Listen(listener)[0].Arrivals.Length.ShouldBe(1);
        }
    }

    [Theory]
    [InlineData(0.012, -6)]
    [InlineData(0.038, -12)]
    [InlineData(0.4, -20)]
    [InlineData(1.2, -3)]
    public void A_sound_that_comes_twice_is_heard_twice_as_far_apart_and_as_much_softer_as_it_is(double apart, double softer)
    {
        var listener = new float[HeardSound.Kept];
        Add(listener, Voices[1], 24, _ => 1);
        Add(listener, Voices[0], 24, _ => 1);
        Add(listener, Voices[0], 24 + (int)(apart * Rate), _ => Signals.FromDb(softer));
        Hearing.Know([.. Voices.Select((v, i) => new Reference(i, v))]);
        var heard = Hearing.Listen(listener);
        heard[1].Arrivals.ShouldHaveSingleItem();
        heard[0].Arrivals.Length.ShouldBe(2);
        (heard[0].Arrivals[1].DelayMilliseconds - heard[0].Arrivals[0].DelayMilliseconds).ShouldBe(1_000 * apart, 0.5);
        (heard[0].Arrivals[1].GainDecibels - heard[0].Arrivals[0].GainDecibels).ShouldBe(softer, 1.5);
    }

    [Fact]
    public void Who_is_picked_up_by_anothers_microphone_is_told_as_the_other_where_only_that_comes()
    {
        // Voice 1 is in voice 0's microphone too; the listener gets voice 1 alone.
        var both = Voices[0].ToArray();
        Add(both, Voices[1], 40, _ => Signals.FromDb(-15));
        var listener = new float[HeardSound.Kept];
        Add(listener, Voices[1], 90, n => 0.7 + (0.3 * Math.Sin(n / 5_000.0)));
        Hearing.Know([new Reference(0, both), new Reference(1, Voices[1])]);
        var heard = Hearing.Listen(listener);
        heard[0].Arrivals.ShouldBeEmpty();
        heard[1].Arrivals.ShouldHaveSingleItem();

        // And asked by itself, what it carries is found.
        Hearing.Know([new Reference(1, Voices[1])]);
        Hearing.Listen(both)[0].Arrivals.ShouldHaveSingleItem().GainDecibels.ShouldBe(-15, 1.5);
    }

    [Fact]
    public void Silence_is_heard_as_nothing_of_what_sounds_and_what_does_not_sound_is_not_known()
    {
        Hearing.Know([new Reference(0, Voices[0]), new Reference(1, new float[HeardSound.Kept])]);
        var heard = Hearing.Listen(new float[HeardSound.Kept]);
        heard[0].Arrivals.ShouldBeEmpty();
        heard[0].FloorDecibels.ShouldBeLessThan(-60);
        heard[1].Sounds.ShouldBeFalse();
    }

    [Fact]
    public void What_is_kept_of_a_sound_is_the_sound_to_3_kHz_and_nothing_that_was_folded_back()
    {
        foreach (var (hertz, least, most) in new[] { (200.0, -0.1, 0.1), (1_000, -0.1, 0.1), (3_000, -0.5, 0.1), (5_000, -200.0, -60), (7_100, -200, -60), (15_500, -200, -60) })
        {
            var kept = new HeardSound();
            kept.Append(Signals.Sine(hertz, 0.5, 48_000 * 9 / 256 * 256));
            var samples = new float[HeardSound.Kept];
            kept.CopyTo(samples);
            Signals.Db(Math.Sqrt(samples.Average(x => (double)x * x)) / (0.5 / Math.Sqrt(2))).ShouldBeInRange(least, most, $"{hertz} Hz");
        }
    }

    [Fact]
    public void Two_that_began_at_different_times_and_lost_some_stand_in_step()
    {
        var noise = Signals.Noise(3, 48_000 * 10);
        var (one, other) = (new HeardSound(), new HeardSound());
        one.Append(noise.AsSpan(0, 768 * 600));
        other.AppendSilence(768 * 20);
        other.Append(noise.AsSpan(768 * 20, 1_000));
        other.AppendSilence(1_001);
        other.Append(noise.AsSpan((768 * 20) + 2_001, (768 * 580) - 2_001));
        var (a, b) = (new float[HeardSound.Kept], new float[HeardSound.Kept]);
        one.CopyTo(a);
        other.CopyTo(b);
        a.AsSpan(HeardSound.Kept / 2).SequenceEqual(b.AsSpan(HeardSound.Kept / 2)).ShouldBeTrue();
    }

    // Syllables of noise and pitch with pauses, like nobody's.
    private static float[] Voice(int seed)
    {
        var (random, voice) = (new Random(seed + 1), new float[HeardSound.Kept]);
        var (at, low) = (random.Next(2_000), 0.0);
        while (at < voice.Length)
        {
            var (length, loud, pitch, isVoiced) = (random.Next(600, 2_400), 0.05 + (0.25 * random.NextDouble()), 90 + (random.NextDouble() * 160), random.Next(3) > 0);
            var phase = 0.0;
            for (var n = 0; n < length && at + n < voice.Length; n++)
            {
                phase += (pitch * (1 + (0.2 * n / length)) / Rate) + (0.002 * (random.NextDouble() - 0.5));
                var source = isVoiced ? ((phase % 1) - 0.5) + (0.3 * (random.NextDouble() - 0.5)) : random.NextDouble() - 0.5;
                low += 0.5 * (source - low);
                voice[at + n] = (float)(loud * Math.Sin(Math.PI * n / length) * (isVoiced ? low : source - low));
            }

            at += length + random.Next(200, random.Next(5) == 0 ? 9_000 : 1_500);
        }

        for (var n = 0; n < voice.Length; n++)
        {
            voice[n] += (float)(2e-4 * (random.NextDouble() - 0.5));
        }

        return voice;
    }

    private static void Add(float[] to, float[] voice, int delay, Func<int, double> gain)
    {
        for (var n = delay; n < to.Length; n++)
        {
            to[n] += (float)(gain(n) * voice[n - delay]);
        }
    }
}
