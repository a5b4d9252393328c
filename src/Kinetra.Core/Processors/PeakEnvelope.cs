using System.Numerics.Tensors;
using System.Runtime.CompilerServices;

namespace Kinetra.Core.Processors;

/// <summary>Follows peaks: rises at once, falls with a time constant of 10 ms, so that low notes do not flutter.</summary>
struct PeakEnvelope
{
    private const double FallMilliseconds = 10;
    private const double Forgotten = 1e-12;

    private double _value;

    /// <summary>Where it is.</summary>
    public double Value
    {
        readonly get => _value;
        set => _value = value < Forgotten ? 0 : value;
    }

    /// <summary>What is left of it after a frame.</summary>
    public static double Memory { get; } = Ballistics.Memory(FallMilliseconds);

    /// <summary>Turns magnitudes into the envelope, in place.</summary>
    [MethodImpl(MethodImplOptions.AggressiveOptimization)]
    public void Follow(Span<float> magnitudes)
    {
        // Frame by frame, as side by side: both give the same to the bit. Conversions stand apart from the recursion.
        Span<double> values = stackalloc double[magnitudes.Length];
        TensorPrimitives.ConvertTruncating<float, double>(magnitudes, values);
        var (value, memory) = (_value, Memory);
        foreach (ref var x in values)
        {
            value = double.MaxNative(x, value * memory);
            x = value;
        }

        TensorPrimitives.ConvertTruncating<double, float>(values, magnitudes);
        Value = value;
    }
}
