using System.Runtime.CompilerServices;
using Kinetra.Core.Signal;

namespace Kinetra.Core.Metering;

/// <summary>
/// The grid on which levels are summed: hops of 20 ms. 400 ms (momentary, RMS) and 3 s (short-term, peak hold)
/// are whole numbers of hops, so every window is exactly as long as its definition says.
/// </summary>
public static class Hop
{
    /// <summary>Frames in a hop at 48 kHz: 20 ms.</summary>
    public const int Frames = 960;

    /// <summary>Hops in a second.</summary>
    public const int PerSecond = AudioFormat.SampleRate / Frames;

    /// <summary>Hops in 400 ms.</summary>
    public const int Momentary = 20;

    /// <summary>Hops in 3 s.</summary>
    public const int ShortTerm = 150;
}

/// <summary>Where the hop's end lies in a block: a block holds at most one.</summary>
/// <param name="End">Frames of the block that belong to the hop that was open when it began, 1 … the block's length.</param>
/// <param name="Closes">True where the hop ends with the last of these.</param>
public readonly record struct HopSplit(int End, bool Closes)
{
    /// <summary>The split of a block that begins <paramref name="position"/> frames into a hop.</summary>
    public static HopSplit At(int position, int blockFrames) =>
        new(Math.Min(Hop.Frames - position, blockFrames), position + blockFrames >= Hop.Frames);
}

/// <summary>The sums of the last hops, and of any number of them together.</summary>
/// <param name="capacity">How many hops are remembered.</param>
public sealed class HopWindow(int capacity)
{
    private readonly double[] _sums = new double[capacity];
    private int _next;

    /// <summary>Puts the newest hop in place of the oldest.</summary>
    public void Push(double sum)
    {
        _sums[_next] = sum;
        _next = _next + 1 == _sums.Length ? 0 : _next + 1;
    }

    /// <summary>The sum of the newest <paramref name="hops"/> hops, 1 … capacity. Added afresh each time, so nothing drifts.</summary>
    [MethodImpl(MethodImplOptions.AggressiveOptimization)]
    public double Sum(int hops)
    {
        double sum = 0;
        for (int i = 0, at = _next; i < hops; i++)
        {
            at = at == 0 ? _sums.Length - 1 : at - 1;
            sum += _sums[at];
        }

        return sum;
    }

    /// <summary>The largest of all remembered hops.</summary>
    [MethodImpl(MethodImplOptions.AggressiveOptimization)]
    public double Max()
    {
        double max = 0;
        foreach (var value in _sums)
        {
            max = Math.Max(max, value);
        }

        return max;
    }
}
