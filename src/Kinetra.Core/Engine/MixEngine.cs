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

    private readonly ConcurrentQueue<Command> _commands = new();
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

    /// <summary>Silences every mix, or lets them sound again.</summary>
    /// <param name="on">True: silence.</param>
    /// <param name="notBefore">Engine frame before which it does not take effect.</param>
    public void PostHush(bool on, long notBefore = 0) => _commands.Enqueue(new Command.Hush(notBefore, on));

    /// <summary>Plays a source from its beginning. An unknown source: nothing happens.</summary>
    /// <param name="source">Which one.</param>
    /// <param name="notBefore">Engine frame before which it does not take effect.</param>
    public void PostRestart(SourceId source, long notBefore = 0) => _commands.Enqueue(new Command.Restart(notBefore, source));

    /// <summary>Computes one block: <see cref="AudioFormat.BlockFrames"/> frames of every source and every mix.</summary>
    public void ProcessBlock()
    {
        TakeCommands();
        var plan = _plan;

        var hop = HopSplit.At(_hopPosition, AudioFormat.BlockFrames);
        foreach (var source in plan.Sources)
        {
            source.Process(_frame, hop);
        }

        for (var m = 0; m < plan.Mixes.Length; m++)
        {
            plan.Mixes[m].Process(plan.Sends[m], hop);
        }

        _hopPosition = (_hopPosition + AudioFormat.BlockFrames) % Hop.Frames;
        Volatile.Write(ref _frame, _frame + AudioFormat.BlockFrames);
        if (--_blocksToMeter == 0)
        {
            _blocksToMeter = BlocksPerMeterFrame;
            PublishMeters(plan);
        }
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
                case Command.Hush hush:
                    _hushed = hush.On;
                    foreach (var mix in _plan.Mixes)
                    {
                        mix.SetHush(hush.On);
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

        plan.Meters.Publish(_frame);
    }

    private abstract record Command(long NotBefore)
    {
        public sealed record Swap(long NotBefore, EnginePlan Plan) : Command(NotBefore);

        public sealed record Hush(long NotBefore, bool On) : Command(NotBefore);

        public sealed record Restart(long NotBefore, SourceId Source) : Command(NotBefore);
    }
}
