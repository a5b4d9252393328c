using Kinetra.Core.Rigs;

namespace Kinetra.Media.Tests;

public class TakeFileTests : InFolder
{
    private static readonly DateTimeOffset Start = new(2026, 3, 14, 20, 15, 30, TimeSpan.Zero);

    [Fact]
    public void A_24_bit_sample_that_is_written_is_read_by_another_program_as_the_same_sample()
    {
        int[] steps = [0, 1, -1, 8_388_607, -8_388_608, 123_456, -4_000_001];
        var samples = steps.Select(s => s / 8_388_608f).ToArray();
        Write("a.wav", samples, samples.Reverse().ToArray());
        var decoded = Ffmpeg.Decode(At("a.wav"));
        decoded.Where((_, i) => i % 2 == 0).Select(x => x * 8_388_608).ShouldBe(steps.Select(s => (double)s));
        decoded.Where((_, i) => i % 2 == 1).Select(x => x * 8_388_608).ShouldBe(steps.Reverse().Select(s => (double)s));
    }

    [Fact]
    public void What_lies_beyond_full_scale_is_held_there_and_counted()
    {
        using (var writer = new TakeFileWriter(At("a.wav"), 1, new("Too loud", Start)))
        {
            writer.Write([1.5f, -3f, 0.25f], default);
            writer.Clipped.ShouldBe(2);
        }

        Ffmpeg.Decode(At("a.wav")).ShouldBe([8_388_607 / 8_388_608.0, -1, 0.25]);
    }

    [Fact]
    public void The_file_says_in_an_open_way_what_it_is_and_when_it_was()
    {
        Write("a.wav", new float[48_000], new float[48_000]);
        var probe = Ffmpeg.Probe(At("a.wav"));
        probe.ShouldContain("codec_name=pcm_s24le");
        probe.ShouldContain("sample_rate=48000");
        probe.ShouldContain("channels=2");
        probe.ShouldContain("TAG:title=First take – Viewers");
        probe.ShouldContain("TAG:comment=First take - Viewers");
        probe.ShouldContain("TAG:date=2026-03-14T20:15:30+00:00");
        probe.ShouldContain("TAG:creation_time=20:15:30");
        probe.ShouldContain($"TAG:time_reference={((20 * 3600) + (15 * 60) + 30) * 48_000L}");
        File.ReadAllBytes(At("a.wav")).AsSpan(0, 4).SequenceEqual("RIFF"u8).ShouldBeTrue();
    }

    [Fact]
    public void A_file_that_is_still_being_written_opens_up_to_its_last_header()
    {
        using var writer = new TakeFileWriter(At("a.wav"), 1, new("Interrupted", Start));
        writer.Write(Enumerable.Repeat(0.5f, 48_000).ToArray(), default);
        writer.UpdateHeader();
        File.Copy(At("a.wav"), At("copy.wav"));
        Ffmpeg.Decode(At("copy.wav")).ShouldBe(Enumerable.Repeat(0.5, 48_000));
    }

    [Fact]
    public void A_folder_that_is_not_there_is_said_so()
    {
        Should.Throw<IOException>(() => new TakeFileWriter(At("no/such/a.wav"), 1, new("x", Start))).Message.ShouldContain("no/such");
    }

    [Fact]
    public void Each_channel_of_one_file_of_many_has_its_sound_and_is_called_by_its_name()
    {
        string[] names = ["Host & mic", "Game – left", "Game – right", .. Enumerable.Range(4, 29).Select(n => $"Track {n}")];
        var planes = names.Select((_, c) => Enumerable.Range(0, 10_000).Select(n => ((c * 10_000) + n) / 8_388_608f).ToArray()).ToArray();
        using (var writer = new TakeFileWriter(At("all.wav"), names.Length, new("A take", Start, [.. names])))
        {
            writer.Write(planes, 10_000);
        }

        var decoded = Ffmpeg.Decode(At("all.wav"));
        decoded.Length.ShouldBe(names.Length * 10_000);
        for (var c = 0; c < names.Length; c++)
        {
            decoded.Where((_, i) => i % names.Length == c).Select(x => (int)Math.Round(x * 8_388_608)).ShouldBe(Enumerable.Range(c * 10_000, 10_000));
        }

        var chunks = ChunksOf(At("all.wav"));
        var xml = System.Xml.Linq.XDocument.Parse(System.Text.Encoding.UTF8.GetString(chunks.Single(k => k.Id == "iXML").Data));
        xml.Descendants("TRACK_COUNT").Single().Value.ShouldBe("32");
        xml.Descendants("TRACK").Select(t => t.Element("NAME")!.Value).ShouldBe(names);
        xml.Descendants("TRACK").Select(t => t.Element("INTERLEAVE_INDEX")!.Value).ShouldBe(Enumerable.Range(1, 32).Select(n => n.ToString(System.Globalization.CultureInfo.InvariantCulture)));
    }

