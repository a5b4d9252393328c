using System.Numerics;
using Kinetra.Core.Editing;
using Kinetra.Core.Gear;
using Kinetra.Core.Planning;
using Kinetra.Core.Rigs;
using Kinetra.Core.Signal;
using Kinetra.Gear.Practice;

namespace Kinetra.Gear.Tests;

public class PracticeComputerTests(MadeStandIns made) : IClassFixture<MadeStandIns>
{
    private static readonly MixId Viewers = new("viewers");
    private static readonly CableId Cable = new("cable");
    private static readonly CablesNow OneCable = new(new Dictionary<CableId, (string Name, int Channels)> { [Cable] = ("Game cable", 2) });

    [Fact]
    public void Each_device_and_program_of_the_catalog_is_possible_and_named_once()
    {
        var gear = PracticeCatalog.Initial();
        gear.Devices.Select(d => d.Name).Concat(gear.Apps.Select(a => a.Name)).ShouldBeUnique();
        gear.Devices.ShouldAllBe(d => RigRules.CheckName("name", d.Name) == null && d.Rate >= Device.LowestRate && d.Rate <= Device.HighestRate && d.Inputs.Length <= RigLimits.DeviceChannels);
        gear.Devices.SelectMany(d => d.Inputs).ShouldAllBe(i => i.Excess == 0);
        foreach (var app in gear.Apps)
        {
            app.Ports.Select(p => p.Id).ShouldBeUnique();
            app.Passes.ShouldAllBe(p => app.Find(p.From)!.Side == Side.In && app.Find(p.To)!.Side == Side.Out);
        }
    }

    [Fact]
    public void What_the_desk_takes_from_a_program_is_that_programs_sound_and_nothing_else_plays_it()
    {
        var headset = new DevicePoint(PracticeCatalog.Headset, Side.Out);
        var bench = new PracticeBench(made.All, With(new AppInput(PracticeCatalog.Music)), null, Source, headset).Run(2);
        Same(bench.Left(Source), made.All.Sound("record-shelf").Left, 0);

        // The game, the chat and the call follow the default still.
        Rms(bench.Left(headset)).ShouldBeGreaterThan(1e-3);
        Correlation(bench.Left(headset), made.All.Sound("record-shelf").Left).ShouldBeLessThan(0.1);
        var tapped = new PracticeBench(made.All, With(new AppInput(PracticeCatalog.Music, StillPlays: true)), Alone, Source, headset).Run(2);
        Same(tapped.Left(Source), made.All.Sound("record-shelf").Left, 0);
        Same(tapped.Left(headset), made.All.Sound("record-shelf").Left, 0);
    }

    [Fact]
    public void A_program_that_plays_into_a_cable_is_heard_there_and_no_more_where_it_played()
    {
        var rig = With(new CableInput(Cable, 0, 1)) with { Cables = [new Cable { Id = Cable, Name = "Game cable" }] };
        var headset = new DevicePoint(PracticeCatalog.Headset, Side.Out);
        var bench = new PracticeBench(made.All, rig, Alone, Source, headset).Run(1);
        bench.Left(Source).ShouldAllBe(x => x == 0);
        Same(bench.Left(headset), made.All.Sound("record-shelf").Left, 0);
        bench.Become(g => Done(new SetPort(PracticeCatalog.Music, "music", new ChosenEnd(new CablePoint(Cable))).Apply(g, OneCable, default)));
        bench.Run(1);
        bench.Left(headset)[^24_000..].ShouldAllBe(x => x == 0);
        Same(bench.Left(Source)[^24_000..], made.All.Sound("record-shelf").Left[(48_128 + 24_128)..], 0);
    }

    [Fact]
    public void A_program_that_is_paused_goes_on_where_it_was_and_one_that_ends_and_starts_keeps_its_choices()
    {
        var bench = new PracticeBench(made.All, With(new AppInput(PracticeCatalog.Music)), Alone, Source).Run(1);
        bench.Become(g => Done(new SetApp(PracticeCatalog.Music, IsPlaying: false).Apply(g, OneCable, default)));
        bench.Run(1);
        bench.Left(Source)[^24_000..].ShouldAllBe(x => x == 0);
        bench.Become(g => Done(new SetApp(PracticeCatalog.Music, IsPlaying: true).Apply(g, OneCable, default)));
        bench.Run(1);
        var (after, sound) = (bench.Left(Source)[^24_000..], made.All.Sound("record-shelf").Left);
        Enumerable.Range(24_000, 96_000).Any(at => after.AsSpan().SequenceEqual(sound.AsSpan(at, after.Length))).ShouldBeTrue();
        var cabled = Done(new SetPort(PracticeCatalog.Music, "music", new ChosenEnd(new CablePoint(Cable))).Apply(bench.State, OneCable, default));
        var ended = Done(new SetApp(PracticeCatalog.Music, IsRunning: false).Apply(cabled, OneCable, default));
        var started = Done(new SetApp(PracticeCatalog.Music, IsRunning: true).Apply(ended, OneCable, default));
        started.Find(PracticeCatalog.Music)!.Find("music")!.Choice.ShouldBe(new ChosenEnd(new CablePoint(Cable)));
    }

