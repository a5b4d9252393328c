using Kinetra.Core.Engine;
using Kinetra.Core.Processors;
using Kinetra.Core.Signal;

namespace Kinetra.Core.Tests.Processors;

/// <summary>Runs one processor over whole signals, block by block, as a chain does.</summary>
static class Rack
{
    public static ProcessorSettings Settings(ProcessorType type, int channels, params ReadOnlySpan<(string Key, double Value)> values)
    {
        var all = type.Defaults.ToArray();
        foreach (var (key, value) in values)
        {
            all[IndexOf(type, key)] = value;
        }

        return new ProcessorSettings(channels, [.. all]);
    }

    public static int IndexOf(ProcessorType type, string key)
    {
        var index = type.IndexOf(key);
        index.ShouldBeGreaterThanOrEqualTo(0, key);
        return index;
    }

    /// <summary>A mono sound through one processor.</summary>
    public static float[] Run(ProcessorType type, float[] sound, params (string Key, double Value)[] values) =>
        Run(new ChainSlot(type, Settings(type, 1, values)), sound).Left;

    /// <summary>A sound through a slot; before each block, <paramref name="before"/> may change something.</summary>
    public static (float[] Left, float[] Right) Run(
        ChainSlot slot, float[] left, float[]? right = null, float[]? key = null, Action<int>? before = null, int block = AudioFormat.BlockFrames)
    {
        var (outLeft, outRight) = ((float[])left.Clone(), (float[]?)right?.Clone() ?? []);
        for (var at = 0; at < left.Length; at += block)
        {
            before?.Invoke(at);
            var length = Math.Min(block, left.Length - at);
            slot.Process(
                outLeft.AsSpan(at, length),
                right is null ? default : outRight.AsSpan(at, length),
                key is null ? default : new Frames(key.AsSpan(at, length), default));
        }

        return (outLeft, outRight);
    }
}
