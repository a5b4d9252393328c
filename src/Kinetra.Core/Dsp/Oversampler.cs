using System.Runtime.CompilerServices;
using System.Runtime.InteropServices;
using System.Runtime.Intrinsics;
using Kinetra.Core.Signal;

namespace Kinetra.Core.Dsp;

/// <summary>
/// Takes one channel to four times its rate and back, so that harmonics made in between fold back nowhere: flat to 20 kHz,
/// what lies above 28 kHz is 100 dB down, on the way up and on the way down. Linear phase. A Kaiser-windowed sinc.
/// <para>
/// Sound at four times the rate lies phase by phase: first each frame's first quarter, then each frame's second. So sixteen
/// frames in a row are computed at once.
/// </para>
/// </summary>
sealed class Oversampler
{
    /// <summary>How many frames are made of one.</summary>
    public const int Factor = 4;

    /// <summary>Frames by which what has gone up and down lies behind.</summary>
    public const int Latency = 40;

    private const int Taps = (Latency / 2 * 2 * Factor) + 1;
    private const int Branch = (Taps / Factor) + 1;
    private const int AtOnce = 16;
    private const double Beta = 10.06;
    private const double Cutoff = 24_000.0 / (AudioFormat.SampleRate * Factor);

    private static readonly float[] Prototype = MakePrototype();

    // For each place of a branch, its weight in each of the four: upwards turned round, so that it meets the oldest frame first.
    private static readonly float[] Upwards = [.. Enumerable.Range(0, Branch).SelectMany(k => Enumerable.Range(0, Factor).Select(p => Factor * Tap(((Branch - 1 - k) * Factor) + p)))];
    private static readonly float[] Downwards = [.. Enumerable.Range(0, Branch * Factor).Select(Tap)];

    private readonly float[] _low = new float[Branch - 1 + AudioFormat.BlockFrames];
    private readonly float[][] _high = [.. Enumerable.Range(0, Factor).Select(_ => new float[Branch - 1 + AudioFormat.BlockFrames])];

    /// <summary>Four frames for each one.</summary>
    /// <param name="input">At most a block.</param>
    /// <param name="output">Four times as long, phase by phase.</param>
    public void Up(ReadOnlySpan<float> input, Span<float> output)
    {
        input.CopyTo(_low.AsSpan(Branch - 1));
        var wide = input.Length / AtOnce * AtOnce;
        UpWide(wide, input.Length, output);
        for (var n = wide; n < input.Length; n++)
        {
            for (var p = 0; p < Factor; p++)
            {
                float sum = 0;
                for (var k = 0; k < Branch; k++)
                {
                    sum = MathF.FusedMultiplyAdd(Upwards[(k * Factor) + p], _low[n + k], sum);
                }

                output[(p * input.Length) + n] = sum;
            }
        }

        _low.AsSpan(input.Length, Branch - 1).CopyTo(_low);
    }

    /// <summary>One frame of each four.</summary>
    /// <param name="input">Four times as long as the output, phase by phase.</param>
    /// <param name="output">At most a block.</param>
    public void Down(ReadOnlySpan<float> input, Span<float> output)
    {
        for (var p = 0; p < Factor; p++)
        {
            input.Slice(p * output.Length, output.Length).CopyTo(_high[p].AsSpan(Branch - 1));
        }

        var wide = output.Length / AtOnce * AtOnce;
        DownWide(output[..wide]);
        for (var n = wide; n < output.Length; n++)
        {
            float sum = 0;
            for (var i = 0; i < Downwards.Length; i++)
            {
                sum = MathF.FusedMultiplyAdd(Downwards[i], _high[i % Factor][n + (i / Factor)], sum);
            }

            output[n] = sum;
        }

        foreach (var phase in _high)
        {
            phase.AsSpan(output.Length, Branch - 1).CopyTo(phase);
        }
    }

    /// <summary>Forgets all it has heard.</summary>
    public void Reset()
    {
        Array.Clear(_low);
        Array.ForEach(_high, Array.Clear);
    }

    [MethodImpl(MethodImplOptions.AggressiveOptimization)]
    private void UpWide(int count, int length, Span<float> output)
    {
        ref var to = ref MemoryMarshal.GetReference(output);
        for (var n = 0; n < count; n += AtOnce)
        {
            ref var w = ref MemoryMarshal.GetArrayDataReference(Upwards);
            ref var x = ref _low[n];
            Vector512<float> one = default, two = default, three = default, four = default;
            for (var k = 0; k < Branch; k++)
            {
                var frames = Vector512.LoadUnsafe(ref x, (nuint)k);
                one = Vector512.FusedMultiplyAdd(Vector512.Create(w), frames, one);
                two = Vector512.FusedMultiplyAdd(Vector512.Create(Unsafe.Add(ref w, 1)), frames, two);
                three = Vector512.FusedMultiplyAdd(Vector512.Create(Unsafe.Add(ref w, 2)), frames, three);
                four = Vector512.FusedMultiplyAdd(Vector512.Create(Unsafe.Add(ref w, 3)), frames, four);
                w = ref Unsafe.Add(ref w, Factor);
            }

            one.StoreUnsafe(ref to, (nuint)n);
            two.StoreUnsafe(ref to, (nuint)(length + n));
            three.StoreUnsafe(ref to, (nuint)((2 * length) + n));
            four.StoreUnsafe(ref to, (nuint)((3 * length) + n));
        }
    }

    // Each phase has a sum of its own, so that none waits for another.
    [MethodImpl(MethodImplOptions.AggressiveOptimization)]
    private void DownWide(Span<float> output)
    {
        ref var to = ref MemoryMarshal.GetReference(output);
        for (var n = 0; n < output.Length; n += AtOnce)
        {
            ref var w = ref MemoryMarshal.GetArrayDataReference(Downwards);
            ref float a = ref _high[0][n], b = ref _high[1][n], c = ref _high[2][n], d = ref _high[3][n];
            Vector512<float> one = default, two = default, three = default, four = default;
            for (var k = 0; k < Branch; k++)
            {
                one = Vector512.FusedMultiplyAdd(Vector512.Create(w), Vector512.LoadUnsafe(ref a, (nuint)k), one);
                two = Vector512.FusedMultiplyAdd(Vector512.Create(Unsafe.Add(ref w, 1)), Vector512.LoadUnsafe(ref b, (nuint)k), two);
                three = Vector512.FusedMultiplyAdd(Vector512.Create(Unsafe.Add(ref w, 2)), Vector512.LoadUnsafe(ref c, (nuint)k), three);
                four = Vector512.FusedMultiplyAdd(Vector512.Create(Unsafe.Add(ref w, 3)), Vector512.LoadUnsafe(ref d, (nuint)k), four);
                w = ref Unsafe.Add(ref w, Factor);
            }

            (one + two + (three + four)).StoreUnsafe(ref to, (nuint)n);
        }
    }

    private static float Tap(int index) => index < Taps ? Prototype[index] : 0;

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
}
