namespace Kinetra.Core.Processors;

/// <summary>Frames to read: left, or the only channel, and right; empty for mono. Both as long.</summary>
public readonly ref struct Frames(ReadOnlySpan<float> left, ReadOnlySpan<float> right)
{
    /// <summary>Left, or the only channel.</summary>
    public ReadOnlySpan<float> Left { get; } = left;

    /// <summary>Right; empty for mono.</summary>
    public ReadOnlySpan<float> Right { get; } = right;

    /// <summary>How many.</summary>
    public int Length => Left.Length;
}

/// <summary>Frames to write; see <see cref="Frames"/>.</summary>
public readonly ref struct RoomForFrames(Span<float> left, Span<float> right)
{
    /// <summary>Left, or the only channel.</summary>
    public Span<float> Left { get; } = left;

    /// <summary>Right; empty for mono.</summary>
    public Span<float> Right { get; } = right;
}

/// <summary>What a gate does now.</summary>
public enum GateState
{
    /// <summary>It is no gate.</summary>
    None,

    /// <summary>It lowers what is below its threshold.</summary>
    Shut,

    /// <summary>It lets the sound through since there is sound.</summary>
    Open,

    /// <summary>It lets the sound through still, for the length of its hold.</summary>
    Holding,
}

/// <summary>
/// The running state of one processor, 48 kHz, mono or stereo as it was made. Allocates only when made; its cost for a frame
/// does not depend on the sound. Finite input gives finite output. One thread.
/// </summary>
public interface IProcessor
{
    /// <summary>Frames by which what comes out lies behind what went in: look-ahead, and what filters need. May change with a parameter.</summary>
    int Latency { get; }

    /// <summary>By how much it lowered the sound in the last block at most, dB, 0 or more; of processors that do not, 0.</summary>
    double Reduction { get; }

    /// <summary>
    /// The highest that it listened to in the last block, dB: a level, or of a de-esser how far sibilance stood above the rest. Not a number
    /// where it listens to nothing, or was computed side by side with others.
    /// </summary>
    double Heard => double.NaN;

    /// <summary>What it does at the end of the last block, if it is a gate.</summary>
    GateState Gate => GateState.None;

    /// <summary>True where nothing in it is on its way, so that it may be computed side by side with others; see <see cref="ProcessorType"/>.</summary>
    bool IsSteady => false;

    /// <summary>Sets a parameter, by its place in its type's list, to an allowed value. Heard as a glide, never as a click.</summary>
    void Set(int parameter, double value);

    /// <summary>Processes frames: at most a block of them.</summary>
    /// <param name="input">What goes in.</param>
    /// <param name="output">Where it comes out: the same memory as the input, or other.</param>
    /// <param name="key">What it listens to instead of its own input, where its type takes a key; empty: its own input.</param>
    void Process(Frames input, RoomForFrames output, Frames key);

    /// <summary>Forgets all it has heard. Parameters stay, and glides have arrived.</summary>
    void Reset();
}
