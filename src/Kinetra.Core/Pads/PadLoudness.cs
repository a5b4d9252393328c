using System.Collections.Immutable;
using System.Text.Json.Serialization;
using Kinetra.Core.Engine;
using Kinetra.Core.Metering;
using Kinetra.Core.Rigs;
using Kinetra.Core.Signal;

namespace Kinetra.Core.Pads;

/// <summary>How loud a pad is, once it has gone through its source: what every listener of that source gets of it.</summary>
/// <param name="Momentary">Its highest momentary loudness (400 ms), LUFS; −∞: it is silent.</param>
/// <param name="Peak">Its highest sample, dBFS.</param>
/// <param name="Mixes">In each mix that hears it, the highest momentary loudness that it adds there, with the mix's gain and before its chain, LUFS.</param>
public sealed record PadLoudness(double Momentary, double Peak, ImmutableArray<PadPlace> Mixes)
{
    /// <summary>
    /// Plays a pad in an engine of its own: through its source's trim and chain, and its sends, with nothing else there. What listens to others, a ducker or a keyed
    /// processor, hears nothing and does nothing.
    /// </summary>
    /// <param name="rig">The show.</param>
    /// <param name="pad">The pad; a loop is played once.</param>
    /// <param name="sound">Its sound.</param>
    /// <param name="cancel">Gives up.</param>
    /// <returns>Null where the show has no such source.</returns>
    public static PadLoudness? Measure(Rig rig, Pad pad, ISoundReader sound, CancellationToken cancel = default)
    {
        ArgumentNullException.ThrowIfNull(rig);
        ArgumentNullException.ThrowIfNull(pad);
        if (rig.Find(pad.Source) is not { Input: PadsInput } source)
        {
            return null;
        }

        var player = new PadPlayer();
        var alone = Alone(rig, source);
        var engine = new MixEngine(EnginePlan.Build(alone, s => player.Inlet(s.Id), null));
        var ready = ReadyPad.Of(pad with { Play = PadPlay.Once, Dim = 0 }, sound);

        // Chains that look ahead, and meters, have settled by then.
        const int Before = 10 * AudioFormat.BlockFrames;
        player.Post(new PadOrder.Press(Before, ready, sound, player.Inlet(pad.Source)));
        var (momentary, peak, places) = (double.NegativeInfinity, double.NegativeInfinity, new double[alone.Mixes.Length]);
        places.AsSpan().Fill(double.NegativeInfinity);
        var blocks = (Before + ready.Frames + AudioFormat.SampleRate) / AudioFormat.BlockFrames;
        for (var b = 0; b < blocks && !cancel.IsCancellationRequested; b++)
        {
            engine.ProcessBlock();
            var node = engine.Plan.Sources[0];
            momentary = Math.Max(momentary, node.Meter.Momentary);
            peak = Math.Max(peak, node.Meter.TakePeak());
            for (var m = 0; m < places.Length; m++)
            {
                places[m] = Math.Max(places[m], engine.Plan.Sends[m][0].Momentary);
            }
        }

        cancel.ThrowIfCancellationRequested();
        return new PadLoudness(momentary, peak, [.. alone.Mixes.Select((m, i) => new PadPlace(m.Id, places[i] + m.Gain.Decibels)).Where(p => !double.IsNegativeInfinity(p.Lufs))]);
    }

    private static Rig Alone(Rig rig, Source source) => new()
    {
        Sources = [source with { Chain = [.. source.Chain.Select(p => p with { Keys = [] })], SyncDelay = 0 }],
        Mixes = [.. rig.Mixes.Select(m => m with { Chain = [], Destinations = [], Sends = [rig.Find(m.Id, source.Id)! with { Ducker = null }] })],
    };
}

/// <summary>Where something stands in a mix.</summary>
/// <param name="Mix">The mix.</param>
/// <param name="Lufs">Its loudness there, LUFS.</param>
public readonly record struct PadPlace(MixId Mix, double Lufs);

/// <summary>How loud a pad is to be.</summary>
[JsonConverter(typeof(JsonStringEnumConverter<PadWish>))]
public enum PadWish
{
    /// <summary>Its loudest moment is as loud as the voice.</summary>
    AsLoudAsTheVoice,

    /// <summary>Its loudest moment lies 4 LU under the voice.</summary>
    ABitUnder,

    /// <summary>It stands for the programme by itself: its loudest moment lies at the mix's target.</summary>
    AJingle,
}

