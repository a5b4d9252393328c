using System.Collections.Concurrent;
using Kinetra.Core.Metering;
using Kinetra.Core.Signal;

namespace Kinetra.Core.Engine;

/// <summary>
/// The block loop. One thread calls <see cref="ProcessBlock"/>; any thread posts plans and commands, which take effect at a
/// block's edge, in the order in which they were posted. While it runs it allocates nothing, takes no lock and never waits.
/// The same plans and commands at the same frames give the same samples.
/// </summary>
public sealed class MixEngine
{
    /// <summary>Blocks between two meter frames: 32 ms, 31.25 frames a second.</summary>
    public const int BlocksPerMeterFrame = 6;

    /// <summary>How long the crossfade from one show to another lasts, frames: half a second.</summary>
    public const int CrossfadeFrames = AudioFormat.SampleRate / 2;

    private readonly ConcurrentQueue<Command> _commands = new();
    private readonly Exits _exits = new();
    private readonly Taps _taps = new();
    private readonly LevelOrders _orders = new();
    private EnginePlan? _leaving;
    private int _opened;
    private Command? _head;
    private EnginePlan _plan;
    private EnginePlan _published;
    private EnginePlan _posted;
    private long _frame;
    private int _hopPosition;
    private int _blocksToMeter = BlocksPerMeterFrame;

    /// <summary>An engine at frame 0 that runs the given plan.</summary>
    public MixEngine(EnginePlan plan)
    {
        ArgumentNullException.ThrowIfNull(plan);
        _plan = _published = _posted = plan;
        _taps.Prepare(plan);
        Activate();
    }

    /// <summary>The next frame to be processed; whole blocks.</summary>
    public long Frame => Volatile.Read(ref _frame);

    /// <summary>The plan that runs now.</summary>
    public EnginePlan Plan => Volatile.Read(ref _published);

    /// <summary>What has failed, each node once.</summary>
    public Faults Faults { get; } = new();

    /// <summary>
    /// Whether every way out gives silence. Set from any thread; it waits for nothing and nobody, and is there within two blocks.
    /// </summary>
    public bool Hushed
    {
        get => _exits.HushWanted;
        set => _exits.HushWanted = value;
    }

    /// <summary>Holds a point, so that its ring goes on whatever becomes of it. A point that is not there yet, or no more, is silence.</summary>
    public HeldTap Hold(Point point) => _taps.Hold(point, Volatile.Read(ref _posted));

    /// <summary>Holds a point with 10.9 s of its past, beginning now: on a ring of its own, which whoever else wants as much shares.</summary>
    public HeldTap HoldLong(Point point) => _taps.HoldLong(point, Volatile.Read(ref _posted));

    /// <summary>Holds a point with as much of its past as anybody holds.</summary>
    public HeldTap HoldLongest(Point point) => _taps.HoldLongest(point, Volatile.Read(ref _posted));

    /// <summary>The ring of what a source gives or of what leaves a mix, or of a point that somebody holds; null: there is none.</summary>
    public AudioRing? RingOf(Point point) => _taps.Find(point)?.Ring;

    /// <summary>Makes this the plan, once what it no longer has has faded out (11 ms at most after its turn).</summary>
    /// <param name="plan">Built upon the plan that was posted before it.</param>
    /// <param name="notBefore">Engine frame before which it does not take effect.</param>
    public void Post(EnginePlan plan, long notBefore = 0)
    {
        ArgumentNullException.ThrowIfNull(plan);
        Prepare(plan);
        _commands.Enqueue(new Command.Swap(notBefore, plan));
    }

    /// <summary>Changes levels alone, at the next block: of the plan that was posted last, or that runs.</summary>
    /// <param name="change">What <see cref="EnginePlan.Level"/> or <see cref="EnginePlan.Turn"/> gave.</param>
    /// <param name="notBefore">Engine frame before which it does not take effect.</param>
    public void Post(LevelChange change, long notBefore = 0) => _commands.Enqueue(new Command.Level(notBefore, change));

    /// <summary>Brings sends to other levels at a frame, ahead of it. Any thread.</summary>
    public void Post(LevelOrder order)
    {
        ArgumentNullException.ThrowIfNull(order);
        _orders.Add(order);
    }

    /// <summary>
    /// Makes this the plan by a crossfade of <see cref="CrossfadeFrames"/>: both plans are computed meanwhile, and each mix, each
    /// cable and each point of the computer rises out of the one that it follows. Equal gain: what both have in common keeps its level.
    /// </summary>
    /// <param name="plan">Built upon none; its inlets are its own.</param>
    /// <param name="before">The plan that was posted before it.</param>
    /// <param name="follows">For a mix of the plan, the mix of the plan before that it follows.</param>
    /// <param name="notBefore">Engine frame before which it does not take effect.</param>
    public void PostOpening(EnginePlan plan, EnginePlan before, IReadOnlyDictionary<MixId, MixId> follows, long notBefore = 0)
    {
        ArgumentNullException.ThrowIfNull(plan);
        ArgumentNullException.ThrowIfNull(before);
        ArgumentNullException.ThrowIfNull(follows);
        var mixes = plan.Mixes.Where(m => follows.ContainsKey(m.Id)).Select(m => (m, before.Mixes.FirstOrDefault(b => b.Id == follows[m.Id]))).ToArray();
        var buses = plan.Buses.Select(b => (b, before.Buses.FirstOrDefault(o => o.Point == b.Point))).ToArray();
        Prepare(plan);
        _commands.Enqueue(new Command.Open(notBefore, plan, mixes, buses));
    }

    /// <summary>Plays a source from its beginning. An unknown source: nothing happens.</summary>
    /// <param name="source">Which one.</param>
    /// <param name="notBefore">Engine frame before which it does not take effect.</param>
    public void PostRestart(SourceId source, long notBefore = 0) => _commands.Enqueue(new Command.Restart(notBefore, source));

