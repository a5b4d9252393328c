using Kinetra.Core.Dsp;
using Kinetra.Core.Signal;

namespace Kinetra.Core.Engine;

/// <summary>
/// A point that somebody records, hears or sends on. The engine's own: it outlives plans. Where the point is not there it is silence, and
/// when it comes back it goes on, on the same ring. Read from any thread; written by the engine's.
/// </summary>
public sealed class Tapped
{
    private const int MostShifts = 64;

    private readonly Crossing<Outlet?> _outlet = new(null);
    private readonly float[] _left = new float[AudioFormat.BlockFrames];
    private readonly float[] _right = new float[AudioFormat.BlockFrames];
    private readonly float[] _before = new float[AudioFormat.BlockFrames];
    private readonly (long Frame, int Latency)[] _latencies = new (long, int)[MostShifts];
    private (Outlet Outlet, int Latency)? _asked;
    private int _shifts;
    private int _holders;

    internal Tapped(Point point, int channels, bool isLong = false) =>
        (Point, Ring) = (point, new AudioRing(channels, isLong ? AudioRing.LongCapacity : AudioRing.Capacity));

    /// <summary>Which point it is.</summary>
    public Point Point { get; }

    /// <summary>Its sound.</summary>
    public AudioRing Ring { get; }

    /// <summary>By how many frames look-ahead made the point late at an engine frame.</summary>
    public int LatencyAt(long frame)
    {
        var shifts = Volatile.Read(ref _shifts);
        for (var i = shifts - 1; i >= Math.Max(0, shifts - MostShifts); i--)
        {
            if (_latencies[i % MostShifts].Frame <= frame)
            {
                return _latencies[i % MostShifts].Latency;
            }
        }

        return shifts == 0 ? 0 : _latencies[Math.Max(0, shifts - MostShifts) % MostShifts].Latency;
    }

    /// <summary>The first change to another latency than this one from a frame on, and the latency then; null: there is none yet.</summary>
    public (long Frame, int Latency)? ShiftAfter(long frame, int latency)
    {
        var shifts = Volatile.Read(ref _shifts);
        for (var i = Math.Max(0, shifts - MostShifts); i < shifts; i++)
        {
            var shift = _latencies[i % MostShifts];
            var isPast = i + 1 < shifts && _latencies[(i + 1) % MostShifts].Frame <= frame;
            if (shift.Latency != latency && !isPast)
            {
                return (Math.Max(frame, shift.Frame), shift.Latency);
            }
        }

        return null;
    }

    internal bool IsHeld => Volatile.Read(ref _holders) > 0;

    /// <summary>True while it waits for what was asked for.</summary>
    internal bool IsAsked => _asked is not null;

    internal void Hold() => Interlocked.Increment(ref _holders);

    internal void Release() => Interlocked.Decrement(ref _holders);

    /// <summary>Engine thread: from now on it is this outlet; null: silence. Faded, but for the very first sound.</summary>
    internal void Turn(Outlet? outlet, int latency, long frame)
    {
        // What is given on request is there a block later.
        _asked = outlet is { IsGiven: false } ? (outlet, latency) : null;
        if (_asked is not null)
        {
            outlet!.Want();
            return;
        }

        _outlet.Set(outlet);
        if (outlet is null)
        {
            return;
        }

        if (Ring.Beginning < 0)
        {
            _outlet.Arrive();
            Ring.Begin(frame);
        }

        if (_shifts == 0 || _latencies[(_shifts - 1) % MostShifts].Latency != latency)
        {
            _latencies[_shifts % MostShifts] = (frame, latency);
            Volatile.Write(ref _shifts, _shifts + 1);
        }
    }

    /// <summary>Engine thread: true once an outlet that goes is no longer heard here.</summary>
    internal bool HasLeft(Outlet? stays)
    {
        if (_outlet.Now is null || _outlet.Now == stays)
        {
            return !_outlet.IsCrossing || _outlet.Old is null || _outlet.Old == stays;
        }

        _outlet.Set(null);
        return false;
    }

