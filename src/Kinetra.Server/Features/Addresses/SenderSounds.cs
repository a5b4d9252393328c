using System.Collections.Concurrent;
using Kinetra.Core.Clocks;
using Kinetra.Core.Editing;
using Kinetra.Core.Engine;
using Kinetra.Core.Rigs;
using Kinetra.Core.Signal;

namespace Kinetra.Server.Features.Addresses;

/// <summary>What other programs send into cables by their addresses, as the engine hears it. Any thread.</summary>
public sealed class SenderSounds : ISoundProvider
{
    private readonly ConcurrentDictionary<AppId, PacedInput> _all = new();

    /// <summary>From the plan on that comes next it is heard.</summary>
    public void Add(AppId app, PacedInput sound) => _all[app] = sound;

    /// <summary>It is over.</summary>
    public void Remove(AppId app) => _all.TryRemove(app, out _);

    /// <summary>Null: what is sent in comes from a point of the signal.</summary>
    public IInlet? Inlet(SourceInput input) => null;

    /// <inheritdoc/>
    public IPortSound? Sound(Point point, int channels) => point is AppPoint { Port: SenderComes.Port } port ? _all.GetValueOrDefault(port.Id) : null;

    /// <summary>Null: a source that takes a program is the practice computer's to explain.</summary>
    public string? WhyAway(SourceInput input) => null;

    /// <summary>Null: none of them has a clock.</summary>
    public HeldClock? ClockOf(DeviceId device) => null;

    /// <inheritdoc/>
    public void Serve(EnginePlan plan)
    {
    }
}
