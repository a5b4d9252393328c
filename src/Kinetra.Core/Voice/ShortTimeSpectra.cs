using System.Numerics.Tensors;
using Kinetra.Core.Dsp;
using Kinetra.Core.Engine;
using Kinetra.Core.Signal;

namespace Kinetra.Core.Voice;

/// <summary>
/// The power spectra of a whole sound, window after window: von Hann windows of 2048 samples (43 ms, bins of 23.4 Hz), one each 1024; of two channels, the mean of their powers.
/// Power 1 is that of a full-scale sine (AES17). Immutable.
/// </summary>
public sealed class ShortTimeSpectra
{
    /// <summary>Samples of a window, and from one to the next.</summary>
    public const int Length = 2_048, Step = Length / 2;

    /// <summary>Bins of a spectrum: 0 Hz to half the rate.</summary>
    public const int Bins = (Length / 2) + 1;

    /// <summary>Width of a bin, Hz.</summary>
    public const double BinWidth = (double)AudioFormat.SampleRate / Length;

    private static readonly float[] Window = [.. Enumerable.Range(0, Length).Select(i => (float)(0.5 - (0.5 * Math.Cos(2 * Math.PI * i / Length))))];

    // Σ|X|² of a sine's positive half is N/4 · Σw²; Σw² of this window is 3/8 N.
    private const double FullScale = 3.0 / 32 * Length * Length;

    private readonly float[] _powers;

    /// <summary>Of a sound; one that is shorter than a window is filled with silence.</summary>
    public ShortTimeSpectra(SoundBuffer sound)
    {
        ArgumentNullException.ThrowIfNull(sound);
        Count = Math.Max(1, ((sound.Frames - Length) / Step) + 1);
        _powers = new float[Count * Bins];
        var transform = new FourierTransform(Length);
        var (re, im) = (new float[Length], new float[Length]);
        for (var i = 0; i < Count; i++)
        {
            Load(sound.Left, i * Step, re);
            Load(sound.Right, i * Step, im);
            transform.Forward(re, im);
            var powers = _powers.AsSpan(i * Bins, Bins);
            var scale = (float)(1 / FullScale / (sound.Right is null ? 1 : 2));
            for (var k = 0; k < Bins; k++)
            {
                // Two real sounds in one transform: the even part is one's, the odd the other's.
                var (a, b, c, d) = (re[k], im[k], re[(Length - k) % Length], im[(Length - k) % Length]);
                powers[k] = scale * 0.5f * ((a * a) + (b * b) + (c * c) + (d * d));
            }
        }
    }

    /// <summary>How many windows.</summary>
    public int Count { get; }

    /// <summary>The power in each bin of a window.</summary>
    public ReadOnlySpan<float> At(int window) => _powers.AsSpan(window * Bins, Bins);

    /// <summary>The power of a window from one frequency up to another, Hz.</summary>
    public double Power(int window, double from, double to)
    {
        var (first, end) = (Math.Clamp((int)Math.Ceiling(from / BinWidth), 0, Bins), Math.Clamp((int)Math.Ceiling(to / BinWidth), 0, Bins));
        return first >= end ? 0 : TensorPrimitives.Sum(At(window)[first..end]);
    }

    private static void Load(float[]? samples, int from, float[] to)
    {
        Array.Clear(to);
        if (samples is null)
        {
            return;
        }

        var count = Math.Min(Length, samples.Length - from);
        TensorPrimitives.Multiply(samples.AsSpan(from, count), Window.AsSpan(0, count), to);
    }
}
