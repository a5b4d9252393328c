using System.Buffers;
using CsCheck;
using Kinetra.Core.Rigs;
using Kinetra.Media.Streaming;

namespace Kinetra.Media.Tests;

public class StreamingTests : InFolder
{
    public static readonly TheoryData<StreamForm, int> Forms =
        new(from form in Enum.GetValues<StreamForm>() from channels in new[] { 1, 2 } select (form, channels));

    [Theory]
    [MemberData(nameof(Forms))]
    public void What_goes_out_in_pieces_of_any_length_is_read_by_another_program_as_the_same_sound(StreamForm form, int channels)
    {
        var sound = Voices(3);
        var path = At("out" + EndingOf(form));
        File.WriteAllBytes(path, Encoded(form, channels, sound, seed: 1));
        var decoded = Ffmpeg.Decode(path);
        var frames = decoded.Length / channels;
        for (var c = 0; c < channels; c++)
        {
            var back = Enumerable.Range(0, frames).Select(n => decoded[(n * channels) + c]).ToArray();
            if (form is StreamForm.Wav or StreamForm.Flac or StreamForm.OggFlac)
            {
                back.Length.ShouldBe(sound[c].Length);
                back.Zip(sound[c]).Max(p => Math.Abs(p.First - p.Second)).ShouldBeLessThanOrEqualTo(0.5 / 8_388_608 * 1.01);
            }
            else
            {
                ShouldBeLike(back, sound[c]);
            }
        }
    }

    [Theory]
    [MemberData(nameof(Forms))]
    public void What_another_program_sends_is_read_as_it_reads_it_itself_however_it_dribbles_in(StreamForm form, int channels)
    {
        var wav = At("in.wav");
        File.WriteAllBytes(wav, Encoded(StreamForm.Wav, channels, Voices(2), seed: 2));
        var path = At("sent" + EndingOf(form));
        Ffmpeg.Encode(wav, path, form switch
        {
            StreamForm.Mp3 => ["-c:a", "libmp3lame", "-b:a", "192k"],
            StreamForm.OggOpus => ["-c:a", "libopus", "-b:a", "160k"],
            StreamForm.OggVorbis => ["-c:a", "libvorbis", "-b:a", "192k"],
            StreamForm.Wav => ["-c:a", "pcm_s16le"],
            _ => ["-c:a", "flac"],
        });
        using var decoder = StreamDecoder.Open(new Dribble(File.ReadAllBytes(path), 7));
        (decoder.Channels, decoder.SampleRate).ShouldBe((channels, 48_000));
        var ours = ReadAll(decoder);
        var theirs = Ffmpeg.Decode(path);

        // Another decoder may begin or end with some more of what stands around the sound.
        var off = Math.Abs(ours.Count - theirs.Length) / channels;
        off.ShouldBeLessThan(form is StreamForm.Mp3 or StreamForm.OggOpus or StreamForm.OggVorbis ? 3_000 : 1);
        var one = ours.Where((_, i) => i % channels == 0).Select(x => (double)x).ToArray();
        var other = theirs.Where((_, i) => i % channels == 0).Select(x => (float)x).ToArray();
        ShouldBeLike(one, other, within: 0.02);
    }

    [Theory]
    [InlineData("-c:a pcm_u8", 8)]
    [InlineData("-c:a pcm_s24le", 24)]
    [InlineData("-c:a pcm_s32le", 32)]
    [InlineData("-c:a pcm_f32le", 32)]
    public void Wav_of_every_kind_is_read_from_a_pipe_where_no_length_is_stated(string how, int bits)
    {
        var wav = At("in.wav");
        File.WriteAllBytes(wav, Encoded(StreamForm.Wav, 2, Voices(1), seed: 3));
        var bytes = Ffmpeg.Run("ffmpeg", ["-v", "error", "-i", wav, .. how.Split(' '), "-f", "wav", "-"]);
        using var decoder = StreamDecoder.Open(new Dribble(bytes, 5));
        decoder.Format.ShouldBe($"WAV, {bits} bit");
        var ours = ReadAll(decoder);
        var sound = Voices(1);
        (ours.Count / 2).ShouldBe(sound[0].Length);
        ours.Where((_, i) => i % 2 == 0).Zip(sound[0]).Max(p => Math.Abs(p.First - p.Second)).ShouldBeLessThan(bits == 8 ? 0.009f : 1e-6f);
    }

