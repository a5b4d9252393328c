using Kinetra.Core.Dsp;
using Kinetra.Core.Editing;
using Kinetra.Core.Engine;
using Kinetra.Core.Metering;
using Kinetra.Core.Rigs;
using Kinetra.Core.Signal;

namespace Kinetra.Gear.Tests;

/// <summary>The stand-ins, made once for all tests.</summary>
public sealed class MadeStandIns
{
    public StandIns All { get; } = new();
}

public class StandInTests(MadeStandIns made) : IClassFixture<MadeStandIns>
{
    public static TheoryData<string> Devices => new("host-mic", "second-mic", "sea-mic", "guest-call", "crew-talk", "skerry-keeper", "radio", "record-shelf", "harbour-browser");

    [Fact]
    public void The_demo_shows_are_valid() => DemoShows.All.ShouldAllBe(s => RigRules.Check(s.Rig).IsEmpty);

    [Fact]
    public void Crew_talk_is_private_and_the_guest_never_hears_himself()
    {
        var rig = LampRoom.Rig();
        rig.Find(new MixId("viewers"), new("crew-talk"))!.Heard.ShouldBeFalse();
        rig.Find(new MixId("guest-hears"), new("crew-talk"))!.Heard.ShouldBeFalse();
        rig.Find(new MixId("my-ears"), new("crew-talk"))!.Heard.ShouldBeTrue();
        rig.Find(new MixId("guest-hears"), new("guest-call"))!.Heard.ShouldBeFalse();
    }

    [Theory]
    [MemberData(nameof(Devices))]
    public void Each_lasts_at_least_30_s_and_stays_below_full_scale(string device)
    {
        var sound = made.All.Sound(device);
        sound.Frames.ShouldBeGreaterThanOrEqualTo(30 * AudioFormat.SampleRate);
        Peak(sound).ShouldBeInRange(0.02, 0.9);
    }

    [Theory]
    [MemberData(nameof(Devices))]
    public void No_loop_clicks_at_its_seam(string device)
    {
        // Where the loop closes, what lies above 2 kHz is no louder than it is anywhere else in the loop.
        var left = made.All.Sound(device).Left;
        const int window = 64;
        var twice = left[^AudioFormat.SampleRate..].Concat(left).ToArray();
        var filtered = Above(2000, twice);
        var seam = AudioFormat.SampleRate;
        var atSeam = Energy(filtered.AsSpan(seam - (window / 2), window));
        var elsewhere = Enumerable.Range(1, (filtered.Length / window) - 2).Select(w => Energy(filtered.AsSpan(w * window, window))).Order().ToArray();
        atSeam.ShouldBeLessThanOrEqualTo(elsewhere[(int)(elsewhere.Length * 0.995)]);
    }

    [Fact]
    public void They_differ_in_level_and_spectrum_as_such_things_do()
    {
        var loudness = made.All.Devices.ToDictionary(d => d, d => Loudness(made.All.Sound(d)));
        (loudness["record-shelf"] - loudness["sea-mic"]).ShouldBeGreaterThan(10);
        (loudness["host-mic"] - loudness["crew-talk"]).ShouldBeInRange(3, 12);
        Brightness("sea-mic").ShouldBeLessThan(Brightness("host-mic") / 2);
        Brightness("guest-call").ShouldBeLessThan(Brightness("host-mic"));
        made.All.Sound("skerry-keeper").Channels.ShouldBe(2);
        made.All.Sound("host-mic").Channels.ShouldBe(1);
    }

    [Fact]
    public void The_same_seeds_give_the_same_sound()
    {
        var again = new StandIns();
        foreach (var device in made.All.Devices)
        {
            again.Sound(device).Left.AsSpan().SequenceEqual(made.All.Sound(device).Left).ShouldBeTrue(device);
        }
    }

    [Fact]
    public void What_was_kept_of_them_is_the_same_to_the_bit_and_made_again_where_it_is_damaged()
    {
        var folder = Directory.CreateTempSubdirectory("kinetra-gear-");
        var first = new StandIns(folder.FullName);
        first.Devices.ShouldAllBe(d => first.Sound(d).Frames > 0);
        var file = Directory.GetFiles(folder.FullName, "sea-mic.*", SearchOption.AllDirectories).Single();
        File.WriteAllBytes(file, new byte[7]);
        var again = new StandIns(folder.FullName);
        foreach (var device in again.Devices)
        {
            again.Sound(device).Left.AsSpan().SequenceEqual(made.All.Sound(device).Left).ShouldBeTrue(device);
            again.Sound(device).Channels.ShouldBe(made.All.Sound(device).Channels);
        }

        folder.Delete(recursive: true);
    }

    private static double Peak(SoundBuffer sound) => sound.Left.Concat(sound.Right ?? []).Max(Math.Abs);

    private static double Loudness(SoundBuffer sound)
    {
        var meter = new LevelMeter(1);
        var reference = new ReferenceLoudness();
        for (var at = 0; at + Hop.Frames <= sound.Frames; at += Hop.Frames)
        {
            meter.Add(sound.Left.AsSpan(at, Hop.Frames), default);
            meter.CloseHop();
            reference.CloseHop(meter.Momentary, meter.ShortTerm);
        }

        return reference.Lufs;
    }

    // Share of the energy above 1 kHz.
    private double Brightness(string device)
    {
        var left = made.All.Sound(device).Left;
        return Energy(Above(1000, left)) / left.Average(x => (double)x * x);
    }

    private static double[] Above(double hertz, float[] samples)
    {
        var c = BiquadCoefficients.HighPass(hertz, 0.7071, AudioFormat.SampleRate);
        var first = default(Biquad);
        var second = default(Biquad);
        return [.. samples.Select(x => second.Next(c, first.Next(c, x)))];
    }

    private static double Energy(ReadOnlySpan<double> values)
    {
        double sum = 0;
        foreach (var value in values)
        {
            sum += value * value;
        }

        return sum / values.Length;
    }
}
