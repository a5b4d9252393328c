using Kinetra.Core.Signal;

namespace Kinetra.Server.Live;

/// <summary>Says of the live show's sources why they give nothing. Any thread.</summary>
public sealed class Absences(LiveShow live, GearAround around)
{
    /// <summary>Why what sounds at a point is away, in words; null: it is not, or it is no source.</summary>
    public string? WhyAway(Point? point) =>
        point is SourcePoint source && live.Show.Rig.Find(source.Id) is { } found ? around.WhyAway(found.Input) : null;
}
