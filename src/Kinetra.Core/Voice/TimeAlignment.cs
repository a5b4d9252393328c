using Kinetra.Core.Dsp;
using Kinetra.Core.Signal;

namespace Kinetra.Core.Voice;

/// <summary>By how much one sound comes later than another.</summary>
/// <param name="Milliseconds">How much later the second comes than the first, ms; below 0: sooner.</param>
/// <param name="Confidence">How sure that is, 0 … 1: 1 less the square of the next best offset's likeness over the best one's.</param>
/// <param name="IsInverted">True where one of both is upside down.</param>
/// <param name="Refusal">Why it is not to be relied on; null: it is.</param>
public sealed record TimeAlignment(double Milliseconds, double Confidence, bool IsInverted, string? Refusal)
{
    /// <summary>The farthest that is looked for, ms.</summary>
    public const double Farthest = 500;

    /// <summary>What is less sure is refused.</summary>
    public const double LeastConfidence = 0.6;

    // The whole correlation is whitened so far: less, and a colour of one's own smears the peak; more, and noise drowns it.
    private const double Whitening = 0.85;
    private const double LowEdge = 700, HighEdge = 10_000;
    private const double Silent = 1e-5;

    // Offsets that are as near as this are the same one.
    private const int Near = AudioFormat.SampleRate / 1_000;

    // A peak stands out by so many times what chance gives.
    private const double LeastRise = 9;
    private const double StepsOf = 0.1;

    /// <summary>
    /// Finds it in what both gave in the same time: by the cross-correlation of both, whitened between 700 Hz and 10 kHz (generalised cross-correlation; C. H. Knapp and G. C. Carter, IEEE Trans. ASSP 24,
    /// 1976), at most <see cref="Farthest"/> apart. Refused where nothing stands out, where another offset is nearly as likely (an echo as strong as the sound, a steady tone), and where the
    /// loudest moments do not agree with one another within 0.1 ms.
    /// </summary>
    /// <param name="one">One sound at 48 kHz, a second at the least.</param>
    /// <param name="other">The other, as long.</param>
    /// <exception cref="ArgumentException">They are not equally long, or too short.</exception>
    public static TimeAlignment Find(ReadOnlySpan<float> one, ReadOnlySpan<float> other)
    {
        if (one.Length != other.Length || one.Length < AudioFormat.SampleRate)
        {
            throw new ArgumentException("Both are equally long, and a second at the least.", nameof(other));
        }

        if (Rms(one) < Silent || Rms(other) < Silent)
        {
            return new(0, 0, false, "One of both is silent: nothing came, or its microphone is off.");
        }

        var whole = Peak(one, other);
        if (whole.Rise < LeastRise)
        {
            return new(whole.Milliseconds, whole.Confidence, whole.IsInverted, "Nothing that both heard stands out. Clap once, loudly, where both hear it.");
        }

        if (whole.Confidence < LeastConfidence)
        {
            return new(
                whole.Milliseconds, whole.Confidence, whole.IsInverted, "Another offset is nearly as likely: an echo is as loud as the sound, or it repeats itself. Clap once, closer to both, and no tone.");
        }

        // Where both moments of the sound that are loudest agree, so does what lies between.
        var parts = Loudest(one, (int)(whole.Milliseconds * AudioFormat.SampleRate / 1_000));
        foreach (var (from, length) in parts)
        {
            var part = Peak(one.Slice(from, length), other.Slice(from, length));
            if (part.Rise >= LeastRise && part.Confidence >= LeastConfidence && Math.Abs(part.Milliseconds - whole.Milliseconds) > StepsOf)
            {
                return new(
                    whole.Milliseconds, 0, whole.IsInverted, "Two moments say two different offsets: one of both drifts, or they heard two different things. Clap once, and wait a second before and after.");
            }
        }

        return new(whole.Milliseconds, whole.Confidence, whole.IsInverted, null);
    }

    private static double Rms(ReadOnlySpan<float> samples)
    {
        var sum = 0.0;
        foreach (var x in samples)
        {
            sum += (double)x * x;
        }

        return Math.Sqrt(sum / samples.Length);
    }

    // Two pieces of a second and a half around the loudest moments that are at least two seconds apart.
    private static List<(int From, int Length)> Loudest(ReadOnlySpan<float> sound, int lag)
    {
        const int Hop = AudioFormat.SampleRate / 10;
        const int Length = 3 * AudioFormat.SampleRate / 2;
        var levels = new List<(double Level, int At)>();
        for (var at = 0; at + Hop <= sound.Length; at += Hop)
        {
            levels.Add((Rms(sound.Slice(at, Hop)), at));
        }

        var chosen = new List<(int From, int Length)>();
        foreach (var (_, at) in levels.OrderByDescending(l => l.Level))
        {
            var from = at - (Length / 3) + Math.Min(0, lag / 2);
            if (from >= 0 && from + Length <= sound.Length && chosen.TrueForAll(c => Math.Abs(c.From - from) >= 2 * AudioFormat.SampleRate))
            {
                chosen.Add((from, Length));
                if (chosen.Count == 3)
                {
                    break;
                }
            }
        }

        return chosen;
    }

