using Kinetra.Core.Engine;
using Kinetra.Core.Gear;
using Kinetra.Core.Rigs;
using Kinetra.Core.Signal;
using Kinetra.Gear.Practice;

namespace Kinetra.Server.Live;

/// <summary>All that is around the desk, whoever provides it, as the engine is to be told it next. Any thread.</summary>
public sealed class GearAround(PracticeComputer practice, IEnumerable<ISoundProvider> providers)
{
    private readonly ISoundProvider[] _providers = [.. providers];
    private volatile GearState _state = GearState.Empty;

    /// <summary>How the computer is.</summary>
    public GearState State => _state;

    /// <summary>The same for the engine.</summary>
    public RunningGear Running => new(_state, (point, channels) => First(p => p.Sound(point, channels)));

    /// <summary>The sound of an input that comes from no point of the signal; null: nobody knows it.</summary>
    public IInlet? Inlet(SourceInput input) => First(p => p.Inlet(input));

    /// <summary>Why an input gives nothing now, in words; null: it is there.</summary>
    public string? WhyAway(SourceInput input) => First(p => p.WhyAway(input));

    /// <summary>How a device's clock runs; null: as the engine's, or it is not read.</summary>
    public HeldClock? ClockOf(DeviceId device) => First(p => p.ClockOf(device));

    /// <summary>With this plan some devices are read, and others are not.</summary>
    public EnginePlan Serve(EnginePlan plan)
    {
        Array.ForEach(_providers, p => p.Serve(plan));
        return plan;
    }

    /// <summary>From now on the computer is so.</summary>
    public void Become(GearState state)
    {
        _state = state;
        practice.Become(state);
    }

    private T? First<T>(Func<ISoundProvider, T?> ask)
        where T : class
    {
        foreach (var provider in _providers)
        {
            if (ask(provider) is { } answer)
            {
                return answer;
            }
        }

        return null;
    }
}
