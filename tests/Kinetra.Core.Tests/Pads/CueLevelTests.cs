using System.Collections.Immutable;
using CsCheck;
using Kinetra.Core.Editing;
using Kinetra.Core.Engine;
using Kinetra.Core.Pads;
using Kinetra.Core.Rigs;
using Kinetra.Core.Signal;

namespace Kinetra.Core.Tests.Pads;

/// <summary>Levels that cues recall and music that they begin and end: at their frame, rendered as live, and never against a hand.</summary>
public class CueLevelTests
{
    private const int Block = AudioFormat.BlockFrames;
    private static readonly SourceId Voice = new("voice");
    private static readonly SourceId Song = new("song");

    [Fact]
    public void A_list_that_recalls_levels_and_turns_music_is_live_what_it_is_rendered_to_the_sample_however_late_it_becomes_a_step_of_the_show()
    {
        Gen.Select(AnyCues, Gen.Int[1, 60].Array[2, 6], Gen.Int[1, 50].Array[1, 8], Gen.Int[0, 30].Array[1, 6], Gen.Bool).Sample((cues, hands, looks, delays, replans) =>
        {
            // Live: what has begun becomes a step of the show some blocks later, and other plans come meanwhile.
            var live = Start(cues);
            var told = new List<(CueAct Act, LevelOrder Order)>();
            var waiting = new Queue<(BegunCue Begun, int Blocks)>();
            var noted = 0;
            var director = new CueDirector(new CueRun(cues, _ => null), o => live.Engine.Post((LevelOrder)o), (_, _) => null, Tell);
            var times = new List<long>();
            var look = 0;
            foreach (var hand in hands.Append(300))
            {
                for (var b = 0; b < hand; b++)
                {
                    if (look-- <= 0)
                    {
                        director.CatchUp(live.Engine.Frame);
                        look = looks[b % looks.Length];
                    }

                    live.Run(1);
                    Store(b);
                }

                if (director.Go(live.Engine.Frame) is { } at)
                {
                    times.Add(at);
                }
            }

            for (var b = 0; b < 40; b++)
            {
                director.CatchUp(live.Engine.Frame);
                live.Run(1);
                Store(b);
            }

            // Rendered: one plan, all orders given before the first block.
            var offline = Start(cues);
            var rig = offline.Rig;
            var until = live.Engine.Frame;
            foreach (var begun in CueOrders.Performed(new CueRun(cues, _ => null), times, until))
            {
                foreach (var act in begun.Cue.Acts)
                {
                    if (CueLevels.OrderOf(rig, offline.Engine.Plan, act, begun.Frame) is { } order)
                    {
                        offline.Engine.Post(order);
                    }

                    rig = CueSends.After(rig, [act]);
                }
            }

            offline.Run((int)(until / Block));
            offline.Left(Demo.Viewers).ShouldBe(live.Left(Demo.Viewers));
            offline.Right(Demo.Ears).ShouldBe(live.Right(Demo.Ears));

            LevelOrder? Tell(CueAct act, long frame)
            {
                var now = CueSends.After(live.Rig, told.Where(t => !t.Order.IsCancelled && t.Order.Frame <= frame).Select(t => t.Act));
                var order = CueLevels.OrderOf(now, live.Engine.Plan, act, frame);
                if (order is not null)
                {
                    told.Add((act, order));
                }

                return order;
            }

            void Store(int b)
            {
                if (replans && b % 7 == 3)
                {
                    live.Post(new SetMix(Demo.Viewers, TargetLufs: -20 + (b % 3)));
                }

                foreach (var begun in director.Begun.Skip(noted))
                {
                    waiting.Enqueue((begun, delays[noted++ % delays.Length]));
                }

                while (waiting.TryPeek(out var next) && next.Begun.Frame + (next.Blocks * Block) < live.Engine.Frame)
                {
                    waiting.Dequeue();
                    var orders = told.Where(t => t.Order.Frame == next.Begun.Frame && next.Begun.Cue.Acts.Contains(t.Act)).ToList();
                    orders.ForEach(o => o.Order.Settle());
                    if (CueStep.Of(live.Rig, next.Begun.Cue) is { } step)
                    {
                        Post(live, step);
                    }

                    told.RemoveAll(orders.Contains);
                }
            }
        }, iter: 60);
    }

