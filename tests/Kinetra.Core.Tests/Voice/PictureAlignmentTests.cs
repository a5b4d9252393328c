using Kinetra.Core.Voice;

namespace Kinetra.Core.Tests.Voice;

/// <summary>By how much a recording's picture is late: the judge made both, and knows by how much.</summary>
public class PictureAlignmentTests
{
    private const int Rate = 48_000;
    private const int Columns = 16, Rows = 9, Cells = Columns * Rows;

    /// <summary>How a camera takes a frame: in an instant, or over so much of the time to the next, with the frame's time at its beginning.</summary>
    private enum Shutter
    {
        Instant,
        Half,
        Open,
    }

    [Fact]
    public void Whatever_camera_room_and_clock_it_is_exact_to_what_it_says_or_refused_and_nearly_always_told()
    {
        var told = 0;
        const int All = 40;
        for (var seed = 0; seed < All; seed++)
        {
            var random = new Random(seed);
            var late = (random.NextDouble() * 0.9) - 0.3;
            var rate = new[] { 24, 25, 29.97, 30, 50, 60 }[seed % 6];
            var begin = random.NextDouble() * FlashSignal.CycleSeconds;
            var seconds = 10 + (random.NextDouble() * 15);
            var (frames, picture) = Picture(random, begin, late, rate, seconds, (Shutter)(seed % 3), share: seed % 4 == 0 ? 0.02 : 0.3, drift: seed % 2 == 0 ? 0 : 60e-6);
            var sound = Sound(random, begin, seconds, noise: -10 - (random.NextDouble() * 30), level: -6 - (random.NextDouble() * 30));
            var found = PictureAlignment.OfFlashes(frames, picture, sound);
            if (found.Refusal is null)
            {
                told++;
                found.Within.ShouldBeInRange(250 / rate, 570 / rate);
                Math.Abs(found.Milliseconds - (1_000 * late)).ShouldBeLessThanOrEqualTo(found.Within + 3, $"seed {seed}, {rate} a second, {(Shutter)(seed % 3)}: {found}, is {1_000 * late:0.0}");
                found.Flashes.ShouldBeGreaterThanOrEqualTo(PictureAlignment.Fewest);
            }
        }

        told.ShouldBeGreaterThanOrEqualTo(All * 9 / 10);
    }

    [Fact]
    public void What_does_not_flash_or_beep_so_is_refused_and_each_says_what_is_wrong()
    {
        var random = new Random(7);
        var (frames, picture) = Picture(random, 3, 0.1, 30, 14, Shutter.Half, 0.3, 0);
        var sound = Sound(random, 3, 14, -30, -12);
        var (still, dark) = Picture(random, 3, 0.1, 30, 14, Shutter.Half, share: 0, drift: 0);
        PictureAlignment.OfFlashes(frames, picture, sound).Refusal.ShouldBeNull();
        PictureAlignment.OfFlashes(still, dark, sound).Refusal.ShouldNotBeNull().ShouldContain("not seen");
        PictureAlignment.OfFlashes(frames, picture, new float[sound.Length]).Refusal.ShouldNotBeNull().ShouldContain("not heard");
        PictureAlignment.OfFlashes(frames, picture, Signals.Noise(3, sound.Length)).Refusal.ShouldNotBeNull().ShouldContain("not heard");
        var apart = Picture(random, 3, 4, 30, 14, Shutter.Half, 0.3, 0);
        PictureAlignment.OfFlashes(apart.Frames, apart.Picture, sound).Refusal.ShouldNotBeNull().ShouldContain("belong together");
        var few = Picture(random, 3, 0.1, 5, 14, Shutter.Half, 0.3, 0);
        PictureAlignment.OfFlashes(few.Frames, few.Picture, sound).Refusal.ShouldNotBeNull().ShouldContain("frames in a second");
        var brief = Picture(random, 3, 0.1, 30, 4, Shutter.Half, 0.3, 0);
        PictureAlignment.OfFlashes(brief.Frames, brief.Picture, Sound(random, 3, 4, -30, -12)).Refusal.ShouldNotBeNull();

        // Half way through, a second of the picture is lost.
        var lost = frames.Select((t, k) => k < frames.Length / 2 ? t : t + 0.08).ToArray();
        PictureAlignment.OfFlashes(lost, picture, sound).Refusal.ShouldNotBeNull().ShouldContain("leaves frames out");
        Should.Throw<ArgumentException>(() => PictureAlignment.OfFlashes(frames, new byte[(Cells * frames.Length) + 1], sound));
    }

    [Fact]
    public void A_blinking_lamp_and_somebody_who_moves_are_no_flashes()
    {
        for (var seed = 0; seed < 8; seed++)
        {
            var random = new Random(100 + seed);
            var (frames, picture) = Picture(random, 0, 0, 30, 20, Shutter.Half, share: 0, drift: 0);
            for (var k = 0; k < frames.Length; k++)
            {
                for (var c = 0; c < 20; c++)
                {
                    picture[(k * Cells) + c] = frames[k] % 1.0 < 0.5 ? (byte)30 : (byte)180;
                }
            }

            PictureAlignment.OfFlashes(frames, picture, Sound(random, 2, 20, -30, -12)).Refusal.ShouldNotBeNull($"{seed}");
        }
    }

