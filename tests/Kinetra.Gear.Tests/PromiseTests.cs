using System.Collections.Immutable;
using Kinetra.Core.Editing;
using Kinetra.Core.Findings;
using Kinetra.Core.Gear;
using Kinetra.Core.Promises;
using Kinetra.Core.Rigs;
using Kinetra.Core.Routing;
using Kinetra.Core.Signal;
using Kinetra.Gear.Practice;

namespace Kinetra.Gear.Tests;

/// <summary>Promises of the demo show: as it is, and as it must not be; by its routing, and by what really arrives.</summary>
public class PromiseTests(MadeStandIns made) : IClassFixture<MadeStandIns>
{
    private static readonly MixId Viewers = new("viewers"), Guest = new("guest-hears"), Ears = new("my-ears");
    private static readonly SourceId Crew = new("crew-talk"), Caller = new("guest-call"), Host = new("host-mic"), Shelf = new("record-shelf");
    private static readonly AppPoint Encoder = new(PracticeCatalog.Encoder, "main");
    private static readonly CableId ToEncoder = new("to-encoder");

    [Fact]
    public void As_it_comes_the_demo_breaks_none_of_its_promises_by_its_routing_and_what_only_the_sound_tells_is_not_known()
    {
        foreach (var (_, rig) in DemoShows.All)
        {
            var s = Of(rig);
            rig.Promises.ShouldAllBe(p => ByRouting.Of(p, s).State != PromiseState.Broken);
            rig.Promises.Where(p => ByRouting.Of(p, s).State == PromiseState.NotKnown).ShouldAllBe(p => p is SpeechOverBed || p is LoudnessInRange);
            RigRules.Check(rig with { Promises = [.. rig.Promises, .. Offers.Of(s)] }).ShouldBeEmpty();
            Offers.Of(Of(rig with { Promises = [.. rig.Promises, .. Offers.Of(s)] })).ShouldBeEmpty();
        }
    }

    [Fact]
    public void Private_talk_that_is_let_into_the_viewers_mix_breaks_both_promises_and_the_fix_mends_both()
    {
        var s = Of(LampRoom.Rig(), new SetSend(Viewers, Crew, Gain: new(-24), Heard: true));
        var verdict = ByRouting.Of(new NeverReaches(default, Crew, Encoder), s);
        verdict.State.ShouldBe(PromiseState.Broken);
        verdict.Why.ShouldStartWith("Crew talk reaches Beacon encoder through Viewers, Air line, 24 dB down");
        verdict.Fixes[0].Label.ShouldBe("Leave Crew talk out of Viewers");
        var mended = Of(((CommandResult.Applied)verdict.Fixes[0].Show!.Apply(s.Routed.Wiring.Rig)).Rig);
        ByRouting.Of(new NeverReaches(default, Crew, Encoder), mended).State.ShouldBe(PromiseState.Kept);
        ByRouting.Of(new NeverReaches(default, Crew, new MixPoint(Viewers)), mended).State.ShouldBe(PromiseState.Kept);
    }

    [Fact]
    public void A_way_around_every_source_and_one_that_only_comes_round_a_loop_break_it_too()
    {
        // Past the show: the crew's program plays into the line that the encoder takes.
        var past = Of(g => Playing(g, PracticeCatalog.Crew, new CablePoint(ToEncoder)), LampRoom.Rig(), new SetSource(Crew, Input: new AppInput(PracticeCatalog.Crew, "voices", StillPlays: true)));
        ByRouting.Of(new NeverReaches(default, Crew, Encoder), past).State.ShouldBe(PromiseState.Broken);
        ByRouting.Of(new NeverReaches(default, Crew, new MixPoint(Viewers)), past).State.ShouldBe(PromiseState.Kept);

        // Into a line that feeds itself softly through another: the only way out closes the circle.
        var rig = LampRoom.Rig() with
        {
            Cables =
            [
                .. LampRoom.Rig().Cables,
                new Cable { Id = new("one"), Name = "One", Feeds = [new CableFeed { From = new CablePoint(new("two")), Gain = new(-20), LoopAllowed = true }, new CableFeed { From = new SourcePoint(Crew) }] },
                new Cable { Id = new("two"), Name = "Two", Feeds = [new CableFeed { From = new CablePoint(new("one")), Gain = new(-20), LoopAllowed = true }] },
            ],
        };
        var loop = Of(g => Taking(Taking(g, PracticeCatalog.Encoder, "main", new CablePoint(new("one"))), PracticeCatalog.Recorder, "track-1", new CablePoint(new("two"))), rig);
        ByRouting.Of(new NeverReaches(default, Crew, new AppPoint(PracticeCatalog.Recorder, "track-1")), loop).State.ShouldBe(PromiseState.Broken);
        ByRouting.Of(new NeverReaches(default, Crew, Encoder), loop).State.ShouldBe(PromiseState.Broken);
        loop.Findings.ShouldContain(f => f.Kind == FindingKind.Leak && f.Places.Contains(Encoder) && f.Places.Contains(new SourcePoint(Crew)));
    }

