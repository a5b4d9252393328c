using System.Globalization;

namespace Kinetra.Server.Live;

/// <summary>Why blocks came too late.</summary>
public enum LossReason
{
    /// <summary>The host of this (virtual) computer gave its processor time to others.</summary>
    HostTookTime,

    /// <summary>The show takes as much time to compute as there is.</summary>
    ShowTooLarge,

    /// <summary>Other programs kept this computer busy.</summary>
    ComputerBusy,
}

/// <summary>Listeners lost sound: blocks came later than what waits for them bridges.</summary>
/// <param name="At">When it was noticed.</param>
/// <param name="Milliseconds">How much sound came too late.</param>
/// <param name="Reason">Why.</param>
/// <param name="Words">What, why, and what to do, for a person.</param>
public sealed record SoundLoss(DateTimeOffset At, double Milliseconds, LossReason Reason, string Words)
{
    /// <summary>What is said of a loss.</summary>
    /// <param name="at">When it was noticed.</param>
    /// <param name="milliseconds">How much sound came too late.</param>
    /// <param name="stolen">The share of all processor time that the host gave to others meanwhile, 0 … 1.</param>
    /// <param name="load">The engine's computing time as a share of real time.</param>
    /// <param name="hasRealTime">Whether the engine has real-time priority.</param>
    public static SoundLoss Of(DateTimeOffset at, double milliseconds, double stolen, double load, bool hasRealTime)
    {
        var gap = string.Create(CultureInfo.InvariantCulture, $"{Math.Max(1, milliseconds):0} ms of sound came too late for who listened.");
        return stolen >= 0.05
            ? new(at, milliseconds, LossReason.HostTookTime, string.Create(
                CultureInfo.InvariantCulture, $"{gap} The host of this computer took {stolen * 100:0} % of its processor time away. Nothing in the show causes it; a computer of one's own does not do this."))
            : load >= 0.7
                ? new(at, milliseconds, LossReason.ShowTooLarge, string.Create(
                    CultureInfo.InvariantCulture, $"{gap} The show takes {load * 100:0} % of the time that there is. Bypassing or removing processors makes room."))
                : new(at, milliseconds, LossReason.ComputerBusy, $"{gap} Other programs kept this computer busy. Closing some helps{(hasRealTime ? "." : ", and so does letting Kinetra have real-time priority: its log says how.")}");
    }
}

/// <summary>Looks once a second whether listeners have lost sound, and why.</summary>
public sealed class LossWatch(EngineHost host, StartState state, TimeProvider time) : BackgroundService
{
    private const double BlockMilliseconds = 1000.0 * Core.Signal.AudioFormat.BlockFrames / Core.Signal.AudioFormat.SampleRate;
    private static readonly TimeSpan Every = TimeSpan.FromSeconds(1);
    private SoundLoss? _last;

    /// <summary>Sound was lost in the last second.</summary>
    public event Action<SoundLoss>? Lost;

    /// <summary>The last loss since the start, or null.</summary>
    public SoundLoss? Last => Volatile.Read(ref _last);

    /// <inheritdoc/>
    protected override async Task ExecuteAsync(CancellationToken stoppingToken)
    {
        await state.Ready.WaitAsync(stoppingToken);
        using var timer = new PeriodicTimer(Every, time);

        // What the start itself holds up, nobody hears yet.
        var (late, times) = (host.LateBlocks, Times());
        while (await timer.WaitForNextTickAsync(stoppingToken))
        {
            var (nowLate, nowTimes) = (host.LateBlocks, Times());
            if (nowLate > late)
            {
                var all = nowTimes.All - times.All;
                var stolen = all > 0 ? (nowTimes.Stolen - times.Stolen) / all : 0;
                var loss = SoundLoss.Of(time.GetUtcNow(), (nowLate - late) * BlockMilliseconds, stolen, host.Load, host.HasRealTime);
                Volatile.Write(ref _last, loss);
                Lost?.Invoke(loss);
            }

            (late, times) = (nowLate, nowTimes);
        }
    }

    // The first line of /proc/stat (proc_stat(5)): user, nice, system, idle, iowait, irq, softirq, steal, in ticks.
    private static (double All, double Stolen) Times()
    {
        try
        {
            var ticks = File.ReadLines("/proc/stat").First().Split(' ', StringSplitOptions.RemoveEmptyEntries).Skip(1).Take(8)
                .Select(t => double.Parse(t, CultureInfo.InvariantCulture)).ToArray();
            return (ticks.Sum(), ticks.ElementAtOrDefault(7));
        }
        catch (IOException)
        {
            return (0, 0);
        }
    }
}
