using Kinetra.Core.Clocks;
using Kinetra.Core.Dsp;
using Kinetra.Core.Engine;
using Kinetra.Core.Gear;
using Kinetra.Core.Signal;

namespace Kinetra.Gear.Practice;

/// <summary>
/// What a device captures at its inputs: what sounds before each, through the device's own gain, low cut and converter, by its own clock. Asked
/// twice for one block it gives the same; engine thread, but for how it is set, which anyone may change.
/// </summary>
sealed class CapturedSound : IPortSound
{
    private static readonly BiquadCoefficients LowCut = FilterDesign.HighPass(80, FilterDesign.ButterworthQ(2, 0));

    private readonly (SoundBuffer? Sound, int Side)[] _sounds;
    private readonly float[][] _blocks;
    private readonly float[] _cut = new float[AudioFormat.BlockFrames];
    private readonly float[] _factors = new float[AudioFormat.BlockFrames];
    private readonly GainRamp[] _gains;
    private readonly GainRamp[] _cuts;
    private readonly Biquad[] _filters;
    private volatile Setting _wanted;
    private Setting _is;
    private Device _device;
    private bool _isRead = true;
    private long _frame = -1;

    /// <param name="sounds">What sounds before each input, and which of its sides.</param>
    /// <param name="device">How the device is set.</param>
    public CapturedSound((SoundBuffer? Sound, int Side)[] sounds, Device device)
    {
        (_sounds, _device) = (sounds, device);
        _wanted = _is = SettingOf(null);
        _blocks = [.. sounds.Select(_ => new float[AudioFormat.BlockFrames])];
        _gains = [.. _is.Gains.Select(g => new GainRamp(g))];
        _cuts = [.. _is.Cuts.Select(c => new GainRamp(c))];
        _filters = new Biquad[sounds.Length];
    }

    /// <summary>The device's clock against the engine's, and how late it is held; null: it is the same clock. Any thread.</summary>
    public DriftingInput? Drift => _wanted.Clock?.Input;

    /// <summary>Sets it as a device is set now. Any thread, one at a time.</summary>
    public void Set(Device device)
    {
        _device = device;
        _wanted = SettingOf(_wanted);
    }

    /// <summary>
    /// Whether anybody takes what it captures. Where nobody does it is only metered, and its clock, which costs most, does not run. Any thread,
    /// one at a time.
    /// </summary>
    public void Read(bool isRead)
    {
        if (_isRead != isRead)
        {
            _isRead = isRead;
            _wanted = SettingOf(_wanted);
        }
    }

    /// <inheritdoc/>
    public void Process(long frame, float[][] block)
    {
        if (frame != _frame)
        {
            Compute(frame);
            _frame = frame;
        }

        for (var c = 0; c < _blocks.Length && c < block.Length; c++)
        {
            Mixdown.Add(block[c], _blocks[c], 1);
        }
    }

    private Setting SettingOf(Setting? before)
    {
        var device = _device;
        var (rate, clock, buffer) = (device.Rate, device.PartsPerMillion, device.BufferFrames);
        var isOwn = _isRead && device.IsUsable && (rate != AudioFormat.SampleRate || clock != 0);

        // Plugged in again, or at another rate, its clock is learnt anew.
        var kept = before is { } known && (known.Rate, known.PartsPerMillion, known.Buffer) == (rate, clock, buffer) && known.Clock is not null == isOwn ? known.Clock : null;
        return new Setting(
            rate,
            clock,
            buffer,
            isOwn ? kept ?? new DeviceClock(_sounds, rate, clock, buffer) : null,
            [.. device.Inputs.Select(i => device.IsUsable ? (float)Math.Pow(10, i.Excess / 20) : 0)],
            [.. device.Inputs.Select(i => i.LowCut == true ? 1f : 0)]);
    }

    private void Compute(long frame)
    {
        _is = _wanted;
        _is.Clock?.Run(frame);
        for (var c = 0; c < _blocks.Length; c++)
        {
            (_gains[c].Target, _cuts[c].Target) = (_is.Gains[c], _is.Cuts[c]);
            if (_sounds[c].Sound is not { } sound || _gains[c].IsSilent)
            {
                _blocks[c].AsSpan().Clear();
                continue;
            }

            if (_is.Clock is { } clock)
            {
                clock.Input.Channel(c).CopyTo(_blocks[c]);
            }
            else
            {
                SoundBuffer.CopyRound(_sounds[c].Side == 0 || sound.Right is null ? sound.Left : sound.Right, frame, _blocks[c]);
            }

            if (!_gains[c].IsSettled || _gains[c].Current != 1)
            {
                _gains[c].Fill(_factors);
                Mixdown.Scale(_blocks[c], _factors);
            }

            Cut(c);
            SampleGuard.HoldFullScale(_blocks[c]);
        }
    }

    private void Cut(int channel)
    {
        if (_cuts[channel].IsSilent)
        {
            return;
        }

        var block = _blocks[channel];
        _cuts[channel].Fill(_factors);
        for (var n = 0; n < block.Length; n++)
        {
            _cut[n] = (float)_filters[channel].Next(LowCut, block[n]);
            block[n] += (_cut[n] - block[n]) * _factors[n];
        }
    }

    private sealed record Setting(int Rate, double PartsPerMillion, int Buffer, DeviceClock? Clock, float[] Gains, float[] Cuts);
}
