using System.Collections.Concurrent;
using Kinetra.Core.Metering;
using Kinetra.Core.Rigs;

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
    private readonly float[] _rise = new float[AudioFormat.BlockFrames];
    private EnginePlan? _leaving;
    private int _crossfaded;
    private Command? _head;
    private EnginePlan _plan;
    private EnginePlan _published;
    private long _frame;
    private int _hopPosition;
    private bool _hushed;
    private int _blocksToMeter = BlocksPerMeterFrame;

    /// <summary>An engine at frame 0 that runs the given plan.</summary>
    public MixEngine(EnginePlan plan)
    {
        ArgumentNullException.ThrowIfNull(plan);
        _plan = _published = plan;
        plan.Activate(0, hushed: false);
    }

    /// <summary>The next frame to be processed; whole blocks.</summary>
    public long Frame => Volatile.Read(ref _frame);

    /// <summary>The plan that runs now.</summary>
    public EnginePlan Plan => Volatile.Read(ref _published);

    /// <summary>Makes this the plan, once what it no longer has has faded out (11 ms at most after its turn).</summary>
    /// <param name="plan">Built upon the plan that was posted before it.</param>
    /// <param name="notBefore">Engine frame before which it does not take effect.</param>
    public void Post(EnginePlan plan, long notBefore = 0) => _commands.Enqueue(new Command.Swap(notBefore, plan));

    /// <summary>
    /// Makes this the plan by a crossfade of <see cref="CrossfadeFrames"/>: both plans are computed meanwhile, and each mix
    /// rises out of the one that it follows. Equal gain: what both have in common keeps its level.
    /// </summary>
    /// <param name="plan">Built upon none; its feeds are its own.</param>
    /// <param name="before">The plan that was posted before it.</param>
    /// <param name="follows">For a mix of the plan, the mix of the plan before that it follows.</param>
    /// <param name="notBefore">Engine frame before which it does not take effect.</param>
    public void PostOpening(EnginePlan plan, EnginePlan before, IReadOnlyDictionary<MixId, MixId> follows, long notBefore = 0)
    {
        ArgumentNullException.ThrowIfNull(plan);
        ArgumentNullException.ThrowIfNull(before);
        ArgumentNullException.ThrowIfNull(follows);
        var pairs = plan.Mixes.Where(m => follows.ContainsKey(m.Id)).Select(m => (m, before.Find(follows[m.Id]))).ToArray();
        _commands.Enqueue(new Command.Open(notBefore, plan, pairs));
    }

    /// <summary>Silences every mix, or lets them sound again.</summary>
    /// <param name="on">True: silence.</param>
    /// <param name="notBefore">Engine frame before which it does not take effect.</param>
    public void PostHush(bool on, long notBefore = 0) => _commands.Enqueue(new Command.Hush(notBefore, on));

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
        var plan = _plan;

        var hop = HopSplit.At(_hopPosition, AudioFormat.BlockFrames);
        plan.Process(_frame, hop);
        if (_leaving is not null)
        {
            Crossfade(_leaving, hop);
        }

        plan.Publish(hop);

        _hopPosition = (_hopPosition + AudioFormat.BlockFrames) % Hop.Frames;
        Volatile.Write(ref _frame, _frame + AudioFormat.BlockFrames);
        if (--_blocksToMeter == 0)
        {
            _blocksToMeter = BlocksPerMeterFrame;
            PublishMeters(plan);
        }
    }

    private void Crossfade(EnginePlan leaving, HopSplit hop)
    {
        for (var n = 0; n < _rise.Length; n++)
        {
            var t = Math.Min(1, (_crossfaded + n + 1f) / CrossfadeFrames);
            _rise[n] = t * t * (3 - (2 * t));
        }

        leaving.Process(_frame, hop);
        foreach (var mix in _plan.Mixes)
        {
            mix.RiseOutOf(mix.Follows, _rise);
        }

        foreach (var old in leaving.Mixes)
        {
            old.FallInto(Successor(old), _rise);
        }

        leaving.Publish(hop);

        _crossfaded += AudioFormat.BlockFrames;
        if (_crossfaded >= CrossfadeFrames)
        {
            _leaving = null;
            foreach (var mix in _plan.Mixes)
            {
                mix.Follows = null;
            }
        }
    }

    private MixNode? Successor(MixNode old)
    {
        foreach (var mix in _plan.Mixes)
        {
            if (mix.Follows == old)
            {
                return mix;
            }
        }

        return null;
    }

    private void TakeCommands()
    {
        while ((_head is not null || _commands.TryDequeue(out _head)) && _head.NotBefore <= _frame)
        {
            switch (_head)
            {
                case Command.Swap swap when !_plan.Retire(swap.Plan):
                    return;
                case Command.Swap swap:
                    _plan = swap.Plan;
                    _plan.Activate(_frame, _hushed);
                    Volatile.Write(ref _published, _plan);
                    break;
                case Command.Open when _leaving is not null:
                    return;
                case Command.Open open:
                    _leaving = _plan;
                    _crossfaded = 0;
                    _plan = open.Plan;
                    foreach (var (next, old) in open.Follows)
                    {
                        next.Follows = old;
                    }

                    _plan.Activate(_frame, _hushed);
                    Volatile.Write(ref _published, _plan);
                    break;
                case Command.Hush hush:
                    _hushed = hush.On;
                    SetHush(_plan, hush.On);
                    if (_leaving is not null)
                    {
                        SetHush(_leaving, hush.On);
                    }

                    break;
                case Command.ResetMeters:
                    foreach (var source in _plan.Sources)
                    {
                        source.ResetMeters();
                    }

                    foreach (var mix in _plan.Mixes)
                    {
                        mix.ResetMeters();
                    }

                    break;
                case Command.Restart restart:
                    foreach (var source in _plan.Sources)
                    {
                        if (source.Id == restart.Source)
                        {
                            source.Feed.Restart();
                        }
                    }

                    break;
            }

            _head = null;
        }
    }

    private static void SetHush(EnginePlan plan, bool on)
    {
        foreach (var mix in plan.Mixes)
        {
            mix.SetHush(on);
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

        foreach (var mix in plan.Mixes)
        {
            mix.WriteMeters(values);
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
                values[0] = (float)step.Slot.Reduction;
                values[1] = step.Slot.Latency;
                values[2] = (float)step.Slot.Gate;
                values = values[MeterLayout.ProcessorValues..];
            }
        }

        plan.Meters.Publish(_frame);
    }

    private abstract record Command(long NotBefore)
    {
        public sealed record Swap(long NotBefore, EnginePlan Plan) : Command(NotBefore);

        public sealed record Open(long NotBefore, EnginePlan Plan, (MixNode Next, MixNode? Old)[] Follows) : Command(NotBefore);

        public sealed record Hush(long NotBefore, bool On) : Command(NotBefore);

        public sealed record ResetMeters(long NotBefore) : Command(NotBefore);

        public sealed record Restart(long NotBefore, SourceId Source) : Command(NotBefore);
    }
}