    [Fact]
    public void A_level_comes_to_what_it_is_told_over_its_time_and_music_begins_at_its_beginning_with_the_block()
    {
        var bench = Start([]);
        bench.Engine.Post(Order(bench, new RecallLevels([new(Demo.Viewers, Voice, new Gain(-20))], 1000), 10 * Block));
        bench.Engine.Post(Order(bench, new TurnMusic(Song, true), 20 * Block));
        bench.Run(300);
        LevelOf(bench, 8 * Block).ShouldBe(1, 1e-3, "before it");
        LevelOf(bench, (10 * Block) + 24_000).ShouldBe(0.55, 0.02, "in the middle of it, in amplitude");
        LevelOf(bench, (10 * Block) + 50_000).ShouldBe(0.1, 1e-3, "behind it");

        // The song is a click at its first frame, and another one much later.
        var ears = bench.Right(Demo.Ears);
        Enumerable.Range(0, 40 * Block).Where(i => Math.Abs(ears[i]) > 0.4f).ShouldBe([20 * Block]);
    }

    [Fact]
    public void Who_sets_a_level_while_a_cue_brings_it_has_it_and_undone_on_the_way_it_goes_back()
    {
        foreach (var hand in new[] { -6.0, 0.0 })
        {
            var bench = Start([]);
            var order = Order(bench, new RecallLevels([new(Demo.Viewers, Voice, Gain.Off)], 2000), 0);
            bench.Engine.Post(order);
            bench.Run(20);
            order.Settle();
            Post(bench, new SetSend(Demo.Viewers, Voice, Gain.Off));
            bench.Run(20);
            Post(bench, new SetSend(Demo.Viewers, Voice, new Gain(hand)));
            bench.Run(500);
            LevelOf(bench, 45 * Block).ShouldBe(Math.Pow(10, hand / 20), 1e-3);
            LevelOf(bench, 530 * Block).ShouldBe(Math.Pow(10, hand / 20), 1e-3);
        }
    }

    [Fact]
    public void A_voice_that_somebody_holds_is_moved_by_no_cue_whenever_it_was_taken()
    {
        foreach (var taken in new[] { 0, 30 })
        {
            var held = new Held();
            var bench = Start([]);
            Post(bench, new SetSend(Demo.Viewers, Voice, Muted: true));
            bench.Run(5);
            held.Is = taken == 0;
            bench.Engine.Post(CueLevels.OrderOf(bench.Rig, bench.Engine.Plan, new RecallLevels([new(Demo.Viewers, Voice, Gain.Unity)], 1000), 10 * Block, held)!);
            bench.Run(taken + 5);
            held.Is = true;
            Post(bench, new SetSend(Demo.Viewers, Voice, Muted: true));
            bench.Run(400);
            LevelOf(bench, (taken + 15) * Block).ShouldBe(0, 1e-6);
            LevelOf(bench, 390 * Block).ShouldBe(0, 1e-6);
        }
    }

    [Fact]
    public void What_is_taken_back_or_of_another_show_does_nothing_and_what_becomes_no_step_goes_back_with_the_next_plan()
    {
        var bench = Start([]);
        var quiet = new RecallLevels([new(Demo.Viewers, Voice, Gain.Off)]);
        var back = Order(bench, quiet, 5 * Block);
        bench.Engine.Post(back);
        back.Cancel();
        var other = Start([]);
        bench.Engine.Post(CueLevels.OrderOf(other.Rig, other.Engine.Plan, quiet, 5 * Block)!);
        bench.Run(20);
        LevelOf(bench, 15 * Block).ShouldBe(1, 1e-3);
        var lost = Order(bench, quiet, 0);
        bench.Engine.Post(lost);
        bench.Run(10);
        LevelOf(bench, 29 * Block).ShouldBe(0, 1e-6);
        lost.Settle();
        bench.Post(new SetMix(Demo.Viewers, TargetLufs: -19));
        bench.Run(10);
        LevelOf(bench, 38 * Block).ShouldBe(1, 1e-3);
    }

    [Fact]
    public void The_engine_allocates_nothing_for_them()
    {
        var bench = Start([]);
        Give(0);
        Process(400);

        // All that comes now and then has come once: what is called first is made first, whichever test is the first to do so.
        Give(400);
        Allocations.Of(300, _ => bench.Engine.ProcessBlock()).ShouldBe(0);

        void Give(int block)
        {
            for (var i = 0; i < 40; i++)
            {
                var order = Order(bench, new RecallLevels([new(Demo.Viewers, Voice, new Gain(-i)), new(Demo.Ears, Song, new Gain(-i))], i * 5), (block * Block) + (i * 700));
                bench.Engine.Post(order);
                order.Settle();
            }

            bench.Engine.Post(Order(bench, new TurnMusic(Song, false, 200), (block + 60) * Block));
            bench.Engine.Post(Order(bench, new TurnMusic(Song, true, 200), (block + 150) * Block));
        }

        void Process(int blocks)
        {
            for (var b = 0; b < blocks; b++)
            {
                bench.Engine.ProcessBlock();
            }
        }
    }

