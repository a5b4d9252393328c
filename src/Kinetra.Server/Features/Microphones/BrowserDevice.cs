using System.Text.Json.Serialization;
using Kinetra.Core.Clocks;
using Kinetra.Core.Signal;

namespace Kinetra.Server.Features.Microphones;

/// <summary>How a browser's input stands.</summary>
[JsonConverter(typeof(JsonStringEnumConverter<DeviceState>))]
public enum DeviceState
{
    /// <summary>No window of its browser has given it since the server started.</summary>
    NotHere,

    /// <summary>Its sound arrives.</summary>
    Live,

    /// <summary>Its window is there, but nothing arrives: asleep, or too busy.</summary>
    Stalled,

    /// <summary>It gives more or fewer samples a second than it says, by far more than a clock is off.</summary>
    OffRate,

    /// <summary>The browser says that the device has gone.</summary>
    Unplugged,

    /// <summary>The browser was told not to give it.</summary>
    Refused,

    /// <summary>The window that gave it has gone.</summary>
    WindowClosed,
}

/// <summary>What a browser says that it granted.</summary>
/// <param name="SampleRate">The device's own rate, Hz; null: it does not say.</param>
/// <param name="Channels">Channels, 1–8.</param>
/// <param name="EchoCancellation">Whether the browser removes echo; null: it does not say.</param>
/// <param name="NoiseSuppression">Whether it reduces noise.</param>
/// <param name="AutoGainControl">Whether it controls the level.</param>
/// <param name="LatencyMs">The device's own latency, ms, as the browser states it.</param>
public sealed record Granted(
    double? SampleRate, int Channels, bool? EchoCancellation, bool? NoiseSuppression, bool? AutoGainControl, double? LatencyMs);

/// <summary>
/// One input of one browser. Held by at most one window at a time, by lease: a window that is cut off may come back within
/// <see cref="Grace"/>; another takes over on purpose only.
/// </summary>
public sealed class BrowserDevice(string client, string device, TimeProvider time)
{
    /// <summary>The latency at which its sound is read, frames: a browser's burst of 10 ms, a block, and jitter.</summary>
    public const double TargetFrames = 1_248;

    /// <summary>How long a window that was cut off keeps its lease.</summary>
    public static readonly TimeSpan Grace = TimeSpan.FromSeconds(5);

    /// <summary>Nothing for so long is a stall.</summary>
    public static readonly TimeSpan StalledAfter = TimeSpan.FromSeconds(1);

    /// <summary>From this difference on, it is not the clock but the rate that is another: a share of 48 kHz.</summary>
    public const double MostOff = 0.04;

    // Each time it is looked again: long enough that bursts of a network are little in it. Twice in a row, or it was only a stall.
    private const double RateFrames = 5 * AudioFormat.SampleRate;

    private readonly Lock _lock = new();
    private double _rateFrom = double.NaN;
    private long _rateFrame;
    private int _off;

    private Action? _evict;
    private object? _lease;
    private string? _window;
    private DeviceState _left = DeviceState.NotHere;
    private DateTimeOffset _leaseEnds;
    private long _lastArrival;

    /// <summary>The browser.</summary>
    public string Client => client;

    /// <summary>The browser's id of the input.</summary>
    public string Device => device;

    /// <summary>Its sound.</summary>
    public DriftingInput Input { get; } = new(TargetFrames);

    /// <summary>What the browser granted; null: it was never here.</summary>
    public Granted? Granted { get; private set; }

    /// <summary>How many samples a second it gave when that was looked at last; NaN: not yet.</summary>
    public double Rate { get; private set; } = double.NaN;

    /// <summary>The window that gives it, or gave it last.</summary>
    public string? Window
    {
        get
        {
            lock (_lock)
            {
                return _window;
            }
        }
    }

    /// <summary>How it stands now.</summary>
    public DeviceState State
    {
        get
        {
            lock (_lock)
            {
                return _lease is null ? _left
                    : time.GetElapsedTime(Interlocked.Read(ref _lastArrival)) > StalledAfter ? DeviceState.Stalled
                    : _off > 1 ? DeviceState.OffRate
                    : DeviceState.Live;
            }
        }
    }

    /// <summary>Some of its channels as a source's sound.</summary>
    public IInlet Inlet(int left, int? right) => new DriftingInlet(Input, left, right);

    /// <summary>A window wants to give it.</summary>
    /// <param name="window">Which one.</param>
    /// <param name="granted">What its browser granted.</param>
    /// <param name="takeOver">True: whoever holds it loses it.</param>
    /// <param name="evict">Called when another takes it over.</param>
    /// <returns>The lease, for <see cref="Write"/> and <see cref="Leave"/>; null: another window holds it.</returns>
    public object? Join(string window, Granted granted, bool takeOver, Action evict)
    {
        Action? other;
        var lease = new object();
        lock (_lock)
        {
            var kept = _lease is not null || time.GetUtcNow() < _leaseEnds;
            if (kept && _window != window && !takeOver)
            {
                return null;
            }

            other = _lease is null ? null : _evict;
            (_lease, _window, _evict, Granted) = (lease, window, evict, granted);
            Interlocked.Exchange(ref _lastArrival, time.GetTimestamp());
            (_rateFrom, _off, Rate) = (double.NaN, 0, double.NaN);
            Input.Rejoin();
        }

        other?.Invoke();
        return lease;
    }

    /// <summary>Sound that came with a lease; false where it no longer counts.</summary>
    public bool Write(object lease, long frame, ReadOnlySpan<float> samples, int channels, double now)
    {
        lock (_lock)
        {
            if (_lease != lease)
            {
                return false;
            }

            Interlocked.Exchange(ref _lastArrival, time.GetTimestamp());
            Input.Write(frame, samples, channels, now);
            LookAtRate(frame, now);
            return true;
        }
    }

    private void LookAtRate(long frame, double now)
    {
        if (!double.IsNaN(_rateFrom) && now - _rateFrom < RateFrames)
        {
            return;
        }

        if (!double.IsNaN(_rateFrom))
        {
            var rate = (frame - _rateFrame) / (now - _rateFrom);
            Rate = rate * AudioFormat.SampleRate;
            _off = Math.Abs(rate - 1) > MostOff ? _off + 1 : 0;
        }

        (_rateFrom, _rateFrame) = (now, frame);
    }

    /// <summary>A window gives it no longer. An old lease: nothing happens.</summary>
    public void Leave(object lease, DeviceState because)
    {
        lock (_lock)
        {
            if (_lease == lease)
            {
                (_lease, _evict, _left) = (null, null, because);
                _leaseEnds = time.GetUtcNow() + Grace;
            }
        }
    }

    /// <summary>A window that cannot give it says why. Nothing happens while another gives it.</summary>
    public void Excuse(DeviceState because)
    {
        lock (_lock)
        {
            if (_lease is null)
            {
                _left = because;
            }
        }
    }
}
