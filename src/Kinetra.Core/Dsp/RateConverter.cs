using System.Numerics.Tensors;

namespace Kinetra.Core.Dsp;

/// <summary>
/// Converts one channel from one rate to another as it comes (<see cref="SincTable"/>). The first sample that comes out is at the
/// time of the first that went in; places are whole numbers of the ratio, so that nothing drifts however long it runs.
/// </summary>
public sealed class RateConverter
{
    /// <summary>Rates that can be converted, Hz.</summary>
    public const int LowestRate = 1_000, HighestRate = 768_000;

    private readonly long _from;
    private readonly long _to;
    private readonly SincTable _table;
    private readonly float[] _kernel;
    private float[] _waiting;
    private int _count;

    // Of the sample that waits first, and of the next one that comes out.
    private long _first;
    private long _next;

    /// <summary>Makes one that has heard nothing.</summary>
    /// <param name="fromRate">Hz, <see cref="LowestRate"/> … <see cref="HighestRate"/>.</param>
    /// <param name="toRate">Hz, the same range.</param>
    public RateConverter(int fromRate, int toRate)
    {
        ArgumentOutOfRangeException.ThrowIfLessThan(fromRate, LowestRate);
        ArgumentOutOfRangeException.ThrowIfGreaterThan(fromRate, HighestRate);
        ArgumentOutOfRangeException.ThrowIfLessThan(toRate, LowestRate);
        ArgumentOutOfRangeException.ThrowIfGreaterThan(toRate, HighestRate);
        (_from, _to) = (fromRate, toRate);
        _table = SincTable.For((double)toRate / fromRate);
        _kernel = new float[_table.Taps];
        _waiting = new float[2 * _table.Taps];

        // Before the first sample there was silence.
        _count = _table.Behind;
        _first = -_table.Behind;
    }

    /// <summary>How many samples of silence, put in at the end, bring out all that is left.</summary>
    public int Tail => _table.Ahead;

    /// <summary>The most that can come out where so many go in.</summary>
    public int MostFrom(int input) => (int)((((long)input + _table.Taps) * _to / _from) + 2);

    /// <summary>Takes in samples, and gives those that can be told now.</summary>
    /// <param name="input">Any number.</param>
    /// <param name="output">Room for <see cref="MostFrom"/>.</param>
    /// <returns>How many came out.</returns>
    public int Process(ReadOnlySpan<float> input, Span<float> output)
    {
        if (_count + input.Length > _waiting.Length)
        {
            Array.Resize(ref _waiting, _count + input.Length + _table.Taps);
        }

        input.CopyTo(_waiting.AsSpan(_count));
        _count += input.Length;
        var made = 0;
        while (true)
        {
            var scaled = _next * _from;
            var at = (int)((scaled / _to) - _table.Behind - _first);
            if (at + _table.Taps > _count)
            {
                Forget(Math.Min(at, _count));
                return made;
            }

            _table.Kernel((double)(scaled % _to) / _to, _kernel);
            output[made++] = TensorPrimitives.Dot(_kernel, _waiting.AsSpan(at, _table.Taps));
            _next++;
        }
    }

    /// <summary>A whole recording. The first output sample is at the time of the first input sample.</summary>
    /// <param name="input">Samples at <paramref name="fromRate"/>.</param>
    /// <param name="fromRate">Hz.</param>
    /// <param name="toRate">Hz.</param>
    /// <returns>⌈length · to / from⌉ samples; the input itself, copied, where the rates are equal.</returns>
    public static float[] Convert(ReadOnlySpan<float> input, int fromRate, int toRate)
    {
        if (fromRate == toRate)
        {
            return input.ToArray();
        }

        var converter = new RateConverter(fromRate, toRate);
        var output = new float[(int)((((long)input.Length * toRate) + fromRate - 1) / fromRate)];
        var room = new float[converter.MostFrom(Math.Max(input.Length, converter.Tail))];
        var count = Math.Min(converter.Process(input, room), output.Length);
        room.AsSpan(0, count).CopyTo(output);
        var rest = Math.Min(converter.Process(new float[converter.Tail + 1], room), output.Length - count);
        room.AsSpan(0, rest).CopyTo(output.AsSpan(count));
        return output;
    }

    private void Forget(int samples)
    {
        _waiting.AsSpan(samples, _count - samples).CopyTo(_waiting);
        _count -= samples;
        _first += samples;
    }
}
