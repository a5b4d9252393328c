using System.Collections.Concurrent;
using System.Security.Cryptography;
using System.Text;
using Kinetra.Core.Clocks;
using Kinetra.Core.Editing;
using Kinetra.Core.Rigs;
using Kinetra.Core.Signal;
using Kinetra.Media;
using Kinetra.Media.Streaming;
using Kinetra.Server.Live;

namespace Kinetra.Server.Features.Addresses;

/// <summary>Who sends into a cable by its address now.</summary>
/// <param name="Name">What it calls itself.</param>
/// <param name="Format">What it sends, in words: "Opus in Ogg"; null: nothing of it has been understood yet.</param>
/// <param name="Channels">1 or 2; 0: not known yet.</param>
/// <param name="SampleRate">Hz; 0: not known yet.</param>
/// <param name="Since">Since when.</param>
/// <param name="Seconds">How much of it was heard.</param>
/// <param name="WaitingSeconds">How much of it waits to be heard.</param>
/// <param name="Gaps">How often it came too late.</param>
/// <param name="LostSeconds">For how long the cable was silent by that.</param>
/// <param name="IsLate">True: it is silent now, since nothing comes.</param>
public sealed record SenderDocument(
    string Name, string? Format, int Channels, int SampleRate, DateTimeOffset Since, double Seconds, double WaitingSeconds, long Gaps, double LostSeconds, bool IsLate);

/// <summary>What came of somebody who wanted to send into a cable, where it came to nothing or broke off.</summary>
/// <param name="At">When.</param>
/// <param name="What">What is wrong, a sentence.</param>
/// <param name="Allowed">What would be right.</param>
public sealed record SenderRefused(DateTimeOffset At, string What, string Allowed);

/// <summary>
/// Lets other programs send sound into cables by their addresses, one into each. What comes is found out by itself, decoded beside the engine and
/// taken at the engine's pace: whoever stalls, sends rubbish or goes costs only itself. Any thread.
/// </summary>
public sealed partial class LiveSenders(AddressBook book, LiveShow live, LiveGear gear, SenderSounds sounds, StartState state, IHostApplicationLifetime life, TimeProvider time, ILogger<LiveSenders> log)
{
    /// <summary>After so long without anything, s, a sender is let go: of the engine's time once it has been heard, of the clock's before.</summary>
    public const int Patience = 30;

    private static readonly TimeSpan Look = TimeSpan.FromMilliseconds(100);

    private readonly ConcurrentDictionary<string, Sender> _all = new();
    private readonly ConcurrentDictionary<string, SenderRefused> _refused = new();

    /// <summary>Who sends into the cable of that address; null: nobody.</summary>
    public SenderDocument? Of(string key) => _all.GetValueOrDefault(key)?.Document;

    /// <summary>What went wrong there last, since somebody was heard last; null: nothing did.</summary>
    public SenderRefused? RefusedAt(string key) => _refused.GetValueOrDefault(key);

    /// <summary>Lets go of whoever sends: what waits of it is not heard any more. False: nobody does.</summary>
    public bool LetGo(string key)
    {
        var sender = _all.GetValueOrDefault(key);
        sender?.End();
        return sender is not null;
    }

    /// <summary>Cuts off whoever sends, and forgets what went wrong: the address is closed.</summary>
    public void CutOff(string key)
    {
        LetGo(key);
        _refused.TryRemove(key, out _);
    }

