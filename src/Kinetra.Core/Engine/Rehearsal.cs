using System.Collections.Immutable;
using Kinetra.Core.Editing;
using Kinetra.Core.Planning;
using Kinetra.Core.Processors;
using Kinetra.Core.Rigs;
using Kinetra.Core.Signal;

namespace Kinetra.Core.Engine;

/// <summary>
/// Lets an engine of its own do everything once that an engine does, on the calling thread: what the runtime compiles and
/// computes with the first use of each part is done then, and not in the middle of a show.
/// </summary>
public static class Rehearsal
{
    private const int BlocksEach = 6;

    /// <summary>
    /// Runs it. The loops over samples are compiled at their best at once (AggressiveOptimization), so that none is exchanged
    /// for a better one while a block is due.
    /// </summary>
    public static void Run()
    {
        var (mono, wide, mix) = (new SourceId("mono"), new SourceId("wide"), new MixId("mix"));
        var (second, third) = (new SourceId("second"), new SourceId("third"));
        var noise = new Random(1);
        var sound = Enumerable.Range(0, 4_096).Select(_ => noise.NextSingle() - 0.5f).ToArray();
        var inlets = new Dictionary<SourceId, IInlet>
        {
            [mono] = new SoundInlet(new SoundBuffer(sound, null), loop: true, beginsWithSource: false),
            [wide] = new SoundInlet(new SoundBuffer(sound, sound), loop: true, beginsWithSource: true),
            [second] = new SoundInlet(new SoundBuffer(sound, null), loop: true, beginsWithSource: false),
            [third] = new SoundInlet(new SoundBuffer(sound, sound), loop: true, beginsWithSource: false),
        };
        var rig = new Rig
        {
            Sources = [Of(mono), Of(wide)],
            Mixes =
            [
                new Mix
                {
                    Id = mix,
                    Name = "mix",
                    Purpose = MixPurpose.Other,
                    Sends = [new Send { Source = mono }, new Send { Source = wide, Tap = Tap.BeforeChain }],
                },
            ],
        };
        var plan = EnginePlan.Build(rig, s => inlets[s.Id], null);
        var engine = new MixEngine(plan);
        var (onMono, onWide, onMix, onSend) = (new SourcePoint(mono), new SourcePoint(wide), new MixPoint(mix), new SendPoint(mix, wide));
        var ducker = Processor.Of(Ducker.Type) with { Keys = [new SourcePoint(mono), new SourcePoint(wide, Tap.BeforeChain)] };
        RigCommand[] commands =
        [
            new AddProcessor(onSend, ducker),
            .. ProcessorTypes.All.SelectMany(t => new RigCommand[]
            {
                new SetChain(onMono, [Processor.Of(t)]),
                new SetChain(onWide, [Processor.Of(t), Processor.Of(t, (t.Parameters[0].Key, t.Parameters[0].Max))]),
            }),
            .. ChainPresets.All.Select(p => new SetChain(p.For == "mix" ? onMix : onWide, p.Make())),
            new SetChain(onMix, []),
            new SetSend(mix, mono, new Gain(-6), Pan: 0.5),
            new RemoveSource(wide),
        ];
        Run(engine, BlocksEach);
        foreach (var command in commands)
        {
            rig = ((CommandResult.Applied)command.Apply(rig)).Rig;
            plan = EnginePlan.Build(rig, s => inlets[s.Id], plan);
            engine.Post(plan);
            Run(engine, BlocksEach);
            if (rig.Find(wide) is { Chain: [var first, .., var last] } && first.Type == last.Type)
            {
                Turn(last);
            }
        }

        foreach (var command in Beside(mono, second, third).Concat(Cables(mono, mix)))
        {
            rig = ((CommandResult.Applied)command.Apply(rig)).Rig;
            plan = EnginePlan.Build(rig, s => inlets[s.Id], plan);
            engine.Post(plan);
            Run(engine, BlocksEach);
        }

        var other = EnginePlan.Build(rig, s => inlets[s.Id], null);
        engine.PostOpening(other, plan, ImmutableDictionary<MixId, MixId>.Empty.Add(mix, mix));
        engine.Hushed = true;
        Run(engine, MixEngine.CrossfadeFrames / AudioFormat.BlockFrames);
        engine.Hushed = false;
        engine.PostRestart(mono);
        Run(engine, BlocksEach);

        // A turn of every parameter, a bypass, another place in the chain.
        void Turn(Processor processor)
        {
            var type = ProcessorTypes.Find(processor.Type)!;
            var least = type.Parameters.ToImmutableSortedDictionary(p => p.Key, p => p.Min);
            foreach (var command in new RigCommand[]
            {
                new SetProcessor(onWide, processor.Id, Values: least),
                new SetProcessor(onWide, processor.Id, Bypassed: true),
                new MoveProcessor(onWide, processor.Id, 0),
            })
            {
                rig = ((CommandResult.Applied)command.Apply(rig)).Rig;
                plan = EnginePlan.Build(rig, s => inlets[s.Id], plan);
                engine.Post(plan);
                Run(engine, BlocksEach);
            }
        }
    }

