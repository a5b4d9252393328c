using System.Numerics.Tensors;
using Kinetra.Core.Clocks;
using Kinetra.Core.Dsp;
using Kinetra.Core.Engine;
using Kinetra.Core.Signal;

namespace Kinetra.Gear.Practice;

/// <summary>
/// A device that captures by a clock of its own: it samples what sounds around it at its own rate, hands that over a buffer at a time, and what
/// arrives is brought to the engine's clock by the same drift control as every other device. Engine thread.
/// </summary>
sealed class DeviceClock
{
    // A block, the resampler's reach, and a little for the way.
    private const double Spare = AudioFormat.BlockFrames + 178 + 64;
    private const int MostAtOnce = 2_048;

    private readonly SoundBuffer?[] _sounds;
    private readonly int[] _sides;
    private readonly double _trueRate;
    private readonly int _buffer;
    private readonly SincTable _table;
    private readonly float[] _kernel;
    private readonly float[] _taken;
    private readonly float[][] _made;
    private readonly float[][] _converted;
    private readonly RateConverter?[] _converters;
    private long _start = -1;
    private long _captured;
    private long _arrived;

    /// <param name="sounds">What sounds before each input, and which of its sides; null: nothing.</param>
    /// <param name="rate">The rate that the device says it has, Hz.</param>
    /// <param name="partsPerMillion">By how much its clock runs fast.</param>
    /// <param name="bufferFrames">How many of its frames it hands over at once.</param>
    public DeviceClock((SoundBuffer? Sound, int Side)[] sounds, int rate, double partsPerMillion, int bufferFrames)
    {
        (_sounds, _sides) = ([.. sounds.Select(s => s.Sound)], [.. sounds.Select(s => s.Side)]);
        _trueRate = rate * (1 + (partsPerMillion * 1e-6));
        _buffer = bufferFrames;
        _table = SincTable.For(_trueRate / AudioFormat.SampleRate);
        (_kernel, _taken) = (new float[_table.Taps], new float[_table.Taps]);
        _made = [.. sounds.Select(_ => new float[bufferFrames])];
        _converters = [.. sounds.Select(_ => rate == AudioFormat.SampleRate ? null : new RateConverter(rate, AudioFormat.SampleRate))];
        var most = _converters.FirstOrDefault()?.MostFrom(bufferFrames) ?? bufferFrames;
        _converted = [.. sounds.Select(_ => new float[most])];
        Planes = new float[most * sounds.Length];
        Input = new DriftingInput((bufferFrames * (double)AudioFormat.SampleRate / rate) + Spare);
    }

    /// <summary>What has arrived, at the engine's clock.</summary>
    public DriftingInput Input { get; }

    private float[] Planes { get; }

    /// <summary>Lets all arrive that the device has captured before the end of a block.</summary>
    /// <param name="frame">The engine frame that the block begins with.</param>
    public void Run(long frame)
    {
        if (_start < 0)
        {
            _start = frame;
        }

        var until = (long)((frame + AudioFormat.BlockFrames - _start) / (double)AudioFormat.SampleRate * _trueRate);
        while (until - _captured >= _buffer)
        {
            HandOver();
        }

        Input.Advance(frame);
    }

    private void HandOver()
    {
        var frames = 0;
        Capture();
        for (var c = 0; c < _sounds.Length; c++)
        {
            if (_converters[c] is { } converter)
            {
                frames = converter.Process(_made[c], _converted[c]);
            }
            else
            {
                _made[c].CopyTo(_converted[c].AsSpan());
                frames = _buffer;
            }
        }

        _captured += _buffer;
        var now = _start + (_captured / _trueRate * AudioFormat.SampleRate);
        for (var at = 0; at < frames; at += MostAtOnce)
        {
            var count = Math.Min(MostAtOnce, frames - at);
            for (var c = 0; c < _sounds.Length; c++)
            {
                _converted[c].AsSpan(at, count).CopyTo(Planes.AsSpan(c * count));
            }

            Input.Write(_arrived, Planes.AsSpan(0, count * _sounds.Length), _sounds.Length, now);
            _arrived += count;
        }
    }

    // The sound in the room at the times at which the device looks.
    private void Capture()
    {
        for (var n = 0; n < _buffer; n++)
        {
            var position = _start + ((_captured + n) / _trueRate * AudioFormat.SampleRate);
            var whole = (long)Math.Floor(position);
            _table.Kernel(position - whole, _kernel);
            for (var c = 0; c < _sounds.Length; c++)
            {
                if (_sounds[c] is { } sound)
                {
                    var samples = _sides[c] == 0 || sound.Right is null ? sound.Left : sound.Right;
                    var first = (int)((((whole - _table.Behind) % samples.Length) + samples.Length) % samples.Length);
                    _made[c][n] = TensorPrimitives.Dot(_kernel, Around(samples, first));
                }
            }
        }
    }

    private ReadOnlySpan<float> Around(float[] samples, int first)
    {
        if (first + _taken.Length <= samples.Length)
        {
            return samples.AsSpan(first, _taken.Length);
        }

        var count = samples.Length - first;
        samples.AsSpan(first).CopyTo(_taken);
        samples.AsSpan(0, _taken.Length - count).CopyTo(_taken.AsSpan(count));
        return _taken;
    }
}