    /// <summary>Lets somebody in who wants to send.</summary>
    /// <param name="key">The key of the address.</param>
    /// <param name="name">What it calls itself; null or unfit: it is called after the cable.</param>
    /// <param name="abort">Breaks off its connection.</param>
    /// <param name="problem">Why it is not let in.</param>
    /// <returns>Null: it is not.</returns>
    public Sender? Enter(string key, string? name, Action abort, out (int Status, RigProblem Problem) problem)
    {
        ArgumentNullException.ThrowIfNull(key);
        problem = default;
        if (state.WaitingFor is { } waiting)
        {
            problem = (503, new("server", waiting, "the same again in a moment"));
            return null;
        }

        if (book.Find(key) is not { } address)
        {
            problem = (404, new("address", "There is no such address.", "an address that On air shows, as it stands there"));
            return null;
        }

        var rig = live.Show.Rig;
        if (address.Show != live.Show.Id || Point.Parse(address.Point) is not { } point || !rig.Has(point))
        {
            problem = (409, new("address", "What this address stands for is not there now.", "the same once its show is open and has it"));
            return null;
        }

        if (point is not CablePoint cable)
        {
            problem = (409, new("address", $"{rig.NameOf(point)} is a mix: it is heard here, and takes nothing.", "the address of a cable"));
            return null;
        }

        var plain = $"Sender to {rig.NameOf(point)}";
        var called = name is { Length: > 0 } && RigRules.CheckName("name", name) is null ? name : plain[..Math.Min(RigLimits.NameLength, plain.Length)];
        var sender = new Sender(key, address.Show, cable.Id, new AppId(IdOf(address)), called, time.GetUtcNow(), abort);
        if (!_all.TryAdd(key, sender))
        {
            problem = (409, new("address", $"Somebody sends into {rig.NameOf(point)} already.", "one at a time"));
            return null;
        }

        // It may have been closed before there was one to be cut off.
        if (book.Find(key) is null)
        {
            _all.TryRemove(key, out _);
            problem = (404, new("address", "There is no such address.", "an address that On air shows, as it stands there"));
            return null;
        }

        return sender;
    }

    /// <summary>Takes what it sends until it ends, and says what went wrong.</summary>
    /// <param name="sender">Who was let in.</param>
    /// <param name="from">What it sends; reading waits for it.</param>
    public async Task TakeAsync(Sender sender, Stream from)
    {
        ArgumentNullException.ThrowIfNull(sender);
        ArgumentNullException.ThrowIfNull(from);
        using var stopping = life.ApplicationStopping.Register(sender.End);
        using var watching = new CancellationTokenSource();
        var watch = WatchAsync(sender, watching.Token);
        try
        {
            // It reads in waiting: a thread of its own.
            await Task.Factory.StartNew(() => Decode(sender, from), CancellationToken.None, TaskCreationOptions.LongRunning, TaskScheduler.Default);
        }
        catch (SoundFileException e)
        {
            Note(sender, e.What, e.Allowed);
        }
        catch (Exception e) when (e is IOException or OperationCanceledException or ObjectDisposedException)
        {
            // It has gone, or was to; why it was is noted where it was decided.
        }
        finally
        {
            await watching.CancelAsync();
            await watch;
            await LeaveAsync(sender);
        }
    }

    private void Decode(Sender sender, Stream from)
    {
        using var taken = Intake.Of(from, sender.Over);
        using var decoder = StreamDecoder.Open(taken);
        var into = new PacedInput(decoder.Channels);
        sounds.Add(sender.App, into);
        if (gear.PassAsync(new SenderComes(sender.App, sender.Name, sender.Cable, decoder.Channels), sender.Show).GetAwaiter().GetResult() is GearOutcome.Refused refused)
        {
            throw new SoundFileException(refused.Problem.What, refused.Problem.Allowed);
        }

        sender.Heard(decoder.Format, decoder.SampleRate, into);
        _refused.TryRemove(sender.Key, out _);
        LogComes(log, sender.Name, decoder.Format);
        try
        {
            new SenderDecoding(decoder, into, sender.Over).Run();
        }
        finally
        {
            // What was understood is heard to its end, whatever came after it.
            into.End();
            while (!into.IsOver && !sender.Over.IsCancellationRequested)
            {
                sender.Over.WaitHandle.WaitOne(Look);
            }
        }
    }

