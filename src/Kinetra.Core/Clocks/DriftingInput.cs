using System.Numerics.Tensors;
using System.Runtime.CompilerServices;
using Kinetra.Core.Dsp;
using Kinetra.Core.Signal;

namespace Kinetra.Core.Clocks;

/// <summary>
/// Sound of a device with a clock of its own, brought to the engine's: one thread writes what arrives, the engine thread reads
/// a block at a time, resampled. No locks; neither waits for the other.
/// </summary>
public sealed class DriftingInput
{
    /// <summary>The most channels a device may have.</summary>
    public const int MaxChannels = 8;

    /// <summary>Frames that are kept, 0.7 s. A power of two.</summary>
    public const int Capacity = 32_768;

    private const int Arrivals = 1024;

    // What the writer may be touching while the engine reads.
    private const int Guard = 4_096;
    private const int FadeFrames = AudioFormat.BlockFrames;

    // The clocks differ by parts per million: what the one can hold, so can the other.
    private static readonly SincTable Table = SincTable.For(1);

    private readonly float[][] _rings = new float[MaxChannels][];
    private readonly (double Other, double Own)[] _arrivals = new (double, double)[Arrivals];
    private readonly float[][] _blocks = new float[MaxChannels][];
    private readonly float[] _kernel = new float[Table.Taps];
    private readonly float[] _samples = new float[Table.Taps];
    private readonly float[] _last = new float[MaxChannels];
    private readonly ReadHead _head;
    private long _arrivalsWritten;
    private long _arrivalsRead;
    private long _written;
    private long _next = -1;
    private int _channels;
    private long _blockFrame = -1;
    private long _lost;
    private long _gaps;
    private double _latency = double.NaN;
    private double _partsPerMillion = double.NaN;

    /// <summary>Nothing has arrived yet: it gives silence.</summary>
    /// <param name="targetFrames">The latency to hold, frames (see <see cref="ReadHead"/>).</param>
    public DriftingInput(double targetFrames)
    {
        _head = new ReadHead(targetFrames);
        for (var c = 0; c < MaxChannels; c++)
        {
            _rings[c] = [];
            _blocks[c] = new float[AudioFormat.BlockFrames];
        }
    }

    /// <summary>How often the sound broke off since it first sounded. Any thread.</summary>
    public long Gaps => Interlocked.Read(ref _gaps);

    /// <summary>Frames that the device made but that never arrived; they are silent. Any thread.</summary>
    public long Lost => Interlocked.Read(ref _lost);

    /// <summary>Frames that arrived. Any thread.</summary>
    public long Arrived => Interlocked.Read(ref _written);

    /// <summary>Frames by which it lies behind the earliest arrival; NaN while silent. Any thread.</summary>
    public double Latency => Volatile.Read(ref _latency);

    /// <summary>By how much the device's clock runs fast, ppm; NaN while that is being learnt. Any thread.</summary>
    public double PartsPerMillion => Volatile.Read(ref _partsPerMillion);

    /// <summary>Writer: frames that have arrived.</summary>
    /// <param name="frame">The device's own count of the first one. A jump ahead leaves silence of that length; a jump back, as of a device that starts over, goes on from here.</param>
    /// <param name="samples">Planar: all of the first channel, then all of the second … What is not finite is made so (<see cref="SampleGuard"/>).</param>
    /// <param name="channels">1 … 8; the length of <paramref name="samples"/> is a multiple of it.</param>
    /// <param name="own">The engine's time, in frames, at which they arrived.</param>
    public void Write(long frame, ReadOnlySpan<float> samples, int channels, double own)
    {
        ArgumentOutOfRangeException.ThrowIfLessThan(channels, 1);
        ArgumentOutOfRangeException.ThrowIfGreaterThan(channels, MaxChannels);
        var frames = samples.Length / channels;
        ArgumentOutOfRangeException.ThrowIfGreaterThan(frames, Guard / 2);
        var skipped = _next < 0 ? 0 : frame - _next;
        if (skipped is > 0 and < Capacity)
        {
            Interlocked.Add(ref _lost, skipped);
            for (var left = skipped; left > 0;)
            {
                var part = (int)Math.Min(left, Guard / 2);
                Append(default, part, Math.Max(1, _channels));
                left -= part;
            }
        }

        _next = frame + frames;
        Append(samples, frames, channels);
        Note(_written, own);
    }

    /// <summary>Writer: the device starts over, so that what was known of its clock no longer counts. Its frames may begin anywhere.</summary>
    public void Rejoin()
    {
        _next = -1;
        Note(double.NaN, 0);
    }

    /// <summary>Engine thread: computes the block that begins at an engine frame, once, however often it is asked for.</summary>
    public void Advance(long frame)
    {
        if (frame == _blockFrame)
        {
            return;
        }

        _blockFrame = frame;
        for (; _arrivalsRead < Volatile.Read(ref _arrivalsWritten); Volatile.Write(ref _arrivalsRead, _arrivalsRead + 1))
        {
            var (other, own) = _arrivals[_arrivalsRead % Arrivals];
            if (double.IsNaN(other))
            {
                _head.Rejoin();
            }
            else
            {
                _head.Observe(other, own);
            }
        }

        var written = Volatile.Read(ref _written);
        var oldest = Math.Max(0, written - Capacity + Guard) + Table.Behind;
        var step = _head.Next(frame, AudioFormat.BlockFrames, oldest, written - Table.Ahead - 1);
        Volatile.Write(ref _latency, _head.Latency);
        Volatile.Write(ref _partsPerMillion, _head.PartsPerMillion);
        Interlocked.Exchange(ref _gaps, _head.Gaps);
        if (step.Sounds)
        {
            Resample(step);
        }
        else
        {
            FallSilent(step.Ends);
        }
    }

