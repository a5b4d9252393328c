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

    private void Write(string name, float[] left, float[] right)
    {
        using var writer = new TakeFileWriter(At(name), 2, new("First take – Viewers", Start));
        writer.Write(left, right);
    }
}
