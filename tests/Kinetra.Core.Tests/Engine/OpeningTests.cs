using Kinetra.Core.Engine;
using Kinetra.Core.Planning;
using Kinetra.Core.Rigs;
using Kinetra.Core.Signal;

namespace Kinetra.Core.Tests.Engine;

public class OpeningTests
{
    private const int Block = AudioFormat.BlockFrames;
    private const int Crossfade = MixEngine.CrossfadeFrames;

    [Fact]
    public void One_show_goes_over_into_another_without_a_click_and_what_both_have_in_common_keeps_its_level()
    {
        var common = new SoundBuffer(Signals.Sine(100, 0.4, 48_000), null);
        var (engine, old) = Start(Demo.Rig("a"), common);
        var other = EnginePlan.Build(Demo.Rig("b"), _ => new StandingInlet(common), null);
        var heard = Listen(engine, old, other, new Dictionary<MixId, MixId> { [Demo.Viewers] = Demo.Viewers, [Demo.Ears] = Demo.Ears });

        // The same sound on both sides: from the first frame of the opening on it stays the sine that it was, but for the
        // new source's own rise.
        Signals.RmsAbove(5_000, heard, 8_192, heard.Length - 512).ShouldBeLessThan(-80);
        heard.AsSpan(heard.Length - 4_800).ToArray().Max().ShouldBe(heard.AsSpan(0, 4_800).ToArray().Max(), 1e-4f);
        heard.Chunk(480).Skip(2).ShouldAllBe(c => c.Max() > 0.25f);
    }

    [Fact]
    public void A_mix_without_a_successor_falls_silent_and_one_without_a_predecessor_rises_from_silence()
    {
        var sound = new SoundBuffer(Signals.Sine(100, 0.4, 48_000), null);
        var (engine, old) = Start(Demo.Rig("a"), sound);
        Run(engine, 20);
        var rig = Demo.Rig("a");
        var renamed = rig with { Mixes = [rig.Mixes[0] with { Id = new("new") }, rig.Mixes[1]] };
        var other = EnginePlan.Build(renamed, _ => new StandingInlet(sound), null);
        using var listening = engine.Hold(new MixPoint(Demo.Ears));
        engine.PostOpening(other, old, new Dictionary<MixId, MixId> { [Demo.Viewers] = Demo.Viewers });
        var opened = engine.Frame;
        Run(engine, (Crossfade / Block) + 10);
        var leaving = Read(engine.RingOf(new MixPoint(Demo.Ears))!, opened, Crossfade / Block * Block);
        leaving.AsSpan(0, 2_400).ToArray().Max().ShouldBeGreaterThan(0.2f);
        leaving.AsSpan(leaving.Length - 256).ToArray().Max().ShouldBeLessThan(1e-3f);
        var coming = Read(engine.RingOf(new MixPoint(new("new")))!, opened, Crossfade);
        coming.AsSpan(0, 256).ToArray().Max().ShouldBeLessThan(1e-3f);
        coming.AsSpan(coming.Length - 2_400).ToArray().Max().ShouldBeGreaterThan(0.2f);
    }

    [Fact]
    public void Whoever_listens_hears_no_gap_while_a_show_is_opened()
    {
        var sound = new SoundBuffer(Signals.Sine(100, 0.4, 48_000), null);
        var (engine, old) = Start(Demo.Rig("a"), sound);
        var listener = new Listener();
        listener.Select(engine.RingOf(new MixPoint(Demo.Viewers)));
        var other = EnginePlan.Build(Demo.Rig("a"), _ => new StandingInlet(sound), null);
        var heard = new List<float>();
        var (left, right) = (new float[2048], new float[2048]);
        for (var block = 0; block < 300; block++)
        {
            engine.ProcessBlock();
            if (block == 100)
            {
                engine.PostOpening(other, old, new Dictionary<MixId, MixId> { [Demo.Viewers] = Demo.Viewers });
            }

            listener.Select(engine.RingOf(new MixPoint(Demo.Viewers)));
            int count;
            while ((count = listener.Read(left, right, out _)) > 0)
            {
                heard.AddRange(left[..count]);
            }
        }

        heard.Count.ShouldBeGreaterThan(290 * Block);
        listener.Lost.ShouldBe(0);
        heard.Skip(4_800).Chunk(480).ShouldAllBe(c => c.Length < 480 || c.Max() > 0.25f);
    }

    [Fact]
    public void Hush_holds_in_both_shows_and_a_second_opening_waits_for_the_first()
    {
        var sound = new SoundBuffer(Signals.Sine(100, 0.4, 48_000), null);
        var (engine, old) = Start(Demo.Rig("a"), sound);
        engine.Hushed = true;
        Run(engine, 10);
        var second = EnginePlan.Build(Demo.Rig("a"), _ => new StandingInlet(sound), null);
        var third = EnginePlan.Build(Demo.Rig("a"), _ => new StandingInlet(sound), null);
        var follows = new Dictionary<MixId, MixId> { [Demo.Viewers] = Demo.Viewers };
        engine.PostOpening(second, old, follows);
        engine.PostOpening(third, second, follows);
        Run(engine, 20);
        engine.Plan.ShouldBe(second);
        Run(engine, Crossfade / Block);
        engine.Plan.ShouldBe(third);
        Run(engine, 200);
        Read(engine.RingOf(new MixPoint(Demo.Viewers))!, engine.Frame - 20_480, 20_480).ShouldAllBe(x => x == 0);
    }

    [Fact]
    public void A_mix_follows_the_one_of_its_id_else_of_its_name_else_of_its_purpose()
    {
        var from = new Rig { Mixes = [Mix("a", "Hall", MixPurpose.Other), Mix("b", "Public", MixPurpose.Viewers), Mix("c", "Mine", MixPurpose.MyEars)] };
        var to = new Rig
        {
            Mixes =
            [
                Mix("x", "Stream", MixPurpose.Viewers),
                Mix("c", "Else", MixPurpose.Recording),
                Mix("y", "HALL", MixPurpose.Guest),
                Mix("z", "Nobody", MixPurpose.Other),
            ],
        };
        var follows = Succession.Of(from, to);
        follows[new("x")].ShouldBe(new MixId("b"));
        follows[new("c")].ShouldBe(new MixId("c"));
        follows[new("y")].ShouldBe(new MixId("a"));
        follows.ContainsKey(new("z")).ShouldBeFalse();
    }

    private static Mix Mix(string id, string name, MixPurpose purpose) => Demo.Mix(new(id), name, purpose);

    private static (MixEngine Engine, EnginePlan Plan) Start(Rig rig, SoundBuffer sound)
    {
        var plan = EnginePlan.Build(rig, _ => new StandingInlet(sound), null);
        var engine = new MixEngine(plan);
        Run(engine, 20);
        return (engine, plan);
    }

    private static void Run(MixEngine engine, int blocks)
    {
        for (var block = 0; block < blocks; block++)
        {
            engine.ProcessBlock();
        }
    }

    private static float[] Listen(MixEngine engine, EnginePlan old, EnginePlan other, Dictionary<MixId, MixId> follows)
    {
        Run(engine, 20);
        engine.PostOpening(other, old, follows);
        var opened = engine.Frame;
        Run(engine, (Crossfade / Block) + 40);
        return Read(engine.RingOf(new MixPoint(Demo.Viewers))!, opened - 4_096, 4_096 + Crossfade + 8_192);
    }

    private static float[] Read(AudioRing ring, long from, int frames)
    {
        var (left, right) = (new float[frames], new float[frames]);
        ring.Read(ref from, left, right, out _).ShouldBe(frames);
        return left;
    }
}
