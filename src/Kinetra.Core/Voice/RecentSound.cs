using System.Numerics.Tensors;
using Kinetra.Core.Engine;
using Kinetra.Core.Signal;

namespace Kinetra.Core.Voice;

/// <summary>
/// The last half minute of one sound, in memory alone and in half the room: whole blocks of 16-bit samples with a scale for each block, so that what is lost lies 96 dB
/// below that block's highest sample. Several threads may use it.
/// </summary>
public sealed class RecentSound
{
    /// <summary>Seconds that are kept.</summary>
    public const int Seconds = 30;

    /// <summary>Blocks that are kept.</summary>
    public const int Blocks = Seconds * AudioFormat.SampleRate / Block;

    private const int Block = AudioFormat.BlockFrames;
    private const float Most = short.MaxValue;

    private readonly Lock _lock = new();
    private readonly short[][] _samples;
    private readonly float[][] _scales;
    private readonly float[] _scaled = new float[Block];
    private long _begin = -1;
    private long _end = -1;

    /// <summary>One that has heard nothing.</summary>
    /// <param name="channels">1 or 2.</param>
    public RecentSound(int channels)
    {
        _samples = [.. Enumerable.Range(0, channels).Select(_ => new short[Blocks * Block])];
        _scales = [.. Enumerable.Range(0, channels).Select(_ => new float[Blocks])];
    }

    /// <summary>1 or 2.</summary>
    public int Channels => _samples.Length;

    /// <summary>The engine frames that are kept: from the first to the one after the last; equal: nothing.</summary>
    public (long Begin, long End) Kept
    {
        get
        {
            lock (_lock)
            {
                return _end < 0 ? (0, 0) : (Math.Max(_begin, _end - (Blocks * (long)Block)), _end);
            }
        }
    }

    /// <summary>Takes a block.</summary>
    /// <param name="frame">The engine frame of its first sample, a whole number of blocks. What is missing between the block before and this one is silence; where that is all, or
    /// where it is earlier, it begins anew.</param>
    /// <param name="left">Left, or the only channel: a block.</param>
    /// <param name="right">Right; not looked at for mono.</param>
    public void Add(long frame, ReadOnlySpan<float> left, ReadOnlySpan<float> right)
    {
        lock (_lock)
        {
            if (_end < 0 || frame < _end || frame - _end >= Blocks * (long)Block)
            {
                _begin = _end = frame;
            }

            while (_end < frame)
            {
                foreach (var scales in _scales)
                {
                    scales[IndexOf(_end)] = 0;
                }

                _end += Block;
            }

            Store(0, left);
            if (Channels == 2)
            {
                Store(1, right);
            }

            _end += Block;
        }
    }

    /// <summary>A stretch of it.</summary>
    /// <param name="from">Its first engine frame; what is not kept any more is left out.</param>
    /// <param name="frames">How many at most.</param>
    /// <returns>Null where nothing of it is kept.</returns>
    public SoundBuffer? Take(long from, int frames)
    {
        lock (_lock)
        {
            if (_end < 0)
            {
                return null;
            }

            var begin = Math.Max(from, Math.Max(_begin, _end - (Blocks * (long)Block)));
            var count = (int)Math.Min(frames, _end - begin);
            return count <= 0 ? null : new SoundBuffer(Copy(0, begin, count), Channels == 2 ? Copy(1, begin, count) : null);
        }
    }

    /// <summary>Forgets all of it.</summary>
    public void Forget()
    {
        lock (_lock)
        {
            _end = _begin = -1;
            foreach (var samples in _samples)
            {
                samples.AsSpan().Clear();
            }
        }
    }

    private static int IndexOf(long frame) => (int)(frame / Block % Blocks);

    private void Store(int channel, ReadOnlySpan<float> samples)
    {
        var index = IndexOf(_end);
        var highest = Math.Abs(TensorPrimitives.MaxMagnitude(samples));
        var to = _samples[channel].AsSpan(index * Block, Block);
        if (!float.IsFinite(highest) || highest == 0)
        {
            _scales[channel][index] = 0;
            return;
        }

        _scales[channel][index] = highest / Most;
        TensorPrimitives.Multiply(samples, Most / highest, _scaled);
        TensorPrimitives.Round(_scaled, _scaled);
        TensorPrimitives.ConvertSaturating<float, short>(_scaled, to);
    }

    private float[] Copy(int channel, long from, int count)
    {
        var copy = new float[count];
        for (var done = 0; done < count;)
        {
            var (index, within) = (IndexOf(from + done), (int)((from + done) % Block));
            var length = Math.Min(Block - within, count - done);
            var to = copy.AsSpan(done, length);
            TensorPrimitives.ConvertChecked<short, float>(_samples[channel].AsSpan((index * Block) + within, length), to);
            TensorPrimitives.Multiply(to, _scales[channel][index], to);
            done += length;
        }

        return copy;
    }
}
