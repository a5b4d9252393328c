using System.Collections.Immutable;
using CsCheck;
using Kinetra.Core.Engine;
using Kinetra.Core.Pads;
using Kinetra.Core.Rigs;
using Kinetra.Core.Signal;

namespace Kinetra.Core.Tests.Pads;

public class CueTests
{
    private const int Block = AudioFormat.BlockFrames;
    private static readonly SourceId Source = new("pads");

    [Fact]
    public void A_list_played_live_is_the_list_rendered_to_the_sample_however_seldom_somebody_looks()
    {
        Gen.Select(AnyCues, Gen.Int[1, 90].Array[3, 8], Gen.Int[1, 60].Array[1, 12]).Sample((cues, hands, looks) =>
        {
            // Live: blocks go by, somebody looks now and then, and hands go on.
            var (live, inlet, pads) = Stage();
            var director = new CueDirector(new CueRun(cues, LengthOf), o => live.Post((PadOrder)o), (pad, frame) => Press(pads, live, pad, frame), (_, _) => null);
            var heard = new List<float>();
            var times = new List<long>();
            long now = 0;
            var (nextHand, nextLook) = (0, 0);
            foreach (var (hand, h) in hands.Select((x, i) => (x, i)))
            {
                nextHand += hand;
                while (now < (long)nextHand * Block)
                {
                    if (nextLook-- <= 0)
                    {
                        director.CatchUp(now);
                        nextLook = looks[h % looks.Length];
                    }

                    Read(inlet, ref now, heard);
                }

                if (director.Go(now) is { } at)
                {
                    times.Add(at);
                }
            }

            for (var b = 0; b < 200; b++)
            {
                if (b % 40 == 0)
                {
                    director.CatchUp(now);
                }

                Read(inlet, ref now, heard);
            }

            // Rendered: the same hands, all orders given before the first block.
            var (offline, other, same) = Stage();
            var begun = CueOrders.Performed(new CueRun(cues, LengthOf), times, now);
            foreach (var order in begun.SelectMany(b => CueOrders.Of(b, (pad, frame) => Press(same, offline, pad, frame), (_, _) => null)))
            {
                offline.Post((PadOrder)order).ShouldBeTrue();
            }

            director.CatchUp(now);
            director.Begun.Select(b => (b.Index, b.Frame)).ShouldBe(begun.Select(b => (b.Index, b.Frame)));
            var rendered = new List<float>();
            for (long frame = 0; frame < now;)
            {
                Read(other, ref frame, rendered);
            }

            rendered.ShouldBe(heard);
        }, iter: 60);
    }

    [Fact]
    public void What_follows_by_itself_follows_at_its_frame_with_the_beginning_or_the_end_of_the_one_before()
    {
        var run = new CueRun([Cue("a", new PlayPad(new("one"))), Cue("b") with { Begin = CueBegin.WithPrevious, Wait = 10 }, Cue("c") with { Begin = CueBegin.AfterPrevious }, Cue("d", new PlayPad(new("one"))) with { Begin = CueBegin.WithPrevious }, Cue("e") with { Begin = CueBegin.AfterPrevious, Wait = 1000 }], LengthOf);
        run.Go(5000).Select(b => (b.Cue.Id.Value, b.Frame)).ShouldBe([("a", 5000)]);
        run.Due.ShouldBe(5480);
        run.Advance(5479).ShouldBeEmpty();
        run.Advance(100_000).Select(b => (b.Cue.Id.Value, b.Frame)).ShouldBe([("b", 5480), ("c", 5480), ("d", 5480), ("e", 5480 + 9_600 + 48_000)]);
        run.Next.ShouldBe(5);
        run.Go(200_000).ShouldBeEmpty("the list is over");
    }

    [Fact]
    public void Behind_a_sound_without_an_end_a_hand_goes_on()
    {
        var run = new CueRun([Cue("a", new PlayPad(new("endless"))), Cue("b") with { Begin = CueBegin.AfterPrevious }], LengthOf);
        run.Go(0);
        run.Due.ShouldBeNull();
        run.Advance(10_000_000).ShouldBeEmpty();
        run.Go(20_000_000).ShouldHaveSingleItem();
    }

    [Fact]
    public void Held_nothing_follows_and_let_go_what_is_overdue_begins_at_once()
    {
        var run = new CueRun([Cue("a"), Cue("b") with { Begin = CueBegin.WithPrevious, Wait = 100 }], LengthOf);
        run.Go(0);
        run.Hold(true, 100);
        run.Advance(50_000).ShouldBeEmpty();
        run.Hold(false, 60_000);
        run.Advance(60_000).Single().Frame.ShouldBe(60_000);
    }

