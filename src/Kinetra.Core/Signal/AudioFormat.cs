namespace Kinetra.Core.Signal;

/// <summary>The one format inside the engine: 32-bit float, planar.</summary>
public static class AudioFormat
{
    /// <summary>Frames per second.</summary>
    public const int SampleRate = 48_000;

    /// <summary>Frames per block.</summary>
    public const int BlockFrames = 256;
}