    [Fact]
    public void A_device_by_its_own_clock_is_brought_to_the_engines_and_held_at_one_latency()
    {
        var mic = new DeviceId("pier-mic");
        var bench = new PracticeBench(made.All, With(new DeviceInput(mic, 0)), null, Source).Run(30);
        var drift = bench.Computer.DriftOf(mic)!;
        drift.Gaps.ShouldBe(0);
        drift.PartsPerMillion.ShouldBe(-42, 6);

        // The same sound, later by the same time at the beginning of ten seconds and at their end.
        var (heard, sound) = (bench.Left(Source), made.All.Sound("host-mic").Left);
        var (early, late) = (Practice.LagOf(heard, sound, 15 * 48_000), Practice.LagOf(heard, sound, 28 * 48_000));
        Math.Abs(early - late).ShouldBeLessThan(48);
        early.ShouldBeInRange(200, 1_600);
    }

    [Fact]
    public void Unplugged_it_is_silent_and_plugged_in_again_it_rejoins_by_itself_while_the_rest_plays_on()
    {
        var mic = new DeviceId("pier-mic");
        var music = new AppPoint(PracticeCatalog.Music, "music");
        var bench = new PracticeBench(made.All, With(new DeviceInput(mic, 0)), null, Source, music).Run(3);
        bench.Become(g => Done(new SetDevice(mic, IsPresent: false).Apply(g, OneCable, default)));
        bench.Run(1);
        bench.Left(Source)[^24_000..].ShouldAllBe(x => x == 0);
        bench.Become(g => Done(new SetDevice(mic, IsPresent: true).Apply(g, OneCable, default)));
        bench.Run(4);
        Rms(bench.Left(Source)[^96_000..]).ShouldBeGreaterThan(1e-3);
        Same(bench.Left(music), made.All.Sound("record-shelf").Left, 0);
        bench.Become(g => Done(new SetDevice(mic, Rate: 96_000).Apply(g, OneCable, default)));
        bench.Run(4);
        Rms(bench.Left(Source)[^96_000..]).ShouldBeGreaterThan(1e-3);
    }

    [Fact]
    public void Hardware_gain_beyond_what_a_microphone_needs_clips_in_the_device_and_its_low_cut_cuts()
    {
        var device = PracticeCatalog.Interface;
        var hot = new PracticeBench(made.All, With(new DeviceInput(device, 0)), g => Done(new SetDeviceInput(device, 0, Gain: 70).Apply(g, OneCable, default)), Source).Run(8);
        hot.Left(Source).Max(Math.Abs).ShouldBe(1);

        // What lies low is taken away, what lies high stays.
        float[] Voice(bool cut) =>
            new PracticeBench(made.All, With(new DeviceInput(device, 0)), g => Done(new SetDeviceInput(device, 0, LowCut: cut).Apply(g, OneCable, default)), Source).Run(8).Left(Source);
        var (plain, cut) = (Voice(cut: false), Voice(cut: true));
        Between(20, 40, cut).ShouldBeLessThan(Between(20, 40, plain) / 4);
        Rms(cut).ShouldBe(Rms(plain), Rms(plain) / 4);
    }

