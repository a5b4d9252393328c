using Kinetra.Core.Signal;

namespace Kinetra.Core.Dsp;

/// <summary>
/// Second-order sections at 48 kHz whose response follows the analogue filter's up to 20 kHz: cuts and peaks are matched
/// designs, shelves and notch bilinear ones. Frequencies in Hz, 10 … 22 000; Q above 0; gains in dB.
/// Sources: M. Vicanek, "Matched Second Order Digital Filters", 2016; R. Bristow-Johnson, Audio EQ Cookbook.
/// </summary>
public static class FilterDesign
{
    private const double Rate = AudioFormat.SampleRate;

    /// <summary>A section that changes nothing.</summary>
    public static readonly BiquadCoefficients Through = new(1, 0, 0, 0, 0);

    /// <summary>The qualities of the sections of a Butterworth filter of an even order.</summary>
    public static double ButterworthQ(int order, int section) => 1 / (2 * Math.Cos(Math.PI * ((2 * section) + 1) / (2.0 * order)));

    /// <summary>Low pass: <c>1 / (s² + s/Q + 1)</c>.</summary>
    public static BiquadCoefficients LowPass(double frequency, double q)
    {
        var p = new Poles(frequency, q);
        var r1 = p.At0 * q * q;
        var b0 = p.A0;
        var b1 = Math.Max(0, (r1 - (b0 * p.Phi0)) / p.Phi1);
        var (root0, root1) = (Math.Sqrt(b0), Math.Sqrt(b1));
        return new BiquadCoefficients((root0 + root1) / 2, (root0 - root1) / 2, 0, p.A1Coefficient, p.A2Coefficient);
    }

    /// <summary>High pass: <c>s² / (s² + s/Q + 1)</c>.</summary>
    public static BiquadCoefficients HighPass(double frequency, double q)
    {
        var p = new Poles(frequency, q);
        var b0 = q * Math.Sqrt(p.At0) / (4 * p.Phi1);
        return new BiquadCoefficients(b0, -2 * b0, b0, p.A1Coefficient, p.A2Coefficient);
    }

    /// <summary>Peak: <c>(s² + s·A/Q + 1) / (s² + s/(A·Q) + 1)</c>, A² the gain at the centre. Boost and cut mirror each other.</summary>
    public static BiquadCoefficients Peak(double frequency, double q, double gain)
    {
        var a = Math.Pow(10, Math.Abs(gain) / 40);
        var p = new Poles(frequency, a * q);
        var g2 = a * a * a * a;
        var r1 = p.At0 * g2;
        var r2 = p.Slope * g2;
        var b0 = p.A0;
        var b2 = (r1 - (r2 * p.Phi1) - b0) / (4 * p.Phi1 * p.Phi1);
        var b1 = Math.Max(0, r2 + b0 + (4 * (p.Phi1 - p.Phi0) * b2));
        var w = (Math.Sqrt(b0) + Math.Sqrt(b1)) / 2;
        var c0 = (w + Math.Sqrt(Math.Max(0, (w * w) + b2))) / 2;
        var c1 = (Math.Sqrt(b0) - Math.Sqrt(b1)) / 2;
        var c2 = -b2 / (4 * c0);
        return gain >= 0
            ? new BiquadCoefficients(c0, c1, c2, p.A1Coefficient, p.A2Coefficient)
            : new BiquadCoefficients(1 / c0, p.A1Coefficient / c0, p.A2Coefficient / c0, c1 / c0, c2 / c0);
    }

    /// <summary>Low shelf of the cookbook: the gain below, 0 dB above.</summary>
    public static BiquadCoefficients LowShelf(double frequency, double q, double gain) => Shelf(frequency, q, gain, 1);

    /// <summary>High shelf of the cookbook: 0 dB below, the gain above.</summary>
    public static BiquadCoefficients HighShelf(double frequency, double q, double gain) => Shelf(frequency, q, gain, -1);

    /// <summary>Notch of the cookbook: nothing at the centre.</summary>
    public static BiquadCoefficients Notch(double frequency, double q)
    {
        var (cos, alpha) = BiquadCoefficients.Angle(frequency, q, Rate);
        return BiquadCoefficients.Normalise(1, -2 * cos, 1, 1 + alpha, -2 * cos, 1 - alpha);
    }

