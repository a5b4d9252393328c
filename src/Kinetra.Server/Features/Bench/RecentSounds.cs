using Kinetra.Core.Engine;
using Kinetra.Core.Signal;
using Kinetra.Core.Voice;
using Kinetra.Server.Live;

namespace Kinetra.Server.Features.Bench;

/// <summary>
/// The last half minute of every source of the live show, as it goes into its chain: in memory alone, and forgotten with the source, the show or the server.
/// </summary>
sealed class RecentSounds(Lazy<EngineHost> engine, LiveShow live) : IFollower, IDisposable
{
    private const int Block = AudioFormat.BlockFrames;

    private readonly Lock _taking = new();
    private readonly Dictionary<SourceId, (TapCursor Cursor, RecentSound Sound)> _kept = [];
    private readonly float[] _left = new float[Block];
    private readonly float[] _right = new float[Block];
    private EnginePlan? _plan;
    private Guid _show;

    /// <summary>What is kept of a source; null: nothing yet.</summary>
    public RecentSound? Find(SourceId source)
    {
        lock (_taking)
        {
            return _kept.TryGetValue(source, out var kept) ? kept.Sound : null;
        }
    }

    /// <inheritdoc/>
    public void CatchUp()
    {
        if (!engine.Value.IsRunning)
        {
            return;
        }

        lock (_taking)
        {
            Follow(engine.Value.Engine);
            foreach (var (cursor, sound) in _kept.Values)
            {
                Take(cursor, sound);
            }
        }
    }

    /// <inheritdoc/>
    public void Dispose()
    {
        lock (_taking)
        {
            LetGo(_ => true);
        }
    }

    private void Follow(MixEngine running)
    {
        var (plan, show) = (running.Plan, live.State.Show.Id);
        if (plan == _plan && show == _show)
        {
            return;
        }

        // Another show's source may have the same id, and is another sound.
        var isSame = show == _show;
        (_plan, _show) = (plan, show);
        LetGo(id => !isSame || plan.Sources.All(s => s.Id != id));
        foreach (var source in plan.Sources.Where(s => !_kept.ContainsKey(s.Id)))
        {
            var tap = running.Hold(new SourcePoint(source.Id, Tap.BeforeChain));
            _kept[source.Id] = (new TapCursor(tap, tap.Ring.End), new RecentSound(tap.Ring.Channels));
        }
    }

    private void LetGo(Func<SourceId, bool> which)
    {
        foreach (var id in _kept.Keys.Where(which).ToList())
        {
            _kept[id].Cursor.Dispose();
            _kept.Remove(id);
        }
    }

    private void Take(TapCursor cursor, RecentSound sound)
    {
        while (cursor.Ring.Beginning >= 0 && Math.Max(cursor.Position, cursor.Ring.Beginning) + Block <= cursor.Ring.End)
        {
            var count = cursor.Read(_left, _right, out _);
            if (count == Block)
            {
                sound.Add(cursor.Position - Block, _left, _right);
            }
        }
    }
}
