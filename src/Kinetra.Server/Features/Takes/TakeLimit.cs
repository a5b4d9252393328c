using Kinetra.Core.Signal;
using Kinetra.Server.Live;

namespace Kinetra.Server.Features.Takes;

/// <summary>Ends a take that is to be so long and no longer, whether anybody looks or not. Any thread.</summary>
public sealed class TakeLimit(TakeRecorder recorder, Lazy<EngineHost> host) : IFollower
{
    private Limit? _limit;

    /// <summary>The take ends once it has so many seconds.</summary>
    public void Set(Guid take, double seconds) => Volatile.Write(ref _limit, new Limit(take, (long)(seconds * AudioFormat.SampleRate)));

    /// <inheritdoc/>
    public void CatchUp()
    {
        if (Volatile.Read(ref _limit) is not { } limit)
        {
            return;
        }

        var isIt = recorder.Current == limit.Take;
        if (isIt && recorder.FramesSoFar(host.Value.Engine.Frame) < limit.Frames)
        {
            return;
        }

        if (Interlocked.CompareExchange(ref _limit, null, limit) == limit && isIt)
        {
            // Its files are closed beside whoever gives the engine its time.
            _ = Task.Run(() => recorder.StopAsync(CancellationToken.None));
        }
    }

    private sealed record Limit(Guid Take, long Frames);
}
