using Kinetra.Core.Engine;

namespace Kinetra.Media.Tests;

public class SoundFileReaderTests : InFolder
{
    [Theory]
    [InlineData("a.wav", "-c:a", "pcm_s16le")]
    [InlineData("a.aiff")]
    [InlineData("a.caf", "-c:a", "pcm_s24le")]
    [InlineData("a.flac")]
    [InlineData("a.w64")]
    [InlineData("a.ogg", "-c:a", "libvorbis", "-q:a", "9")]
    [InlineData("a.opus", "-c:a", "libopus", "-b:a", "256k")]
    [InlineData("a.mp3", "-b:a", "320k")]
    public void Every_open_format_comes_in_at_its_level(string name, params string[] options)
    {
        Tone(48_000);
        Ffmpeg.Encode(At("tone.wav"), At(name), options);
        var decoded = SoundFileReader.Read(At(name));
        decoded.Channels.ShouldBe(2);
        decoded.Sound.Channels.ShouldBe(2);
        Power(decoded.Sound.Left).ShouldBe(Power(TestTone(48_000)), 0.1);
    }

    [Theory]
    [InlineData("44100")]
    [InlineData("22050")]
    [InlineData("96000")]
    public void Other_rates_are_brought_to_48_kHz(string rate)
    {
        Tone(48_000);
        Ffmpeg.Encode(At("tone.wav"), At("other.wav"), "-ar", rate);
        var decoded = SoundFileReader.Read(At("other.wav"));
        decoded.SampleRate.ToString(System.Globalization.CultureInfo.InvariantCulture).ShouldBe(rate);
        ((double)decoded.Sound.Frames).ShouldBe(48_000, 4);
        Power(decoded.Sound.Left).ShouldBe(Power(TestTone(48_000)), 0.05);
    }

    [Fact]
    public void Of_many_channels_the_first_two_are_taken_and_nine_are_refused()
    {
        Tone(4_800);
        Ffmpeg.Encode(At("tone.wav"), At("six.wav"), "-ac", "6");
        var decoded = SoundFileReader.Read(At("six.wav"));
        (decoded.Channels, decoded.Sound.Channels).ShouldBe((6, 2));
        Ffmpeg.Run("ffmpeg", "-v", "error", "-f", "lavfi", "-i", "aevalsrc=0|0|0|0|0|0|0|0|0:d=0.1", At("nine.wav"));
        Should.Throw<SoundFileException>(() => SoundFileReader.Read(At("nine.wav"))).What.ShouldBe("The file has 9 channels.");
    }

    [Fact]
    public void What_is_no_sound_is_refused_with_words()
    {
        File.WriteAllText(At("letter.wav"), "Dear harbour master, there is no sound in here.");
        var refusal = Should.Throw<SoundFileException>(() => SoundFileReader.Read(At("letter.wav")));
        refusal.What.ShouldStartWith("This is not a sound file that can be read");
        refusal.Allowed.ShouldBe(SoundFileReader.Allowed);
        File.WriteAllBytes(At("empty.flac"), []);
        Should.Throw<SoundFileException>(() => SoundFileReader.Read(At("empty.flac")));
    }

    [Fact]
    public void What_is_far_too_long_is_refused_before_it_is_decoded()
    {
        Ffmpeg.Run("ffmpeg", "-v", "error", "-f", "lavfi", "-i", "anullsrc=r=8000:cl=mono", "-t", "901", At("long.flac"));
        Should.Throw<SoundFileException>(() => SoundFileReader.Read(At("long.flac"))).What.ShouldBe("The sound is longer than 15 minutes.");
    }

    [Fact]
    public void A_file_cut_short_or_full_of_noise_never_brings_the_reader_down()
    {
        Tone(48_000);
        Ffmpeg.Encode(At("tone.wav"), At("a.flac"));
        var whole = File.ReadAllBytes(At("a.flac"));
        var random = new Random(11);
        for (var round = 0; round < 60; round++)
        {
            var bytes = whole[..random.Next(1, whole.Length)];
            for (var hits = random.Next(20); hits > 0; hits--)
            {
                bytes[random.Next(bytes.Length)] = (byte)random.Next(256);
            }

            File.WriteAllBytes(At("broken.flac"), bytes);
            try
            {
                Array.TrueForAll(SoundFileReader.Read(At("broken.flac")).Sound.Left, float.IsFinite).ShouldBeTrue();
            }
            catch (SoundFileException refusal)
            {
                refusal.Allowed.ShouldNotBeEmpty();
            }
        }
    }

    [Fact]
    public void A_decoded_sound_is_kept_and_read_again_to_the_bit()
    {
        var sound = new SoundBuffer([1, 2, 3], [4, 5, float.Epsilon]);
        PlanarFile.Write(At("p"), sound);
        var again = PlanarFile.Read(At("p"), 2);
        again.Left.ShouldBe(sound.Left);
        again.Right.ShouldBe(sound.Right);
        File.WriteAllBytes(At("p"), new byte[7]);
        Should.Throw<SoundFileException>(() => PlanarFile.Read(At("p"), 2)).What.ShouldBe("The stored sound p is damaged.");
    }

    private static float[] TestTone(int frames) =>
        [.. Enumerable.Range(0, frames).Select(n => 0.3f * MathF.Sin(2 * MathF.PI * 1000 * n / 48_000))];

    private static double Power(float[] samples) => 10 * Math.Log10(samples.AsSpan(samples.Length / 4, samples.Length / 2).ToArray().Average(x => (double)x * x));

    private void Tone(int frames)
    {
        using var writer = new TakeFileWriter(At("tone.wav"), 2, new("Tone", DateTimeOffset.UnixEpoch));
        writer.Write(TestTone(frames), TestTone(frames));
    }
}
