namespace Kinetra.Core.Voice;

/// <summary>Where values are highest.</summary>
static class Peaks
{
    /// <summary>The highest from one place up to another, both included, as far as there are any; 0 or more.</summary>
    public static double Highest(ReadOnlySpan<double> values, int from, int to)
    {
        var most = 0.0;
        for (var i = Math.Max(0, from); i <= Math.Min(values.Length - 1, to); i++)
        {
            most = Math.Max(most, values[i]);
        }

        return most;
    }

    /// <summary>The place of the highest, and the highest that is farther from it than some; the values go round.</summary>
    public static int Best(double[] values, int near, out double next)
    {
        var best = Array.IndexOf(values, values.Max());
        next = 0;
        for (var i = 0; i < values.Length; i++)
        {
            var apart = Math.Abs(i - best);
            next = Math.Min(apart, values.Length - apart) > near ? Math.Max(next, values[i]) : next;
        }

        return best;
    }

    /// <summary>The one in the middle; puts them in order.</summary>
    public static double Median(double[] values)
    {
        Array.Sort(values);
        return values[values.Length / 2];
    }
}
