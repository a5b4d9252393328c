using System.Diagnostics;
using System.Runtime.InteropServices;
using Kinetra.Core.Engine;
using Kinetra.Core.Signal;
using Kinetra.Server.Hosting;

namespace Kinetra.Server.Live;

/// <summary>Somebody who takes sound out of the engine's rings and must not miss any.</summary>
public interface IFollower
{
    /// <summary>Takes all that is there now. Any thread.</summary>
    void CatchUp();
}

/// <summary>Gives the engine its time: a thread of its own with absolute deadlines, or steps on request.</summary>
public sealed partial class EngineHost(ServerOptions options, IEnumerable<IFollower> followers, EngineFaults faults, ILogger<EngineHost> log) : IDisposable
{
    // A step is done in pieces, so that followers keep up with a ring of 2.7 s.
    private const int BlocksPerPiece = 96;

    // Seconds that a block lasts.
    private const double Period = (double)AudioFormat.BlockFrames / AudioFormat.SampleRate;

    // Readers stand four blocks behind the newest; a block that comes more than three periods after its time leaves them short.
    private const int SlackBlocks = 3;
    private static readonly TimeSpan GivesUpCatchingUp = TimeSpan.FromMilliseconds(500);

    // struct sched_param: the priority, 1 … 99.
    private static readonly int LowRealTime = 10;

    private readonly Lock _stepping = new();

    // Beside the rest of the start.
    private readonly Task _rehearsal = options.Clock == ClockKind.Real ? Task.Run(Rehearsal.Run) : Task.CompletedTask;
    private MixEngine? _engine;
    private Thread? _thread;
    private volatile bool _stopping;
    private long _lateBlocks;
    private long _started;
    private long _skippedBlocks;
    private double _load;

    /// <summary>The engine.</summary>
    /// <exception cref="InvalidOperationException">It has not been started yet.</exception>
    public MixEngine Engine => _engine ?? throw new InvalidOperationException("The engine has not been started yet.");

    /// <summary>True once the engine runs.</summary>
    public bool IsRunning => _engine is not null;

    /// <summary>Blocks that came so late that a reader could run dry.</summary>
    public long LateBlocks => Interlocked.Read(ref _lateBlocks);

    /// <summary>Computing time as a share of real time, averaged over about a second: 0 … 1 and above.</summary>
    public double Load => Volatile.Read(ref _load);

    /// <summary>The engine's time now, in frames and parts of one: what arrives at this moment is stamped with it. 0 before the start.</summary>
    public double Now => options.Clock == ClockKind.Stepped || Volatile.Read(ref _started) == 0
        ? _engine?.Frame ?? 0
        : (Stopwatch.GetElapsedTime(Volatile.Read(ref _started)).TotalSeconds * AudioFormat.SampleRate)
            - (Volatile.Read(ref _skippedBlocks) * (double)AudioFormat.BlockFrames);

    /// <summary>Starts with a plan.</summary>
    /// <param name="plan">The plan.</param>
    /// <param name="hushed">True: every way out is silent until somebody wants it otherwise.</param>
    public void Start(EnginePlan plan, bool hushed)
    {
        _engine = faults.Engine = new MixEngine(plan) { Hushed = hushed };
        if (options.Clock == ClockKind.Real)
        {
            _rehearsal.Wait();
            _thread = new Thread(Run) { Name = "engine", IsBackground = true };
            _thread.Start();
        }
    }

    /// <summary>Stepped clock only: computes frames now, and lets every follower take them.</summary>
    /// <param name="frames">Rounded up to whole blocks.</param>
    /// <returns>The engine frame after it.</returns>
    public long Step(long frames)
    {
        lock (_stepping)
        {
            var blocks = (frames + AudioFormat.BlockFrames - 1) / AudioFormat.BlockFrames;
            for (var done = 0L; done < blocks;)
            {
                for (var piece = Math.Min(BlocksPerPiece, blocks - done); piece > 0; piece--, done++)
                {
                    ProcessBlock(Engine);
                }

                foreach (var follower in followers)
                {
                    follower.CatchUp();
                }
            }

            return Engine.Frame;
        }
    }

    /// <summary>Whether the system lets the engine go before everything else. Any thread.</summary>
    public bool HasRealTime { get; private set; } = true;

    /// <inheritdoc/>
    public void Dispose()
    {
        _stopping = true;
        _thread?.Join();
    }

    private void Run()
    {
        RaisePriority();
        var engine = Engine;
        var started = Stopwatch.GetTimestamp();
        Volatile.Write(ref _started, started);
        long block = 0;
        while (!_stopping)
        {
            var now = Stopwatch.GetElapsedTime(started).TotalSeconds;
            var due = block * Period;
            if (now < due)
            {
                Thread.Sleep(Math.Max(1, (int)((due - now) * 1000)));
                continue;
            }

            if (now > due + GivesUpCatchingUp.TotalSeconds)
            {
                // The machine slept, or was stopped: go on from now instead of racing.
                var missed = (long)((now - due) / Period);
                Interlocked.Add(ref _lateBlocks, missed);
                Volatile.Write(ref _skippedBlocks, _skippedBlocks + missed);
                block += missed;
                continue;
            }

            if (now > due + (SlackBlocks * Period))
            {
                Interlocked.Increment(ref _lateBlocks);
            }

            ProcessBlock(engine);
            block++;
        }
    }

    private void ProcessBlock(MixEngine engine)
    {
        var begun = Stopwatch.GetTimestamp();
        engine.ProcessBlock();
        var share = Stopwatch.GetElapsedTime(begun).TotalSeconds / Period;
        Volatile.Write(ref _load, _load + ((share - _load) / 200));
    }

    // A raised nice value alone does not help: Linux weighs it only within the login session, so another session's load (a
    // browser that starts) still held blocks up by 30 to 140 ms here. A real-time policy is above all of that; a block
    // takes a small part of its period, so nobody else is held up.
    private void RaisePriority()
    {
        const int roundRobin = 2;
        HasRealTime = !OperatingSystem.IsLinux() || SetScheduler(0, roundRobin, in LowRealTime) == 0;
        if (!HasRealTime)
        {
            _ = SetPriority(0, GetThreadId(), -10);
            LogNoPriority(log, Environment.UserName);
        }
    }

    [LibraryImport("libc", EntryPoint = "sched_setscheduler")]
    private static partial int SetScheduler(int thread, int policy, in int priority);

    [LibraryImport("libc", EntryPoint = "setpriority")]
    private static partial int SetPriority(int which, int who, int value);

    [LibraryImport("libc", EntryPoint = "gettid")]
    private static partial int GetThreadId();

    [LoggerMessage(LogLevel.Warning, "The user {User} may not give the engine real-time priority: while other programs keep this computer busy, sound may come late. To allow it, as root: echo '{User} - rtprio 10' > /etc/security/limits.d/kinetra.conf; then log in again, and “ulimit -r” says 10.")]
    private static partial void LogNoPriority(ILogger log, string user);
}
