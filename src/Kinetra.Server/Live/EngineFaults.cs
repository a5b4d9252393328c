using System.Collections.Immutable;
using Kinetra.Core.Engine;
using Kinetra.Core.Signal;

namespace Kinetra.Server.Live;

/// <summary>What has failed in the engine, since the server started: said once in the log, and at hand for the status.</summary>
public sealed partial class EngineFaults(ILogger<EngineFaults> log) : IFollower
{
    private ImmutableArray<Point> _failed = [];

    /// <summary>The points that are silent now, since what gives them failed.</summary>
    public ImmutableArray<Point> Silenced => Engine is { } engine ? [.. _failed.Where(engine.Plan.IsBroken)] : [];

    /// <summary>The engine whose faults are told.</summary>
    public MixEngine? Engine { get; set; }

    /// <inheritdoc/>
    public void CatchUp()
    {
        while (Engine?.Faults.TryTake(out var fault) == true)
        {
            LogFault(log, fault.Cause, fault.Point, fault.Frame);
            ImmutableInterlocked.Update(ref _failed, all => all.Contains(fault.Point) ? all : all.Add(fault.Point));
        }
    }

    [LoggerMessage(LogLevel.Error, "{Point} failed at frame {Frame} and is silent from then on; the rest plays.")]
    private static partial void LogFault(ILogger log, Exception cause, Point point, long frame);
}
