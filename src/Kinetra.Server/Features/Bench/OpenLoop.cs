using System.Collections.Immutable;
using Kinetra.Core.Engine;
using Kinetra.Core.Rigs;
using Kinetra.Core.Signal;
using Kinetra.Core.Voice;

namespace Kinetra.Server.Features.Bench;

/// <summary>What was measured of a variant.</summary>
/// <param name="Measures">Its measures.</param>
/// <param name="Picture">It, drawn.</param>
public sealed record Measured(SoundMeasures Measures, SoundPicture Picture);

/// <summary>
/// A loop that somebody works on: its sound is in memory, and once somebody looks or listens, its bench runs. What is measured is kept as long as the chain that it was measured of.
/// Any thread.
/// </summary>
public sealed class OpenLoop(SoundBuffer sound, ImmutableArray<BenchVariant> variants, SoundBeside? beside = null)
{
    // Louder than that nothing is made, and nothing quieter: something else is wrong then.
    private const double MostGain = 24;
    private const double Headroom = -1;

    private readonly Lock _lock = new();
    // One after the other, and nobody waits for it on a thread.
    private Task _measuring = Task.CompletedTask;
    private int _isWaiting;
    private ImmutableDictionary<string, Measured> _measured = ImmutableDictionary<string, Measured>.Empty;
    private ImmutableArray<BenchVariant> _variants = variants;
    private volatile ImmutableDictionary<SourceId, double> _gains = ImmutableDictionary<SourceId, double>.Empty;
    private LoopBench? _bench;

    /// <summary>How many look or listen.</summary>
    public int Holders { get; set; }

    /// <summary>What goes round.</summary>
    public SoundBuffer Sound => sound;

    /// <summary>How it is treated.</summary>
    public ImmutableArray<BenchVariant> Variants
    {
        get
        {
            lock (_lock)
            {
                return _variants;
            }
        }
    }

    /// <summary>Its bench, made when it is needed first.</summary>
    public LoopBench Bench
    {
        get
        {
            lock (_lock)
            {
                if (_bench is null)
                {
                    _bench = new LoopBench(sound, _variants, beside);
                    MeasureBeside();
                }

                return _bench;
            }
        }
    }

    /// <summary>Its bench, where it runs.</summary>
    public LoopBench? Running
    {
        get
        {
            lock (_lock)
            {
                return _bench;
            }
        }
    }

    /// <summary>It is treated otherwise from now on.</summary>
    public void Set(ImmutableArray<BenchVariant> now)
    {
        lock (_lock)
        {
            _variants = now;
            if (_bench is not null)
            {
                _bench.Set(now);
                MeasureBeside();
            }
        }
    }

    /// <summary>Nobody looks or listens any more: the bench need not run.</summary>
    public void Rest()
    {
        lock (_lock)
        {
            _bench = null;
        }
    }

    /// <summary>
    /// What makes a variant as loud as all others, linear: as loud as the loudest of them, as long as none comes closer to full scale than 1 dB. 1 until it is measured; of what is changed,
    /// that of before until what it is now is measured. Where something goes round beside it, always 1: how loud it is against that is what is compared.
    /// </summary>
    public double GainOf(SourceId variant) => beside is null ? _gains.GetValueOrDefault(variant, 1) : 1;

    /// <summary>Measures what is not measured yet, beside the caller; one at a time: it takes a processor for a moment.</summary>
    public Task<ImmutableArray<(SourceId Id, Measured Measured)>> MeasureAsync(CancellationToken cancel)
    {
        lock (_lock)
        {
            var next = _measuring.ContinueWith(_ => Measure(cancel), CancellationToken.None, TaskContinuationOptions.None, TaskScheduler.Default);
            _measuring = next;
            return next;
        }
    }

    private ImmutableArray<(SourceId Id, Measured Measured)> Measure(CancellationToken cancel)
    {
        var all = All;
        var measured = _measured;
        foreach (var (_, chain) in all)
        {
            cancel.ThrowIfCancellationRequested();
            var key = KeyOf(chain);
            measured = measured.ContainsKey(key) ? measured : measured.Add(key, Measure(chain, cancel));
        }

        // What is no variant any more is forgotten.
        var keys = all.Select(v => KeyOf(v.Chain)).ToHashSet();
        _measured = measured.RemoveRange(measured.Keys.Where(k => !keys.Contains(k)));
        ImmutableArray<(SourceId Id, Measured Measured)> found = [.. all.Select(v => (v.Id, measured[KeyOf(v.Chain)]))];
        _gains = GainsOf(found);
        return found;
    }

    private static ImmutableDictionary<SourceId, double> GainsOf(ImmutableArray<(SourceId Id, Measured Measured)> all)
    {
        var heard = all.Where(v => double.IsFinite(v.Measured.Measures.Loudness)).ToDictionary(v => v.Id, v => v.Measured.Measures);
        if (heard.Count == 0)
        {
            return ImmutableDictionary<SourceId, double>.Empty;
        }

        var target = Math.Min(heard.Values.Max(m => m.Loudness), heard.Values.Min(m => m.Loudness + Headroom - m.Peak));
        return heard.ToImmutableDictionary(v => v.Key, v => Math.Pow(10, Math.Clamp(target - v.Value.Loudness, -MostGain, MostGain) / 20));
    }

    private ImmutableArray<(SourceId Id, ImmutableArray<Processor> Chain)> All => [(LoopBench.Plain, []), .. Variants.Select(v => (v.Id, v.Chain))];

    // However quick the hand: one look that has not begun yet sees all that has changed until it does.
    private void MeasureBeside()
    {
        if (Interlocked.Exchange(ref _isWaiting, 1) != 0)
        {
            return;
        }

        lock (_lock)
        {
            _measuring = _measuring.ContinueWith(
                _ =>
                {
                    Volatile.Write(ref _isWaiting, 0);
                    Measure(CancellationToken.None);
                },
                CancellationToken.None,
                TaskContinuationOptions.None,
                TaskScheduler.Default);
        }
    }

    private static string KeyOf(ImmutableArray<Processor> chain) => System.Text.Json.JsonSerializer.Serialize(chain, RigJson.Options);

    private Measured Measure(ImmutableArray<Processor> chain, CancellationToken cancel)
    {
        var rendered = chain.IsEmpty ? sound : LoopRender.Render(sound, chain, beside?.Key, cancel);
        var spectra = new ShortTimeSpectra(rendered);
        return new(SoundMeasures.Of(rendered, spectra), SoundPicture.Of(rendered, spectra));
    }
}
