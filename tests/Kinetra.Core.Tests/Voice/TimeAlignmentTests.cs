using Kinetra.Core.Voice;

namespace Kinetra.Core.Tests.Voice;

/// <summary>By how much one sound comes later than another: found within 0.1 ms, or refused.</summary>
public class TimeAlignmentTests
{
    private const int Rate = 48_000;
    private const int Frames = 5 * Rate;

    [Fact]
    public void Of_claps_and_speech_with_noise_echo_and_other_colour_the_error_is_a_tenth_of_a_millisecond_at_most_or_it_is_refused()
    {
        var (answered, all) = (0, 0);
        for (var seed = 0; seed < 40; seed++)
        {
            var random = new Random(seed);
            var delay = (random.NextDouble() * 600) - 300;
            var decibels = random.NextDouble() * 40;
            var echo = -3 - (random.NextDouble() * 20);
            var (one, other) = Pair(random, seed % 2 == 0, delay, decibels, echo, inverted: seed % 5 == 0);
            var found = TimeAlignment.Find(one, other);
            all++;
            if (found.Refusal is null)
            {
                answered++;
                found.Milliseconds.ShouldBe(delay, 0.1, $"{seed}: noise {decibels:0} dB below, echo {echo:0} dB");
                found.IsInverted.ShouldBe(seed % 5 == 0, $"{seed}");
                found.Confidence.ShouldBeInRange(TimeAlignment.LeastConfidence, 1);
            }
        }

        answered.ShouldBeGreaterThan(all / 2);
    }

    [Fact]
    public void A_clap_in_a_room_that_is_not_worse_than_usual_is_never_refused()
    {
        for (var seed = 0; seed < 10; seed++)
        {
            var random = new Random(1_000 + seed);
            var delay = (random.NextDouble() * 400) - 200;
            var (one, other) = Pair(random, isClap: true, delay, 25, -10, inverted: false);
            var found = TimeAlignment.Find(one, other);
            found.Refusal.ShouldBeNull($"{seed}");
            found.Milliseconds.ShouldBe(delay, 0.1);
        }
    }

    [Fact]
    public void Of_what_has_nothing_to_do_with_one_another_nothing_is_said()
    {
        for (var seed = 0; seed < 6; seed++)
        {
            TimeAlignment.Find(Signals.Noise(seed, Frames), Signals.Noise(seed + 500, Frames)).Refusal.ShouldNotBeNull();
        }
    }

    [Fact]
    public void A_steady_tone_an_echo_as_loud_as_the_sound_and_silence_are_refused_each_with_words_of_its_own()
    {
        var tone = Signals.Sine(1_000, 0.3, Frames);
        TimeAlignment.Find(tone, [.. tone.Skip(11), .. new float[11]]).Refusal.ShouldNotBeNull();
        var clap = Clap(new Random(3));
        var twice = clap.Select((x, n) => x + (n < 2_000 ? 0 : clap[n - 2_000])).ToArray();
        TimeAlignment.Find(clap, twice).Refusal!.ShouldContain("echo");
        TimeAlignment.Find(clap, new float[Frames]).Refusal!.ShouldContain("silent");
    }

    [Fact]
    public void Where_one_of_both_drifts_it_is_refused()
    {
        var random = new Random(8);
        var one = new float[Frames];
        var other = new float[Frames];
        foreach (var (at, late) in new[] { (Rate, 480), (3 * Rate, 480 + 24) })
        {
            var clap = Clap(random, 0).AsSpan(0, Rate / 2).ToArray();
            for (var n = 0; n < clap.Length; n++)
            {
                one[at + n] += clap[n];
                other[at + late + n] += clap[n];
            }
        }

        TimeAlignment.Find(one, other).Refusal.ShouldNotBeNull();
    }