/// <summary>The voice's own place in a mix, beside which pads are put.</summary>
/// <param name="Mix">The mix.</param>
/// <param name="Lufs">Its loudness there, LUFS.</param>
/// <param name="Source">Which source it is; null: nobody has spoken yet, and the mix's target stands for a voice.</param>
public readonly record struct VoicePlace(MixId Mix, double Lufs, SourceId? Source);

/// <summary>A gain for a pad, and what it makes of it.</summary>
/// <param name="Gain">The gain; within what is allowed.</param>
/// <param name="Loudness">How loud it is with it.</param>
/// <param name="Missing">By how much it stays quieter than was wished, since no more gain is allowed, LU; 0: it is as wished.</param>
public sealed record PadProposal(Gain Gain, PadLoudness Loudness, double Missing)
{
    /// <summary>By how much <see cref="PadWish.ABitUnder"/> is under, LU.</summary>
    public const double Under = 4;

    // A chain that works on levels makes less of a change than was asked for (a compressor of 3:1 a third), or more: by the last two rounds it is told how much.
    private const int Rounds = 12;
    private const double Near = 0.05, LeastSlope = 0.1, MostSlope = 4;

    /// <summary>Where the voice stands in each mix: the loudest of the microphones and calls that are heard there, by what was measured of it.</summary>
    /// <param name="rig">The show.</param>
    /// <param name="reference">The reference loudness of a source, LUFS (<see cref="ReferenceLoudness"/>); −∞ or NaN: it has not been heard yet.</param>
    public static ImmutableArray<VoicePlace> VoicesOf(Rig rig, Func<SourceId, double> reference)
    {
        ArgumentNullException.ThrowIfNull(rig);
        ArgumentNullException.ThrowIfNull(reference);
        return
        [
            .. rig.Mixes.Select(mix =>
            {
                var voices = rig.Sources.Where(s => s.Kind is SourceKind.Microphone or SourceKind.Call)
                    .Select(s => (s.Id, Send: rig.Find(mix.Id, s.Id)!, Lufs: reference(s.Id)))
                    .Where(v => v.Send is { Heard: true, Muted: false, Gain.IsOff: false } && double.IsFinite(v.Lufs))
                    .Select(v => new VoicePlace(mix.Id, v.Lufs + v.Send.Gain.Decibels + mix.Gain.Decibels, v.Id))
                    .ToList();
                return voices.Count > 0 ? voices.MaxBy(v => v.Lufs) : new VoicePlace(mix.Id, mix.TargetLufs, null);
            }),
        ];
    }

    /// <summary>
    /// The gain at which a pad is as loud as is wished in the mix in which it is loudest against the wish, and no louder in any other.
    /// </summary>
    /// <param name="rig">The show.</param>
    /// <param name="pad">The pad; its gain does not count.</param>
    /// <param name="sound">Its sound.</param>
    /// <param name="voices">Where the voice stands, mix by mix.</param>
    /// <param name="wish">How loud.</param>
    /// <param name="cancel">Gives up.</param>
    /// <returns>Null where nobody hears it, or nothing of it can be heard.</returns>
    public static PadProposal? Of(Rig rig, Pad pad, ISoundReader sound, ImmutableArray<VoicePlace> voices, PadWish wish, CancellationToken cancel = default)
    {
        ArgumentNullException.ThrowIfNull(rig);
        ArgumentNullException.ThrowIfNull(pad);
        var wanted = voices.ToDictionary(v => v.Mix, v => wish switch
        {
            PadWish.AsLoudAsTheVoice => v.Lufs,
            PadWish.ABitUnder => v.Lufs - Under,
            _ => rig.Find(v.Mix)!.TargetLufs,
        });
        var (gain, slope) = (0.0, 1.0);
        (double Gain, double Over)? before = null;
        PadLoudness? measured = null;
        var over = 0.0;
        for (var round = 0; round < Rounds; round++)
        {
            measured = PadLoudness.Measure(rig, pad with { Gain = new(gain) }, sound, cancel);
            if (measured is null || measured.Mixes.IsEmpty)
            {
                return null;
            }

            over = measured.Mixes.Max(p => p.Lufs - wanted[p.Mix]);
            if (before is var (oldGain, oldOver))
            {
                slope = Math.Clamp((over - oldOver) / (gain - oldGain), LeastSlope, MostSlope);
            }

            before = (gain, over);
            var next = Math.Clamp(Math.Round(gain - (over / slope), 2), Lowest, Gain.MaxDecibels);
            if (Math.Abs(over) < Near || next == gain)
            {
                break;
            }

            gain = next;
        }

        return new PadProposal(new(gain), measured!, gain == Gain.MaxDecibels && over < -Near ? -over : 0);
    }

    private const double Lowest = -60;
}
