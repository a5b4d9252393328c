using System.Collections.Immutable;
using System.Diagnostics;
using Kinetra.Core.Findings;
using Kinetra.Core.Gear;
using Kinetra.Core.Promises;
using Kinetra.Core.Rigs;
using Kinetra.Core.Signal;
using Kinetra.Server.Features.Findings;
using Kinetra.Server.Hosting;
using Kinetra.Server.Live;

namespace Kinetra.Server.Features.Promises;

/// <summary>Hears when promises stand otherwise.</summary>
public interface IPromiseAudience
{
    /// <summary>At least one is kept, broken or not known that was not before.</summary>
    void PromisesChanged();
}

/// <summary>How the live show's promises stand.</summary>
/// <param name="Looked">The show and the computer.</param>
/// <param name="Standings">In the show's order.</param>
public sealed record PromisesNow(Looked Looked, ImmutableArray<Standing> Standings);

/// <summary>
/// Watches the live show's promises: in the routing with every change, in the sound always, one listener after the other. What takes long is done beside the
/// engine and whoever else follows it.
/// </summary>
/// <param name="engine">The engine, which has its followers before they have it.</param>
/// <param name="looking">What is found of the show it plays.</param>
/// <param name="history">Is told how promises stand.</param>
/// <param name="audience">Is told when they stand otherwise.</param>
/// <param name="options">Which clock.</param>
/// <param name="time">The time of day.</param>
/// <param name="log">Where what nobody foresaw is said.</param>
public sealed partial class PromiseWatch(
    Lazy<EngineHost> engine, Lazy<FindingsNow> looking, PromiseHistory history, IPromiseAudience audience, ServerOptions options, TimeProvider time, ILogger<PromiseWatch> log) : IFollower, IDisposable
{
    // One look every two seconds at most, and no more than a twelfth of a processor.
    private const long TurnFrames = 2 * AudioFormat.SampleRate;
    private const double Rest = 11;
    private const long Seldom = 8 * TurnFrames;

    private readonly Lock _taking = new();
    private readonly HeardPoints _points = new();
    private readonly LoudnessLately _loudness = new();
    private readonly Hearing _hearing = new();
    private readonly Stack<float[]> _spare = [];
    private readonly Turns<LookAt> _turns = new();
    private PromisesNow? _told;
    private Routed? _routing;
    private Wired? _wired;
    private ImmutableHashSet<Point> _wanted = [];
    private ImmutableHashSet<Point> _deaf = [];
    private Heard _heard = Heard.Nothing;
    private long _since;
    private long _due;
    private long _judged;
    private int _working;
    private bool _hasFailed;
    private volatile bool _isDisposed;

    /// <summary>How they stand now: by the routing as it is this moment, by the sound as far as it was listened to since.</summary>
    public PromisesNow Look()
    {
        var looked = Findings.Look();
        return Standing(looked, Volatile.Read(ref _heard), Volatile.Read(ref _wired));
    }

    /// <inheritdoc/>
    public void CatchUp()
    {
        if (!Host.IsRunning || _isDisposed)
        {
            return;
        }

        lock (_taking)
        {
            _points.CatchUp(Host.Engine);
            if (Volatile.Read(ref _told) is { } told && !told.Standings.IsEmpty)
            {
                _loudness.Look(Host.Engine.Plan.Meters, told.Looked.State.Show.Rig, Host.Engine.Frame);
            }
        }

        if (Interlocked.Exchange(ref _working, 1) != 0)
        {
            return;
        }

        if (options.Clock == ClockKind.Stepped)
        {
            Work();
        }
        else
        {
            Task.Run(Work);
        }
    }

    /// <inheritdoc/>
    public void Dispose()
    {
        _isDisposed = true;
        lock (_taking)
        {
            _points.Dispose();
        }
    }

    private EngineHost Host => engine.Value;

    private FindingsNow Findings => looking.Value;

    private void Work()
    {
        try
        {
            var looked = Findings.Look();
            Follow(looked);
            var isNew = !looked.Situation.Routed.Wiring.Rig.Promises.IsEmpty && TakeTurn(looked);

            // Loudness changes all the time, and is judged once a second.
            if (isNew || !ReferenceEquals(_told?.Looked.Situation, looked.Situation) || Host.Engine.Frame >= _judged + AudioFormat.SampleRate || Host.Engine.Frame < _judged)
            {
                _judged = Host.Engine.Frame;
                Tell(looked);
            }
        }
        catch (Exception e) when (e is not OutOfMemoryException)
        {
            // Said once; tried again with the next block.
            if (!_hasFailed && !_isDisposed)
            {
                _hasFailed = true;
                LogFailed(log, e);
            }
        }
        finally
        {
            Volatile.Write(ref _working, 0);
        }
    }

    // What sounds is another from now on: what was heard before says nothing about it.
    private void Follow(Looked looked)
    {
        var (rig, gear) = (looked.Situation.Routed.Wiring.Rig, looked.Situation.Routed.Wiring.Gear);
        var wired = new Wired(looked.State.Show.Id, rig.Sources, rig.Mixes, rig.Cables, gear, Host.Engine.Hushed);
        if (wired.IsSameAs(_wired))
        {
            if (_told?.Looked.Situation.Routed.Wiring.Rig.Promises != rig.Promises)
            {
                Listen(looked.Situation);
            }

            return;
        }

        lock (_taking)
        {
            if (_wired?.Show != wired.Show)
            {
                _loudness.Forget();
            }

            _since = Host.Engine.Frame;
        }

        _turns.Forget();
        Volatile.Write(ref _heard, Heard.Nothing);
        Volatile.Write(ref _wired, wired);
        Listen(looked.Situation);
    }

    private void Listen(Situation s)
    {
        var wiring = s.Routed.Wiring;
        var promises = wiring.Rig.Promises;
        var listeners = promises.SelectMany(p => ByHearing.ListenersOf(p, s)).ToHashSet();
        _deaf = [.. listeners.Where(p => wiring.ChannelsOf(p) > 2)];
        _wanted = [.. listeners.Where(p => wiring.ChannelsOf(p) is 1 or 2)];
        var steps = promises.OfType<InStep>().Where(p => wiring.ChannelsOf(p.Listener) is 1 or 2).SelectMany(p => new[] { p.Listener, new SourcePoint(p.Source, Tap.Raw) });
        var all = _wanted.Union(steps);
        if (!all.IsEmpty)
        {
            all = all.Union(wiring.Rig.Sources.Select(x => new SourcePoint(x.Id)));
        }

        lock (_taking)
        {
            if (!_isDisposed)
            {
                _points.Hold(Host.Engine, all);
            }
        }
    }

    // True where something was listened to.
    private bool TakeTurn(Looked looked)
    {
        // Who is hushed on purpose hears nothing, and that breaks no promise.
        if (_wired!.Hushed || (_points.End < _due && _due - _points.End < 20 * TurnFrames))
        {
            return false;
        }

        var s = looked.Situation;
        var promises = s.Routed.Wiring.Rig.Promises;
        var carriers = promises.SelectMany(p => ByHearing.CarriersOf(p, s, _heard)).Where(p => !_wanted.Contains(p)).Distinct().ToList();
        var steps = promises.OfType<InStep>().ToList();

        // What carries others to a listener, and how late something is, is looked at less often than listeners.
        var often = _wanted.OrderBy(p => p.ToString(), StringComparer.Ordinal).Select(p => new LookAt(p));
        var seldom = carriers.OrderBy(p => p.ToString(), StringComparer.Ordinal).Select(p => new LookAt(p)).Concat(steps.Select(p => new LookAt(p.Listener, p)));
        var began = Stopwatch.GetTimestamp();
        foreach (var look in _turns.Order(often, seldom, _since, Seldom))
        {
            if (look.Step is { } step ? Time(step) : ListenAt(look.At, s.Routed.Wiring.Rig))
            {
                var took = options.Clock == ClockKind.Stepped ? 0 : Stopwatch.GetElapsedTime(began).TotalSeconds * Rest * AudioFormat.SampleRate;
                _turns.Took(look, _points.End);
                _due = _points.End + Math.Max(TurnFrames, (long)took);
                return true;
            }
        }

        return false;
    }

    // At a point; with a promise, how late what it is about comes there.
    private sealed record LookAt(Point At, InStep? Step = null);

    private bool ListenAt(Point point, Rig rig)
    {
        var (since, heard, references, listener, end) = (_since, _heard, ImmutableArray.CreateBuilder<Reference>(), (float[][]?)null, 0L);
        lock (_taking)
        {
            end = _points.End;
            listener = _points.Newest(point, since, Spare);
            for (var i = 0; listener is not null && i < rig.Sources.Length; i++)
            {
                // A source by itself is asked what it carries of others.
                var of = new SourcePoint(rig.Sources[i].Id);
                foreach (var channel in of == point ? [] : Channels(_points.Newest(of, since, Spare)))
                {
                    references.Add(new Reference(i, channel));
                }
            }
        }

        if (listener is not null)
        {
            _hearing.Know(references.ToImmutable());
            var found = _hearing.Listen(listener);
            var look = new HeardAt(found.ToImmutableDictionary(h => rig.Sources[h.Source].Id, h => h with { Frame = end }));
            Put(heard with { Points = heard.Points.SetItem(point, heard.Points.TryGetValue(point, out var before) ? before.And(look) : look) }, since);
            GiveBack(references, listener);
        }

        return listener is not null;
    }

    private bool Time(InStep promise)
    {
        var (since, heard) = (_since, _heard);
        float[][]? source, listener;
        lock (_taking)
        {
            source = _points.Newest(new SourcePoint(promise.Source, Tap.Raw), since, Spare);
            listener = source is null ? null : _points.Newest(promise.Listener, since, Spare);
        }

        if (source is null || listener is null)
        {
            return false;
        }

        var references = Channels(source).Select(c => new Reference(0, c)).ToImmutableArray();
        _hearing.Know(references);
        var found = _hearing.Listen(listener).FirstOrDefault();
        if (found is { Arrivals: [var first, ..] })
        {
            Put(heard with { Delays = heard.Delays.SetItem(promise.Id, first.DelayMilliseconds) }, since);
        }

        GiveBack(references, listener);
        return true;
    }

    private void Put(Heard heard, long since)
    {
        // What has changed meanwhile is not what was heard.
        if (since == _since)
        {
            Volatile.Write(ref _heard, heard);
        }
    }

    // Of two channels that are alike, one.
    private static float[][] Channels(float[][]? channels) => channels switch
    {
        null => [],
        [var left, var right] when left.AsSpan().SequenceEqual(right) => [left],
        _ => channels,
    };

    private float[] Spare() => _spare.TryPop(out var spare) ? spare : new float[HeardSound.Kept];

    private void GiveBack(IEnumerable<Reference> references, float[][] listener)
    {
        _hearing.Know([]);
        foreach (var samples in references.Select(r => r.Samples).Concat(listener))
        {
            _spare.Push(samples);
        }
    }

    private void Tell(Looked looked)
    {
        Heard heard;
        lock (_taking)
        {
            heard = _heard with { Mixes = _loudness.Mixes(), Balances = _loudness.Balances(), Deaf = _deaf };
        }

        Volatile.Write(ref _heard, heard);
        var (before, now) = (_told, Standing(looked, heard, _wired));
        Volatile.Write(ref _told, now);
        history.Follow(now, time.GetUtcNow());
        if (before is null || before.Looked.State.Show.Id != now.Looked.State.Show.Id || !before.Standings.Select(States).SequenceEqual(now.Standings.Select(States)))
        {
            audience.PromisesChanged();
        }

        static (PromiseId, PromiseState, PromiseState, PromiseState) States(Standing s) => (s.Promise.Id, s.State, s.Routing.State, s.Sound.State);
    }

    private PromisesNow Standing(Looked looked, Heard heard, Wired? wired)
    {
        var (s, rig) = (looked.Situation, looked.Situation.Routed.Wiring.Rig);
        var isHeard = wired is not null && new Wired(looked.State.Show.Id, rig.Sources, rig.Mixes, rig.Cables, s.Routed.Wiring.Gear, Host.Engine.Hushed).IsSameAs(wired);
        var known = Volatile.Read(ref _routing);
        if (known is null || !ReferenceEquals(known.Situation, s))
        {
            known = new Routed(s, [.. rig.Promises.Select(p => ByRouting.Of(p, s))]);
            Volatile.Write(ref _routing, known);
        }

        return new(looked, [.. rig.Promises.Select((p, i) => new Standing(p, known.Verdicts[i], ByHearing.Of(p, s, isHeard ? heard : Heard.Nothing)))]);
    }

    [LoggerMessage(LogLevel.Error, "Watching promises failed; it is tried again.")]
    private static partial void LogFailed(ILogger log, Exception cause);

    private sealed record Routed(Situation Situation, ImmutableArray<Verdict> Verdicts);

    private sealed record Wired(Guid Show, ImmutableArray<Source> Sources, ImmutableArray<Mix> Mixes, ImmutableArray<Cable> Cables, GearState Gear, bool Hushed)
    {
        public bool IsSameAs(Wired? other) => other is not null && Show == other.Show && Sources == other.Sources && Mixes == other.Mixes && Cables == other.Cables && Hushed == other.Hushed && ReferenceEquals(Gear, other.Gear);
    }
}
