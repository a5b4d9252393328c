using Kinetra.Core.Engine;
using Kinetra.Core.Gear;
using Kinetra.Gear.Practice;

namespace Kinetra.Server.Live;

/// <summary>The computer around the desk as the engine is to be told it next. Any thread.</summary>
public sealed class GearAround(PracticeComputer practice)
{
    private volatile GearState _state = GearState.Empty;

    /// <summary>How it is.</summary>
    public GearState State => _state;

    /// <summary>The same for the engine.</summary>
    public RunningGear Running => new(_state, practice.Open);

    /// <summary>How its devices' clocks run, by device; null: as the engine's, or it is not read.</summary>
    public Core.Clocks.DriftingInput? DriftOf(Core.Signal.DeviceId device) => practice.DriftOf(device);

    /// <summary>With this plan some devices are read, and others are not.</summary>
    public EnginePlan Serve(EnginePlan plan)
    {
        practice.Serve(plan);
        return plan;
    }

    /// <summary>From now on it is so.</summary>
    public void Become(GearState state)
    {
        _state = state;
        practice.Become(state);
    }
}
