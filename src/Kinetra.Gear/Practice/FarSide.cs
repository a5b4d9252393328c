using Kinetra.Core.Dsp;
using Kinetra.Core.Processors;
using Kinetra.Core.Signal;

namespace Kinetra.Gear.Practice;

/// <summary>
/// What a call makes of what it is sent: while it removes echo and evens levels, only a voice's band goes through, what is steady is taken for noise
/// and shut out, and the rest is pressed to one level. A voice comes through well; music does not.
/// </summary>
sealed class FarSide : IPortSound
{
    private readonly IProcessor[] _processors;
    private readonly GainRamp _share = new(0);
    private readonly float[] _evened = new float[AudioFormat.BlockFrames];
    private readonly float[] _factors = new float[AudioFormat.BlockFrames];
    private readonly Func<bool> _isOn;

    /// <param name="isOn">Whether it does that now.</param>
    public FarSide(Func<bool> isOn)
    {
        _isOn = isOn;
        _processors =
        [
            Of("lowCut", ("frequency", 200)),
            Of("highCut", ("frequency", 7_000)),
            Of("gate", ("threshold", -42), ("range", 30), ("hold", 60), ("release", 120), ("lookAhead", 0)),
            Of("compressor", ("threshold", -34), ("ratio", 8), ("attack", 2), ("release", 60), ("makeUp", 12)),
        ];
    }

    /// <inheritdoc/>
    public void Process(long frame, float[][] block)
    {
        _share.Target = _isOn() ? 1 : 0;
        if (_share.IsSilent)
        {
            return;
        }

        var sound = block[0];
        sound.CopyTo(_evened.AsSpan());
        foreach (var processor in _processors)
        {
            processor.Process(new Frames(_evened, default), new RoomForFrames(_evened, default), default);
        }

        _share.Fill(_factors);
        for (var n = 0; n < sound.Length; n++)
        {
            sound[n] += (_evened[n] - sound[n]) * _factors[n];
        }
    }

    private static IProcessor Of(string key, params ReadOnlySpan<(string Key, double Value)> values)
    {
        var type = ProcessorTypes.Find(key)!;
        var all = type.Defaults;
        foreach (var (parameter, value) in values)
        {
            all = all.SetItem(type.IndexOf(parameter), value);
        }

        return type.Make(new ProcessorSettings(1, all));
    }
}
