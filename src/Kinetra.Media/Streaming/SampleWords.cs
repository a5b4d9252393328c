namespace Kinetra.Media.Streaming;

/// <summary>Samples as whole numbers of 24 bits, and back.</summary>
static class SampleWords
{
    private const float Scale = 8_388_608;

    /// <summary>Puts one channel into its place among interleaved ones; what is beyond full scale is held there.</summary>
    public static void Put(ReadOnlySpan<float> from, Span<int> interleaved, int channels, int channel)
    {
        for (var n = 0; n < from.Length; n++)
        {
            interleaved[(n * channels) + channel] = (int)Math.Clamp(MathF.Round(from[n] * Scale), -Scale, Scale - 1);
        }
    }
}