    [Theory]
    [MemberData(nameof(Forms))]
    public void Whatever_is_damaged_or_breaks_off_ends_with_words_or_goes_on_and_never_hangs(StreamForm form, int channels)
    {
        var whole = Encoded(form, channels, Voices(0.5), seed: 4);
        Gen.Select(Gen.Int[0, whole.Length], Gen.Int[0, whole.Length], Gen.Byte.Array[0, 3_000]).Sample(
            (cut, from, garbage) =>
            {
                var bytes = whole[..cut].Concat(garbage).Concat(whole[Math.Max(from, cut)..]).ToArray();
                try
                {
                    using var decoder = StreamDecoder.Open(new Dribble(bytes, 3));
                    ReadAll(decoder).Count.ShouldBeLessThan(48_000 * 2 * 20);
                }
                catch (SoundFileException e)
                {
                    e.What.ShouldNotBeEmpty();
                    e.Allowed.ShouldNotBeEmpty();
                }
            },
            iter: 60,
            threads: 1);
    }

    [Theory]
    [InlineData("", "Nothing came.")]
    [InlineData("GET / HTTP/1.1\r\n\r\n and so on, and so on, and so on, and so on, and so on", "What came is no sound that can be read.")]
    public void What_is_no_sound_is_refused_with_what_would_be_right(string text, string what)
    {
        var e = Should.Throw<SoundFileException>(() => StreamDecoder.Open(new MemoryStream(System.Text.Encoding.ASCII.GetBytes(text))));
        e.What.ShouldBe(what);
        e.Allowed.ShouldBe("WAV, FLAC, MP3, or Opus, Vorbis or FLAC in Ogg");
    }

    [Fact]
    public void A_second_stream_behind_the_first_is_read_on_as_internet_radio_sends_it_with_every_title()
    {
        foreach (var form in new[] { StreamForm.OggOpus, StreamForm.OggVorbis, StreamForm.OggFlac })
        {
            byte[] bytes = [.. Encoded(form, 2, Voices(1), seed: 5), .. Encoded(form, 2, Voices(1), seed: 6)];
            using var decoder = StreamDecoder.Open(new Dribble(bytes, 11));
            (ReadAll(decoder).Count / 2).ShouldBeInRange(95_000, 99_000);
        }
    }

    [Fact]
    public void Whatever_a_stream_may_be_set_to_there_is_an_encoder_for_and_it_is_as_loud_as_what_it_was_given()
    {
        var all = from form in AirForms.All
                  from rate in AirForms.RatesOf(form)
                  from channels in new[] { 1, 2 }
                  let allowed = AirForms.KilobitsOf(form, rate, channels)
                  from kilobits in allowed.Only ?? [allowed.Least, (allowed.Least + allowed.Most) / 2, allowed.Most]
                  select (form, rate, channels, kilobits);
        foreach (var (form, rate, channels, kilobits) in all)
        {
            var what = $"{form}, {rate} Hz, {channels}, {kilobits} kbit/s";
            AirForms.Words(form, kilobits, channels, rate).ShouldNotBeEmpty(what);

            // What every bit rate has in full: a tone that is neither high nor low.
            var tone = Enumerable.Range(0, 2 * rate).Select(n => 0.25f * MathF.Sin(MathF.Tau * 600 * n / rate)).ToArray();
            using var encoder = StreamEncoder.Of(form, channels, rate, kilobits, "Title");
            var bytes = new ArrayBufferWriter<byte>();
            encoder.Begin(bytes);
            foreach (var piece in tone.Chunk(StreamEncoder.MostFrames))
            {
                encoder.Encode(piece, piece, bytes);
            }

            encoder.End(bytes);
            using var decoder = StreamDecoder.Open(new MemoryStream(bytes.WrittenSpan.ToArray()));
            (decoder.Channels, decoder.SampleRate).ShouldBe((channels, rate), what);
            var back = ReadAll(decoder).Skip(rate * channels / 2).Take(rate * channels).ToList();
            (20 * Math.Log10(Math.Sqrt(back.Average(x => x * (double)x)) / (0.25 / Math.Sqrt(2)))).ShouldBeInRange(-0.5, 0.5, what);
        }
    }