    // Three of each type that is computed side by side.
    private static IEnumerable<RigCommand> Beside(SourceId one, SourceId second, SourceId third) =>
    [
        new AddSource(Of(second)),
        new AddSource(Of(third)),
        .. ProcessorTypes.All.Where(t => t.SideBySide is not null).Select(t => new Several([
            new SetChain(new SourcePoint(one), [Processor.Of(t)]),
            new SetChain(new SourcePoint(second), [Processor.Of(t)]),
            new SetChain(new SourcePoint(third), [Processor.Of(t)]),
        ])),
        new RemoveSource(third),
        new RemoveSource(second),
    ];

    // What plays into a cable and records from it in all the ways there are, round and round too, and waits for a look-ahead.
    private static RigCommand[] Cables(SourceId source, MixId mix)
    {
        var (one, two, wide, single) = (new CableId("one"), new CableId("two"), new SourceId("recorded"), new SourceId("single"));
        Point fromMix = new MixPoint(mix), fromSource = new SourcePoint(source);
        var gate = Processor.Of(Gate.Type, ("lookAhead", 8));
        return
        [
            new SetChain(new SourcePoint(source), [gate]),
            new AddCable(new Cable { Id = one, Name = "one", Channels = 4, Feeds = [new CableFeed { From = fromSource }] }),
            new AddCable(new Cable { Id = two, Name = "two", Feeds = [new CableFeed { From = new CablePoint(one), Into = new(0) }] }),
            new AddSource(Of(wide) with { Input = new CableInput(one, 0, 1) }),
            new AddSource(Of(single) with { Input = new CableInput(two, 1) }),
            new SetSend(mix, wide, Gain.Unity, Heard: true),
            new SetSend(mix, single, new Gain(-20), Heard: true, Tap: Tap.BeforeChain),
            new AddCableFeed(one, new CableFeed { From = fromMix, Gain = new(-30), Into = new(2) }),
            new SetCable(one, BufferFrames: 100),
            new SetProcessor(new SourcePoint(source), gate.Id, Values: ImmutableSortedDictionary<string, double>.Empty.Add("lookAhead", 2)),
            new SetCableFeed(one, fromMix, Gain: new(0), Into: new(0, 1)),
            new SetSource(wide, Input: new CableInput(one, 0, 1, LoopAllowed: true)),
            new SetCableFeed(one, fromMix, On: false),
            new RemoveCableFeed(one, fromMix),
            new SetCable(one, BufferFrames: 0),
            new SetSend(mix, source, Tap: Tap.BeforeChain),
            new AddMix(new Mix { Id = new("more"), Name = "more", Purpose = MixPurpose.Other, Chain = [Processor.Of(Limiter.Type)] }),
            new RemoveMix(new("more")),
            new RemoveSource(single),
            new RemoveSource(wide),
            new RemoveCable(two),
            new RemoveCable(one),
        ];
    }

    private static void Run(MixEngine engine, int blocks)
    {
        for (var b = 0; b < blocks; b++)
        {
            engine.ProcessBlock();
        }
    }

    private static Source Of(SourceId id) => new() { Id = id, Name = id.Value, Kind = SourceKind.App, Input = new BrowserInput("rehearsal", id.Value, id.Value, 0, 1) };
}
