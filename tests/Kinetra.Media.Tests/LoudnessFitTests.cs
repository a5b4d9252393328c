using System.Globalization;
using System.Text.RegularExpressions;
using Kinetra.Core.Rigs;
using Kinetra.Core.Takes;

namespace Kinetra.Media.Tests;

/// <summary>Another program says how loud it has become.</summary>
public partial class LoudnessFitTests : InFolder
{
    private static readonly DateTimeOffset Start = new(2026, 3, 14, 20, 15, 30, TimeSpan.Zero);

    public static TheoryData<string, int, double, double, double> Sounds => new()
    {
        { "speech", 2, 0.02, -16, -1 },
        { "speech", 1, 0.02, -19, -1 },
        { "speech", 2, 0.9, -23, -1 },
        { "clicks", 2, 0.3, -16, -1 },
        { "clicks", 1, 0.1, -14, -2 },
        { "speech", 2, 0.3, -14, -6 },
    };

    [Theory]
    [MemberData(nameof(Sounds))]
    public void A_sound_becomes_as_loud_as_was_asked_for_and_no_peak_lies_above_the_ceiling(string kind, int channels, double level, double lufs, double ceiling)
    {
        var sound = new Made(kind, channels, level, 20 * 48_000);
        var fitted = LoudnessFit.Of(sound, new LoudnessGoal(lufs, ceiling), cancel: TestContext.Current.CancellationToken).ShouldNotBeNull();
        var path = At("fitted.wav");
        long frames = 0;
        using (var writer = new TakeFileWriter(path, channels, new("x", Start), TakeForm.Wav32))
        {
            LoudnessFit.Give(
                sound,
                fitted,
                (planes, count) =>
                {
                    writer.Write(planes, count);
                    frames += count;
                },
                cancel: TestContext.Current.CancellationToken);
        }

        frames.ShouldBe(sound.Frames);
        var (loud, peak) = Measured(path);
        loud.ShouldBe(lufs, 0.11);
        peak.ShouldBeLessThanOrEqualTo(ceiling + 0.05);
        fitted.After.IntegratedLufs!.Value.ShouldBe(loud, 0.11);
        fitted.After.TruePeakDbtp!.Value.ShouldBe(peak, 0.15);
    }

    [Fact]
    public void Where_no_peak_would_be_too_high_every_sample_is_raised_alike_at_its_place()
    {
        var sound = new Made("speech", 2, 0.02, 5 * 48_000);
        var fitted = LoudnessFit.Of(sound, new LoudnessGoal(-30, -1), cancel: TestContext.Current.CancellationToken).ShouldNotBeNull();
        fitted.CeilingDbtp.ShouldBeNull();
        var factor = Math.Pow(10, fitted.GainDb / 20);
        var at = 0;
        LoudnessFit.Give(
            sound,
            fitted,
            (planes, count) =>
            {
                for (var n = 0; n < count; n++)
                {
                    ((double)planes[0][n]).ShouldBe(sound.Left[at + n] * factor, 1e-6);
                    ((double)planes[1][n]).ShouldBe(sound.Right[at + n] * factor, 1e-6);
                }

                at += count;
            },
            cancel: TestContext.Current.CancellationToken);
        at.ShouldBe(5 * 48_000);
    }

    [Fact]
    public void Silence_cannot_be_made_loud() =>
        LoudnessFit.Of(new Made("speech", 1, 0, 48_000), new LoudnessGoal(-16, -1), cancel: TestContext.Current.CancellationToken).ShouldBeNull();

    private static (double Lufs, double Peak) Measured(string path)
    {
        var start = new System.Diagnostics.ProcessStartInfo("ffmpeg", ["-hide_banner", "-nostats", "-i", path, "-af", "ebur128=peak=true", "-f", "null", "-"]) { RedirectStandardError = true };
        using var ffmpeg = System.Diagnostics.Process.Start(start)!;
        var text = ffmpeg.StandardError.ReadToEnd();
        ffmpeg.WaitForExit();
        text = text[text.LastIndexOf("Summary:", StringComparison.Ordinal)..];
        return (double.Parse(Loud().Match(text).Groups[1].Value, CultureInfo.InvariantCulture), double.Parse(Peak().Match(text).Groups[1].Value, CultureInfo.InvariantCulture));
    }

    [GeneratedRegex(@"I:\s+(-?[\d.]+) LUFS")]
    private static partial Regex Loud();

    [GeneratedRegex(@"Peak:\s+(-?[\d.]+) dBFS")]
    private static partial Regex Peak();

    // Noise in syllables, or with high clicks in it, so that much has to be held.
    private sealed class Made : ISoundAgain
    {
        private int _at;

        public Made(string kind, int channels, double level, int frames)
        {
            Channels = channels;
            (Left, Right) = (new float[frames], new float[frames]);
            var random = new Random(5);
            for (var n = 0; n < frames; n++)
            {
                var syllable = 0.2 + Math.Abs(Math.Sin(n * Math.PI / 9_600));
                var click = kind == "clicks" && n % 24_000 < 40 ? 3 : 0.1;
                var factor = level * (kind == "clicks" ? click : syllable);
                Left[n] = (float)(factor * ((random.NextDouble() * 2) - 1));
                Right[n] = channels == 1 ? Left[n] : (float)(factor * ((random.NextDouble() * 2) - 1));
            }
        }

        public float[] Left { get; }

        public float[] Right { get; }

        public int Channels { get; }

        public long Frames => Left.Length;

        public void Rewind() => _at = 0;

        public int Read(Span<float> left, Span<float> right)
        {
            // In parts of whatever length.
            var count = Math.Min(Math.Min(left.Length, 177), Left.Length - _at);
            Left.AsSpan(_at, count).CopyTo(left);
            if (Channels == 2)
            {
                Right.AsSpan(_at, count).CopyTo(right);
            }

            _at += count;
            return count;
        }
    }
}