    [Fact]
    public void A_call_that_evens_voices_lets_a_voice_through_and_harms_music_until_that_is_switched_off()
    {
        var mic = new AppPoint(PracticeCatalog.Call, "mic");
        float[] Sent(string port, AppId app, bool evens)
        {
            var rig = With(new AppInput(PracticeCatalog.Crew)) with { Cables = [new Cable { Id = Cable, Name = "Game cable", Channels = 2 }] };
            var bench = new PracticeBench(
                made.All,
                rig,
                g =>
                {
                    g = Done(new SetPort(app, port, new ChosenEnd(new CablePoint(Cable))).Apply(g, OneCable, default));
                    g = Done(new SetPort(PracticeCatalog.Call, "mic", new ChosenEnd(new CablePoint(Cable))).Apply(g, OneCable, default));
                    return evens ? g : Done(new SetApp(PracticeCatalog.Call, EvensVoices: false).Apply(g, OneCable, default));
                },
                mic).Run(12);
            return bench.Left(mic);
        }

        var music = Sent("music", PracticeCatalog.Music, evens: false);
        var harmed = Sent("music", PracticeCatalog.Music, evens: true);
        Correlation(music, harmed).ShouldBeLessThan(0.8);
        Low(harmed).ShouldBeLessThan(Low(music) / 10);
    }

    [Fact]
    public void What_a_guest_is_sent_comes_back_as_his_echo_unless_the_call_removes_it()
    {
        var voice = new AppPoint(PracticeCatalog.Call, "voice");
        float[] Heard(bool removes)
        {
            var rig = With(new AppInput(PracticeCatalog.Crew)) with { Cables = [new Cable { Id = Cable, Name = "Game cable" }] };
            return new PracticeBench(
                made.All,
                rig,
                g =>
                {
                    g = Done(new SetPort(PracticeCatalog.Music, "music", new ChosenEnd(new CablePoint(Cable))).Apply(g, OneCable, default));
                    g = Done(new SetPort(PracticeCatalog.Call, "mic", new ChosenEnd(new CablePoint(Cable))).Apply(g, OneCable, default));
                    return removes ? g : Done(new SetApp(PracticeCatalog.Call, EvensVoices: false).Apply(g, OneCable, default));
                },
                voice).Run(4).Left(voice);
        }

        Same(Heard(removes: true), made.All.Sound("guest-call").Left, 0);
        var echo = Heard(removes: false).Zip(made.All.Sound("guest-call").Left, (a, b) => a - b).ToArray();
        var music = made.All.Sound("record-shelf");
        for (var n = 8_400; n < echo.Length; n++)
        {
            ((double)echo[n]).ShouldBe((music.Left[n - 8_400] + music.Right![n - 8_400]) / 2 * Math.Pow(10, -24 / 20.0), 1e-6);
        }
    }

    [Fact]
    public void Installing_a_device_or_making_a_cable_steals_defaults_and_the_old_ones_can_be_set_again()
    {
        var gear = PracticeCatalog.Initial();
        var plugged = Done(new SetDevice(new("monitor-speakers"), IsPresent: true).Apply(gear, OneCable, default));
        plugged.DefaultOf(Role.Playback).ShouldBe(new DevicePoint(new("monitor-speakers"), Side.Out));
        plugged.DefaultOf(Role.Recording).ShouldBe(gear.DefaultOf(Role.Recording));
        Done(new SetDefault(Role.Playback, gear.DefaultOf(Role.Playback)!).Apply(plugged, OneCable, default)).DefaultOf(Role.Playback).ShouldBe(gear.DefaultOf(Role.Playback));
        Done(new CableMade(Cable).Apply(gear, OneCable, default)).DefaultOf(Role.CallsPlayback).ShouldBe(new CablePoint(Cable));
        var unplugged = Done(new SetDevice(PracticeCatalog.Headset, IsPresent: false).Apply(gear, OneCable, default));
        unplugged.DefaultOf(Role.Playback).ShouldBe(new DevicePoint(PracticeCatalog.Interface, Side.Out));
    }

    [Fact]
    public void A_program_that_sees_new_things_only_after_a_restart_says_so_and_takes_them_then()
    {
        var gear = Done(new SetApp(PracticeCatalog.Encoder, IsRunning: true).Apply(PracticeCatalog.Initial(), new CablesNow(new Dictionary<CableId, (string, int)>()), default));
        var wanted = new SetPort(PracticeCatalog.Encoder, "main", new ChosenEnd(new CablePoint(Cable)));
        var refused = wanted.Apply(gear, OneCable, default).ShouldBeOfType<GearOutcome.Refused>();
        refused.NeedsRestart.ShouldBeTrue();
        refused.Problem.What.ShouldBe("Beacon encoder does not see Game cable before it is restarted.");
        Done((wanted with { Restart = true }).Apply(gear, OneCable, default)).Find(PracticeCatalog.Encoder)!.Find("main")!.Choice.ShouldBe(wanted.Choice);
        var restarted = Done(new SetApp(PracticeCatalog.Encoder, IsRunning: true).Apply(Done(new SetApp(PracticeCatalog.Encoder, IsRunning: false).Apply(gear, OneCable, default)), OneCable, default));
        Done(wanted.Apply(restarted, OneCable, default)).Find(PracticeCatalog.Encoder)!.Find("main")!.Choice.ShouldBe(wanted.Choice);
    }

