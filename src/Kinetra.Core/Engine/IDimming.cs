using Kinetra.Core.Signal;

namespace Kinetra.Core.Engine;

/// <summary>An inlet that makes all else quieter that the listeners of its source hear, while something sounds in it.</summary>
public interface IDimming : IInlet
{
    /// <summary>Engine thread: the factors of all else, frame by frame, in the block that begins with a frame; empty: nothing is dimmed.</summary>
    ReadOnlySpan<float> DimAt(long frame);
}
