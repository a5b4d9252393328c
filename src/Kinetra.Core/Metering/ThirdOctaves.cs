using System.Collections.Immutable;
using System.Numerics;
using System.Runtime.Intrinsics;
using Kinetra.Core.Dsp;
using Kinetra.Core.Signal;

namespace Kinetra.Core.Metering;

/// <summary>
/// Third-octave spectrum of one mono or stereo signal at 48 kHz: 31 bands of 20 Hz to 20 kHz, each a sixth-order Butterworth
/// band pass, RMS over the last 400 ms in dBFS after AES17 (a full-scale sine in a band's middle reads 0 there).
/// Source: IEC 61260-1:2014, base-ten midbands, class 1.
/// </summary>
public sealed class ThirdOctaves
{
    /// <summary>How many bands.</summary>
    public const int Bands = 31;

    private const int FirstBand = -17;

    // Near half the rate the bilinear transform flattens the lower side: the two highest bands are steeper for it.
    private const int Order = 3;
    private const int HighestOrder = 5;

    // dBFS; below it a band is silent.
    private const double Floor = -200;

    /// <summary>The middles of the bands, Hz: 1000 · 10^(n/10).</summary>
    public static readonly ImmutableArray<double> Midbands = [.. Enumerable.Range(FirstBand, Bands).Select(n => 1000 * Math.Pow(10, n / 10.0))];

    private static readonly ImmutableArray<BiquadCoefficients[]> Designs = [.. Midbands.Select((m, b) => Design(m, b < Bands - 2 ? Order : HighestOrder))];

    private readonly SectionCascade[] _filters = [.. Designs.Select(d => new SectionCascade(d))];
    private readonly HopWindow[] _powers = [.. Designs.Select(_ => new HopWindow(Hop.Momentary))];
    private readonly double[] _hop = new double[Bands];
    private readonly double[] _levels = new double[Bands];
    private readonly int _channels;
    private readonly Vector128<double>[] _sound = new Vector128<double>[AudioFormat.BlockFrames];
    private readonly Vector128<double>[] _band = new Vector128<double>[AudioFormat.BlockFrames];

    /// <summary>A spectrum of silence.</summary>
    /// <param name="channels">1 or 2; of two, the mean of their powers counts.</param>
    public ThirdOctaves(int channels)
    {
        ArgumentOutOfRangeException.ThrowIfLessThan(channels, 1);
        ArgumentOutOfRangeException.ThrowIfGreaterThan(channels, 2);
        _channels = channels;
        Array.Fill(_levels, double.NegativeInfinity);
    }

    /// <summary>dBFS of each band.</summary>
    public ReadOnlySpan<double> Levels => _levels;

    /// <summary>Measures frames that lie within one hop, at most a block. <paramref name="right"/> is ignored for mono.</summary>
    public void Add(ReadOnlySpan<float> left, ReadOnlySpan<float> right)
    {
        var sound = _sound.AsSpan(0, left.Length);
        var band = _band.AsSpan(0, left.Length);
        Pairs.Load(left, _channels == 2 ? right : default, sound);
        for (var b = 0; b < Bands; b++)
        {
            sound.CopyTo(band);
            _filters[b].Process(band);
            var sum = Vector128<double>.Zero;
            foreach (var frame in band)
            {
                sum += frame * frame;
            }

            _hop[b] += Vector128.Sum(sum);
        }
    }

    /// <summary>Ends the hop.</summary>
    public void CloseHop()
    {
        for (var b = 0; b < Bands; b++)
        {
            _powers[b].Push(_hop[b]);
            _hop[b] = 0;
            var level = Level.FromMeanSquare(_powers[b].Sum(Hop.Momentary) / (Hop.Momentary * Hop.Frames * _channels));
            _levels[b] = level < Floor ? double.NegativeInfinity : level;
        }
    }

    // A Butterworth low pass, turned into a band pass, by the bilinear transform with both edges prewarped.
    private static BiquadCoefficients[] Design(double middle, int order)
    {
        var edge = Math.Pow(10, 1.0 / 20);
        var (low, high) = (Warp(middle / edge), Warp(middle * edge));
        var (width, centre) = (high - low, Math.Sqrt(high * low));
        var sections = new List<BiquadCoefficients>();
        for (var k = 0; k < order; k++)
        {
            var pole = Complex.FromPolarCoordinates(1, Math.PI * ((2 * k) + order + 1) / (2.0 * order)) * width / 2;
            var root = Complex.Sqrt((pole * pole) - (centre * centre));
            foreach (var s in new[] { pole + root, pole - root })
            {
                var z = (2 + s) / (2 - s);

                // Of each pair of conjugates one; the pole of the real one gives two of its own.
                if (z.Imaginary > 1e-12)
                {
                    sections.Add(new BiquadCoefficients(1, 0, -1, -2 * z.Real, (z.Real * z.Real) + (z.Imaginary * z.Imaginary)));
                }
            }
        }

        var gain = Math.Pow(FilterDesign.Magnitude([.. sections], middle), -1.0 / sections.Count);
        return [.. sections.Select(c => c with { B0 = c.B0 * gain, B2 = c.B2 * gain })];
    }

    private static double Warp(double hertz) => 2 * Math.Tan(Math.PI * hertz / AudioFormat.SampleRate);
}