    internal static byte[] Encoded(StreamForm form, int channels, float[][] sound, int seed)
    {
        var random = new Random(seed);
        var bytes = new ArrayBufferWriter<byte>();
        using var encoder = StreamEncoder.Of(form, channels, 48_000, 160, "A title");
        encoder.Begin(bytes);
        for (int at = 0, part; at < sound[0].Length; at += part)
        {
            part = Math.Min(random.Next(1, StreamEncoder.MostFrames), sound[0].Length - at);
            encoder.Encode(sound[0].AsSpan(at, part), channels == 2 ? sound[1].AsSpan(at, part) : default, bytes);
        }

        encoder.End(bytes);
        return bytes.WrittenSpan.ToArray();
    }

    // Tones that come and go, other ones in each channel; soft enough that nothing that is made of them clips.
    private static float[][] Voices(double seconds)
    {
        var frames = (int)(seconds * 48_000);
        return [.. Enumerable.Range(0, 2).Select(c => Enumerable.Range(0, frames).Select(n =>
        {
            var t = n / 48_000.0;
            var swell = 0.5 + (0.5 * Math.Sin((2 * Math.PI * (1.7 + c) * t) + c));
            return (float)(0.2 * swell * (Math.Sin(2 * Math.PI * (220 + (330 * c) + (40 * t)) * t) + Math.Sin(2 * Math.PI * (900 + (170 * c)) * t)));
        }).ToArray())];
    }

    private static string EndingOf(StreamForm form) => form switch
    {
        StreamForm.Mp3 => ".mp3",
        StreamForm.Flac => ".flac",
        StreamForm.Wav => ".wav",
        _ => ".ogg",
    };

    private static List<float> ReadAll(StreamDecoder decoder)
    {
        var all = new List<float>();
        var room = new float[1_000];
        for (int frames; (frames = decoder.Read(room)) > 0;)
        {
            all.AddRange(room[..(frames * decoder.Channels)]);
        }

        return all;
    }

    // The same wave at one delay, as loud within 0.1 dB, and all of it.
    private static void ShouldBeLike(double[] back, float[] sound, double within = 0.06)
    {
        const int MostDelay = 3_000;
        var (from, length) = (MostDelay + 1_000, Math.Min(sound.Length, back.Length) - (2 * MostDelay) - 2_000);
        var best = Enumerable.Range(-MostDelay, 2 * MostDelay).MaxBy(d => Product(d, 13));
        double energy = 0, own = 0, differs = 0;
        for (var n = from; n < from + length; n++)
        {
            var (x, y) = (sound[n], back[n + best]);
            energy += x * x;
            own += y * y;
            differs += (x - y) * (x - y);
        }

        Math.Abs(10 * Math.Log10(own / energy)).ShouldBeLessThan(0.1, $"delay {best}");
        Math.Sqrt(differs / energy).ShouldBeLessThan(within, $"delay {best}");

        double Product(int delay, int step)
        {
            double sum = 0;
            for (var n = from; n < from + length; n += step)
            {
                sum += sound[n] * back[n + delay];
            }

            return sum;
        }
    }

    // Comes in pieces of a few bytes to a few thousand, as a network gives it.
    private sealed class Dribble(byte[] bytes, int seed) : MemoryStream(bytes)
    {
        private readonly Random _random = new(seed);

        public override int Read(Span<byte> buffer)
        {
            var part = new byte[Math.Min(buffer.Length, _random.Next(1, 1_500))];
            var count = base.Read(part, 0, part.Length);
            part.AsSpan(0, count).CopyTo(buffer);
            return count;
        }
    }
}
