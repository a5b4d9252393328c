using System.Collections.Concurrent;

namespace Kinetra.Server.Features.Microphones;

/// <summary>All inputs of browsers that a show has spoken of since the server started.</summary>
public sealed class BrowserDevices(TimeProvider time)
{
    private readonly ConcurrentDictionary<(string Client, string Device), BrowserDevice> _devices = new();

    /// <summary>The input of that name; made where there was none, silent until a window gives it.</summary>
    public BrowserDevice Of(string client, string device) =>
        _devices.GetOrAdd((client, device), key => new BrowserDevice(key.Client, key.Device, time));

    /// <summary>A window's probe, which measures the way of a microphone; not a source of any show.</summary>
    public BrowserDevice Probe(string window) => Of("probe", window);

    /// <summary>A window has ended its probe.</summary>
    public void EndProbe(string window) => _devices.TryRemove(("probe", window), out _);

    /// <summary>The input of that name, or null.</summary>
    public BrowserDevice? Find(string client, string device) => _devices.GetValueOrDefault((client, device));
}
