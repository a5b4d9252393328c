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
            11 => new SetSource(source, Input: flag ? new CableInput(Wire, 0, 1, number > 2) : Demo.Given(source.Value)),
            12 => new SetCable(Wire, BufferFrames: number * 100),
            _ => new SetChain(new MixPoint(mix), flag ? [Processor.Of(Limiter.Type)] : []),
        });

    // Of processors those that add nothing to a tone.
    private static readonly Gen<RigCommand> AnyQuietEdit =
        from edit in AnyEdit
        from a in Gen.Double[0, 1]
        from kind in Gen.Int[0, 6]
        select edit switch
        {
            AddProcessor add => add with
            {
                Processor = kind switch
                {
                    0 => Processor.Of(Equaliser.Type, ("shape1", 2), ("gain1", (a * 20) - 10), ("frequency1", 60 + (a * 400))),
                    1 => Processor.Of(Cuts.LowCut, ("frequency", 20 + (a * 200))),
                    2 => Processor.Of(Cuts.HighCut, ("frequency", 1_000 + (a * 10_000))),
                    3 => Processor.Of(Utility.Type, ("gain", (a * 12) - 12), ("width", a * 200)),
                    4 => Processor.Of(Delay.Type, ("time", a * 30)),
                    5 => Processor.Of(Gate.Type, ("range", 0), ("lookAhead", Math.Round(a * 10))),
                    _ => Processor.Of(Room.Type, ("blend", a * 100)),
                },
            },
            SetSource { Input: CableInput cable } set => set with { Input = cable with { LoopAllowed = false } },
            _ => edit,
        };

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
    public void Whatever_is_edited_under_low_tones_no_mix_and_no_way_out_clicks()
    {
        AnyQuietEdit.List[20, 30].Sample(
            edits =>
            {
                // At their loudest all together lie at full scale.
                var bench = Bench(i => new SoundBuffer(Signals.Sine(90 + (10 * i), 0.04, Signals.Rate), i == 1 ? null : Signals.Sine(100 + (10 * i), 0.04, Signals.Rate)));
                bench.Run(40);
                using var wire = bench.Engine.Hold(new CablePoint(Wire));
                var (onWire, position) = (new List<float>(), 0L);
                foreach (var edit in edits)
                {
                    if (edit.Apply(bench.Rig) is CommandResult.Applied)
                    {
                        bench.Post(edit);
                    }

                    bench.Run(7);
                    onWire.AddRange(Newest(wire, ref position));
                }

                // It comes and goes; whoever hears it hears neither.
                if (onWire.Count > 4_096)
                {
                    Signals.RmsAbove(5_000, [.. onWire], 2_048, onWire.Count - 512).ShouldBeLessThan(-80, string.Join(Environment.NewLine, edits.Select(Told)));
                }

                foreach (var mix in new[] { Demo.Ears, Demo.Viewers })
                {
                    foreach (var side in new[] { bench.Left(mix), bench.Right(mix) })
                    {
                        for (var e = 0; e < edits.Count; e++)
                        {
                            var from = (40 + (e * 7)) * AudioFormat.BlockFrames;
                            Signals.RmsAbove(5_000, side[(from - 5_120)..(from + (7 * AudioFormat.BlockFrames))], 5_120, 5_120 + (7 * AudioFormat.BlockFrames) - 512)
                                .ShouldBeLessThan(-80, $"{mix}: {string.Join(Environment.NewLine, edits.Take(e + 1).Select(Told))}");
                        }
                    }
                }
            },
            iter: 25,
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

    private static List<float> Newest(HeldTap tap, ref long position)
    {
        var (all, left, right) = (new List<float>(), new float[AudioFormat.BlockFrames], new float[AudioFormat.BlockFrames]);
        while (tap.Ring.Read(ref position, left, right, out _) is > 0 and var count)
        {
            all.AddRange(left[..count]);
        }

        return all;
    }

    private static string Told(RigCommand edit) => System.Text.Json.JsonSerializer.Serialize(edit, RigJson.Options);

    // Three sources that are edited, and one that nobody touches in a mix of its own.
    private static Bench Bench() =>
        Bench(i => new SoundBuffer(Signals.Noise(i, 50_000, 0.3), i == 1 ? null : Signals.Noise(i + 9, 50_000, 0.3)));

    private static Bench Bench(Func<int, SoundBuffer> sound)
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
            p => (IInlet)new StandingInlet(sound(p.i))));
    }
}