    [Fact]
    public void What_is_too_short_or_not_as_long_is_not_taken()
    {
        Should.Throw<ArgumentException>(() => TimeAlignment.Find(new float[100], new float[100]));
        Should.Throw<ArgumentException>(() => TimeAlignment.Find(new float[Frames], new float[Frames - 1]));
    }

    private static (float[] One, float[] Other) Pair(Random random, bool isClap, double delayMs, double noiseBelow, double echo, bool inverted)
    {
        // Twice as fine, so that a delay lies between samples too.
        var sound = isClap ? Clap(random) : Speech(random);
        var one = Room(random, Delayed(sound, Math.Max(0, -delayMs) * Rate / 1_000), echo);
        var other = Room(random, Delayed(sound, Math.Max(0, delayMs) * Rate / 1_000), echo);
        var sign = inverted ? -1f : 1f;
        return (Noisy(random, one, noiseBelow, 1), Noisy(random, other, noiseBelow, sign * (float)(0.1 + random.NextDouble())));
    }

    private static float[] Clap(Random random) => Clap(random, 2 * Rate);

    // A burst that begins at once and is gone after 30 ms.
    private static float[] Clap(Random random, int at)
    {
        var clap = new float[Frames];
        for (var n = 0; n < Rate / 4; n++)
        {
            clap[at + n] = (float)(Math.Exp(-n / 300.0) * ((random.NextDouble() * 2) - 1));
        }

        return clap;
    }

    // Syllables of noise that is darker than white.
    private static float[] Speech(Random random)
    {
        var speech = new float[Frames];
        var state = 0.0;
        for (var n = 0; n < Frames; n++)
        {
            state = (0.7 * state) + ((random.NextDouble() * 2) - 1);
            speech[n] = (float)(0.1 * state * Math.Pow(Math.Max(0, Math.Sin(n / 4_000.0)), 2));
        }

        return speech;
    }

    // By a windowed sinc of 64 samples.
    private static float[] Delayed(float[] sound, double frames)
    {
        var (whole, part) = ((int)Math.Floor(frames), frames - Math.Floor(frames));
        var taps = Enumerable.Range(-31, 64).Select(i =>
        {
            var x = i - part;
            return (x == 0 ? 1 : Math.Sin(Math.PI * x) / (Math.PI * x)) * (0.5 + (0.5 * Math.Cos(Math.PI * x / 33)));
        }).ToArray();
        var late = new float[sound.Length];
        for (var n = 0; n < sound.Length; n++)
        {
            var sum = 0.0;
            for (var i = 0; i < taps.Length; i++)
            {
                var from = n - whole - (i - 31);
                sum += from >= 0 && from < sound.Length ? taps[i] * sound[from] : 0;
            }

            late[n] = (float)sum;
        }

        return late;
    }

    // Reflections later than 2 ms, all softer than the sound; and a colour of its own: a shelf of the first order, up or down.
    private static float[] Room(Random random, float[] sound, double echo)
    {
        var heard = (float[])sound.Clone();
        for (var r = 0; r < 5; r++)
        {
            var (late, gain) = ((int)(Rate * (0.002 + (random.NextDouble() * 0.04))), (float)(Signals.FromDb(echo - (3 * r)) * (random.Next(2) == 0 ? 1 : -1)));
            for (var n = late; n < heard.Length; n++)
            {
                heard[n] += gain * sound[n - late];
            }
        }

        var (state, amount) = (0.0, (random.NextDouble() * 1.4) - 0.7);
        for (var n = 0; n < heard.Length; n++)
        {
            state += 0.3 * (heard[n] - state);
            heard[n] = (float)(heard[n] + (amount * (state - heard[n])));
        }

        return heard;
    }

    private static float[] Noisy(Random random, float[] sound, double below, float gain)
    {
        var loud = sound.Max(Math.Abs);
        return [.. sound.Select(x => gain * (x + (float)(loud * Signals.FromDb(-below) * ((random.NextDouble() * 2) - 1))))];
    }
}
