using System.Collections.Immutable;
using System.Net;
using System.Net.Sockets;
using Kinetra.Core.Editing;
using Kinetra.Core.Hands;
using Kinetra.Server.Live;

namespace Kinetra.Server.Features.Hands;

/// <summary>What was not done of what came as a message, and why.</summary>
/// <param name="At">When.</param>
/// <param name="Address">Its address; empty: it could not be read so far.</param>
/// <param name="Problem">Why.</param>
public sealed record OscRefusal(DateTimeOffset At, string Address, string Problem);

/// <summary>How it stands with messages.</summary>
/// <param name="On">Whether they are listened for.</param>
/// <param name="Port">At which port of 127.0.0.1.</param>
/// <param name="Problem">Why they are not heard although they should be; null: they are.</param>
/// <param name="Done">How many were done since it was opened.</param>
/// <param name="Refused">How many were not.</param>
/// <param name="Last">What was refused last; null: nothing.</param>
public sealed record OscState(bool On, int Port, string? Problem, long Done, long Refused, OscRefusal? Last);

/// <summary>
/// Listens for Open Sound Control 1.0 on this machine's own address, where it was switched on, and does what messages say: <c>/kinetra/</c> and an address of the table. What cannot be read, or
/// is not allowed, is counted and told; nothing else comes of it.
/// </summary>
public sealed partial class OscListener(ActionDesk desk, HandSettings settings, IHandAudience audience, StartState start, TimeProvider time, ILogger<OscListener> log) : OpenedWay(audience, log)
{
    /// <summary>What addresses begin with.</summary>
    public const string Prefix = "/kinetra/";

    /// <summary>How far ahead a bundle may be, seconds, and how many wait at most.</summary>
    public const int FarthestAhead = 60, MostWaiting = 1024;

    private CancellationTokenSource? _listening;
    private UdpClient? _socket;
    private long _done;
    private long _refused;
    private int _waiting;
    private OscRefusal? _last;

    /// <summary>How it stands.</summary>
    public OscState Now => new(settings.Now.Osc, settings.Now.OscPort, Problem, Interlocked.Read(ref _done), Interlocked.Read(ref _refused), Volatile.Read(ref _last));

    /// <inheritdoc/>
    public override void Dispose()
    {
        _listening?.Dispose();
        _socket?.Dispose();
        base.Dispose();
    }

    /// <inheritdoc/>
    protected override Task<string?> OpenAsync()
    {
        var (on, port, _) = settings.Now;
        if (!on)
        {
            return Task.FromResult<string?>(null);
        }

        try
        {
            _socket = new UdpClient(new IPEndPoint(IPAddress.Loopback, port));
        }
        catch (SocketException e)
        {
            LogClosed(log, port, e.Message);
            return Task.FromResult<string?>($"Port {port} cannot be used: {e.Message}.");
        }

        _listening = new CancellationTokenSource();
        _ = ListenAsync(_socket, _listening.Token);
        return Task.FromResult<string?>(null);
    }

    /// <inheritdoc/>
    protected override async Task CloseAsync()
    {
        if (_listening is { } listening)
        {
            _listening = null;
            await listening.CancelAsync();
            listening.Dispose();
        }

        _socket?.Dispose();
        _socket = null;
        desk.Gone(Hand.Messages);
    }

    private async Task ListenAsync(UdpClient socket, CancellationToken cancel)
    {
        while (!cancel.IsCancellationRequested)
        {
            try
            {
                var came = await socket.ReceiveAsync(cancel);
                await TakeAsync(came.Buffer, cancel);
            }
            catch (Exception e) when (e is OperationCanceledException or ObjectDisposedException)
            {
                return;
            }
            catch (SocketException)
            {
                // A sender that is gone: the next one is heard.
            }
        }
    }

    // One after the other, as they came: a level that was sent last is the one that stays.
    private async Task TakeAsync(byte[] packet, CancellationToken cancel)
    {
        var messages = OscPacket.Read(packet, out var problem);
        if (problem is not null)
        {
            Refuse("", problem);
            return;
        }

        foreach (var message in messages)
        {
            var ahead = message.Time is { } at ? at - Seconds(time.GetUtcNow()) : 0;
            if (ahead <= 0)
            {
                await DoAsync(message, cancel);
            }
            else if (ahead > FarthestAhead || Volatile.Read(ref _waiting) >= MostWaiting)
            {
                Refuse(message.Address, new RigProblem("time", "It is meant for too late a time, or too many wait already.", $"at most {FarthestAhead} s ahead, {MostWaiting} of them"));
            }
            else
            {
                _ = WaitAsync(message, TimeSpan.FromSeconds(ahead), cancel);
            }
        }
    }

