using System.Collections.Immutable;
using Kinetra.Core.Engine;
using Kinetra.Core.Rigs;
using Kinetra.Core.Signal;

namespace Kinetra.Core.Promises;

/// <summary>
/// How loud mixes were lately, and speech in them over what lies under it: from the engine's own meters, looked at a few times a second. Not safe for
/// several threads.
/// </summary>
public sealed class LoudnessLately
{
    /// <summary>How far back it goes, seconds.</summary>
    public const int Seconds = 60;

    /// <summary>How often meters are looked at, frames.</summary>
    public const int Every = AudioFormat.SampleRate / 5;

    // So much of it must have sounded.
    private const int EnoughLoudness = 50;
    private const int EnoughBalance = 15;

    // What is softer does not sound, LUFS: the absolute gate of ITU-R BS.1770-5, and what is no speech in a mix.
    private const double Gate = -70;
    private const double Heard = -45;
    private const int Most = Seconds * AudioFormat.SampleRate / Every;

    private readonly Dictionary<MixId, Queue<(double Loudness, double Peak)>> _mixes = [];
    private readonly Dictionary<PromiseId, Queue<(double Speech, double Bed)>> _balances = [];
    private float[] _values = [];
    private long _next;

    /// <summary>Forgets all.</summary>
    public void Forget()
    {
        _mixes.Clear();
        _balances.Clear();
    }

    /// <summary>Looks at the meters, where it is time.</summary>
    public void Look(MeterBoard board, Rig rig, long frame)
    {
        ArgumentNullException.ThrowIfNull(board);
        ArgumentNullException.ThrowIfNull(rig);
        if (frame < _next && frame > _next - (2 * Every))
        {
            return;
        }

        _next = frame + Every;
        var layout = board.Layout;
        Array.Resize(ref _values, layout.Length);
        if (board.Read(_values) < 0)
        {
            return;
        }

        var mixesAt = layout.Sources.Length * MeterLayout.SourceValues;
        for (var m = 0; m < layout.Mixes.Length; m++)
        {
            var values = _values.AsSpan(mixesAt + (m * MeterLayout.MixValues), MeterLayout.MixValues);
            Add(_mixes, layout.Mixes[m], (values[(int)MixMeter.ShortTerm], values[(int)MixMeter.TruePeakHold]));
        }

        var sendsAt = mixesAt + (layout.Mixes.Length * MeterLayout.MixValues);
        foreach (var over in rig.Promises.OfType<SpeechOverBed>())
        {
            var m = layout.Mixes.IndexOf(over.Mix);
            if (m < 0)
            {
                continue;
            }

            var (speech, bed) = (0.0, 0.0);
            for (var i = 0; i < layout.Sources.Length; i++)
            {
                if (rig.Find(layout.Sources[i]) is not { } source)
                {
                    continue;
                }

                var energy = Math.Pow(10, _values[sendsAt + (m * layout.Sources.Length) + i] / 10.0);
                if (over.Speech is { } voice ? source.Id == voice : ByRouting.IsSpeech(source) && source.Id != over.Bed)
                {
                    speech += energy;
                }
                else if (over.Bed is { } under ? source.Id == under : ByRouting.IsBed(source))
                {
                    bed += energy;
                }
            }

            if (speech > Math.Pow(10, Heard / 10) && bed > Math.Pow(10, Gate / 10))
            {
                Add(_balances, over.Id, (speech, bed));
            }
        }

        foreach (var gone in _balances.Keys.Where(k => rig.Find(k) is null).ToList())
        {
            _balances.Remove(gone);
        }
    }

    /// <summary>What is known of mixes.</summary>
    public ImmutableDictionary<MixId, HeardMix> Mixes() => _mixes.ToImmutableDictionary(m => m.Key, m => Of(m.Value));

    /// <summary>What is known of speech over what lies under it, by promise, LU.</summary>
    public ImmutableDictionary<PromiseId, double> Balances() => _balances.Where(b => b.Value.Count >= EnoughBalance)
        .ToImmutableDictionary(b => b.Key, b => 10 * Math.Log10(b.Value.Sum(x => x.Speech) / b.Value.Sum(x => x.Bed)));

    private static HeardMix Of(Queue<(double Loudness, double Peak)> values)
    {
        // Gated as integrated loudness is (ITU-R BS.1770-5, Annex 1), of short-term values.
        var sounding = values.Where(v => v.Loudness > Gate).Select(v => Math.Pow(10, v.Loudness / 10)).ToList();
        if (sounding.Count == 0)
        {
            return new(null, null);
        }

        var least = sounding.Average() / 10;
        double? loudness = sounding.Count < EnoughLoudness ? null : 10 * Math.Log10(sounding.Where(e => e > least).Average());
        return new(loudness, values.Max(v => v.Peak));
    }

    private static void Add<TKey, T>(Dictionary<TKey, Queue<T>> all, TKey key, T value)
        where TKey : notnull
    {
        if (!all.TryGetValue(key, out var queue))
        {
            all[key] = queue = new(Most);
        }

        if (queue.Count == Most)
        {
            queue.Dequeue();
        }

        queue.Enqueue(value);
    }
}
