using Kinetra.Core.Rigs;
using Kinetra.Media.Cutting;

namespace Kinetra.Media.Tests;

/// <summary>Parts of MP3 and Opus that are not coded once more, as another program decodes them.</summary>
public class LossyCutTests : InFolder
{
    private const int Rate = 48_000, Seconds = 6;
    private static readonly DateTimeOffset Start = new(2026, 3, 14, 20, 15, 30, TimeSpan.Zero);

    private static readonly (int From, int Frames)[] Parts =
    [
        (0, Rate * Seconds), (0, Rate), (1, Rate), (2_990, 5_000), (2_991, 5_000), (30_000, LossyCut.Fewest), (100_001, Rate), (Rate * Seconds / 2, Rate * Seconds / 2), ((Rate * Seconds) - 7_777, 7_777),
    ];

    [Theory]
    [InlineData(TakeForm.Mp3, 1)]
    [InlineData(TakeForm.Mp3, 2)]
    [InlineData(TakeForm.Opus, 1)]
    [InlineData(TakeForm.Opus, 2)]
    public void A_part_is_to_the_sample_what_another_program_decodes_there_from_the_whole(TakeForm form, int channels)
    {
        Write(form, channels);

        // The libraries that this program reads with are others.
        var (whole, ours) = (Ffmpeg.Decode(At("whole")), SoundFileReader.Read(At("whole")).Sound.Left);
        whole.Length.ShouldBe(Rate * Seconds * channels);
        foreach (var (from, frames) in Parts)
        {
            LossyCut.TryCut(At("whole"), At("part"), form, from, frames, new("A part – Höst", Start), CancellationToken.None).ShouldBeTrue();
            var (part, read) = (Ffmpeg.Decode(At("part")), SoundFileReader.Read(At("part")).Sound.Left);
            (part.Length, read.Length).ShouldBe((frames * channels, frames));

            // Opus follows what came before for longer than it says, ever less.
            var most = form == TakeForm.Mp3 ? 1e-6 : 1e-3;
            part.Select((x, n) => Math.Abs(x - whole[(from * channels) + n])).Max().ShouldBeLessThan(most, $"{frames} from {from}");
            read.Select((x, n) => (double)Math.Abs(x - ours[from + n])).Max().ShouldBeLessThan(most, $"{frames} from {from}");
            if (form == TakeForm.Mp3)
            {
                // Where players go to by the table in front: ever further, and never beyond the end.
                var bytes = File.ReadAllBytes(At("part"));
                var table = bytes.AsSpan(bytes.AsSpan().IndexOf("Xing"u8) + 16, 100).ToArray();
                table.ShouldBe(table.Order());
                table[^1].ShouldBeGreaterThan((byte)200);
            }
        }

        Ffmpeg.Probe(At("part")).ShouldContain("TAG:title=A part – Höst", Case.Insensitive);
    }

    [Fact]
    public void What_is_not_wholly_there_or_is_something_else_is_not_cut_and_leaves_no_file()
    {
        foreach (var form in new[] { TakeForm.Mp3, TakeForm.Opus })
        {
            Write(form, 2);
            Refused(form, Rate * Seconds, 2 * Rate);
            Refused(form, Rate, LossyCut.Fewest - 1);
            var bytes = File.ReadAllBytes(At("whole"));

            // As a crash leaves it: before the encoder wrote how long it is, or in the middle of a packet.
            File.WriteAllBytes(At("whole"), bytes[..(bytes.Length / 2)]);
            Refused(form, Rate * Seconds / 2, Rate * Seconds / 2);
            new Random(1).NextBytes(bytes.AsSpan(bytes.Length / 4, 2_000));
            File.WriteAllBytes(At("whole"), bytes);
            Refused(form, Rate * Seconds / 2, Rate * 2);
            File.WriteAllBytes(At("whole"), []);
            Refused(form, 0, Rate);
            File.WriteAllBytes(At("whole"), bytes[3..]);
            Refused(form, 0, Rate);
        }

        Refused(TakeForm.Wav24, 0, Rate);
        Refused(TakeForm.Flac, 0, Rate);
    }

    private void Refused(TakeForm form, long from, long frames)
    {
        LossyCut.TryCut(At("whole"), At("part"), form, from, frames, new("x", Start), CancellationToken.None).ShouldBeFalse($"{form} from {from}");
        File.Exists(At("part")).ShouldBeFalse();
    }

    private void Write(TakeForm form, int channels)
    {
        // Bursts of noise over tones: frames that need many bits, and take them from those before.
        var random = new Random(7);
        float[] Plane(double hertz) => [.. Enumerable.Range(0, Rate * Seconds).Select(n => (float)((0.2 * Math.Sin(2 * Math.PI * hertz * n / Rate)) + ((n / 3_000 % 3 == 0 ? 0.3 : 0.001) * ((2 * random.NextDouble()) - 1))))];
        using var writer = new TakeFileWriter(At("whole"), channels, new("The whole", Start), form);
        writer.Write(Plane(310), channels == 2 ? Plane(505) : default);
    }
}