    /// <summary>Engine thread: a channel of the block that was computed last; silence for one that the device does not have.</summary>
    public ReadOnlySpan<float> Channel(int channel) => channel is >= 0 and < MaxChannels ? _blocks[channel] : default;

    // An engine that stands still takes no notes: those that find no room are not needed either.
    private void Note(double other, double own)
    {
        var place = _arrivalsWritten;
        if (place - Volatile.Read(ref _arrivalsRead) < Arrivals)
        {
            _arrivals[place % Arrivals] = (other, own);
            Volatile.Write(ref _arrivalsWritten, place + 1);
        }
    }

    private void Append(ReadOnlySpan<float> samples, int frames, int channels)
    {
        // A channel gets its room when it first sounds; the engine looks only at those that have.
        for (var c = _channels; c < channels; c++)
        {
            _rings[c] = new float[Capacity];
        }

        Volatile.Write(ref _channels, Math.Max(_channels, channels));
        var at = (int)(_written & (Capacity - 1));
        var first = Math.Min(frames, Capacity - at);
        for (var c = 0; c < _channels; c++)
        {
            var head = _rings[c].AsSpan(at, first);
            var tail = _rings[c].AsSpan(0, frames - first);
            if (c < channels && !samples.IsEmpty)
            {
                var plane = samples.Slice(c * frames, frames);
                plane[..first].CopyTo(head);
                plane[first..].CopyTo(tail);
                SampleGuard.MakeFinite(head);
                SampleGuard.MakeFinite(tail);
            }
            else
            {
                // A channel that has gone is silent from here on.
                head.Clear();
                tail.Clear();
            }
        }

        Volatile.Write(ref _written, _written + frames);
    }

    [MethodImpl(MethodImplOptions.AggressiveOptimization)]
    private void Resample(ReadStep step)
    {
        var channels = Volatile.Read(ref _channels);
        for (var n = 0; n < AudioFormat.BlockFrames; n++)
        {
            var position = step.Position + (n * step.Step);
            var whole = (long)Math.Floor(position);
            Table.Kernel(position - whole, _kernel);
            var at = (int)((whole - Table.Behind) & (Capacity - 1));
            for (var c = 0; c < channels; c++)
            {
                _blocks[c][n] = TensorPrimitives.Dot(_kernel, Samples(_rings[c], at));
            }
        }

        for (var c = 0; c < MaxChannels; c++)
        {
            if (step.Begins)
            {
                Fade(_blocks[c], rising: true);
            }

            _last[c] = _blocks[c][^1];
        }
    }

    private ReadOnlySpan<float> Samples(float[] ring, int at)
    {
        if (at + Table.Taps <= Capacity)
        {
            return ring.AsSpan(at, Table.Taps);
        }

        var first = Capacity - at;
        ring.AsSpan(at).CopyTo(_samples);
        ring.AsSpan(0, Table.Taps - first).CopyTo(_samples.AsSpan(first));
        return _samples;
    }

    // What comes next is not there: the last value dies away, so that the end is no click.
    private void FallSilent(bool ends)
    {
        for (var c = 0; c < MaxChannels; c++)
        {
            if (ends)
            {
                _blocks[c].AsSpan().Fill(_last[c]);
                Fade(_blocks[c], rising: false);
            }
            else
            {
                _blocks[c].AsSpan().Clear();
            }
        }
    }

    private static void Fade(Span<float> samples, bool rising)
    {
        for (var n = 0; n < FadeFrames; n++)
        {
            var part = Dsp.Fade.At((n + 1f) / FadeFrames);
            samples[n] *= rising ? part : 1 - part;
        }
    }
}

/// <summary>Some channels of a <see cref="DriftingInput"/> as the sound of a source. Several may share one input.</summary>
/// <param name="input">The device.</param>
/// <param name="left">Its channel, from 0, that is left, or the only one.</param>
/// <param name="right">Its channel that is right; null: the source is mono.</param>
public sealed class DriftingInlet(DriftingInput input, int left, int? right) : IInlet
{
    private readonly int _left = left;
    private readonly int _right = right ?? left;

    /// <inheritdoc/>
    public int Channels { get; } = right is null ? 1 : 2;

    /// <inheritdoc/>
    public bool BeginsWithSource => false;

    /// <inheritdoc/>
    public void Read(long frame, Span<float> left, Span<float> right)
    {
        input.Advance(frame);
        Copy(input.Channel(_left), left);
        if (Channels == 2)
        {
            Copy(input.Channel(_right), right);
        }
    }

    /// <inheritdoc/>
    public void Restart()
    {
    }

    private static void Copy(ReadOnlySpan<float> from, Span<float> to)
    {
        from.CopyTo(to);
        to[from.Length..].Clear();
    }
}
