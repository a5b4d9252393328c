namespace Kinetra.Media;

/// <summary>
/// What is added before samples become whole numbers: triangular noise of two steps, seeded, so that the same sound gives the same file.
/// Source: S. Lipshitz, R. Wannamaker, J. Vanderkooy, "Quantization and dither", JAES 40 (5), 1992.
/// </summary>
sealed class TriangularNoise
{
    private ulong _state = 0x9E3779B97F4A7C15;

    /// <summary>The next value, −1 … 1 steps.</summary>
    public double Next() => Uniform() - Uniform();

    // 0 … 1, by Marsaglia's xorshift.
    private double Uniform()
    {
        _state ^= _state << 13;
        _state ^= _state >> 7;
        _state ^= _state << 17;
        return (_state >> 11) / 9_007_199_254_740_992.0;
    }
}