    private static (double Milliseconds, double Confidence, bool IsInverted, double Rise) Peak(ReadOnlySpan<float> one, ReadOnlySpan<float> other)
    {
        var farthest = Math.Min((int)(Farthest * AudioFormat.SampleRate / 1_000), one.Length / 2);
        var length = (int)System.Numerics.BitOperations.RoundUpToPowerOf2((uint)(one.Length + farthest));
        var transform = new FourierTransform(length);
        var (re, im) = (new float[length], new float[length]);
        Load(one, re);
        Load(other, im);
        transform.Forward(re, im);

        // Two real sounds in one transform: X = (Z(k) + Z*(−k)) / 2, Y = (Z(k) − Z*(−k)) / 2i; the cross spectrum is Y·X*.
        var (crossRe, crossIm) = (new float[length], new float[length]);
        var mean = 0.0;
        for (var k = 1; k < length / 2; k++)
        {
            var (a, b, c, d) = ((double)re[k], (double)im[k], (double)re[length - k], (double)im[length - k]);
            var (xr, xi, yr, yi) = ((a + c) / 2, (b - d) / 2, (b + d) / 2, (c - a) / 2);
            var (zr, zi) = ((yr * xr) + (yi * xi), (yi * xr) - (yr * xi));
            (crossRe[k], crossIm[k]) = ((float)zr, (float)zi);
            mean += Math.Sqrt((zr * zr) + (zi * zi));
        }

        mean /= length / 2.0;
        for (var k = 1; k < length / 2; k++)
        {
            var hertz = (double)k * AudioFormat.SampleRate / length;
            var size = Math.Sqrt(((double)crossRe[k] * crossRe[k]) + ((double)crossIm[k] * crossIm[k]));
            var weight = size < mean * 1e-9 ? 0 : Edge(hertz) / Math.Pow(size, Whitening) / Math.Pow(mean, 1 - Whitening);
            (crossRe[k], crossIm[k]) = ((float)(crossRe[k] * weight), (float)(crossIm[k] * weight));
            (crossRe[length - k], crossIm[length - k]) = (crossRe[k], -crossIm[k]);
        }

        transform.Back(crossRe, crossIm);
        double At(int lag) => crossRe[(lag + length) % length];
        var best = 0;
        var sum = 0.0;
        for (var lag = -farthest; lag <= farthest; lag++)
        {
            best = Math.Abs(At(lag)) > Math.Abs(At(best)) ? lag : best;
            sum += At(lag) * At(lag);
        }

        var (first, second) = (Math.Abs(At(best)), 0.0);
        for (var lag = -farthest; lag <= farthest; lag++)
        {
            second = Math.Abs(lag - best) > Near ? Math.Max(second, Math.Abs(At(lag))) : second;
        }

        // Between samples: the top of the parabola through three values.
        var (before, after) = (Math.Abs(At(best - 1)), Math.Abs(At(best + 1)));
        var bend = before - (2 * first) + after;
        var between = bend < 0 ? Math.Clamp((before - after) / 2 / bend, -0.5, 0.5) : 0;
        var rms = Math.Sqrt(sum / ((2 * farthest) + 1));
        return ((best + between) * 1_000 / AudioFormat.SampleRate, first == 0 ? 0 : 1 - (second / first * (second / first)), At(best) < 0, rms == 0 ? 0 : first / rms);
    }

    // Where both are cut out of what went on, that is nothing that both heard at the same time: 50 ms in and out.
    private static void Load(ReadOnlySpan<float> sound, float[] to)
    {
        const int Fading = AudioFormat.SampleRate / 20;
        sound.CopyTo(to);
        for (var n = 0; n < Fading; n++)
        {
            var share = (float)(0.5 - (0.5 * Math.Cos(Math.PI * n / Fading)));
            to[n] *= share;
            to[sound.Length - 1 - n] *= share;
        }
    }

    // Within the band 1; half an octave to nothing at either side.
    private static double Edge(double hertz)
    {
        var octaves = Math.Min(Math.Log2(hertz / LowEdge), Math.Log2(HighEdge / hertz));
        return octaves <= 0 ? 0 : octaves >= 0.5 ? 1 : 0.5 - (0.5 * Math.Cos(Math.PI * octaves / 0.5));
    }
}
