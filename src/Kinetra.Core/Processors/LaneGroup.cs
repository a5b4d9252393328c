using Kinetra.Core.Dsp;
using Kinetra.Core.Signal;

namespace Kinetra.Core.Processors;

/// <summary>Computes processors of one type side by side, to the bit as each would compute itself. Made off the engine's thread.</summary>
interface ISideBySide
{
    /// <summary>Processes a block of each, in place.</summary>
    void Process(LaneGroup group);
}

/// <summary>Up to eight processors of one type that are computed side by side in this block, each with its sound.</summary>
sealed class LaneGroup
{
    private readonly IProcessor[] _processors = new IProcessor[Lanes.Count];
    private readonly float[][] _left = new float[Lanes.Count][];
    private readonly float[][] _right = new float[Lanes.Count][];

    // Lanes that nobody is in read silence, and write what comes of it.
    private readonly float[] _nobody = new float[AudioFormat.BlockFrames];

    public LaneGroup() => Clear();

    /// <summary>How many there are.</summary>
    public int Count { get; private set; }

    /// <summary>True where there is no room for another.</summary>
    public bool IsFull => Count == Lanes.Count;

    /// <summary>A block of each lane, left or the only channel; of all eight lanes.</summary>
    public ReadOnlySpan<float[]> Left => _left;

    /// <summary>A block of each lane, right; of mono sound silence.</summary>
    public ReadOnlySpan<float[]> Right => _right;

    /// <summary>The processor in a lane.</summary>
    public IProcessor this[int lane] => _processors[lane];

    /// <summary>Begins anew.</summary>
    public void Clear()
    {
        Count = 0;
        Array.Fill(_left, _nobody);
        Array.Fill(_right, _nobody);
    }

    /// <summary>Takes a processor and its block. <paramref name="right"/> is empty for mono.</summary>
    public void Add(IProcessor processor, float[] left, float[] right)
    {
        _processors[Count] = processor;
        _left[Count] = left;
        _right[Count] = right.Length > 0 ? right : _nobody;
        Count++;
    }
}