    // A program that stands still holds the place of one that would come; a show that is left, and a cable that is gone, let nobody in any more.
    private async Task WatchAsync(Sender sender, CancellationToken done)
    {
        using var timer = new PeriodicTimer(Look, time);
        try
        {
            while (await timer.WaitForNextTickAsync(done))
            {
                var isThere = live.Show.Id == sender.Show && live.Show.Rig.Find(sender.Cable) is not null;
                var isStill = sender.Sound is { } sound ? sound.Starving > Patience * AudioFormat.SampleRate : time.GetUtcNow() - sender.Since > TimeSpan.FromSeconds(Patience);
                if (isThere && !isStill)
                {
                    continue;
                }

                Note(sender, isThere ? $"Nothing came for {Patience} s." : "The cable is not there any more.", isThere ? "sound without an end, as it is heard" : "the same once its show is open and has it");
                sender.End();
                return;
            }
        }
        catch (OperationCanceledException)
        {
            // It has ended by itself.
        }
    }

    private async Task LeaveAsync(Sender sender)
    {
        // Another one is let in only once this one is out of the plan.
        await gear.PassAsync(new SenderGoes(sender.App));
        sounds.Remove(sender.App);
        _all.TryRemove(sender.Key, out _);
        sender.Dispose();
    }

    private void Note(Sender sender, string what, string allowed)
    {
        if (book.Find(sender.Key) is not null)
        {
            _refused[sender.Key] = new(time.GetUtcNow(), what, allowed);
        }

        LogRefused(log, sender.Name, what);
    }

    // The same for the same cable, so that what takes it finds it again; and no key can be told by it.
    private static string IdOf(Address address) =>
        "sender-" + Convert.ToHexStringLower(SHA256.HashData(Encoding.UTF8.GetBytes($"{address.Show}/{address.Point}")))[..12];

    [LoggerMessage(LogLevel.Information, "{Name} sends {Format}")]
    private static partial void LogComes(ILogger log, string name, string format);

    [LoggerMessage(LogLevel.Information, "{Name} sends no more: {What}")]
    private static partial void LogRefused(ILogger log, string name, string what);
}

/// <summary>Somebody who sends into a cable. Any thread.</summary>
public sealed class Sender(string key, Guid show, CableId cable, AppId app, string name, DateTimeOffset since, Action abort) : IDisposable
{
    private readonly CancellationTokenSource _over = new();
    private volatile Understood? _understood;

    /// <summary>The key of the address.</summary>
    public string Key => key;

    /// <summary>The show.</summary>
    public Guid Show => show;

    /// <summary>The cable of it.</summary>
    public CableId Cable => cable;

    /// <summary>What it is among the computer's programs.</summary>
    public AppId App => app;

    /// <summary>What it calls itself.</summary>
    public string Name => name;

    /// <summary>Since when it is there.</summary>
    public DateTimeOffset Since => since;

    /// <summary>What is heard of it; null: nothing yet.</summary>
    public PacedInput? Sound => _understood?.Sound;

    /// <summary>It is to end.</summary>
    public CancellationToken Over => _over.Token;

    /// <summary>As it is now.</summary>
    public SenderDocument Document => _understood is { } u
        ? new(name, u.Format, u.Sound.Channels, u.Rate, since, Seconds(u.Sound.Frames), Seconds(u.Sound.Waiting), u.Sound.Gaps, Seconds(u.Sound.Lost), u.Sound.Starving > 0)
        : new(name, null, 0, 0, since, 0, 0, 0, 0, false);

    /// <summary>Sound has been understood.</summary>
    public void Heard(string format, int rate, PacedInput sound) => _understood = new(format, rate, sound);

    /// <summary>It is to end, and its connection with it.</summary>
    public void End()
    {
        try
        {
            _over.Cancel();
        }
        catch (ObjectDisposedException)
        {
            // It has just gone by itself.
            return;
        }

        abort();
    }

    /// <inheritdoc/>
    public void Dispose() => _over.Dispose();

    private static double Seconds(long frames) => Math.Round(frames / (double)AudioFormat.SampleRate, 3);

    private sealed record Understood(string Format, int Rate, PacedInput Sound);
}
