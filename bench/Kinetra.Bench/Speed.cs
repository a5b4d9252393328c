using System.Collections.Immutable;
using System.Diagnostics;
using Kinetra.Core.Engine;
using Kinetra.Core.Processors;
using Kinetra.Core.Rigs;
using Kinetra.Core.Signal;

namespace Kinetra.Bench;

/// <summary>
/// What each processor costs for one stereo frame: alone, on different sounds, since the cost must not depend on them; and as one
/// of eight sources that have the same.
/// </summary>
static class Speed
{
    private const int Rounds = 9;
    private const int Blocks = 400;
    private static readonly string[] Sounds = ["noise", "silence after noise", "−290 dBFS", "loud square"];

    public static object[] Measure() =>
    [
        .. ProcessorTypes.All.Select(t =>
        {
            var costs = Costs(t);
            return (object)new
            {
                processor = t.Key,
                nsPerStereoFrame = costs[0],
                nsPerStereoFrameAsOneOfEight = AsOneOfEight(t),
                shareOfOneCore = costs[0] * AudioFormat.SampleRate / 1e9,
                relativeToNoise = Sounds.Zip(costs).Skip(1).ToDictionary(p => p.First, p => p.Second / costs[0]),
            };
        }),
    ];

    // The median of several rounds, in which the sounds take turns: what disturbs one round disturbs all of them.
    private static double[] Costs(ProcessorType type)
    {
        var slots = Sounds.Select(_ => new ChainSlot(type, new ProcessorSettings(2, AtWork(type).ValuesOf(type)))).ToArray();
        var times = Sounds.Select(_ => new List<double>()).ToArray();
        for (var s = 0; s < Sounds.Length; s++)
        {
            Run(slots[s], Sound(s == 1 ? 0 : s), Blocks);
            Run(slots[s], Sound(s), 4 * Blocks);
        }

        Warm.Up(() => Run(slots[0], Sound(0), Blocks));

        for (var round = 0; round < Rounds; round++)
        {
            for (var s = 0; s < Sounds.Length; s++)
            {
                times[s].Add(Run(slots[s], Sound(s), Blocks));
            }
        }

        return [.. times.Select(t => t.Order().ElementAt(Rounds / 2))];
    }

    // By how much an engine of eight stereo sources takes longer for it; the median of rounds in which both take turns.
    private static double AsOneOfEight(ProcessorType type)
    {
        MixEngine with = Eight(() => [AtWork(type)]), without = Eight(() => []);
        Warm.Up(with.ProcessBlock);
        Warm.Up(without.ProcessBlock);
        return Enumerable.Range(0, Rounds).Select(_ => Blocked(with) - Blocked(without)).Order().ElementAt(Rounds / 2) / ReferenceRig.Sources;

        static double Blocked(MixEngine engine)
        {
            var begun = Stopwatch.GetTimestamp();
            for (var b = 0; b < Blocks; b++)
            {
                engine.ProcessBlock();
            }

            return Stopwatch.GetElapsedTime(begun).TotalNanoseconds / (Blocks * AudioFormat.BlockFrames);
        }
    }

    private static MixEngine Eight(Func<ImmutableArray<Processor>> chain)
    {
        var rig = ReferenceRig.Make(mixes: 0, chains: false);
        rig = rig with { Sources = [.. rig.Sources.Select(s => s with { Chain = chain() })] };
        var inlets = ReferenceRig.Inlets(rig);
        return new MixEngine(EnginePlan.Build(rig, s => inlets[s.Id], null));
    }

    // At its defaults; an equaliser, which does nothing there, with all its bands.
    private static Processor AtWork(ProcessorType type) => type == Equaliser.Type ? ReferenceRig.Bands() : Processor.Of(type);

    private static double Run(ChainSlot slot, float[] sound, int blocks)
    {
        var (left, right) = (new float[AudioFormat.BlockFrames], new float[AudioFormat.BlockFrames]);
        var begun = Stopwatch.GetTimestamp();
        for (var b = 0; b < blocks; b++)
        {
            sound.CopyTo(left, 0);
            sound.CopyTo(right, 0);
            slot.Process(left, right, new Frames(sound, sound));
        }

        return Stopwatch.GetElapsedTime(begun).TotalNanoseconds / (blocks * AudioFormat.BlockFrames);
    }

    private static float[] Sound(int kind)
    {
        var random = new Random(3);
        return
        [
            .. Enumerable.Range(0, AudioFormat.BlockFrames).Select(n => kind switch
            {
                0 => random.NextSingle() - 0.5f,
                1 => 0,
                2 => 1e-14f * (random.NextSingle() - 0.5f),
                _ => n / 24 % 2 == 0 ? 900f : -900f,
            }),
        ];
    }
}
