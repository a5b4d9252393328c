using System.Collections.Immutable;

namespace Kinetra.Core.Voice;

/// <summary>
/// The long-term average spectrum of speech, in thirds of an octave: that of men and women together, twelve languages, which differ little.
/// Source: D. Byrne et al., “An international comparison of long-term average speech spectra”, J. Acoust. Soc. Am. 96 (4), 1994, Table II, combined.
/// </summary>
static class SpeechSpectrum
{
    /// <summary>Midbands, Hz.</summary>
    public static readonly ImmutableArray<double> Midbands =
        [125, 160, 200, 250, 315, 400, 500, 630, 800, 1_000, 1_250, 1_600, 2_000, 2_500, 3_150, 4_000, 5_000, 6_300, 8_000, 10_000];

    /// <summary>dB SPL of speech of 70 dB in all.</summary>
    public static readonly ImmutableArray<double> Levels =
        [57.7, 56.8, 60.2, 60.3, 59.0, 62.1, 62.1, 60.5, 56.8, 53.7, 53.0, 52.0, 48.7, 48.1, 46.8, 45.6, 44.5, 44.3, 43.7, 43.4];
}