    /// <summary>The response of sections in a row at a frequency: a factor, 1 = 0 dB.</summary>
    public static double Magnitude(ReadOnlySpan<BiquadCoefficients> sections, double frequency)
    {
        var z = System.Numerics.Complex.FromPolarCoordinates(1, -2 * Math.PI * frequency / Rate);
        var magnitude = 1.0;
        foreach (var c in sections)
        {
            var above = c.B0 + (z * (c.B1 + (z * c.B2)));
            var below = 1 + (z * (c.A1 + (z * c.A2)));
            magnitude *= (above / below).Magnitude;
        }

        return magnitude;
    }

    /// <summary>
    /// The frequencies at which a section's magnitude is greatest or least, the ends of the band apart: in φ = sin²(ω/2), which does not
    /// lose its digits near DC, its square is a ratio of quadratics, and where the derivative vanishes is a quadratic again.
    /// </summary>
    public static IEnumerable<double> Extremes(BiquadCoefficients section)
    {
        var (n0, n1, n2) = Square(section.B0, section.B1, section.B2);
        var (d0, d1, d2) = Square(1, section.A1, section.A2);
        var (a, b, c) = ((n2 * d1) - (n1 * d2), 2 * ((n2 * d0) - (n0 * d2)), (n1 * d0) - (n0 * d1));
        var discriminant = (b * b) - (4 * a * c);
        if (discriminant < 0)
        {
            yield break;
        }

        // The root that is not the difference of two like numbers, and the other one by their product.
        var q = -(b + (b < 0 ? -Math.Sqrt(discriminant) : Math.Sqrt(discriminant))) / 2;
        foreach (var phi in new[] { a == 0 ? double.NaN : q / a, q == 0 ? double.NaN : c / q })
        {
            if (phi is > 0 and < 1)
            {
                yield return 2 * Math.Asin(Math.Sqrt(phi)) * Rate / (2 * Math.PI);
            }
        }

        // |p + q·z + r·z²|² as a polynomial in φ.
        static (double Constant, double Linear, double Quadratic) Square(double p, double q, double r)
        {
            var (even, odd) = (p + q + r, p - q + r);
            return (even * even, (odd * odd) - (even * even) - (16 * p * r), 16 * p * r);
        }
    }

    private static BiquadCoefficients Shelf(double frequency, double q, double gain, double side)
    {
        var (cos, alpha) = BiquadCoefficients.Angle(frequency, q, Rate);
        cos *= side;
        var a = Math.Pow(10, gain / 40);
        var root = 2 * Math.Sqrt(a) * alpha;
        return BiquadCoefficients.Normalise(
            a * (a + 1 - ((a - 1) * cos) + root),
            side * 2 * a * (a - 1 - ((a + 1) * cos)),
            a * (a + 1 - ((a - 1) * cos) - root),
            a + 1 + ((a - 1) * cos) + root,
            side * -2 * (a - 1 + ((a + 1) * cos)),
            a + 1 + ((a - 1) * cos) - root);
    }

    // Vicanek's names: poles by impulse invariance, then the squared response is fitted at DC, at the centre and at its slope there.
    private readonly struct Poles
    {
        public Poles(double frequency, double q)
        {
            var w = 2 * Math.PI * frequency / Rate;
            var damping = 1 / (2 * q);
            var decay = Math.Exp(-damping * w);
            A1Coefficient = damping <= 1
                ? -2 * decay * Math.Cos(Math.Sqrt(1 - (damping * damping)) * w)
                : -2 * decay * Math.Cosh(Math.Sqrt((damping * damping) - 1) * w);
            A2Coefficient = decay * decay;
            var (even, odd) = (1 + A2Coefficient + A1Coefficient, 1 + A2Coefficient - A1Coefficient);
            A0 = even * even;
            var a1 = odd * odd;
            var a2 = -4 * A2Coefficient;
            Phi1 = Math.Sin(w / 2) * Math.Sin(w / 2);
            Phi0 = 1 - Phi1;
            At0 = (A0 * Phi0) + (a1 * Phi1) + (a2 * 4 * Phi0 * Phi1);
            Slope = -A0 + a1 + (4 * (Phi0 - Phi1) * a2);
        }

        public double A1Coefficient { get; }

        public double A2Coefficient { get; }

        public double A0 { get; }

        public double Phi0 { get; }

        public double Phi1 { get; }

        /// <summary>The denominator's squared magnitude at the centre, and how it slopes there.</summary>
        public double At0 { get; }

        public double Slope { get; }
    }
}
