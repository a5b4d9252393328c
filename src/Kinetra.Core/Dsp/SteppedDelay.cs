using System.Runtime.CompilerServices;

namespace Kinetra.Core.Dsp;

/// <summary>
/// Delays one channel by whole frames. A new delay is faded in: for the length of a <see cref="Fade"/> both are heard.
/// </summary>
/// <param name="capacity">The longest delay, frames.</param>
/// <param name="delay">The delay that it starts with.</param>
sealed class SteppedDelay(int capacity, int delay)
{
    private readonly float[] _ring = new float[capacity + Engine.AudioFormat.BlockFrames];
    private int _at;
    private int _old = delay;
    private int _now = delay;
    private int _wanted = delay;
    private int _faded = Fade.Frames;

    /// <summary>Changes the delay, frames, 0 … capacity.</summary>
    public void Set(int frames) => _wanted = frames;

    /// <summary>Takes in frames, at most a block of them, and gives as many delayed ones: into the same memory or other.</summary>
    [MethodImpl(MethodImplOptions.AggressiveOptimization)]
    public void Process(ReadOnlySpan<float> input, Span<float> output)
    {
        if (_wanted != _now && _faded == Fade.Frames)
        {
            (_old, _now, _faded) = (_now, _wanted, 0);
        }

        for (var n = 0; n < input.Length; n++)
        {
            _ring[_at] = input[n];
            var value = Back(_now);
            if (_faded < Fade.Frames)
            {
                var old = Back(_old);
                value = old + ((value - old) * Fade.Curve[_faded++]);
            }

            output[n] = value;
            _at = _at + 1 == _ring.Length ? 0 : _at + 1;
        }
    }

    /// <summary>Forgets all it has heard; a change has arrived.</summary>
    public void Reset()
    {
        Array.Clear(_ring);
        (_old, _now, _faded) = (_wanted, _wanted, Fade.Frames);
    }

    private float Back(int frames)
    {
        var at = _at - frames;
        return _ring[at < 0 ? at + _ring.Length : at];
    }
}
