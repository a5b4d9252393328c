using System.Runtime.CompilerServices;

namespace Kinetra.Core.Processors;

/// <summary>Follows peaks: rises at once, falls with a time constant of 10 ms, so that low notes do not flutter.</summary>
struct PeakEnvelope
{
    private const double FallMilliseconds = 10;
    private static readonly float Memory = (float)Ballistics.Memory(FallMilliseconds);

    private float _value;

    /// <summary>Turns magnitudes into the envelope, in place.</summary>
    [MethodImpl(MethodImplOptions.AggressiveOptimization)]
    public void Follow(Span<float> magnitudes)
    {
        var value = _value;
        foreach (ref var magnitude in magnitudes)
        {
            value = Math.Max(magnitude, value * Memory);
            magnitude = value;
        }

        _value = value < 1e-12f ? 0 : value;
    }
}