    [Fact]
    public void The_guest_in_the_guests_own_mix_hears_itself_and_an_own_track_onto_which_the_speakers_play_is_not_alone()
    {
        var himself = ByRouting.Of(new NeverHearsHimself(default, Caller), Of(LampRoom.Rig(), new SetSend(Guest, Caller, Heard: true)));
        himself.State.ShouldBe(PromiseState.Broken);
        himself.Why.ShouldContain("Guest call comes back to Harbour call through Guest hears, Guest line");

        var open = OnSpeakers(LampRoom.Rig());
        var alone = ByRouting.Of(new OwnTrack(default, Host), Of(Plugged, open));
        alone.State.ShouldBe(PromiseState.Broken);
        alone.Why.ShouldContain("onto its track too");
        ByRouting.Of(new OwnTrack(default, Caller), Of(Plugged, open)).State.ShouldBe(PromiseState.Kept);

        // And private talk goes out by the host's microphone.
        ByRouting.Of(new NeverReaches(default, Crew, new MixPoint(Viewers)), Of(Plugged, open)).Why.ShouldContain("Monitor speakers");
    }

    [Fact]
    public void What_is_not_there_is_not_known_and_what_does_not_reach_says_why_and_how_it_would()
    {
        var away = Of(g => g.With(g.Find(PracticeCatalog.Call)! with { IsRunning = false }), LampRoom.Rig());
        ByRouting.Of(new Reaches(default, Caller, new MixPoint(Viewers)), away).State.ShouldBe(PromiseState.NotKnown);
        ByRouting.Of(new NeverHearsHimself(default, Host), away).State.ShouldBe(PromiseState.Kept);
        var muted = Of(LampRoom.Rig(), new SetSend(Viewers, Host, Muted: true));
        var verdict = ByRouting.Of(new Reaches(default, Host, new MixPoint(Viewers)), muted);
        (verdict.State, verdict.Fixes[0].Label).ShouldBe((PromiseState.Broken, "Let Viewers hear Host mic"));
        verdict.Why.ShouldContain("Host mic is muted in Viewers");
    }

    [Fact]
    public void A_sound_that_comes_twice_a_picture_that_is_late_and_a_default_that_was_stolen_break_theirs()
    {
        var twice = Of(LampRoom.Rig(), new AddCableFeed(ToEncoder, new CableFeed { From = new SourcePoint(Shelf) }));
        var once = ByRouting.Of(new HeardOnce(default, Encoder), twice);
        once.State.ShouldBe(PromiseState.Broken);
        once.Why.ShouldContain("Record shelf");
        ByRouting.Of(new HeardOnce(default, Encoder, Host), twice).State.ShouldBe(PromiseState.Kept);
        ByRouting.Of(new HeardOnce(default, new MixPoint(Viewers)), twice).State.ShouldBe(PromiseState.Kept);

        var step = ByRouting.Of(new InStep(default, Host, new MixPoint(Viewers), 211.4, 20), Of(LampRoom.Rig()));
        (step.State, step.Fixes[0].Label).ShouldBe((PromiseState.Broken, "Hold Host mic back by 200 ms"));
        var held = Of(((CommandResult.Applied)step.Fixes[0].Show!.Apply(LampRoom.Rig())).Rig);
        ByRouting.Of(new InStep(default, Host, new MixPoint(Viewers), 211.4, 1), held).State.ShouldBe(PromiseState.Kept);

        var stolen = Of(g => g.With(Role.Playback, new DevicePoint(PracticeCatalog.Interface, Side.Out)), LampRoom.Rig());
        var stays = ByRouting.Of(new DefaultStays(default, Role.Playback, new DevicePoint(PracticeCatalog.Headset, Side.Out)), stolen);
        (stays.State, stays.Fixes[0].Label).ShouldBe((PromiseState.Broken, "Make Headset the default again"));
    }

