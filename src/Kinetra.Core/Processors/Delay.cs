using System.Runtime.CompilerServices;
using Kinetra.Core.Dsp;
using Kinetra.Core.Signal;

namespace Kinetra.Core.Processors;

/// <summary>
/// Delays the sound by 0 to 2000 ms, so that it agrees with a picture or with another microphone. Delays from half a
/// millisecond on are exact (<see cref="FractionalDelay"/>); shorter ones are rounded to a frame, 0.02 ms. A change is
/// crossfaded. It is set on purpose, so it is not reported as latency and nothing makes up for it.
/// </summary>
public sealed class Delay : IProcessor
{
    /// <summary>What can be set.</summary>
    public static readonly ProcessorType Type = new(
        "delay",
        "Delay",
        "Lets the sound wait, so that it agrees with the picture or with another microphone.",
        "Lips and words apart; or, beside the same sound undelayed, an echo or a hollow tone.",
        [new("time", "Time", "ms", 0, 2_000, 0, ParameterScale.Linear, "How long the sound waits. Up to 0.5 ms in whole frames of 0.02 ms.")])
    {
        Usually = "Anywhere; last, where it lines a whole voice up with the picture.",
        Plain = [PlainControl.Of("late", "How late", "now", "half a second", ("time", 0, 500))],
        KeepsSound = true,
        Make = s => new Delay(s),
        DelayOf = v => (int)Math.Round(v[0] * AudioFormat.SampleRate / 1000),
    };

    private const int MaxFrames = 96_000;

    // The interpolation's samples lie in a row also where the ring begins anew.
    private const int Ring = MaxFrames + AudioFormat.BlockFrames + FractionalDelay.Taps;

    private readonly float[] _left = new float[Ring + FractionalDelay.Taps];
    private readonly float[] _right;
    private readonly float[] _old = new float[AudioFormat.BlockFrames];
    private readonly float[] _kernel = new float[FractionalDelay.Taps];
    private readonly Crossing<double> _frames;
    private int _at;

    private Delay(ProcessorSettings settings)
    {
        _right = settings.Channels == 2 ? new float[_left.Length] : [];
        _frames = new(Ballistics.Frames(settings.Values[0]));
    }

    /// <inheritdoc/>
    public int Latency => 0;

    /// <inheritdoc/>
    public double Reduction => 0;

    /// <inheritdoc/>
    public void Set(int parameter, double value) => _frames.Set(Ballistics.Frames(value));

    /// <inheritdoc/>
    public void Process(Frames input, RoomForFrames output, Frames key)
    {
        _frames.Begin();
        Channel(_left, input.Left, output.Left);
        if (input.Right.Length > 0)
        {
            Channel(_right, input.Right, output.Right);
        }

        _at = (_at + input.Length) % Ring;
        _frames.End(input.Length);
    }

    /// <inheritdoc/>
    public void Reset()
    {
        Array.Clear(_left);
        Array.Clear(_right);
        _frames.Arrive();
    }

    [MethodImpl(MethodImplOptions.AggressiveOptimization)]
    private void Channel(float[] ring, ReadOnlySpan<float> input, Span<float> output)
    {
        for (var n = 0; n < input.Length; n++)
        {
            var at = (_at + n) % Ring;
            ring[at] = input[n];
            if (at < FractionalDelay.Taps)
            {
                ring[Ring + at] = input[n];
            }
        }

        Read(ring, _frames.Now, output);
        if (_frames.IsCrossing)
        {
            var old = _old.AsSpan(0, output.Length);
            Read(ring, _frames.Old, old);
            _frames.Blend(old, output);
        }
    }

    [MethodImpl(MethodImplOptions.AggressiveOptimization)]
    private void Read(float[] ring, double delay, Span<float> output)
    {
        var whole = (int)Math.Ceiling(delay);
        var fraction = whole - delay;
        if (fraction == 0 || whole <= FractionalDelay.Ahead)
        {
            var from = Back((int)Math.Round(delay));
            for (var n = 0; n < output.Length; n++)
            {
                output[n] = ring[(from + n) % Ring];
            }

            return;
        }

        FractionalDelay.Kernel(fraction, _kernel);
        var first = Back(whole + FractionalDelay.Behind);
        for (var n = 0; n < output.Length; n++)
        {
            output[n] = FractionalDelay.Apply(_kernel, ring.AsSpan((first + n) % Ring, FractionalDelay.Taps));
        }
    }

    private int Back(int frames) => (_at - frames + Ring + Ring) % Ring;
}
