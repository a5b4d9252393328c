using Kinetra.Core.Dsp;

namespace Kinetra.Core.Processors;

/// <summary>Follows peaks: rises at once, falls with a time constant of 10 ms, so that low notes do not flutter.</summary>
struct PeakEnvelope
{
    private const double FallMilliseconds = 10;
    private static readonly double Memory = Ballistics.Memory(FallMilliseconds);

    private double _value;

    /// <summary>Turns magnitudes into the envelope, in place.</summary>
    public void Follow(Span<float> magnitudes)
    {
        Recursions.FallingPeak(magnitudes, ref _value, Memory);
        _value = _value < 1e-12 ? 0 : _value;
    }
}
