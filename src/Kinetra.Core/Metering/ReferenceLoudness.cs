namespace Kinetra.Core.Metering;

/// <summary>
/// Where a source stands by itself: the gated mean of its short-term loudness over the last 60 s in which it was active.
/// Active: momentary loudness above the absolute gate of −70 LUFS (BS.1770-5) and at most 10 LU below the short-term
/// loudness, so that the 3 s window's memory of a voice that has stopped does not count. Of those values, the ones more
/// than 10 LU below their mean are left out.
/// </summary>
public sealed class ReferenceLoudness
{
    /// <summary>One value is taken each 100 ms.</summary>
    public const int HopsPerValue = 5;

    /// <summary>60 s of values.</summary>
    public const int Values = 600;

    /// <summary>LUFS; what is below is silence.</summary>
    public const double AbsoluteGate = -70;

    /// <summary>LU below the mean.</summary>
    public const double RelativeGate = -10;

    private readonly double[] _powers = new double[Values];
    private int _count;
    private int _next;
    private int _hops;

    /// <summary>LUFS; −∞ until the source has been active.</summary>
    public double Lufs { get; private set; } = double.NegativeInfinity;

    /// <summary>Takes in the meter's values at the end of a hop.</summary>
    /// <param name="momentary">LUFS.</param>
    /// <param name="shortTerm">LUFS.</param>
    public void CloseHop(double momentary, double shortTerm)
    {
        if (++_hops < HopsPerValue)
        {
            return;
        }

        _hops = 0;
        if (momentary <= AbsoluteGate || momentary <= shortTerm + RelativeGate)
        {
            return;
        }

        _powers[_next] = Level.ToKWeighted(shortTerm);
        _next = (_next + 1) % Values;
        _count = Math.Min(_count + 1, Values);
        var active = _powers.AsSpan(0, _count);
        var gate = Mean(active, 0) * Math.Pow(10, RelativeGate / 10);
        Lufs = Level.FromKWeighted(Mean(active, gate));
    }

    private static double Mean(ReadOnlySpan<double> powers, double above)
    {
        double sum = 0;
        var count = 0;
        foreach (var power in powers)
        {
            if (power > above)
            {
                sum += power;
                count++;
            }
        }

        return sum / count;
    }
}
