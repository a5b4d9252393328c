using System.Collections.Concurrent;
using System.Collections.Immutable;
using System.Text.Json;
using Kinetra.Core.Engine;
using Kinetra.Core.Metering;
using Kinetra.Core.Pads;
using Kinetra.Core.Rigs;
using Kinetra.Core.Signal;
using Kinetra.Media;
using Kinetra.Server.Features.Sounds;
using Kinetra.Server.Live;

namespace Kinetra.Server.Features.Pads;

/// <summary>What is known of pads' sounds: their waveforms, and how loud pads are for those who hear them. What was worked out is kept while it can be true.</summary>
sealed class PadSounds(SoundLibrary sounds, Lazy<EngineHost> engine) : IDisposable
{
    private const int MostKept = 2_000;

    // Beside the engine, one after the other: it takes a whole processor.
    private readonly SemaphoreSlim _measuring = new(1);
    private readonly ConcurrentDictionary<string, string> _columns = new();
    private readonly ConcurrentDictionary<LoudnessKey, PadLoudness?> _loudness = new();

    /// <summary>A sound's waveform, <see cref="PadSoundDocument.Columns"/>; null: it is gone.</summary>
    public async Task<string?> ColumnsAsync(string address, CancellationToken cancel)
    {
        if (_columns.TryGetValue(address, out var known))
        {
            return known;
        }

        if (await sounds.OpenAsync(address, cancel) is not { } sound)
        {
            return null;
        }

        return Kept(_columns, address, await Task.Run(() => Convert.ToBase64String(Draw(sound, cancel)), cancel));
    }

    /// <summary>How loud a pad of the live show is as it is; null: nobody hears it, or its sound or its source is gone.</summary>
    public async Task<PadLoudness?> LoudnessAsync(Rig rig, Pad pad, CancellationToken cancel)
    {
        if (LoudnessKey.Of(rig, pad) is not { } key)
        {
            return null;
        }

        if (_loudness.TryGetValue(key, out var known))
        {
            return known;
        }

        return await sounds.OpenAsync(pad.Sound, cancel) is { } sound
            ? Kept(_loudness, key, await MeasureAsync(() => PadLoudness.Measure(rig, pad, sound.Follow(0, mayWait: true), cancel), cancel))
            : null;
    }

    /// <summary>What gain a pad would get; null: nobody hears it, nothing can be heard of it, or its sound is gone.</summary>
    public async Task<PadProposal?> ProposeAsync(Rig rig, Pad pad, PadWish wish, CancellationToken cancel) =>
        await sounds.OpenAsync(pad.Sound, cancel) is { } sound
            ? await MeasureAsync(() => PadProposal.Of(rig, pad, sound.Follow(0, mayWait: true), Voices(rig), wish, cancel), cancel)
            : null;

    /// <summary>Where the voice stands in each mix of the live show.</summary>
    public ImmutableArray<VoicePlace> Voices(Rig rig)
    {
        var references = new Dictionary<SourceId, double>();
        if (engine.Value.IsRunning)
        {
            var plan = engine.Value.Engine.Plan;
            var values = new float[plan.Meters.Layout.Length];
            if (plan.Meters.Read(values) >= 0)
            {
                for (var s = 0; s < plan.Sources.Length; s++)
                {
                    references[plan.Sources[s].Id] = values[(s * MeterLayout.SourceValues) + (int)SourceMeter.Reference];
                }
            }
        }

        return PadProposal.VoicesOf(rig, s => references.GetValueOrDefault(s, double.NegativeInfinity));
    }

    /// <inheritdoc/>
    public void Dispose() => _measuring.Dispose();

    private async Task<T> MeasureAsync<T>(Func<T> measure, CancellationToken cancel)
    {
        await _measuring.WaitAsync(cancel);
        try
        {
            return await Task.Run(measure, cancel);
        }
        finally
        {
            _measuring.Release();
        }
    }

    private static byte[] Draw(StreamedSound sound, CancellationToken cancel)
    {
        var reader = sound.Follow(0, mayWait: true);
        var columns = new byte[PadSoundDocument.ColumnCount];
        float[] left = new float[4096], right = new float[4096];
        for (var c = 0; c < columns.Length; c++)
        {
            cancel.ThrowIfCancellationRequested();
            var (from, to) = ((int)((long)sound.Frames * c / columns.Length), (int)((long)sound.Frames * (c + 1) / columns.Length));
            var most = 0f;
            for (var at = from; at < Math.Max(to, from + 1) && at < sound.Frames;)
            {
                var count = Math.Min(left.Length, Math.Max(to, from + 1) - at);
                count = Math.Min(count, sound.Frames - at);
                reader.Copy(at, left.AsSpan(0, count), sound.Channels == 2 ? right.AsSpan(0, count) : default);
                for (var i = 0; i < count; i++)
                {
                    most = Math.Max(most, Math.Max(Math.Abs(left[i]), sound.Channels == 2 ? Math.Abs(right[i]) : 0));
                }

                at += count;
            }

            columns[c] = (byte)Math.Min(255, Math.Round(most * 255));
        }

        return columns;
    }

    // What is no longer asked for makes room all at once: it is worked out again where it must be.
    private static T Kept<TKey, T>(ConcurrentDictionary<TKey, T> kept, TKey key, T value)
        where TKey : notnull
    {
        if (kept.Count >= MostKept)
        {
            kept.Clear();
        }

        kept[key] = value;
        return value;
    }

    // All that the loudness of a pad follows from, as text: what is the same gives the same.
    private sealed record LoudnessKey(string Pad, string Source, string Sends)
    {
        public static LoudnessKey? Of(Rig rig, Pad pad) => rig.Find(pad.Source) is { } source
            ? new(
                JsonSerializer.Serialize(new { pad.Begin, pad.End, pad.FadeIn, pad.FadeOut, pad.Gain, pad.Sound }, RigJson.Options),
                JsonSerializer.Serialize(new { source.Factor, source.Fold, source.Chain }, RigJson.Options),
                JsonSerializer.Serialize(rig.Mixes.Select(m => new { m.Id, Send = rig.Find(m.Id, source.Id)! with { Ducker = null } }), RigJson.Options))
            : null;
    }
}