    /// <summary>Engine thread: takes the block that was computed.</summary>
    internal void Take(long frame)
    {
        if (_asked is { } asked)
        {
            Turn(asked.Outlet, asked.Latency, frame);
        }

        if (Ring.Beginning < 0)
        {
            return;
        }

        if (_outlet is { IsSettled: true, Now: { IsGiven: true } outlet } && outlet.Channels == Ring.Channels)
        {
            Ring.Write(outlet.Now(0), outlet.Now(outlet.Channels - 1));
            outlet.Want();
            return;
        }

        _outlet.Begin();
        Take(_outlet.Now, 0, _left);
        if (Ring.Channels == 2)
        {
            Take(_outlet.Now, 1, _right);
        }

        if (_outlet.IsCrossing)
        {
            Take(_outlet.Old, 0, _before);
            _outlet.Blend(_before, _left);
            if (Ring.Channels == 2)
            {
                Take(_outlet.Old, 1, _before);
                _outlet.Blend(_before, _right);
            }
        }

        _outlet.Now?.Want();
        _outlet.Old?.Want();
        _outlet.End(AudioFormat.BlockFrames);
        Ring.Write(_left, _right);
    }

    // One channel goes to both sides; of two, a ring of one has the mean.
    private void Take(Outlet? outlet, int channel, Span<float> block)
    {
        if (outlet is not { IsGiven: true })
        {
            block.Clear();
            return;
        }

        outlet.Now(Math.Min(channel, outlet.Channels - 1)).CopyTo(block);
        if (Ring.Channels == 1 && outlet.Channels > 1)
        {
            Mixdown.Add(block, outlet.Now(1), 1);
            Mixdown.Scale(block, 0.5f);
        }
    }
}

/// <summary>A point that is held: it stays on its ring until this is disposed of, whatever becomes of the show.</summary>
public sealed class HeldTap : IDisposable
{
    private int _released;

    internal HeldTap(Tapped tapped)
    {
        Tapped = tapped;
        tapped.Hold();
    }

    /// <summary>The point.</summary>
    public Tapped Tapped { get; }

    /// <summary>Its sound.</summary>
    public AudioRing Ring => Tapped.Ring;

    /// <inheritdoc/>
    public void Dispose()
    {
        if (Interlocked.Exchange(ref _released, 1) == 0)
        {
            Tapped.Release();
        }
    }
}

/// <summary>
/// All points of an engine that are tapped: what sources give and what leaves the mixes always, so that what somebody asks for has begun
/// already, and others on request. The list is made anew off the engine's thread; that only walks it.
/// </summary>
sealed class Taps
{
    private readonly Lock _changing = new();
    private volatile Tapped[] _all = [];

    /// <summary>Any thread: holds a point.</summary>
    public HeldTap Hold(Point point, EnginePlan plan)
    {
        lock (_changing)
        {
            // What nobody looks at any more within a chain is no longer taken: its ring has ended.
            if (Array.Exists(_all, IsIdle))
            {
                _all = [.. _all.Where(t => !IsIdle(t))];
            }

            return new HeldTap(Ensure(point, plan));
        }
    }

    /// <summary>Any thread: holds a point with more of its past, from now on.</summary>
    public HeldTap HoldLong(Point point, EnginePlan plan)
    {
        lock (_changing)
        {
            _all = [.. _all.Where(t => !IsIdle(t))];
            if (FindLong(point) is { } found)
            {
                return new HeldTap(found);
            }

            var held = new HeldTap(new Tapped(point, plan.ChannelsOf(point) == 1 ? 1 : 2, isLong: true));
            _all = [.. _all, held.Tapped];
            return held;
        }
    }