    private async Task WaitAsync(OscMessage message, TimeSpan wait, CancellationToken cancel)
    {
        Interlocked.Increment(ref _waiting);
        try
        {
            await Task.Delay(wait, time, cancel);
            await DoAsync(message, cancel);
        }
        catch (OperationCanceledException)
        {
            // It was closed meanwhile.
        }
        finally
        {
            Interlocked.Decrement(ref _waiting);
        }
    }

    private async Task DoAsync(OscMessage message, CancellationToken cancel)
    {
        try
        {
            if (start.WaitingFor is { } waiting)
            {
                Refuse(message.Address, new RigProblem("server", waiting, "the same in a moment"));
                return;
            }

            var calls = await CallsAsync(message.Address, cancel);
            foreach (var call in calls)
            {
                if (ValueOf(call.Type, message.Arguments, out var input) is { } wrong)
                {
                    Refuse(message.Address, wrong);
                }
                else if (input is { } told && await desk.DoAsync(Hand.Messages, call, told, cancel) is { } problem)
                {
                    Refuse(message.Address, problem);
                }
                else
                {
                    Interlocked.Increment(ref _done);
                }
            }
        }
        catch (Exception e) when (e is not OperationCanceledException and not OutOfMemoryException)
        {
            LogFailed(log, e, message.Address);
            Refuse(message.Address, new RigProblem("server", "Something went wrong that nobody foresaw; the server's log says more.", "the same once more"));
        }
    }

    private async Task<ImmutableArray<ActionCall>> CallsAsync(string address, CancellationToken cancel)
    {
        if (!OscPattern.IsPattern(address))
        {
            if (!address.StartsWith(Prefix, StringComparison.OrdinalIgnoreCase))
            {
                Refuse(address, new RigProblem("address", "It is not meant for here.", $"an address that begins with {Prefix}"));
                return [];
            }

            var (call, problem, _) = await desk.FindAsync(address[Prefix.Length..], cancel);
            if (call is null)
            {
                Refuse(address, problem!);
                return [];
            }

            return [call];
        }

        var scope = await desk.ScopeAsync(withShows: false, cancel);
        ImmutableArray<ActionCall> calls = [.. ActionCall.All(scope).Where(c => OscPattern.Fits(address, Prefix + c.NamedAddress) || OscPattern.Fits(address, Prefix + c.Address))];
        if (calls.IsEmpty)
        {
            Refuse(address, new RigProblem("address", "No address is like this.", "a pattern of addresses of /api/actions"));
        }

        return calls;
    }

    private static RigProblem? ValueOf(ActionType type, ImmutableArray<object?> arguments, out ActionInput? input)
    {
        var level = arguments.Length > 1 && arguments[1] is double dB ? dB : 0;
        if (arguments is [string word, ..])
        {
            var wrong = ActionInput.Read(type, word, out input);
            input = input is { } read ? read with { Level = level } : null;
            return wrong;
        }

        return ActionInput.Fit(type, arguments switch { [bool on, ..] => new(On: on, Level: level), [double n, ..] => new(Number: n, Level: level), _ => new(Level: level) }, out input);
    }

    private void Refuse(string address, RigProblem problem)
    {
        Interlocked.Increment(ref _refused);
        Volatile.Write(ref _last, new OscRefusal(time.GetUtcNow(), Names.Cut(address, 120), problem.ToString()));
        Audience.HandsChanged();
    }

    private static double Seconds(DateTimeOffset now) => (now - new DateTimeOffset(1900, 1, 1, 0, 0, 0, TimeSpan.Zero)).TotalSeconds;

    [LoggerMessage(LogLevel.Warning, "Messages are not heard: port {Port}: {Why}")]
    private static partial void LogClosed(ILogger log, int port, string why);

    [LoggerMessage(LogLevel.Error, "A message failed: {Address}")]
    private static partial void LogFailed(ILogger log, Exception cause, string address);
}
