using CsCheck;
using Kinetra.Core.Editing;
using Kinetra.Core.Engine;
using Kinetra.Core.Processors;
using Kinetra.Core.Rigs;
using Kinetra.Core.Signal;

namespace Kinetra.Core.Tests.Engine;

public class EditsAtRandomTests
{
    private const int Second = Signals.Rate / AudioFormat.BlockFrames;
    private static readonly SourceId Untouched = new("untouched");
    private static readonly MixId Alone = new("alone");
    private static readonly CableId Wire = new("wire");

    private static readonly Gen<RigCommand> AnyEdit =
        from source in Gen.Int[0, 2].Select(i => new SourceId($"s{i}"))
        from mix in Gen.Int[0, 1].Select(i => i == 0 ? Demo.Ears : Demo.Viewers)
        from level in Gen.Double[-40, 6]
        from flag in Gen.Bool
        from number in Gen.Int[0, 5]
        from type in Gen.Int[0, ProcessorTypes.All.Length - 1].Select(i => ProcessorTypes.All[i])
        from kind in Gen.Int[0, 13]
        select (RigCommand)(kind switch
        {
            0 => new SetSend(mix, source, new Gain(level)),
            1 => new SetSend(mix, source, Muted: flag),
            2 => new SetSend(mix, source, Heard: flag),
            3 => new SetSend(mix, source, Pan: level / 40),
            4 => new SetSend(mix, source, Tap: flag ? Tap.AfterChain : Tap.BeforeChain),
            5 => new SetSource(source, Trim: new Gain(level)),
            6 => new AddProcessor(new SourcePoint(source), Processor.Of(type) with { Id = ProcessorId.New() }, number),
            7 => new SetChain(new SourcePoint(source), []),
            8 => new SetMix(mix, Gain: new Gain(level)),
            9 => new AddCable(new Cable { Id = Wire, Name = "Wire", Channels = 2 + number, Feeds = [new CableFeed { From = flag ? new MixPoint(mix) : new SourcePoint(source) }] }),
            10 => new RemoveCable(Wire),
            11 => new SetSource(source, Input: flag ? new CableInput(Wire, 0, 1, number > 2) : new StandInInput(source.Value)),
            12 => new SetCable(Wire, BufferFrames: number * 100),
            _ => new SetChain(new MixPoint(mix), flag ? [Processor.Of(Limiter.Type)] : []),
        });

    [Fact]
    public void Whatever_is_edited_what_no_edit_touches_keeps_every_bit_and_nothing_that_is_not_finite_leaves()
    {
        AnyEdit.List[20, 40].Sample(
            edits =>
            {
                var plain = Bench();
                var edited = Bench();
                foreach (var edit in edits)
                {
                    if (edit.Apply(edited.Rig) is CommandResult.Applied)
                    {
                        edited.Post(edit);
                    }

                    edited.Run(5);
                    plain.Run(5);
                }

                edited.Left(Alone).ShouldBe(plain.Left(Alone));
                edited.Right(Alone).ShouldBe(plain.Right(Alone));
                edited.Left(Demo.Viewers).ShouldAllBe(x => float.IsFinite(x) && (x == 0 || !float.IsSubnormal(x)));
                edited.Left(Demo.Ears).ShouldAllBe(x => float.IsFinite(x) && (x == 0 || !float.IsSubnormal(x)));
            },
            iter: 12,
            threads: 2);
    }

    [Fact]
    public void The_same_commands_stamped_with_their_frames_give_the_same_samples_posted_ahead_or_from_another_thread_while_it_runs()
    {
        var edits = AnyEdit.List[30].Single();
        var (rig, commands) = (Bench().Rig, new List<(RigCommand Edit, long Frame)>());
        foreach (var edit in edits)
        {
            if (edit.Apply(rig) is CommandResult.Applied applied)
            {
                rig = applied.Rig;
                commands.Add((edit, (commands.Count + 1) * 3_000));
            }
        }

        var offline = Bench();
        foreach (var (edit, frame) in commands)
        {
            offline.Post(edit, frame);
        }

        offline.Run(2 * Second);
        var live = Bench();
        using var posted = new SemaphoreSlim(0);
        var poster = new Thread(() =>
        {
            foreach (var (edit, frame) in commands)
            {
                live.Post(edit, frame);
                posted.Release();
            }
        });
        poster.Start();
        for (var block = 0; block < 2 * Second; block++)
        {
            // A command that is due has been posted; those to come may be or not.
            while (posted.CurrentCount < commands.Count(c => c.Frame <= block * AudioFormat.BlockFrames))
            {
                Thread.Yield();
            }

            live.Run(1);
        }

        poster.Join();
        foreach (var mix in new[] { Demo.Ears, Demo.Viewers, Alone })
        {
            live.Left(mix).ShouldBe(offline.Left(mix));
            live.Right(mix).ShouldBe(offline.Right(mix));
        }
    }

    // Three sources that are edited, and one that nobody touches in a mix of its own.
    private static Bench Bench()
    {
        var rig = Demo.Rig("s0", "s1", "s2")
            .Apply(new AddSource(Demo.Source(Untouched.Value)))
            .Apply(new AddMix(new Mix
            {
                Id = Alone,
                Name = "Alone",
                Purpose = MixPurpose.Other,
                Chain = [Processor.Of(Compressor.Type, ("threshold", -30))],
                Sends = [.. new[] { "s0", "s1", "s2" }.Select(s => new Send { Source = new(s), Heard = false }), new Send { Source = Untouched }],
            }))
            // It looks further ahead than anything that is edited, so that no edit moves it in time.
            .Apply(new SetChain(new SourcePoint(Untouched), [.. Enumerable.Range(0, 16).Select(_ => Processor.Of(Gate.Type, ("range", 0), ("lookAhead", 10)))]))
            .Apply(new SetSend(Demo.Viewers, Untouched, Heard: false))
            .Apply(new SetSend(Demo.Ears, Untouched, Heard: false));
        return new Bench(rig, new[] { "s0", "s1", "s2", "untouched" }.Select((id, i) => (id, i)).ToDictionary(
            p => p.id,
            p => (ISourceFeed)new StandingFeed(new SoundBuffer(Signals.Noise(p.i, 50_000, 0.3), p.i == 1 ? null : Signals.Noise(p.i + 9, 50_000, 0.3)))));
    }
}