    [Fact]
    public void Samples_of_16_bits_that_are_not_dithered_stay_as_they_are()
    {
        int[] steps = [0, 1, -1, 32_767, -32_768, 123, -4_001];
        using (var writer = new TakeFileWriter(At("a.wav"), 1, new("x", Start), TakeForm.Wav16, dithers: false))
        {
            writer.Write([.. steps.Select(s => s / 32_768f)], default);
        }

        Ffmpeg.Decode(At("a.wav")).Select(x => x * 32_768).ShouldBe(steps.Select(s => (double)s));
    }

    [Fact]
    public void Marks_in_a_file_are_read_by_another_program_and_its_sound_stays_to_the_bit()
    {
        var samples = Enumerable.Range(0, 48_001).Select(n => n / 8_388_608f).ToArray();
        using (var writer = new TakeFileWriter(At("a.wav"), 1, new("x", Start)))
        {
            writer.Write(samples, default);
        }

        var before = Ffmpeg.Decode(At("a.wav"));
        WavMarks.Append(At("a.wav"), [new(0, "Opening"), new(24_000, "Die Überraschung"), new(48_000, "odd")]).ShouldBeTrue();
        Ffmpeg.Decode(At("a.wav")).ShouldBe(before);

        // The size in the header is what is there, and the chunks follow each other to its end.
        var bytes = File.ReadAllBytes(At("a.wav"));
        BitConverter.ToUInt32(bytes, 4).ShouldBe((uint)(bytes.Length - 8));
        var chunks = ChunksOf(At("a.wav"));
        var cue = chunks.Single(c => c.Id == "cue ").Data;
        BitConverter.ToInt32(cue, 0).ShouldBe(3);
        Enumerable.Range(0, 3).Select(n => BitConverter.ToUInt32(cue, 4 + (24 * n) + 20)).ShouldBe([0u, 24_000u, 48_000u]);
        var list = chunks.Last(c => c.Id == "LIST").Data;
        System.Text.Encoding.ASCII.GetString(list, 0, 4).ShouldBe("adtl");
        var labels = ChunksOf(list.AsSpan(4));
        labels.Select(l => (l.Id, BitConverter.ToInt32(l.Data), System.Text.Encoding.UTF8.GetString(l.Data, 4, l.Data.Length - 4))).ShouldBe(
            [("labl", 1, "Opening\0"), ("labl", 2, "Die Überraschung\0"), ("labl", 3, "odd\0")]);
    }

    [Fact]
    public void A_file_of_the_long_form_gets_marks_too_and_stays_as_long()
    {
        Ffmpeg.Run("ffmpeg", "-v", "error", "-f", "lavfi", "-i", "sine=440:d=0.5:r=48000", "-rf64", "always", At("long.wav"));
        File.ReadAllBytes(At("long.wav")).AsSpan(0, 4).SequenceEqual("RF64"u8).ShouldBeTrue();
        var before = Ffmpeg.Decode(At("long.wav"));
        WavMarks.Append(At("long.wav"), [new(12_000, "half")]).ShouldBeTrue();
        var bytes = File.ReadAllBytes(At("long.wav"));
        BitConverter.ToInt64(bytes, 20).ShouldBe(bytes.Length - 8);
        BitConverter.ToUInt32(bytes, 4).ShouldBe(uint.MaxValue);
        Ffmpeg.Decode(At("long.wav")).ShouldBe(before);
        System.Text.Encoding.UTF8.GetString(bytes).ShouldContain("half");
    }

    [Fact]
    public void What_is_no_WAV_file_gets_no_marks_and_stays_as_it_is()
    {
        File.WriteAllText(At("letter.wav"), "Dear harbour master, this is a letter.");
        WavMarks.Append(At("letter.wav"), [new(1, "x")]).ShouldBeFalse();
        File.ReadAllText(At("letter.wav")).ShouldBe("Dear harbour master, this is a letter.");
    }

    // What ffmpeg shows of a file is not all that is in it: its chunks, one behind the other.
    private static List<(string Id, byte[] Data)> ChunksOf(string path) => ChunksOf(File.ReadAllBytes(path).AsSpan(12));

    private static List<(string Id, byte[] Data)> ChunksOf(ReadOnlySpan<byte> all)
    {
        var chunks = new List<(string, byte[])>();
        while (!all.IsEmpty)
        {
            var size = (int)BitConverter.ToUInt32(all[4..8]);
            chunks.Add((System.Text.Encoding.ASCII.GetString(all[..4]), all.Slice(8, size).ToArray()));
            all = all[Math.Min(all.Length, 8 + size + (size % 2))..];
        }

        return chunks;
    }

    private void Write(string name, float[] left, float[] right)
    {
        using var writer = new TakeFileWriter(At(name), 2, new("First take – Viewers", Start));
        writer.Write(left, right);
    }
}
