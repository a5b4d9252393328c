namespace Kinetra.Core.Dsp;

/// <summary>How one source is spread over left and right.</summary>
public static class PanLaw
{
    /// <summary>
    /// Mono: sine/cosine law, −3.01 dB in both at the centre, constant power, so mono to stereo keeps its loudness.
    /// </summary>
    /// <param name="pan">−1 (left) … +1 (right).</param>
    public static (double Left, double Right) Mono(double pan)
    {
        var angle = (pan + 1) * Math.PI / 4;
        return (Math.Cos(angle), Math.Sin(angle));
    }

    /// <summary>Stereo: balance. The centre passes both unchanged; to a side, the other side falls linearly to nothing.</summary>
    /// <param name="pan">−1 (left) … +1 (right).</param>
    public static (double Left, double Right) Balance(double pan) => (Math.Min(1, 1 - pan), Math.Min(1, 1 + pan));
}
