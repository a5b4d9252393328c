namespace Kinetra.Core.Dsp;

/// <summary>
/// Parts of windowed-sinc filters. Source: J. F. Kaiser, "Nonrecursive digital filter design using the I0-sinh window
/// function", 1974.
/// </summary>
static class KaiserWindow
{
    /// <summary>The window's value at a place from −1 to 1; 0 outside.</summary>
    public static double At(double x, double beta) => Math.Abs(x) >= 1 ? 0 : BesselI0(beta * Math.Sqrt(1 - (x * x))) / BesselI0(beta);

    /// <summary>sin(πx)/(πx).</summary>
    public static double Sinc(double x) => Math.Abs(x) < 1e-12 ? 1 : Math.Sin(Math.PI * x) / (Math.PI * x);

    private static double BesselI0(double x)
    {
        double sum = 1, term = 1;
        for (var k = 1; term > sum * 1e-17; k++)
        {
            term *= x * x / (4.0 * k * k);
            sum += term;
        }

        return sum;
    }
}
