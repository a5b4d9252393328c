using System.Runtime.CompilerServices;
using Kinetra.Core.Signal;

namespace Kinetra.Core.Dsp;

/// <summary>
/// Delays one channel by whole frames. A new delay is faded in: for the length of a <see cref="Fade"/> both are heard.
/// </summary>
/// <param name="capacity">The longest delay, frames.</param>
/// <param name="delay">The delay that it starts with.</param>
sealed class SteppedDelay(int capacity, int delay)
{
    private readonly float[] _ring = new float[capacity + AudioFormat.BlockFrames];
    private readonly float[] _before = new float[AudioFormat.BlockFrames];
    private int _at;
    private readonly Crossing<int> _delay = new(delay);

    /// <summary>Changes the delay, frames, 0 … capacity.</summary>
    public void Set(int frames) => _delay.Set(frames);

    /// <summary>Takes in frames, at most a block of them, and gives as many delayed ones: into the same memory or other.</summary>
    [MethodImpl(MethodImplOptions.AggressiveOptimization)]
    public void Process(ReadOnlySpan<float> input, Span<float> output)
    {
        _delay.Begin();
        Put(input);
        Back(_delay.Now, output[..input.Length]);
        if (_delay.IsCrossing)
        {
            var before = _before.AsSpan(0, input.Length);
            Back(_delay.Old, before);
            _delay.Blend(before, output[..input.Length]);
        }

        _delay.End(input.Length);
        Advance(input.Length);
    }

    /// <summary>Takes in frames of which nobody hears what comes out, and changes to this delay at once.</summary>
    public void Pass(ReadOnlySpan<float> input, int delay)
    {
        _delay.Set(delay);
        _delay.Arrive();
        Put(input);
        Advance(input.Length);
    }

    /// <summary>Forgets all it has heard; a change has arrived.</summary>
    public void Reset()
    {
        Array.Clear(_ring);
        _delay.Arrive();
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