    [Fact]
    public void What_was_told_ahead_and_is_taken_back_is_not_heard()
    {
        var (player, inlet, pads) = Stage();
        var director = new CueDirector(
            new CueRun([Cue("a"), Cue("b", new PlayPad(new("one"))) with { Begin = CueBegin.WithPrevious, Wait = 800 }], LengthOf), o => player.Post((PadOrder)o), (pad, frame) => Press(pads, player, pad, frame), (_, _) => null);
        var heard = new List<float>();
        long now = 0;
        director.Go(now);
        for (var b = 0; b < 100; b++)
        {
            Read(inlet, ref now, heard);
        }

        director.Hold(true, now);
        for (var b = 0; b < 200; b++)
        {
            Read(inlet, ref now, heard);
        }

        heard.ShouldAllBe(x => x == 0);
        director.Hold(false, now);
        for (var b = 0; b < 20; b++)
        {
            Read(inlet, ref now, heard);
        }

        heard.ShouldContain(x => x != 0);
    }

    [Fact]
    public void A_list_that_is_changed_while_something_waits_to_follow_goes_on_to_it()
    {
        var before = new CueRun([Cue("a"), Cue("b") with { Begin = CueBegin.WithPrevious, Wait = 100 }], LengthOf);
        before.Go(0);
        var run = new CueRun([Cue("new"), Cue("a"), Cue("b") with { Begin = CueBegin.WithPrevious, Wait = 100 }], LengthOf);
        run.TakeOver(before, 2, 1);
        run.Advance(4_800).Single().Cue.Id.Value.ShouldBe("b");
    }

    private static Cue Cue(string id, params CueAct[] acts) => new() { Id = new(id), Name = id, Acts = [.. acts] };

    private static long? LengthOf(PadId pad) => pad.Value switch { "one" => 9_600, "two" => 20_000, _ => null };

    private static readonly Gen<ImmutableArray<Cue>> AnyCues =
        (from begin in Gen.Int[0, 3]
         from wait in Gen.Double[0, 900]
         from acts in (
             from what in Gen.Int[0, 5]
             from pad in Gen.Int[0, 3]
             from figure in Gen.Double[0, 400]
             let id = new PadId(new[] { "one", "two", "endless", "gone" }[pad])
             select (CueAct)(what switch { 0 => new StopPads(id, Fade: figure), 1 => new StopPads(), 2 => new TurnPads(new Gain(-figure / 20), figure, id), _ => new PlayPad(id) })).Array[0, 3]
         select (begin, wait, acts)).Array[1, 12].Select(all => all.Select((c, i) => new Cue
         {
             Id = new($"c{i}"),
             Name = $"Cue {i}",
             Begin = c.begin switch { 0 => CueBegin.WithPrevious, 1 => CueBegin.AfterPrevious, _ => CueBegin.ByHand },
             Wait = c.wait,
             Acts = [.. c.acts],
         }).ToImmutableArray());

    private static (PadPlayer Player, PadInlet Inlet, Dictionary<string, (ReadyPad Ready, SoundBuffer Sound)> Pads) Stage()
    {
        var player = new PadPlayer();
        var pads = new Dictionary<string, (ReadyPad, SoundBuffer)>();
        foreach (var (id, frames, hertz, play) in new[] { ("one", 9_600, 300, PadPlay.Again), ("two", 20_000, 500, PadPlay.Over), ("endless", 7_000, 90, PadPlay.Loop) })
        {
            var sound = new SoundBuffer(Signals.Sine(hertz, 0.2, frames), null);
            pads[id] = (ReadyPad.Of(new Pad { Id = new(id), Name = id, Sound = new('0', 64), Source = Source, End = 900_000, Play = play }, sound), sound);
        }

        return (player, player.Inlet(Source), pads);
    }

    private static PadOrder.Press? Press(Dictionary<string, (ReadyPad Ready, SoundBuffer Sound)> pads, PadPlayer player, PadId pad, long frame) =>
        pads.TryGetValue(pad.Value, out var found) ? new PadOrder.Press(frame, found.Ready, found.Sound, player.Inlet(Source)) : null;

    private static void Read(PadInlet inlet, ref long now, List<float> heard)
    {
        float[] left = new float[Block], right = new float[Block];
        inlet.Read(now, left, right);
        heard.AddRange(left);
        now += Block;
    }
}