    [Fact]
    public void What_was_alike_for_a_moment_breaks_no_promise_and_what_comes_again_as_far_behind_in_looks_that_share_no_sound_does()
    {
        const long Look = HeardSound.Kept * 6L;
        var s = Of(LampRoom.Rig());
        var promise = new HeardOnce(default, new MixPoint(Viewers));
        HeardAt Twice(long frame, double apart) => At(frame, new(-3, 10), new(-9, 10 + apart));
        HeardAt At(long frame, params ReadOnlySpan<HeardArrival> arrivals) =>
            new(ImmutableDictionary<SourceId, HeardSource>.Empty.Add(Host, new HeardSource(0, true, [.. arrivals], -50) { Frame = frame }));
        Verdict Judged(HeardAt at) => ByHearing.Of(promise, s, Heard.Nothing with { Points = Heard.Nothing.Points.Add(new MixPoint(Viewers), at) });

        Judged(Twice(0, 40)).State.ShouldBe(PromiseState.NotKnown);
        Judged(Twice(0, 40)).Why.ShouldContain("once more");
        Judged(Twice(0, 40).And(At(Look, new HeardArrival(-3, 10)))).State.ShouldBe(PromiseState.Kept);
        Judged(Twice(0, 40).And(Twice(Look, 70))).State.ShouldBe(PromiseState.NotKnown);
        Judged(Twice(0, 40).And(Twice(Look - 1, 40))).State.ShouldBe(PromiseState.NotKnown);
        Judged(Twice(0, 40).And(Twice(Look / 2, 41)).And(Twice(Look, 40))).State.ShouldBe(PromiseState.Broken);
        Judged(Twice(0, 40).And(Twice(Look, 40))).Why.ShouldContain("heard twice, 40");
    }

    [Fact]
    public void A_peak_is_promised_by_the_limiter_that_ends_the_chain_and_a_mix_without_voices_is_no_speech_over_a_bed()
    {
        var s = Of(LampRoom.Rig());
        ByRouting.Of(new TruePeakUnder(default, Viewers, -0.9), s).State.ShouldBe(PromiseState.Kept);
        ByRouting.Of(new TruePeakUnder(default, Viewers, -1.0), s).State.ShouldBe(PromiseState.NotKnown);
        ByRouting.Of(new TruePeakUnder(default, Ears, -0.9), s).State.ShouldBe(PromiseState.NotKnown);
        var mute = Of(LampRoom.Rig(), new SetSend(Viewers, Host, Muted: true), new SetSend(Viewers, new("second-mic"), Muted: true), new SetSend(Viewers, new("sea-mic"), Muted: true), new SetSend(Viewers, Caller, Muted: true));
        ByRouting.Of(new SpeechOverBed(default, Viewers, 6), mute).State.ShouldBe(PromiseState.Broken);
        ByRouting.Of(new LoudnessInRange(default, Viewers, -22, -14), Of(LampRoom.Rig(), new SetMix(Viewers, Gain: Gain.Off))).State.ShouldBe(PromiseState.Broken);
    }

    [Fact]
    public void The_show_as_it_comes_is_heard_as_it_is_sent_nothing_twice_and_nothing_that_is_not_there()
    {
        var looks = Listened(LampRoom.Rig(), null, 28, 3, new MixPoint(Viewers), Encoder, new MixPoint(Ears));
        foreach (var look in looks)
        {
            foreach (var (source, send) in LampRoom.Rig().Mixes.First(m => m.Id == Viewers).Sends.Select(d => (d.Source, d)))
            {
                var heard = look[new MixPoint(Viewers)].Sources[source];
                heard.Arrivals.Length.ShouldBe(heard.Sounds && send.Factor != 0 ? 1 : 0, $"{source}");
                if (heard.Arrivals is [var came] && send.Ducker is null)
                {
                    // The limiter at the end has its own word.
                    came.GainDecibels.ShouldBe(send.Gain.Decibels, 1, $"{source}");
                }
            }

            look[Encoder].Sources[Crew].Arrivals.ShouldBeEmpty();
            look[new MixPoint(Ears)].Sources[Host].Arrivals.ShouldBeEmpty();
        }

        // The best of all looks says how far it could be heard.
        looks.Select(l => l[new MixPoint(Viewers)]).Aggregate((a, b) => a.And(b)).Sources[Crew].FloorDecibels.ShouldBeLessThan(ByHearing.EnoughFloor);
    }

    [Theory]
    [InlineData(-12)]
    [InlineData(-30)]
    [InlineData(-42)]
    public void A_leak_is_heard_at_the_encoder_as_loud_as_it_is_and_is_never_kept(double level)
    {
        var rig = Applied(LampRoom.Rig(), new SetSend(Viewers, Crew, Gain: new(level), Heard: true));
        var look = Listened(rig, null, 10, 1, Encoder)[0][Encoder];
        look.Sources[Crew].Arrivals.ShouldHaveSingleItem().GainDecibels.ShouldBe(level, 2);
        var heard = Heard.Nothing with { Points = ImmutableDictionary<Point, HeardAt>.Empty.Add(Encoder, look) };
        ByHearing.Of(new NeverReaches(default, Crew, Encoder), Of(rig), heard).State.ShouldBe(PromiseState.Broken);
    }

