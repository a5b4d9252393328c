using System.Numerics.Tensors;

namespace Kinetra.Core.Dsp;

/// <summary>
/// Converts a whole recording from one rate to another: a Kaiser-windowed sinc, one filter for each phase of the ratio.
/// Passes up to 0.9 of the lower of both Nyquist frequencies and stops from that Nyquist frequency on.
/// Source: J. F. Kaiser, "Nonrecursive digital filter design using the I0-sinh window function", 1974.
/// </summary>
public static class Resampler
{
    // Kaiser's β for a stop band about 126 dB down; the half-width in zero crossings makes the transition a tenth of the
    // Nyquist frequency wide, from 0.9 of it to the whole.
    private const double Beta = 12.9;
    private const int ZeroCrossings = 84;

    /// <summary>One channel, whole. The first output sample is at the time of the first input sample.</summary>
    /// <param name="input">Samples at <paramref name="fromRate"/>.</param>
    /// <param name="fromRate">Hz, 1 000 … 768 000.</param>
    /// <param name="toRate">Hz, 1 000 … 768 000.</param>
    /// <returns>⌈length · to / from⌉ samples; the input itself, copied, where the rates are equal.</returns>
    public static float[] Convert(ReadOnlySpan<float> input, int fromRate, int toRate)
    {
        ArgumentOutOfRangeException.ThrowIfLessThan(fromRate, 1_000);
        ArgumentOutOfRangeException.ThrowIfGreaterThan(fromRate, 768_000);
        ArgumentOutOfRangeException.ThrowIfLessThan(toRate, 1_000);
        ArgumentOutOfRangeException.ThrowIfGreaterThan(toRate, 768_000);
        if (fromRate == toRate)
        {
            return input.ToArray();
        }

        var common = Gcd(fromRate, toRate);
        var up = toRate / common;
        var down = fromRate / common;
        var output = new float[(int)((((long)input.Length * up) + down - 1) / down)];

        // Cut-off relative to the input's Nyquist frequency; the kernel widens when going down.
        var cutoff = 0.95 * Math.Min(1.0, (double)toRate / fromRate);
        var half = (int)Math.Ceiling(ZeroCrossings / cutoff);
        var taps = 2 * half;
        var phases = new float[up][];
        var padded = new float[input.Length + (2 * taps)];
        input.CopyTo(padded.AsSpan(taps));

        long position = 0;
        for (var n = 0; n < output.Length; n++, position += down)
        {
            var whole = (int)(position / up);
            var phase = (int)(position % up);
            var kernel = phases[phase] ??= Kernel((double)phase / up, cutoff, half);
            var start = whole + taps - half + 1;
            output[n] = TensorPrimitives.Dot(kernel, padded.AsSpan(start, taps));
        }

        return output;
    }

    // Taps at distances (k − half + 1) − fraction from the output's place, k = 0 … 2·half − 1.
    private static float[] Kernel(double fraction, double cutoff, int half)
    {
        var kernel = new float[2 * half];
        var values = new double[2 * half];
        double sum = 0;
        for (var k = 0; k < kernel.Length; k++)
        {
            var t = k - half + 1 - fraction;
            values[k] = cutoff * KaiserWindow.Sinc(cutoff * t) * KaiserWindow.At(t / half, Beta);
            sum += values[k];
        }

        // Every phase passes DC at exactly 0 dB, so a constant stays a constant.
        for (var k = 0; k < kernel.Length; k++)
        {
            kernel[k] = (float)(values[k] / sum);
        }

        return kernel;
    }

    private static int Gcd(int a, int b) => b == 0 ? a : Gcd(b, a % b);
}