    /// <summary>Any thread: holds a point with as much of its past as somebody holds.</summary>
    public HeldTap HoldLongest(Point point, EnginePlan plan)
    {
        lock (_changing)
        {
            return FindLong(point) is { IsHeld: true } found ? new HeldTap(found) : Hold(point, plan);
        }
    }

    /// <summary>Any thread: the point's tap, or null.</summary>
    public Tapped? Find(Point point)
    {
        foreach (var tapped in _all)
        {
            if (tapped.Point == point && !tapped.Ring.IsLong)
            {
                return tapped;
            }
        }

        return null;
    }

    /// <summary>Any thread, before a plan is posted: its points have taps; those that nobody holds, and none of these plans has, are forgotten.</summary>
    public void Prepare(EnginePlan next, params ReadOnlySpan<EnginePlan> others)
    {
        lock (_changing)
        {
            var kept = new List<Tapped>(_all.Length);
            foreach (var tapped in _all)
            {
                var isThere = next.OutletAt(tapped.Point) is not null;
                foreach (var other in others)
                {
                    isThere |= other.OutletAt(tapped.Point) is not null;
                }

                if ((isThere && !IsIdle(tapped)) || tapped.IsHeld)
                {
                    kept.Add(tapped);
                }
            }

            if (kept.Count < _all.Length)
            {
                _all = [.. kept];
            }

            foreach (var source in next.Sources.Concat(next.Probes))
            {
                Ensure(new SourcePoint(source.Id), next);
            }

            foreach (var mix in next.Mixes)
            {
                Ensure(new MixPoint(mix.Id), next);
            }
        }
    }

    /// <summary>Engine thread: the points are given by this plan now, or by what follows one in it.</summary>
    public void Turn(EnginePlan plan, long frame, EnginePlan? leaving)
    {
        foreach (var tapped in _all)
        {
            Turn(tapped, plan, frame, leaving);
        }
    }

    /// <summary>Engine thread: lets go of what the next plan does not have. True once nothing of that is heard.</summary>
    public bool Retire(EnginePlan next)
    {
        var left = true;
        foreach (var tapped in _all)
        {
            left &= tapped.HasLeft(next.OutletAt(tapped.Point));
        }

        return left;
    }

    /// <summary>Engine thread: takes the block of every point.</summary>
    public void Take(EnginePlan plan, long frame, EnginePlan? leaving)
    {
        foreach (var tapped in _all)
        {
            if (IsIdle(tapped))
            {
                continue;
            }

            // One that was asked for just now.
            if (tapped is { Ring.Beginning: < 0, IsAsked: false })
            {
                Turn(tapped, plan, frame, leaving);
            }

            tapped.Take(frame);
        }
    }

    // A stage of a chain is taken for those who look at it, more of the past for those who want it, and for nobody else.
    private static bool IsIdle(Tapped tapped) => (tapped.Point is StagePoint || tapped.Ring.IsLong) && !tapped.IsHeld;

    private Tapped? FindLong(Point point) => Array.Find(_all, t => t.Point == point && t.Ring.IsLong);

    private static void Turn(Tapped tapped, EnginePlan plan, long frame, EnginePlan? leaving)
    {
        if (plan.OutletAt(tapped.Point) is { } outlet)
        {
            tapped.Turn(outlet, plan.LatencyOf(tapped.Point), frame);
        }
        else if (leaving is not null && tapped.Point is MixPoint mix)
        {
            // Whoever hears a mix of the show before hears what follows it; where nothing does, how it falls silent.
            tapped.Turn(plan.Follower(mix.Id)?.Given ?? leaving.OutletAt(mix), leaving.LatencyOf(mix), frame);
        }
        else
        {
            tapped.Turn(null, 0, frame);
        }
    }

    private Tapped Ensure(Point point, EnginePlan plan)
    {
        if (Find(point) is { } found)
        {
            return found;
        }

        var channels = plan.ChannelsOf(point);
        var made = new Tapped(point, channels == 1 ? 1 : 2);
        _all = [.. _all, made];
        return made;
    }
}
