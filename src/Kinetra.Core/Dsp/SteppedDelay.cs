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
    private readonly float[] _before = new float[Engine.AudioFormat.BlockFrames];
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

        Put(input);
        Back(_now, output[..input.Length]);
        if (_faded < Fade.Frames)
        {
            var before = _before.AsSpan(0, input.Length);
            Back(_old, before);
            var curve = Fade.Curve[_faded..];
            for (var n = 0; n < input.Length && n < curve.Length; n++)
            {
                output[n] = before[n] + ((output[n] - before[n]) * curve[n]);
            }

            _faded = Math.Min(Fade.Frames, _faded + input.Length);
        }

        Advance(input.Length);
    }

    /// <summary>Takes in frames of which nobody hears what comes out, and changes to this delay at once.</summary>
    public void Pass(ReadOnlySpan<float> input, int delay)
    {
        (_old, _now, _wanted, _faded) = (delay, delay, delay, Fade.Frames);
        Put(input);
        Advance(input.Length);
    }

    /// <summary>Forgets all it has heard; a change has arrived.</summary>
    public void Reset()
    {
        Array.Clear(_ring);
        (_old, _now, _faded) = (_wanted, _wanted, Fade.Frames);
    }

    private void Put(ReadOnlySpan<float> input)
    {
        var first = Math.Min(input.Length, _ring.Length - _at);
        input[..first].CopyTo(_ring.AsSpan(_at));
        input[first..].CopyTo(_ring);
    }

    private void Advance(int frames)
    {
        _at += frames;
        _at = _at >= _ring.Length ? _at - _ring.Length : _at;
    }

    private void Back(int frames, Span<float> output)
    {
        var at = _at - frames;
        at = at < 0 ? at + _ring.Length : at;
        var first = Math.Min(output.Length, _ring.Length - at);
        _ring.AsSpan(at, first).CopyTo(output);
        _ring.AsSpan(0, output.Length - first).CopyTo(output[first..]);
    }
}