    /// <summary>Starts over what is measured since a start: integrated loudness, range, highest true peak, clips.</summary>
    /// <param name="notBefore">Engine frame before which it does not take effect.</param>
    public void PostMeterReset(long notBefore = 0) => _commands.Enqueue(new Command.ResetMeters(notBefore));

    /// <summary>Computes one block: <see cref="AudioFormat.BlockFrames"/> frames of every source and every mix.</summary>
    public void ProcessBlock()
    {
        TakeCommands();
        _orders.GoOn(_plan, _frame);
        var hop = HopSplit.At(_hopPosition, AudioFormat.BlockFrames);
        _exits.Begin(_leaving is null ? null : _opened, CrossfadeFrames);
        if (_leaving is { } leaving)
        {
            leaving.Process(new BlockWork(_frame, hop, _exits, IsLeaving: true, Faults));
            foreach (var mix in leaving.Mixes)
            {
                if (_plan.Follower(mix.Id) is null)
                {
                    mix.Fall(_exits);
                }
            }
        }

        _plan.Process(new BlockWork(_frame, hop, _exits, IsLeaving: false, Faults));
        _taps.Take(_plan, _frame, _leaving);
        GoOnOpening();

        _hopPosition = (_hopPosition + AudioFormat.BlockFrames) % Hop.Frames;
        Volatile.Write(ref _frame, _frame + AudioFormat.BlockFrames);
        if (--_blocksToMeter == 0)
        {
            _blocksToMeter = BlocksPerMeterFrame;
            PublishMeters(_plan);
        }
    }

    private void Prepare(EnginePlan plan)
    {
        _taps.Prepare(plan, Volatile.Read(ref _posted), Plan);
        Volatile.Write(ref _posted, plan);
    }

    private void Activate()
    {
        _plan.Activate(_frame);
        _taps.Turn(_plan, _frame, _leaving);
        Volatile.Write(ref _published, _plan);
    }

    private void GoOnOpening()
    {
        if (_leaving is null)
        {
            return;
        }

        _opened += AudioFormat.BlockFrames;
        if (_opened < CrossfadeFrames)
        {
            return;
        }

        _leaving = null;
        foreach (var mix in _plan.Mixes)
        {
            mix.Follows = null;
        }

        foreach (var bus in _plan.Buses)
        {
            bus.Follows = null;
        }

        _taps.Turn(_plan, _frame, null);
    }

    private void TakeCommands()
    {
        while ((_head is not null || _commands.TryDequeue(out _head)) && _head.NotBefore <= _frame)
        {
            switch (_head)
            {
                case Command.Swap swap when !swap.Plan.Arm(_frame):
                    return;
                case Command.Swap swap when !(_plan.Retire(swap.Plan) & _taps.Retire(swap.Plan)):
                    return;
                case Command.Swap swap:
                    _plan = swap.Plan;
                    Activate();
                    break;
                case Command.Open when _leaving is not null:
                    return;
                case Command.Open open:
                    Open(open);
                    break;
                case Command.Level level:
                    level.Change.Apply();
                    break;
                case Command.ResetMeters:
                    ResetMeters();
                    break;
                case Command.Restart restart:
                    _plan.Restart(restart.Source);
                    break;
            }

            _head = null;
        }
    }

    private void Open(Command.Open open)
    {
        _leaving = _plan;
        _opened = 0;
        _plan = open.Plan;
        foreach (var (next, old) in open.Mixes)
        {
            next.Follows = old;
        }

        foreach (var (next, old) in open.Buses)
        {
            next.Follows = old;
        }

        Activate();
    }

    private void ResetMeters()
    {
        foreach (var source in _plan.Sources)
        {
            source.ResetMeters();
        }

        foreach (var mix in _plan.Mixes)
        {
            mix.ResetMeters();
        }
    }

    private void PublishMeters(EnginePlan plan)
    {
        var values = plan.Meters.Begin().AsSpan();
        foreach (var source in plan.Sources)
        {
            source.WriteMeters(values);
            values = values[MeterLayout.SourceValues..];
        }

        for (var m = 0; m < plan.Mixes.Length; m++)
        {
            plan.Mixes[m].WriteMeters(values, plan.Sends[m]);
            values = values[MeterLayout.MixValues..];
        }

        foreach (var sends in plan.Sends)
        {
            foreach (var send in sends)
            {
                values[0] = (float)send.Momentary;
                values = values[1..];
            }
        }

        foreach (var chain in plan.Chains)
        {
            foreach (var step in chain.Steps)
            {
                values[(int)ProcessorMeter.Reduction] = (float)step.Slot.Reduction;
                values[(int)ProcessorMeter.Latency] = step.Slot.Latency;
                values[(int)ProcessorMeter.Gate] = (float)step.Slot.Gate;
                values = values[MeterLayout.ProcessorValues..];
            }
        }

        foreach (var bus in plan.Buses)
        {
            bus.TakePeaks(values[..bus.Channels]);
            values = values[bus.Channels..];
        }

        plan.Meters.Publish(_frame);
    }

    private abstract record Command(long NotBefore)
    {
        public sealed record Swap(long NotBefore, EnginePlan Plan) : Command(NotBefore);

        public sealed record Open(
            long NotBefore, EnginePlan Plan, (MixNode Next, MixNode? Old)[] Mixes, (BusNode Next, BusNode? Old)[] Buses) : Command(NotBefore);

        public sealed record Level(long NotBefore, LevelChange Change) : Command(NotBefore);

        public sealed record ResetMeters(long NotBefore) : Command(NotBefore);

        public sealed record Restart(long NotBefore, SourceId Source) : Command(NotBefore);
    }
}