    [Fact]
    public void What_a_microphone_picks_up_of_open_speakers_is_heard_in_what_it_carries()
    {
        var rig = OnSpeakers(LampRoom.Rig());
        Point viewers = new MixPoint(Viewers), host = new SourcePoint(Host);
        var looks = Listened(rig, Plugged, 28, 3, viewers, host);
        var look = looks[0];
        foreach (var more in looks.Skip(1))
        {
            look = look.ToImmutableDictionary(x => x.Key, x => x.Value.And(more[x.Key]));
        }

        var s = Of(Plugged, rig);
        var heard = Heard.Nothing with { Points = look };
        ByHearing.CarriersOf(new NeverReaches(default, Crew, viewers), s, heard).ShouldContain(host);
        look[host].Sources[Caller].Arrivals.ShouldNotBeEmpty();
        ByHearing.Of(new OwnTrack(default, Host), s, heard).State.ShouldBe(PromiseState.Broken);
    }

    // Looks at the same moments at several points, as the server does one after the other.
    private ImmutableArray<ImmutableDictionary<Point, HeardAt>> Listened(Rig rig, Func<GearState, GearState>? change, double seconds, int looks, params Point[] at)
    {
        Point[] sources = [.. rig.Sources.Select(x => new SourcePoint(x.Id))];
        var bench = new PracticeBench(made.All, rig, g => (change ?? (x => x))(Practice.Wished(g, rig.Wishes, rig)), [.. sources.Union(at)]).Run(seconds);
        var (hearing, found) = (new Hearing(), ImmutableArray.CreateBuilder<ImmutableDictionary<Point, HeardAt>>());
        for (var look = 1; look <= looks; look++)
        {
            var until = (int)((seconds - ((looks - look) * 9)) * 48_000) / 768 * 768;
            var points = ImmutableDictionary<Point, HeardAt>.Empty;
            foreach (var point in at)
            {
                hearing.Know([.. sources.Select((p, i) => (p, i)).Where(x => x.p != point).SelectMany(x => Channels(x.p, until).Select(c => new Reference(x.i, c)))]);
                points = points.SetItem(point, new(hearing.Listen([.. Channels(point, until)]).ToImmutableDictionary(h => rig.Sources[h.Source].Id, h => h with { Frame = until })));
            }

            found.Add(points);
        }

        return found.ToImmutable();

        float[][] Channels(Point point, int until)
        {
            var (left, right) = (bench.Left(point), bench.Right(point));
            return left.AsSpan().SequenceEqual(right) ? [Kept(left)] : [Kept(left), Kept(right)];

            float[] Kept(float[] sound)
            {
                var kept = new HeardSound();
                kept.Append(sound.AsSpan(0, until));
                var samples = new float[HeardSound.Kept];
                kept.CopyTo(samples);
                return samples;
            }
        }
    }

    // What the maker hears comes out of the speakers that stand beside the microphones.
    private static Rig OnSpeakers(Rig rig) => rig with
    {
        Mixes = [.. rig.Mixes.Select(m => m.Id == Ears ? m with { Destinations = [new Destination { Id = new("speakers"), End = new DeviceOutput(new("monitor-speakers")) }] } : m)],
    };

    private static GearState Plugged(GearState g) => g.With(g.Find(new DeviceId("monitor-speakers"))! with { IsPresent = true });

    private static GearState Playing(GearState g, AppId app, Point end) =>
        g.With(g.Find(app)! with { Ports = [.. g.Find(app)!.Ports.Select(p => p.Side == Side.Out ? p with { Choice = new ChosenEnd(end) } : p)] });

    private static GearState Taking(GearState g, AppId app, string port, Point end) =>
        g.With(g.Find(app)! with { IsRunning = true, Ports = [.. g.Find(app)!.Ports.Select(p => p.Id == port ? p with { Choice = new ChosenEnd(end, new(0, 1)) } : p)] });

    private static Rig Applied(Rig rig, params RigCommand[] commands) => commands.Aggregate(rig, (r, c) => ((CommandResult.Applied)c.Apply(r)).Rig);

    private static Situation Of(Rig rig, params RigCommand[] commands) => Of(g => g, rig, commands);

    private static Situation Of(Func<GearState, GearState> change, Rig rig, params RigCommand[] commands)
    {
        var made = Applied(rig, commands);
        var gear = change(Practice.Wished(PracticeCatalog.Initial(), made.Wishes, made));
        return new(Routed.Of(made, new Computer(new Dictionary<SourceId, int>(), gear)), []);
    }
}
