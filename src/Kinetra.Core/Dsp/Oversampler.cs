using System.Numerics.Tensors;
using System.Runtime.CompilerServices;
using Kinetra.Core.Engine;

namespace Kinetra.Core.Dsp;

/// <summary>
/// Takes one channel to four times its rate and back, so that harmonics made in between fold back nowhere: flat to 20 kHz,
/// what lies above 28 kHz is 100 dB down, on the way up and on the way down. Linear phase. A Kaiser-windowed sinc.
/// </summary>
sealed class Oversampler
{
    /// <summary>How many frames are made of one.</summary>
    public const int Factor = 4;

    /// <summary>Frames by which what has gone up and down lies behind.</summary>
    public const int Latency = 40;

    private const int Taps = (Latency / 2 * 2 * Factor) + 1;
    private const int Branch = (Taps / Factor) + 1;
    private const double Beta = 10.06;
    private const double Cutoff = 24_000.0 / (AudioFormat.SampleRate * Factor);

    private static readonly float[] Prototype = MakePrototype();
    private static readonly float[][] Branches = [.. Enumerable.Range(0, Factor).Select(MakeBranch)];

    private readonly float[] _low = new float[Branch - 1 + AudioFormat.BlockFrames];
    private readonly float[] _high = new float[Taps - 1 + (AudioFormat.BlockFrames * Factor)];

    /// <summary>Four frames for each one.</summary>
    /// <param name="input">At most a block.</param>
    /// <param name="output">Four times as long.</param>
    [MethodImpl(MethodImplOptions.AggressiveOptimization)]
    public void Up(ReadOnlySpan<float> input, Span<float> output)
    {
        input.CopyTo(_low.AsSpan(Branch - 1));
        for (var n = 0; n < input.Length; n++)
        {
            var recent = _low.AsSpan(n, Branch);
            for (var p = 0; p < Factor; p++)
            {
                output[(n * Factor) + p] = TensorPrimitives.Dot(recent, Branches[p]);
            }
        }

        _low.AsSpan(input.Length, Branch - 1).CopyTo(_low);
    }

    /// <summary>One frame of each four.</summary>
    /// <param name="input">Four times as long as the output.</param>
    /// <param name="output">At most a block.</param>
    [MethodImpl(MethodImplOptions.AggressiveOptimization)]
    public void Down(ReadOnlySpan<float> input, Span<float> output)
    {
        input.CopyTo(_high.AsSpan(Taps - 1));
        for (var n = 0; n < output.Length; n++)
        {
            output[n] = TensorPrimitives.Dot(_high.AsSpan(n * Factor, Taps), Prototype);
        }

        _high.AsSpan(input.Length, Taps - 1).CopyTo(_high);
    }

    /// <summary>Forgets all it has heard.</summary>
    public void Reset()
    {
        Array.Clear(_low);
        Array.Clear(_high);
    }

    private static float[] MakePrototype()
    {
        var taps = new double[Taps];
        for (var k = 0; k < Taps; k++)
        {
            var t = k - (Taps / 2);
            taps[k] = KaiserWindow.Sinc(2 * Cutoff * t) * KaiserWindow.At(t / ((Taps / 2) + 1.0), Beta);
        }

        var sum = taps.Sum();
        return [.. taps.Select(t => (float)(t / sum))];
    }

    // Symmetric as a whole, each branch is turned round to meet the oldest frame first.
    private static float[] MakeBranch(int phase)
    {
        var branch = new float[Branch];
        for (var k = 0; k < Branch; k++)
        {
            var tap = (k * Factor) + phase;
            branch[Branch - 1 - k] = tap < Taps ? Prototype[tap] * Factor : 0;
        }

        return branch;
    }
}
