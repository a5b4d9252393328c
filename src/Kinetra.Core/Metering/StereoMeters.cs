using System.Numerics.Tensors;

namespace Kinetra.Core.Metering;

/// <summary>
/// How alike left and right are, over the last 400 ms: +1 the same, 0 nothing in common, −1 the one the other's opposite,
/// which vanishes in mono. Silence: 0.
/// </summary>
public sealed class CorrelationMeter
{
    private readonly HopWindow _products = new(Hop.Momentary);
    private readonly HopWindow _left = new(Hop.Momentary);
    private readonly HopWindow _right = new(Hop.Momentary);
    private double _hopProduct;
    private double _hopLeft;
    private double _hopRight;

    /// <summary>−1 … +1.</summary>
    public double Correlation { get; private set; }

    /// <summary>Measures frames that lie within one hop.</summary>
    public void Add(ReadOnlySpan<float> left, ReadOnlySpan<float> right)
    {
        if (left.IsEmpty)
        {
            return;
        }

        _hopProduct += TensorPrimitives.Dot(left, right);
        _hopLeft += TensorPrimitives.SumOfSquares(left);
        _hopRight += TensorPrimitives.SumOfSquares(right);
    }

    /// <summary>Ends the hop.</summary>
    public void CloseHop()
    {
        _products.Push(_hopProduct);
        _left.Push(_hopLeft);
        _right.Push(_hopRight);
        _hopProduct = _hopLeft = _hopRight = 0;
        var power = Math.Sqrt(_left.Sum(Hop.Momentary) * _right.Sum(Hop.Momentary));
        Correlation = power > 0 ? Math.Clamp(_products.Sum(Hop.Momentary) / power, -1, 1) : 0;
    }
}
