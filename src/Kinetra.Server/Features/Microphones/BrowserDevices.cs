using System.Collections.Concurrent;
using Kinetra.Core.Engine;
using Kinetra.Core.Rigs;
using Kinetra.Core.Signal;

namespace Kinetra.Server.Features.Microphones;

/// <summary>
/// All inputs of browsers that a show has spoken of since the server started. What browsers play they fetch themselves, from the point that
/// stands for their output.
/// </summary>
public sealed class BrowserDevices(TimeProvider time) : ISoundProvider
{
    private readonly ConcurrentDictionary<(string Client, string Device), BrowserDevice> _devices = new();

    /// <summary>The input of that name; made where there was none, silent until a window gives it.</summary>
    public BrowserDevice Of(string client, string device) =>
        _devices.GetOrAdd((client, device), key => new BrowserDevice(key.Client, key.Device, time));

    /// <inheritdoc/>
    public string? WhyAway(SourceInput input) => input is not BrowserInput taken ? null : Find(taken.Client, taken.Device)?.State switch
    {
        // What comes at another rate than it says breaks off, but comes.
        DeviceState.Live or DeviceState.OffRate => null,
        _ when taken.IsShared => $"{taken.Label} is not shared",
        DeviceState.Stalled => $"{taken.Label} sends nothing",
        DeviceState.Unplugged => $"{taken.Label} is unplugged",
        DeviceState.Refused => $"the browser does not allow {taken.Label}",
        _ => $"no window gives {taken.Label}",
    };

    /// <inheritdoc/>
    public IInlet? Inlet(SourceInput input) => input is BrowserInput taken ? Of(taken.Client, taken.Device).Inlet(taken.Left, taken.Right) : null;

    /// <inheritdoc/>
    public IPortSound? Sound(Point point, int channels) => null;

    /// <summary>Null: how a browser's input runs is told of each by itself, <see cref="BrowserDevice.Input"/>.</summary>
    public HeldClock? ClockOf(DeviceId device) => null;

    /// <summary>Nothing: a browser gives what it gives, read or not.</summary>
    public void Serve(EnginePlan plan)
    {
    }

    /// <summary>A window's probe, which measures the way of a microphone; not a source of any show.</summary>
    public BrowserDevice Probe(string window) => Of("probe", window);

    /// <summary>A window has ended its probe.</summary>
    public void EndProbe(string window) => _devices.TryRemove(("probe", window), out _);

    /// <summary>The input of that name, or null.</summary>
    public BrowserDevice? Find(string client, string device) => _devices.GetValueOrDefault((client, device));
}