    [Theory]
    [InlineData("no-port", "cable/cable", "Record shelf has no output or input “no-port”.")]
    [InlineData("music", "cable/none", "There is no such cable.")]
    [InlineData("music", "device/headset/in", "Nothing can play into an input.")]
    [InlineData("music", "device/monitor-speakers/out", "Monitor speakers is unplugged.")]
    [InlineData("music", "source/host", "Nothing can play there or be taken from there.")]
    public void A_choice_that_cannot_be_is_refused_in_words(string port, string end, string what)
    {
        var outcome = new SetPort(PracticeCatalog.Music, port, new ChosenEnd(Point.Parse(end)!)).Apply(PracticeCatalog.Initial(), OneCable, default);
        outcome.ShouldBeOfType<GearOutcome.Refused>().Problem.What.ShouldBe(what);
    }

    [Fact]
    public void A_joined_device_has_the_channels_of_all_in_their_order_and_their_sound()
    {
        var joined = new DeviceId("pair");
        var bench = new PracticeBench(
            made.All,
            With(new DeviceInput(joined, 0, 8)),
            g => Done(new JoinDevices(joined, "Pair", [PracticeCatalog.Interface, new("pier-mic")]).Apply(g, OneCable, default)),
            Source).Run(6);
        Same(bench.Left(Source), made.All.Sound("host-mic").Left, 0);
        Rms(bench.Right(Source)[^48_000..]).ShouldBeGreaterThan(1e-3);
        bench.State.Find(joined)!.Outputs.ShouldBe(4);
        Done(new PartDevices(joined).Apply(bench.State, OneCable, default)).Find(joined).ShouldBeNull();
    }

    private static readonly SourcePoint Source = new(new("s"));

    // One source that one mix hears.
    private static Rig With(SourceInput input) => new()
    {
        Sources = [new Source { Id = new("s"), Name = "Source", Kind = SourceKind.App, Input = input }],
        Mixes = [new Mix { Id = Viewers, Name = "Viewers", Purpose = MixPurpose.Viewers, Sends = [ProposedPlace.Of(SourceKind.App, MixPurpose.Viewers, new("s"))] }],
    };

    // Only the music plays.
    private static GearState Alone(GearState gear) => gear with { Apps = [.. gear.Apps.Select(a => a.Id == PracticeCatalog.Music ? a : a with { IsRunning = false })] };

    private static GearState Done(GearOutcome outcome) => outcome.ShouldBeOfType<GearOutcome.Done>().State;

    private static void Same(float[] heard, float[] sound, int from)
    {
        for (var n = from; n < heard.Length; n++)
        {
            if (heard[n] != sound[n % sound.Length])
            {
                heard[n].ShouldBe(sound[n % sound.Length], $"at {n}");
            }
        }
    }

    private static double Rms(float[] samples) => Math.Sqrt(samples.Average(x => (double)x * x));

    private static double Correlation(float[] one, float[] other) =>
        one.Zip(other, (a, b) => (double)a * b).Sum() / Math.Sqrt(one.Sum(x => (double)x * x) * other.Take(one.Length).Sum(x => (double)x * x));

    // The energy between two frequencies, hertz by hertz, from the definition of the transform, under a Hann window.
    private static double Between(int low, int high, float[] samples)
    {
        double sum = 0;
        for (var hertz = low; hertz <= high; hertz++)
        {
            var all = Complex.Zero;
            for (var n = 0; n < samples.Length; n++)
            {
                var window = 1 - Math.Cos(2 * Math.PI * n / samples.Length);
                all += window * samples[n] * Complex.FromPolarCoordinates(1, -2 * Math.PI * hertz * n / 48_000);
            }

            sum += all.Magnitude * all.Magnitude;
        }

        return sum;
    }

    // What lies below 100 Hz or so: a moving mean takes the rest away.
    private static double Low(float[] samples)
    {
        double sum = 0, mean = 0;
        foreach (var sample in samples)
        {
            mean += (sample - mean) * 0.01;
            sum += mean * mean;
        }

        return sum;
    }
}
