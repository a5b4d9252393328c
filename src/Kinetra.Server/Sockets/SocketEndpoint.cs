using System.Net.WebSockets;
using System.Text;
using System.Text.Json;
using Kinetra.Core.Editing;
using Kinetra.Core.Rigs;
using Kinetra.Server.Hosting;

namespace Kinetra.Server.Sockets;

/// <summary>What the sockets have in common: they are bounded, and answer nonsense with words.</summary>
static class SocketEndpoint
{
    /// <summary>The longest message that a client may send, bytes.</summary>
    public const int MaxMessage = 1024;

    /// <summary>Accepts a socket, or says that this address is for sockets.</summary>
    public static async Task ServeAsync(HttpContext context, Func<WebSocket, CancellationToken, Task> serve)
    {
        if (!context.WebSockets.IsWebSocketRequest)
        {
            await Problems.Problem(
                StatusCodes.Status400BadRequest, "This is a WebSocket.", [new RigProblem("path", "Only WebSockets are served here.", "a WebSocket upgrade")])
                .ExecuteAsync(context);
            return;
        }

        var stopping = context.RequestServices.GetRequiredService<IHostApplicationLifetime>().ApplicationStopping;
        using var socket = await context.WebSockets.AcceptWebSocketAsync();
        using var ended = CancellationTokenSource.CreateLinkedTokenSource(context.RequestAborted, stopping);
        try
        {
            await serve(socket, ended.Token);
        }
        catch (Exception e) when (e is OperationCanceledException or WebSocketException or IOException)
        {
            // The other side has gone, or the server goes: nobody is left to tell.
        }
        finally
        {
            await ended.CancelAsync();
        }
    }

    /// <summary>Reads text messages until the socket closes. What is not text or too long closes it, with words.</summary>
    public static Task ReadAsync(WebSocket socket, Func<string, Task> handle, CancellationToken cancel) =>
        ReadAsync(socket, MaxMessage, handle, null, cancel);

    /// <summary>Reads messages until the socket closes. What is too long, or of a kind that is not read here, closes it, with words.</summary>
    /// <param name="socket">The socket.</param>
    /// <param name="longest">The longest message, bytes.</param>
    /// <param name="text">Takes a text message.</param>
    /// <param name="binary">Takes a binary message, and says what is wrong with it, or null; a message that is wrong closes the socket. Null: there are none here.</param>
    /// <param name="cancel">Gives up.</param>
    public static async Task ReadAsync(
        WebSocket socket, int longest, Func<string, Task> text, Func<ReadOnlyMemory<byte>, string?>? binary, CancellationToken cancel)
    {
        var buffer = new byte[longest + 1];
        var length = 0;
        while (socket.State == WebSocketState.Open)
        {
            var part = await socket.ReceiveAsync(buffer.AsMemory(length), cancel);
            length += part.Count;
            if (part.MessageType == WebSocketMessageType.Close)
            {
                await CloseAsync(socket, WebSocketCloseStatus.NormalClosure, "", cancel);
                return;
            }

            if (part.MessageType == WebSocketMessageType.Binary && binary is null)
            {
                await CloseAsync(socket, WebSocketCloseStatus.InvalidMessageType, "Messages to this socket are JSON text.", cancel);
                return;
            }

            if (length > longest || (part.MessageType == WebSocketMessageType.Text && length > MaxMessage))
            {
                var most = part.MessageType == WebSocketMessageType.Text ? MaxMessage : longest;
                await CloseAsync(socket, WebSocketCloseStatus.MessageTooBig, $"A message here has at most {most} bytes.", cancel);
                return;
            }

            if (!part.EndOfMessage)
            {
                continue;
            }

            if (part.MessageType == WebSocketMessageType.Text)
            {
                await text(Encoding.UTF8.GetString(buffer, 0, length));
            }
            else if (binary!(buffer.AsMemory(0, length)) is { } wrong)
            {
                await CloseAsync(socket, WebSocketCloseStatus.InvalidPayloadData, wrong, cancel);
                return;
            }

            length = 0;
        }
    }

    public static Task SendJsonAsync<T>(WebSocket socket, T message, CancellationToken cancel) =>
        socket.SendAsync(JsonSerializer.SerializeToUtf8Bytes(message, RigJson.Options), WebSocketMessageType.Text, endOfMessage: true, cancel);

    /// <summary>Closes our side, with words of at most 120 bytes.</summary>
    public static async Task CloseAsync(WebSocket socket, WebSocketCloseStatus status, string words, CancellationToken cancel)
    {
        if (socket.State is WebSocketState.Open or WebSocketState.CloseReceived)
        {
            await socket.CloseOutputAsync(status, words, cancel);
        }
    }
}
