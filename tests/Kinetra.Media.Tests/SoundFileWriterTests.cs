using Kinetra.Core.Signal;

namespace Kinetra.Media.Tests;

public class SoundFileWriterTests : InFolder
{
    [Theory]
    [InlineData("a.wav", SoundFormat.Wav, SampleKind.Floating, "pcm_f32le", 1e-12)]
    [InlineData("b.wav", SoundFormat.Wav, SampleKind.Bits24, "pcm_s24le", 2.1 / 8_388_608)]
    [InlineData("c.wav", SoundFormat.Wav, SampleKind.Bits16, "pcm_s16le", 2.1 / 32_768)]
    [InlineData("d.flac", SoundFormat.Flac, SampleKind.Floating, "flac", 2.1 / 8_388_608)]
    [InlineData("e.flac", SoundFormat.Flac, SampleKind.Bits16, "flac", 2.1 / 32_768)]
    public void What_keeps_every_sample_is_decoded_by_another_program_to_the_same_samples(string name, SoundFormat format, SampleKind kind, string codec, double within)
    {
        var (left, right) = (Noise(1), Noise(2));
        using (var writer = new SoundFileWriter(At(name), 2, format, kind))
        {
            writer.Write(left.AsSpan(0, 5_000), right.AsSpan(0, 5_000));
            writer.Write(left.AsSpan(5_000), right.AsSpan(5_000));
            writer.Clipped.ShouldBe(0);
        }

        Ffmpeg.Probe(At(name)).ShouldContain($"codec_name={codec}");
        var decoded = Ffmpeg.Decode(At(name));
        decoded.Length.ShouldBe(2 * left.Length);
        for (var n = 0; n < left.Length; n++)
        {
            decoded[2 * n].ShouldBe(left[n], within);
            decoded[(2 * n) + 1].ShouldBe(right[n], within);
        }
    }

    [Theory]
    [InlineData("a.ogg", SoundFormat.Ogg, "vorbis")]
    [InlineData("a.opus", SoundFormat.Opus, "opus")]
    [InlineData("a.mp3", SoundFormat.Mp3, "mp3")]
    public void What_is_compressed_with_loss_is_decoded_by_another_program_to_the_same_tone(string name, SoundFormat format, string codec)
    {
        var tone = Enumerable.Range(0, 96_000).Select(n => (float)(0.3 * Math.Sin(2 * Math.PI * 997 * n / AudioFormat.SampleRate))).ToArray();
        using (var writer = new SoundFileWriter(At(name), 2, format))
        {
            writer.Write(tone, tone);
        }

        Ffmpeg.Probe(At(name)).ShouldContain($"codec_name={codec}");
        var decoded = Ffmpeg.Decode(At(name));
        (decoded.Length / 2).ShouldBeInRange(tone.Length - 3_000, tone.Length + 3_000);
        var middle = decoded[40_000..140_000];
        Math.Sqrt(middle.Average(x => x * x)).ShouldBe(0.3 / Math.Sqrt(2), 0.003);
    }

    [Fact]
    public void Dither_takes_the_distortion_out_of_a_tone_of_less_than_a_step_and_leaves_silence_alone()
    {
        const double step = 1.0 / 32_768;
        var tone = Enumerable.Range(0, 480_000).Select(n => (float)(0.4 * step * Math.Sin(2 * Math.PI * 1_000 * (n + 0.5) / AudioFormat.SampleRate))).ToArray();
        using (var writer = new SoundFileWriter(At("tone.wav"), 1, SoundFormat.Wav, SampleKind.Bits16))
        {
            writer.Write(tone, default);
            writer.Write(new float[4_800], default);
        }

        var decoded = Ffmpeg.Decode(At("tone.wav"));
        decoded[^4_800..].ShouldAllBe(x => x == 0);
        var heard = decoded[..480_000];
        Amplitude(heard, 1_000).ShouldBe(0.4 * step, 0.02 * step);
        Amplitude(heard, 3_000).ShouldBeLessThan(0.01 * step);
        Math.Sqrt(heard.Average(x => x * x)).ShouldBe(step * Math.Sqrt(0.25 + 0.08), 0.05 * step);
    }

    [Fact]
    public void What_lies_beyond_full_scale_is_counted_and_held_there()
    {
        using (var writer = new SoundFileWriter(At("loud.wav"), 1, SoundFormat.Wav, SampleKind.Bits24))
        {
            writer.Write([2, -2, 0.5f], default);
            writer.Clipped.ShouldBe(2);
        }

        var decoded = Ffmpeg.Decode(At("loud.wav"));
        (decoded[0], decoded[1]).ShouldBe((8_388_607 / 8_388_608.0, -1));
    }

    [Fact]
    public void A_place_that_cannot_be_written_to_is_refused() =>
        Should.Throw<IOException>(() => new SoundFileWriter(At("no/where.wav"), 1, SoundFormat.Wav)).Message.ShouldContain("where.wav");

    private static float[] Noise(int seed)
    {
        var random = new Random(seed);
        return [.. Enumerable.Range(0, 20_000).Select(_ => (random.NextSingle() - 0.5f) * 1.8f)];
    }

    private static double Amplitude(double[] samples, double hertz)
    {
        double re = 0, im = 0;
        for (var n = 0; n < samples.Length; n++)
        {
            var (s, c) = Math.SinCos(2 * Math.PI * hertz * n / AudioFormat.SampleRate);
            re += samples[n] * c;
            im += samples[n] * s;
        }

        return 2 * Math.Sqrt((re * re) + (im * im)) / samples.Length;
    }
}
