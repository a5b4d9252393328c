using Kinetra.Core.Engine;
using Kinetra.Core.Signal;
using Kinetra.Core.Takes;
using Kinetra.Server.Live;

namespace Kinetra.Server.Features.Takes;

/// <summary>
/// Keeps the last seconds of everything that the next take would have, where its show wishes so: in memory alone, and forgotten with the show. A track that
/// has just been planned has only what came since.
/// </summary>
public sealed class TakeBefore(Lazy<EngineHost> engine, LiveShow live) : IFollower, IDisposable
{
    private const int SurelyOver = 2 * MixEngine.CrossfadeFrames;

    private readonly Lock _changing = new();
    private readonly Dictionary<Point, HeldTap> _held = [];
    private (Guid Show, Core.Rigs.Rig? Rig, EnginePlan? Plan) _seen;
    private long _from;

    /// <inheritdoc/>
    public void CatchUp()
    {
        if (!engine.Value.IsRunning)
        {
            return;
        }

        var running = engine.Value.Engine;
        var (show, plan) = (live.State.Show, running.Plan);
        lock (_changing)
        {
            // Another show's points may be called the same, and are other sounds: nothing is kept before the one before is surely over.
            if (_seen.Show != show.Id)
            {
                LetGo(_ => true);
                _seen = (show.Id, null, null);
                _from = running.Frame + SurelyOver;
            }

            if (running.Frame < _from || (ReferenceEquals(_seen.Rig, show.Rig) && _seen.Plan == plan))
            {
                return;
            }

            _seen = (show.Id, show.Rig, plan);
            var wanted = show.Rig.Recording.Before == 0 ? [] : TakePlan.Of(show.Rig, plan.ChannelsOf).Tracks.Select(t => t.Takes).ToHashSet();
            LetGo(point => !wanted.Contains(point));
            foreach (var point in wanted.Where(p => !_held.ContainsKey(p)))
            {
                _held[point] = running.HoldLong(point);
            }
        }
    }

    /// <summary>Whether what it keeps is of a show; if not, nothing is kept of that yet.</summary>
    public bool IsOf(Guid show)
    {
        lock (_changing)
        {
            return _seen.Show == show;
        }
    }

    /// <inheritdoc/>
    public void Dispose()
    {
        lock (_changing)
        {
            LetGo(_ => true);
        }
    }

    private void LetGo(Func<Point, bool> which)
    {
        foreach (var point in _held.Keys.Where(which).ToList())
        {
            _held[point].Dispose();
            _held.Remove(point);
        }
    }
}
