namespace Kinetra.Core.Dsp;

/// <summary>Coefficients of a second-order section, normalised to a0 = 1.</summary>
/// <param name="B0">Feed-forward, z⁰.</param>
/// <param name="B1">Feed-forward, z⁻¹.</param>
/// <param name="B2">Feed-forward, z⁻².</param>
/// <param name="A1">Feedback, z⁻¹.</param>
/// <param name="A2">Feedback, z⁻².</param>
public readonly record struct BiquadCoefficients(double B0, double B1, double B2, double A1, double A2)
{
    /// <summary>Second-order low pass. Source: R. Bristow-Johnson, Audio EQ Cookbook.</summary>
    /// <param name="frequency">Corner, Hz, above 0 and below half the rate.</param>
    /// <param name="q">Quality, above 0; 0.7071 is maximally flat.</param>
    /// <param name="rate">Sample rate, Hz.</param>
    public static BiquadCoefficients LowPass(double frequency, double q, double rate)
    {
        var (cos, alpha) = Angle(frequency, q, rate);
        var b1 = 1 - cos;
        return Normalise(b1 / 2, b1, b1 / 2, 1 + alpha, -2 * cos, 1 - alpha);
    }

    /// <summary>Second-order high pass. Source and parameters as <see cref="LowPass"/>.</summary>
    public static BiquadCoefficients HighPass(double frequency, double q, double rate)
    {
        var (cos, alpha) = Angle(frequency, q, rate);
        var b1 = 1 + cos;
        return Normalise(b1 / 2, -b1, b1 / 2, 1 + alpha, -2 * cos, 1 - alpha);
    }

    /// <summary>Band pass, 0 dB at its peak. Source and parameters as <see cref="LowPass"/>.</summary>
    public static BiquadCoefficients BandPass(double frequency, double q, double rate)
    {
        var (cos, alpha) = Angle(frequency, q, rate);
        return Normalise(alpha, 0, -alpha, 1 + alpha, -2 * cos, 1 - alpha);
    }

    internal static (double Cos, double Alpha) Angle(double frequency, double q, double rate)
    {
        var w = 2 * Math.PI * frequency / rate;
        return (Math.Cos(w), Math.Sin(w) / (2 * q));
    }

    internal static BiquadCoefficients Normalise(double b0, double b1, double b2, double a0, double a1, double a2) =>
        new(b0 / a0, b1 / a0, b2 / a0, a1 / a0, a2 / a0);
}

/// <summary>
/// A second-order section with 64-bit state, transposed direct form II. Coefficients may change between samples.
/// </summary>
public struct Biquad
{
    // Below this the state is inaudible and about to become denormal, which would make it slow.
    private const double Tiny = 1e-30;

    private double _s1;
    private double _s2;

    /// <summary>One sample.</summary>
    public double Next(in BiquadCoefficients c, double x)
    {
        var y = (c.B0 * x) + _s1;
        _s1 = (c.B1 * x) - (c.A1 * y) + _s2;
        _s2 = (c.B2 * x) - (c.A2 * y);
        return y;
    }

    /// <summary>Call once a block: a tail that has died becomes exact zero.</summary>
    public void Flush()
    {
        if (Math.Abs(_s1) < Tiny && Math.Abs(_s2) < Tiny)
        {
            _s1 = _s2 = 0;
        }
    }

    /// <summary>Forgets all it has heard.</summary>
    public void Reset() => _s1 = _s2 = 0;
}
