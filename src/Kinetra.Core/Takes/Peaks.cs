using System.Numerics.Tensors;

namespace Kinetra.Core.Takes;

/// <summary>
/// The outline of a sound: of each <see cref="Frames"/> frames the highest magnitude of any channel, in <see cref="FullScale"/> steps. Made while the sound is; short enough that the outline of ten hours is
/// drawn at once. Not safe for several threads.
/// </summary>
public sealed class Peaks
{
    /// <summary>Frames of one value: 21 ms.</summary>
    public const int Frames = 1_024;

    /// <summary>What full scale is; what lies beyond is held at twice as much.</summary>
    public const int FullScale = 32_767;

    private readonly List<ushort> _new = [];
    private float _highest;
    private int _count;

    /// <summary>Takes in what comes next.</summary>
    /// <param name="left">The left, or the only, channel.</param>
    /// <param name="right">The right one, as long; the same one where there is one.</param>
    public void Append(ReadOnlySpan<float> left, ReadOnlySpan<float> right)
    {
        while (!left.IsEmpty)
        {
            var count = Math.Min(left.Length, Frames - _count);
            _highest = MathF.Max(_highest, MathF.Max(MathF.Abs(TensorPrimitives.MaxMagnitude(left[..count])), MathF.Abs(TensorPrimitives.MaxMagnitude(right[..count]))));
            _count += count;
            left = left[count..];
            right = right[count..];
            if (_count == Frames)
            {
                Close();
            }
        }
    }

    /// <summary>Values that are whole since this was asked last.</summary>
    public ushort[] Take()
    {
        ushort[] taken = [.. _new];
        _new.Clear();
        return taken;
    }

    /// <summary>The sound is over: what was begun counts.</summary>
    public void Finish()
    {
        if (_count > 0)
        {
            Close();
        }
    }

    /// <summary>An outline in fewer values: of each the highest of those that it stands for.</summary>
    /// <param name="values">The outline.</param>
    /// <param name="from">From which place on, in values, 0 or more; it may lie between two.</param>
    /// <param name="to">Up to which, more than <paramref name="from"/>.</param>
    /// <param name="width">In how many, 1 or more.</param>
    /// <returns>As many; 0 where there is nothing.</returns>
    public static ushort[] Shown(ReadOnlySpan<ushort> values, double from, double to, int width)
    {
        ArgumentOutOfRangeException.ThrowIfLessThan(width, 1);
        ArgumentOutOfRangeException.ThrowIfLessThanOrEqual(to, from);
        var shown = new ushort[width];
        for (var i = 0; i < width; i++)
        {
            var begin = (int)Math.Clamp(Math.Floor(from + ((to - from) * i / width)), 0, values.Length);
            var end = (int)Math.Clamp(Math.Max(Math.Ceiling(from + ((to - from) * (i + 1) / width)), begin + 1), 0, values.Length);
            shown[i] = end > begin ? TensorPrimitives.Max(values[begin..end]) : (ushort)0;
        }

        return shown;
    }

    private void Close()
    {
        _new.Add((ushort)Math.Min(MathF.Round(_highest * FullScale), 2 * FullScale));
        (_highest, _count) = (0, 0);
    }
}
