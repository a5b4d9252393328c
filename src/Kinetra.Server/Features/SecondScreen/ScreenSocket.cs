using System.Net.WebSockets;
using System.Text.Json;
using Kinetra.Core.Editing;
using Kinetra.Core.Hands;
using Kinetra.Server.Features.Hands;
using Kinetra.Server.Hosting;
using Kinetra.Server.Live;
using Kinetra.Server.Sockets;

namespace Kinetra.Server.Features.SecondScreen;

/// <summary>What a second screen asks for.</summary>
/// <param name="Act">The address of an action.</param>
/// <param name="Value">What it is told.</param>
/// <param name="Level">How loud, of a pad, dB.</param>
public sealed record ScreenAct(string Act, string? Value = null, double Level = 0);

/// <summary>Talks with one second screen: tells it the board whenever that is another, and does what it asks for, if it may. What it holds ends with the connection.</summary>
public sealed partial class ScreenSocket(Board board, ActionDesk desk, ILogger<ScreenSocket> log)
{
    private static readonly TimeSpan Often = TimeSpan.FromMilliseconds(66);
    private static readonly JsonSerializerOptions Json = MakeJson();

    /// <summary>Talks until the socket ends, or the device is thrown out.</summary>
    public async Task ServeAsync(WebSocket socket, Guid id, string name, Func<ScreenRights> rights, StartState start, CancellationToken cancel)
    {
        var hand = new Hand($"screen {id} {Guid.NewGuid():n}", name, new StepAuthor(Name: name));
        using var sending = new SemaphoreSlim(1);
        using var ended = CancellationTokenSource.CreateLinkedTokenSource(cancel);
        var telling = TellAsync(socket, sending, hand, rights, start, ended.Token);
        try
        {
            await SocketEndpoint.ReadAsync(socket, text => ActAsync(socket, sending, hand, text, rights, start, ended.Token), ended.Token);
        }
        finally
        {
            desk.Gone(hand);
            await ended.CancelAsync();
            try
            {
                await telling;
            }
            catch (Exception e) when (e is OperationCanceledException or WebSocketException)
            {
                // It has ended either way.
            }
        }
    }

    private async Task TellAsync(WebSocket socket, SemaphoreSlim sending, Hand hand, Func<ScreenRights> rights, StartState start, CancellationToken cancel)
    {
        var (told, sounds) = ("", "");
        var given = rights();
        while (true)
        {
            var may = rights();
            if (!ReferenceEquals(may, given))
            {
                // What it holds may be what it was given no more.
                desk.Gone(hand);
                given = may;
            }

            if (start.WaitingFor is null)
            {
                var now = JsonSerializer.Serialize(new { board = board.Now(may) }, Json);
                if (now != told)
                {
                    await SendAsync(socket, sending, told = now, cancel);
                }

                // In a map, the press that began last counts.
                var parts = may.Pads ? JsonSerializer.Serialize(new { sounds = board.Sounding().GroupBy(s => s.Pad).ToDictionary(g => g.Key, g => g.Min(s => s.Part)) }, Json) : "";
                if (parts != sounds)
                {
                    await SendAsync(socket, sending, sounds = parts, cancel);
                }
            }

            await Task.Delay(Often, cancel);
        }
    }

    private async Task ActAsync(WebSocket socket, SemaphoreSlim sending, Hand hand, string text, Func<ScreenRights> rights, StartState start, CancellationToken cancel)
    {
        RigProblem? problem;
        try
        {
            problem = start.WaitingFor is { } waiting ? new RigProblem("server", waiting, "the same in a moment")
                : JsonSerializer.Deserialize<ScreenAct>(text, Json) is { Act: not null } act ? await DoAsync(hand, act, rights(), cancel)
                : new RigProblem("act", "It is not said what to do.", "an action's address");
        }
        catch (JsonException)
        {
            problem = new RigProblem("message", "This is not understood.", """{"act": an action's address, "value": what it is told}""");
        }
        catch (Exception e) when (e is not OperationCanceledException and not OutOfMemoryException)
        {
            LogFailed(log, e);
            problem = new RigProblem("server", "Something went wrong that nobody foresaw; the server's log says more.", "the same once more");
        }

        if (problem is not null)
        {
            await SendAsync(socket, sending, JsonSerializer.Serialize(new { wrong = problem.ToString() }, Json), cancel);
        }
    }

    private async Task<RigProblem?> DoAsync(Hand hand, ScreenAct act, ScreenRights rights, CancellationToken cancel)
    {
        var (call, _, _) = await desk.FindAsync(act.Act, cancel);

        // Of what it was not given, it is not told whether that is there.
        return call is null || !rights.Allow(call)
            ? new RigProblem("act", "It is not there any more, or this device was not given it.", "what is on its board")
            : ActionInput.Read(call.Type, act.Value, out var input) is { } wrong ? wrong
            : input is { } told ? await desk.DoAsync(hand, call, told with { Level = act.Level }, cancel) : null;
    }

    private static async Task SendAsync(WebSocket socket, SemaphoreSlim sending, string text, CancellationToken cancel)
    {
        await sending.WaitAsync(cancel);
        try
        {
            await socket.SendAsync(System.Text.Encoding.UTF8.GetBytes(text), WebSocketMessageType.Text, true, cancel);
        }
        finally
        {
            sending.Release();
        }
    }

    private static JsonSerializerOptions MakeJson()
    {
        var json = new JsonSerializerOptions(JsonSerializerDefaults.Web);
        AnswerJson.Configure(json);
        return json;
    }

    [LoggerMessage(LogLevel.Error, "What a second screen asked for failed")]
    private static partial void LogFailed(ILogger log, Exception cause);
}
