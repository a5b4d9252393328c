using Kinetra.Core.Rigs;
using Kinetra.Core.Signal;

namespace Kinetra.Core.Engine;

/// <summary>How a clock runs against the engine's.</summary>
/// <param name="PartsPerMillion">By how much it runs fast; NaN: that is being learnt.</param>
/// <param name="LatencyFrames">How late its sound is held, frames; NaN: nothing sounds.</param>
/// <param name="Gaps">How often its sound broke off.</param>
public sealed record HeldClock(double PartsPerMillion, double LatencyFrames, long Gaps);

/// <summary>
/// Something around the desk that gives sound to sources and takes it from destinations: the practice computer, browsers, and whatever may come
/// beside them. Each knows its own inputs and points and answers null for all others, so that neither the engine nor a screen needs to know which
/// there are. Any thread.
/// </summary>
public interface ISoundProvider
{
    /// <summary>The sound of an input of which it gives the samples itself; null: it is not its own, or it comes from a point of the signal.</summary>
    IInlet? Inlet(SourceInput input);

    /// <summary>What it does at a point that has so many channels; null: nothing, what comes is passed on. Asked once for each node.</summary>
    IPortSound? Sound(Point point, int channels);

    /// <summary>Why an input of its own gives nothing now, in words; null: it is there, or it is another's.</summary>
    string? WhyAway(SourceInput input);

    /// <summary>How the clock of one of its devices runs against the engine's; null: as the engine's, it is not read, or it is another's.</summary>
    HeldClock? ClockOf(DeviceId device);

    /// <summary>With this plan some of its devices are read, and others are not. One thread at a time.</summary>
    void Serve(EnginePlan plan);
}
