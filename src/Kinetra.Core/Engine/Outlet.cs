namespace Kinetra.Core.Engine;

/// <summary>
/// What a node gives, and has given lately: the last 0.68 s of each channel, by the engine's frames. Engine thread only; before
/// the node began there was silence.
/// </summary>
/// <param name="channels">1 or more.</param>
sealed class Outlet(int channels)
{
    /// <summary>The longest delay that can be read, frames.</summary>
    public const int MaxDelay = Length - AudioFormat.BlockFrames;

    // A power of two, a whole number of blocks.
    private const int Length = 32_768;

    private readonly float[][] _channels = [.. Enumerable.Range(0, channels).Select(_ => new float[Length])];

    /// <summary>How many channels it has.</summary>
    public int Channels => channels;

    /// <summary>Puts down the block of that frame.</summary>
    public void Write(int channel, long frame, ReadOnlySpan<float> block) => block.CopyTo(_channels[channel].AsSpan((int)(frame & (Length - 1))));

    /// <summary>Reads a block that was put down so many frames before that one.</summary>
    public void Read(int channel, long frame, Span<float> block)
    {
        var at = (int)(frame & (Length - 1));
        var first = Math.Min(block.Length, Length - at);
        _channels[channel].AsSpan(at, first).CopyTo(block);
        _channels[channel].AsSpan(0, block.Length - first).CopyTo(block[first..]);
    }
}
