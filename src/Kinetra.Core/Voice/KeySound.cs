using System.Collections.Immutable;
using System.Numerics.Tensors;
using Kinetra.Core.Engine;
using Kinetra.Core.Processors;
using Kinetra.Core.Signal;

namespace Kinetra.Core.Voice;

/// <summary>
/// What a processor that runs listens to, off the rings of its keys: summed as the engine sums it, block by block. Without keys it gives nothing, and the
/// processor hears its own input. One thread at a time, never the engine's.
/// </summary>
sealed class KeySound(MixEngine engine, RunningProcessor running) : IDisposable
{
    private const int Block = AudioFormat.BlockFrames;

    private readonly ImmutableArray<HeldTap> _taps = [.. running.Keys.Select(engine.Hold)];
    private readonly float[] _left = running.Keys.IsEmpty ? [] : new float[Block];
    private readonly float[] _right = running.Keys.IsEmpty ? [] : new float[Block];
    private readonly float[] _nextLeft = running.Keys.IsEmpty ? [] : new float[Block];
    private readonly float[] _nextRight = running.Keys.IsEmpty ? [] : new float[Block];

    /// <summary>The frames that all keys have, and the sound beside them has too: from the later beginning to the earlier end; null: some have not begun.</summary>
    public (long Begin, long End)? Within((long Begin, long End)? others)
    {
        foreach (var tap in _taps)
        {
            others = others is { } known && tap.Ring.Beginning >= 0 ? (Math.Max(known.Begin, tap.Ring.Beginning), Math.Min(known.End, tap.Ring.End)) : null;
        }

        return others;
    }

    /// <summary>A block from an engine frame on.</summary>
    public Frames At(long at)
    {
        if (_taps.IsEmpty)
        {
            return default;
        }

        if (_taps.Length == 1)
        {
            Copy(_taps[0].Ring, at, _left, _right);
            return new Frames(_left, _taps[0].Ring.Channels == 2 ? _right : default(Span<float>));
        }

        _left.AsSpan().Clear();
        _right.AsSpan().Clear();
        foreach (var tap in _taps)
        {
            Copy(tap.Ring, at, _nextLeft, _nextRight);
            TensorPrimitives.Add(_left, _nextLeft, _left);
            TensorPrimitives.Add(_right, _nextRight, _right);
        }

        return new Frames(_left, _right);
    }

    /// <inheritdoc/>
    public void Dispose()
    {
        foreach (var tap in _taps)
        {
            tap.Dispose();
        }
    }

    /// <summary>Copies frames off a ring from an engine frame on; what it does not have is silence.</summary>
    internal static void Copy(AudioRing ring, long at, Span<float> left, Span<float> right)
    {
        var count = ring.Read(ref at, left, right, out _);
        left[count..].Clear();
        right[count..].Clear();
    }
}
