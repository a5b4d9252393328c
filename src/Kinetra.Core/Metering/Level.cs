namespace Kinetra.Core.Metering;

/// <summary>From powers and amplitudes to decibels. Nothing at all is −∞.</summary>
public static class Level
{
    /// <summary>dBFS of a sample's magnitude: full scale = 0.</summary>
    public static double FromPeak(double magnitude) => 20 * Math.Log10(magnitude);

    /// <summary>RMS in dBFS after AES17, from a mean square: a full-scale sine (mean square ½) reads 0.</summary>
    public static double FromMeanSquare(double meanSquare) => 10 * Math.Log10(2 * meanSquare);

    /// <summary>LUFS after ITU-R BS.1770-5, equation 2, from the sum over channels of the K-weighted mean squares.</summary>
    public static double FromKWeighted(double meanSquareSum) => -0.691 + (10 * Math.Log10(meanSquareSum));

    /// <summary>The inverse of <see cref="FromKWeighted"/>.</summary>
    public static double ToKWeighted(double lufs) => Math.Pow(10, (lufs + 0.691) / 10);
}