    [Fact]
    public void Claps_are_found_where_they_begin_within_two_milliseconds_and_speech_alone_is_quieter_than_any()
    {
        for (var seed = 0; seed < 10; seed++)
        {
            var random = new Random(seed);
            var sound = Signals.Noise(seed, 8 * Rate).Select(x => x * 0.002f).ToArray();
            double[] at = [1.2 + (random.NextDouble() * 0.3), 3.1, 5.7];
            foreach (var time in at)
            {
                for (var n = 0; n < Rate / 5; n++)
                {
                    var burst = ((random.NextDouble() * 2) - 1) * Math.Exp(-n / 400.0);
                    sound[(int)(time * Rate) + n] += (float)(0.5 * burst);
                }
            }

            var claps = Claps.In(sound);
            claps.Count.ShouldBe(3);
            for (var i = 0; i < 3; i++)
            {
                claps[i].ShouldBe(at[i], 0.002);
            }
        }

        Claps.In(new float[Rate]).ShouldBeEmpty();
        Claps.In([]).ShouldBeEmpty();
        Claps.In(Signals.Sine(440, 0.5, 3 * Rate)).ShouldBeEmpty();
    }

    [Fact]
    public void No_two_pauses_are_alike_and_nobody_sees_more_than_three_flashes_in_a_second()
    {
        var times = FlashSignal.Times.Append(FlashSignal.CycleSeconds).ToList();
        var gaps = times.Skip(1).Zip(times, (b, a) => b - a).ToList();
        gaps.Min().ShouldBeGreaterThan(1 / 3.0);
        for (var i = 0; i < gaps.Count; i++)
        {
            for (var j = 0; j < i; j++)
            {
                Math.Abs(gaps[i] - gaps[j]).ShouldBeGreaterThan(0.15);
            }
        }

        foreach (var rate in new[] { 24, 25, 30, 50, 60 })
        {
            var phases = FlashSignal.Times.Select(t => t * rate % 1).Order().ToList();
            phases.Append(phases[0] + 1).Skip(1).Zip(phases, (b, a) => b - a).Max().ShouldBeLessThan(0.3, $"{rate}");
        }

        FlashSignal.Beep.Max(Math.Abs).ShouldBe(0.7f, 0.02f);
    }

    // What a camera sees of somebody in front of a window that flashes: it fills a share of the picture, and the rest moves and hisses.
    private static (double[] Frames, byte[] Picture) Picture(Random random, double begin, double late, double rate, double seconds, Shutter shutter, double share, double drift)
    {
        var frames = Enumerable.Range(0, (int)(seconds * rate)).Select(k => k / rate).ToArray();
        var picture = new byte[frames.Length * Cells];
        var flashing = share == 0 ? 0 : Math.Max(1, (int)(share * Cells));
        var first = random.Next(Cells - flashing);
        var exposure = shutter switch { Shutter.Instant => 0.0005, Shutter.Half => 0.5 / rate, _ => 1 / rate };
        var (at, speed) = (random.NextDouble() * 6, 0.5 + random.NextDouble());
        for (var k = 0; k < frames.Length; k++)
        {
            var lit = 0.0;
            for (var step = 0; step < 20; step++)
            {
                var moment = ((frames[k] + ((step + 0.5) / 20 * exposure) - late) * (1 + drift)) + begin;
                lit += FlashSignal.Times.Any(t => Modulo(moment - t) < FlashSignal.FlashSeconds) ? 1 / 20.0 : 0;
            }

            for (var c = 0; c < Cells; c++)
            {
                var person = 60 * Math.Exp(-Math.Pow(((c % Columns) - 8 - (5 * Math.Sin((frames[k] * speed) + at))) / 2, 2));
                var flash = c >= first && c < first + flashing ? 90 * lit : 0;
                picture[(k * Cells) + c] = (byte)Math.Clamp(50 + person + flash + (random.NextDouble() * 6) - 3, 0, 255);
            }
        }

        return (frames, picture);
    }

    // The beeps as a microphone hears them in a room, with somebody's speech or noise beside.
    private static float[] Sound(Random random, double begin, double seconds, double noise, double level)
    {
        var sound = Signals.Noise(random.Next(), (int)(seconds * Rate)).Select(x => (float)(x * Signals.FromDb(noise + level))).ToArray();
        for (var cycle = -1; cycle < 4; cycle++)
        {
            foreach (var time in FlashSignal.Times)
            {
                var at = (int)(((cycle * FlashSignal.CycleSeconds) + time - begin) * Rate);
                foreach (var (echo, after) in new[] { (1.0, 0), (0.4, 613), (-0.3, 1_490), (0.2, 3_700) })
                {
                    for (var n = 0; n < FlashSignal.Beep.Length; n++)
                    {
                        if (at + after + n >= 0 && at + after + n < sound.Length)
                        {
                            sound[at + after + n] += (float)(echo * FlashSignal.Beep[n] * Signals.FromDb(level));
                        }
                    }
                }
            }
        }

        return sound;
    }

    private static double Modulo(double seconds) => seconds - (Math.Floor(seconds / FlashSignal.CycleSeconds) * FlashSignal.CycleSeconds);
}