    [Fact]
    public void A_cue_of_levels_is_one_step_of_what_differs_and_leaves_out_what_is_gone()
    {
        var rig = Start([]).Rig;
        var cue = new Cue
        {
            Id = new("c"),
            Name = "c",
            Acts = [new RecallLevels([new(Demo.Viewers, Voice, new Gain(-3)), new(new("gone"), Voice, Gain.Off), new(Demo.Ears, Song, rig.Find(Demo.Ears, Song)!.Gain, Muted: true)]), new TurnMusic(Song, true), new TurnMusic(new("gone"), true)],
        };
        var after = rig.Apply(CueStep.Of(rig, cue)!);
        after.Find(Demo.Viewers, Voice)!.Gain.Decibels.ShouldBe(-3);
        after.Mixes.ShouldAllBe(m => !after.Find(m.Id, Song)!.Muted);
        CueStep.Of(after, cue).ShouldBeNull("it is so already");
        var undone = after.Apply(((CommandResult.Applied)CueStep.Of(rig, cue)!.Apply(rig)).Inverse);
        undone.Mixes.SelectMany(m => m.Sends).ShouldBe(rig.Mixes.SelectMany(m => m.Sends));
    }

    private static readonly Gen<ImmutableArray<Cue>> AnyCues =
        (from begin in Gen.Int[0, 3]
         from wait in Gen.Double[0, 600]
         from acts in (
             from what in Gen.Int[0, 3]
             from mix in Gen.Bool
             from source in Gen.Bool
             from over in Gen.OneOf(Gen.Const(0.0), Gen.Double[0, 400])
             from gain in Gen.Int[-30, 6]
             from flag in Gen.Bool
             select (CueAct)(what switch
             {
                 0 => new TurnMusic(Song, flag, over),
                 1 => new RecallLevels([new(Demo.Viewers, Voice, new Gain(gain), flag), new(Demo.Ears, Song, new Gain(gain - 3), true, !flag)], over),
                 _ => new RecallLevels([new(mix ? Demo.Ears : Demo.Viewers, source ? Voice : Song, new Gain(gain), Muted: flag)], over),
             })).Array[0, 2]
         select (begin, wait, acts)).Array[1, 10].Select(all => all.Select((c, i) => new Cue
         {
             Id = new($"c{i}"),
             Name = $"Cue {i}",
             Begin = c.begin switch { 0 => CueBegin.WithPrevious, 1 => CueBegin.AfterPrevious, _ => CueBegin.ByHand },
             Wait = c.wait,
             Acts = [.. c.acts],
         }).ToImmutableArray());

    private static LevelOrder Order(Bench bench, CueAct act, long frame) => CueLevels.OrderOf(bench.Rig, bench.Engine.Plan, act, frame)!;

    // Levels alone, as the server posts them.
    private static void Post(Bench bench, RigCommand command)
    {
        var rig = bench.Rig.Apply(command);
        foreach (var edit in command.Levels!.Value)
        {
            bench.Engine.Post(bench.Engine.Plan.Level(rig, (edit.From, edit.To))!);
        }

        bench.Adopt(rig);
    }

    // The voice is the same at every frame, in the middle; what a viewer hears of it is its factor.
    private static double LevelOf(Bench bench, int frame) => bench.Left(Demo.Viewers)[frame] / (0.25 * Math.Sqrt(0.5));

    private static Bench Start(ImmutableArray<Cue> cues)
    {
        var rig = Demo.Rig("voice") with { Cues = cues };
        rig = rig.Apply(new AddSource(Demo.Source("song", SourceKind.Music) with { Input = new SoundFileInput(new('0', 64), false) }));
        foreach (var mix in rig.Mixes)
        {
            rig = rig.Apply(new SetSend(mix.Id, Voice, Gain.Unity, true, false)).Apply(new SetSend(mix.Id, Song, Gain.Unity, true, mix.Id == Demo.Viewers));
        }

        var click = new float[48_000 * 20];
        click[0] = click[^1] = 1;
        var ones = new float[48_000];
        Array.Fill(ones, 0.25f);
        return new Bench(rig, new()
        {
            ["voice"] = new StandingInlet(new SoundBuffer(ones, null)),
            ["song"] = new SoundInlet(new SoundBuffer(click, null), false, true, click.Length),
        });
    }

    private sealed class Held : IHeldVoices
    {
        public bool Is { get; set; }

        public bool IsHeld(SourceId source) => Is && source == Voice;
    }
}
