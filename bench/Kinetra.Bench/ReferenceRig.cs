using System.Collections.Immutable;
using Kinetra.Core.Engine;
using Kinetra.Core.Processors;
using Kinetra.Core.Rigs;
using Kinetra.Core.Signal;

namespace Kinetra.Bench;

/// <summary>
/// The rig that speed is measured on: eight stereo sources, each through low cut, gate, four bands of equaliser, de-esser and
/// compressor; four mixes of all of them, each with a limiter and full metering.
/// </summary>
static class ReferenceRig
{
    public const int Sources = 8;
    public const int Mixes = 4;

    public static Rig Make(int sources = Sources, int mixes = Mixes, bool chains = true)
    {
        ImmutableArray<Source> made =
        [
            .. Enumerable.Range(0, sources).Select(s => new Source
            {
                Id = new($"source-{s}"),
                Name = $"Source {s}",
                Kind = SourceKind.Microphone,
                Input = new BrowserInput("bench", $"source-{s}", $"source-{s}", 0, 1),
                Chain = chains ? Voice() : [],
            }),
        ];
        return new Rig
        {
            Sources = made,
            Mixes =
            [
                .. Enumerable.Range(0, mixes).Select(m => new Mix
                {
                    Id = new($"mix-{m}"),
                    Name = $"Mix {m}",
                    Purpose = MixPurpose.Other,
                    Chain = chains ? [Processor.Of(Limiter.Type)] : [],
                    Sends = [.. made.Select((s, i) => new Send { Source = s.Id, Gain = new(-3 - ((i + m) % 4 * 3)) })],
                }),
            ],
        };
    }

    /// <summary>Eight voices, so to speak: noise that comes and goes, each at its own pace.</summary>
    public static SoundBuffer Sound(int seed, int frames)
    {
        var random = new Random(seed);
        var (left, right) = (new float[frames], new float[frames]);
        double low = 0, phase = 0;
        for (var n = 0; n < frames; n++)
        {
            phase += 2 * Math.PI * (110 + (20 * seed)) / AudioFormat.SampleRate;
            var syllable = Math.Max(0, Math.Sin(2 * Math.PI * n * (1.3 + (0.1 * seed)) / AudioFormat.SampleRate));
            low += 0.2 * (random.NextDouble() - 0.5 - low);
            var voice = syllable * ((0.3 * Math.Sin(phase)) + low);
            left[n] = (float)(voice + (0.002 * (random.NextDouble() - 0.5)));
            right[n] = (float)((0.8 * voice) + (0.002 * (random.NextDouble() - 0.5)));
        }

        return new SoundBuffer(left, right);
    }

    /// <summary>Each source's sound, made once.</summary>
    public static Dictionary<SourceId, IInlet> Inlets(Rig rig)
    {
        var sounds = Enumerable.Range(0, Sources).Select(s => Sound(s, 4 * AudioFormat.SampleRate)).ToArray();
        return rig.Sources.Select((s, i) => (s.Id, Inlet: (IInlet)new StandingInlet(sounds[i % Sources]))).ToDictionary(p => p.Id, p => p.Inlet);
    }

    /// <summary>An equaliser with all its bands at work.</summary>
    public static Processor Bands() => Processor.Of(Equaliser.Type, ("gain1", 3), ("gain2", -4), ("gain3", 3), ("gain4", 2));

    private static ImmutableArray<Processor> Voice() =>
    [
        Processor.Of(Cuts.LowCut),
        Processor.Of(Gate.Type),
        Bands(),
        Processor.Of(DeEsser.Type),
        Processor.Of(Compressor.Type, ("threshold", -24), ("ratio", 3)),
    ];
}
