using Kinetra.Core.Dsp;

namespace Kinetra.Core.Promises;

/// <summary>
/// A sound's short-time spectrum, so laid out that one band of bins over many frames stands in one piece: windows of 64 ms (von Hann) that overlap by
/// half and add up to 1, so that it can be made into sound again. Two frames at a time are one complex transform. Not safe for several threads.
/// </summary>
sealed class BandSpectrum
{
    /// <summary>Samples of a frame.</summary>
    public const int FrameLength = 512;

    /// <summary>Samples from one frame to the next.</summary>
    public const int Hop = FrameLength / 2;

    /// <summary>Bins of a band.</summary>
    public const int BandBins = 4;

    /// <summary>Bands, from 78 Hz to 3.4 kHz.</summary>
    public const int Bands = 54;

    /// <summary>Of the squares of the bins, those of the samples: half the bins, the windows overlapping by half.</summary>
    public const double Energy = 2.0 / FrameLength * 4 / 3;

    private const int FirstBin = 5;

    private static readonly float[] Window = [.. Enumerable.Range(0, FrameLength).Select(n => (float)(0.5 - (0.5 * Math.Cos(2 * Math.PI * n / FrameLength))))];

    private readonly float[] _re;
    private readonly float[] _im;

    /// <summary>Room for some frames.</summary>
    public BandSpectrum(int frames) => (Frames, _re, _im) = (frames, new float[frames * Bands * BandBins], new float[frames * Bands * BandBins]);

    /// <summary>How many frames.</summary>
    public int Frames { get; }

    /// <summary>The real parts of a band, frame after frame.</summary>
    public Span<float> Re(int band, int start, int end) => _re.AsSpan(((band * Frames) + start) * BandBins, (end - start) * BandBins);

    /// <summary>The imaginary parts of a band, frame after frame.</summary>
    public Span<float> Im(int band, int start, int end) => _im.AsSpan(((band * Frames) + start) * BandBins, (end - start) * BandBins);

    /// <summary>The power of all of it, as the sum of the samples' squares.</summary>
    public double Power()
    {
        var sum = 0.0;
        for (var i = 0; i < _re.Length; i++)
        {
            sum += ((double)_re[i] * _re[i]) + ((double)_im[i] * _im[i]);
        }

        return sum * Energy;
    }

    /// <summary>Becomes the spectrum of a sound.</summary>
    /// <param name="samples">The sound.</param>
    /// <param name="from">The sample with which the first frame begins; before the first and after the last is silence.</param>
    /// <param name="transform">Of <see cref="FrameLength"/>.</param>
    public void Become(ReadOnlySpan<float> samples, int from, FourierTransform transform)
    {
        Span<float> re = stackalloc float[FrameLength], im = stackalloc float[FrameLength];
        for (var t = 0; t < Frames; t += 2)
        {
            Take(samples, from + (t * Hop), re);
            if (t + 1 < Frames)
            {
                Take(samples, from + ((t + 1) * Hop), im);
            }
            else
            {
                im.Clear();
            }

            transform.Forward(re, im);
            for (var b = 0; b < Bands * BandBins; b++)
            {
                // Of the first what is alike at both ends, of the second the rest.
                var (k, j) = (FirstBin + b, FrameLength - FirstBin - b);
                var at = ((b / BandBins * Frames) + t) * BandBins + (b % BandBins);
                (_re[at], _im[at]) = ((re[k] + re[j]) / 2, (im[k] - im[j]) / 2);
                if (t + 1 < Frames)
                {
                    (_re[at + BandBins], _im[at + BandBins]) = ((im[k] + im[j]) / 2, (re[j] - re[k]) / 2);
                }
            }
        }
    }

    /// <summary>Makes it into sound again.</summary>
    /// <param name="samples">Gets it from <paramref name="from"/> on; silence elsewhere.</param>
    /// <param name="from">Where the first frame begins.</param>
    /// <param name="transform">Of <see cref="FrameLength"/>.</param>
    public void Join(Span<float> samples, int from, FourierTransform transform)
    {
        Span<float> re = stackalloc float[FrameLength], im = stackalloc float[FrameLength];
        samples.Clear();
        for (var t = 0; t < Frames; t += 2)
        {
            re.Clear();
            im.Clear();
            for (var b = 0; b < Bands * BandBins; b++)
            {
                var (k, j) = (FirstBin + b, FrameLength - FirstBin - b);
                var at = ((b / BandBins * Frames) + t) * BandBins + (b % BandBins);
                var (ar, ai) = (_re[at], _im[at]);
                var (br, bi) = t + 1 < Frames ? (_re[at + BandBins], _im[at + BandBins]) : (0f, 0f);
                (re[k], im[k]) = (ar - bi, ai + br);
                (re[j], im[j]) = (ar + bi, br - ai);
            }

            transform.Back(re, im);
            Add(re, samples[(from + (t * Hop))..]);
            if (t + 1 < Frames)
            {
                Add(im, samples[(from + ((t + 1) * Hop))..]);
            }
        }
    }

    private static void Add(ReadOnlySpan<float> frame, Span<float> samples)
    {
        for (var n = 0; n < FrameLength; n++)
        {
            samples[n] += frame[n];
        }
    }

    private static void Take(ReadOnlySpan<float> samples, int from, Span<float> frame)
    {
        frame.Clear();
        for (var n = Math.Max(0, -from); n < FrameLength && from + n < samples.Length; n++)
        {
            frame[n] = samples[from + n] * Window[n];
        }
    }
}
