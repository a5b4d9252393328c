using Kinetra.Core.Engine;
using Kinetra.Core.Voice;

namespace Kinetra.Core.Tests.Voice;

/// <summary>What is measured of a stretch of sound is what was put in.</summary>
public class SoundMeasuresTests
{
    private const int Frames = 8 * 48_000;

    [Fact]
    public void A_steady_tone_has_the_loudness_and_the_peak_of_its_definition_and_no_range()
    {
        var measures = SoundMeasures.Of(new SoundBuffer(Signals.Sine(997, Signals.FromDb(-20), Frames), null));

        // BS.1770: a mono sine of 0 dBFS at 997 Hz reads −3.01 LUFS.
        measures.Loudness.ShouldBe(-23.01, 0.05);
        measures.Peak.ShouldBe(-20, 0.15);
        measures.Floor.ShouldBe(-20, 0.1);
        measures.Range.ShouldBe(0, 0.1);
    }

    [Fact]
    public void The_floor_is_that_of_the_pauses_and_the_range_that_of_soft_and_loud()
    {
        // Two seconds loud, two seconds 8 dB softer, and so on, and almost nothing in the last.
        var noise = Signals.Noise(2, Frames, 1);
        var sound = noise.Select((x, n) => x * (float)Signals.FromDb((n / 48_000, n / 96_000 % 2) switch { (7, _) => -60, (_, 0) => -12, _ => -20 })).ToArray();
        var measures = SoundMeasures.Of(new SoundBuffer(sound, null));
        var rms = Signals.Db(Math.Sqrt(noise.Average(x => (double)x * x))) + 3.01;
        measures.Floor.ShouldBe(rms - 60, 1.2);
        measures.Range.ShouldBe(8, 1.5);
    }

    [Theory]
    [InlineData(0, 3)]
    [InlineData(1, 0)]
    [InlineData(2, -3)]
    public void The_tilt_of_noise_whose_spectrum_falls_by_3_dB_an_octave_so_often_is_known(int falls, double tilt)
    {
        // Noise of equal power in each third (falls = 1) and its neighbours, out of sines: no filter of the core's.
        var random = new Random(6);
        var sound = new double[Frames];
        for (var hertz = 100.0; hertz < 10_000; hertz *= Math.Pow(2, 1 / 48.0))
        {
            var (amplitude, phase) = (0.02 * Math.Pow(hertz / 1_000, (1 - falls) / 2.0), random.NextDouble() * 2 * Math.PI);
            for (var n = 0; n < Frames; n++)
            {
                sound[n] += amplitude * Math.Sin((2 * Math.PI * hertz * n / 48_000) + phase);
            }
        }

        SoundMeasures.Of(new SoundBuffer([.. sound.Select(x => (float)x)], null)).Tilt.ShouldBe(tilt, 0.3);
    }

    [Fact]
    public void Sharp_sounds_that_are_made_louder_by_6_dB_read_6_dB_more()
    {
        double Of(double boost)
        {
            var voice = Signals.Sine(1_000, 0.1, Frames);
            var sharp = Signals.Sine(7_000, 0.02 * Signals.FromDb(boost), Frames);
            return SoundMeasures.Of(new SoundBuffer([.. voice.Select((x, n) => x + (n / 9_600 % 5 == 0 ? sharp[n] : 0))], null)).Sibilance;
        }

        (Of(6) - Of(0)).ShouldBe(6, 0.2);
        Of(0).ShouldBe(Signals.Db(0.02 / 0.1), 0.3);
    }

    [Fact]
    public void Of_silence_nothing_is_said_and_of_two_channels_the_mean_is_taken()
    {
        var silence = SoundMeasures.Of(new SoundBuffer(new float[Frames], null));
        double.IsNaN(silence.Loudness).ShouldBeTrue();
        double.IsNaN(silence.Tilt).ShouldBeTrue();
        var tone = Signals.Sine(1_000, 0.1, Frames);
        SoundMeasures.Of(new SoundBuffer(tone, tone)).Floor.ShouldBe(SoundMeasures.Of(new SoundBuffer(tone, null)).Floor, 0.01);
        SoundMeasures.Of(new SoundBuffer(tone, new float[Frames])).Floor.ShouldBe(SoundMeasures.Of(new SoundBuffer(tone, null)).Floor - 3.01, 0.02);
    }

    [Fact]
    public void What_is_drawn_of_a_tone_stands_at_its_time_its_pitch_and_its_level()
    {
        var tone = Signals.Sine(1_000, 0.5, Frames).Select((x, n) => n < Frames / 2 ? 0 : x).ToArray();
        var sound = new SoundBuffer(tone, null);
        var picture = SoundPicture.Of(sound, new ShortTimeSpectra(sound));
        picture.Levels.Length.ShouldBe(picture.Columns * picture.Rows);
        var column = Enumerable.Range(0, picture.Rows).Select(r => picture.Levels[(picture.Columns * 3 / 4 * picture.Rows) + r]).ToArray();
        var row = Array.IndexOf(column, column.Max());
        (SoundPicture.Lowest * Math.Pow(SoundPicture.Highest / SoundPicture.Lowest, (row + 0.5) / picture.Rows)).ShouldBe(1_000, 50);
        ((column[row] / 255.0 * 100) - 100).ShouldBe(-6, 1.5);
        picture.Levels.Take(picture.Columns / 3 * picture.Rows).ShouldAllBe(l => l == 0);
        unchecked((sbyte)picture.Most[picture.Columns * 3 / 4]).ShouldBe((sbyte)64);
        unchecked((sbyte)picture.Least[picture.Columns * 3 / 4]).ShouldBe((sbyte)-64);
        picture.Most[picture.Columns / 4].ShouldBe((byte)0);
    }
}
