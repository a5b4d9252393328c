using Kinetra.Core.Engine;
using Kinetra.Core.Signal;
using Kinetra.Core.Voice;
using Kinetra.Server.Live;

namespace Kinetra.Server.Features.Bench;

/// <summary>
/// The last half minute of every source of the live show, as it goes into its chain, and of what is heard: of each source behind its chain, where it has one, and of each mix.
/// In memory alone, and forgotten with the source or mix, the show or the server.
/// </summary>
sealed class RecentSounds(Lazy<EngineHost> engine, LiveShow live) : IFollower, IDisposable
{
    private const int Block = AudioFormat.BlockFrames;

    private readonly Lock _taking = new();
    private readonly Dictionary<Point, (TapCursor Cursor, RecentSound Sound)> _kept = [];
    private readonly float[] _left = new float[Block];
    private readonly float[] _right = new float[Block];
    private EnginePlan? _plan;
    private Guid _show;

    /// <summary>What is kept of a source; null: nothing yet.</summary>
    public RecentSound? Find(SourceId source) => At(new SourcePoint(source, Tap.BeforeChain));

    /// <summary>What is kept of what others hear of a source or a mix; null: nothing yet.</summary>
    public RecentSound? FindHeard(Point point) => At(point) ?? (point is SourcePoint source ? Find(source.Id) : null);

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

    private RecentSound? At(Point point)
    {
        lock (_taking)
        {
            return _kept.TryGetValue(point, out var kept) ? kept.Sound : null;
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
        var wanted = Wanted(plan).ToHashSet();
        LetGo(point => !isSame || !wanted.Contains(point));
        foreach (var point in wanted.Where(p => !_kept.ContainsKey(p)))
        {
            var tap = running.Hold(point);
            _kept[point] = (new TapCursor(tap, tap.Ring.End), new RecentSound(tap.Ring.Channels));
        }
    }

    // Behind a chain that is empty there is what goes into it.
    private static IEnumerable<Point> Wanted(EnginePlan plan) =>
    [
        .. plan.Sources.Select(s => new SourcePoint(s.Id, Tap.BeforeChain)),
        .. plan.Sources.Where(s => plan.HasChain(new SourcePoint(s.Id))).Select(s => new SourcePoint(s.Id)),
        .. plan.Mixes.Select(m => new MixPoint(m.Id)),
    ];

    private void LetGo(Func<Point, bool> which)
    {
        foreach (var point in _kept.Keys.Where(which).ToList())
        {
            _kept[point].Cursor.Dispose();
            _kept.Remove(point);
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
