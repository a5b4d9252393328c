using System.Net.WebSockets;
using System.Text;
using System.Text.Json;
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

    /// <summary>
    /// Reads text messages until the socket closes. What is not text or too long closes it, with words.
    /// </summary>
    public static async Task ReadAsync(WebSocket socket, Func<string, Task> handle, CancellationToken cancel)
    {
        var buffer = new byte[MaxMessage];
        var length = 0;
        while (socket.State == WebSocketState.Open)
        {
            if (length == buffer.Length)
            {
                await CloseAsync(socket, WebSocketCloseStatus.MessageTooBig, $"A message here has at most {MaxMessage} bytes.", cancel);
                return;
            }

            var part = await socket.ReceiveAsync(buffer.AsMemory(length), cancel);
            length += part.Count;
            switch (part.MessageType)
            {
                case WebSocketMessageType.Close:
                    await CloseAsync(socket, WebSocketCloseStatus.NormalClosure, "", cancel);
                    return;
                case WebSocketMessageType.Binary:
                    await CloseAsync(socket, WebSocketCloseStatus.InvalidMessageType, "Messages to this socket are JSON text.", cancel);
                    return;
                default:
                    if (part.EndOfMessage)
                    {
                        await handle(Encoding.UTF8.GetString(buffer, 0, length));
                        length = 0;
                    }

                    break;
            }
        }
    }

    public static Task SendJsonAsync<T>(WebSocket socket, T message, CancellationToken cancel) =>
        socket.SendAsync(JsonSerializer.SerializeToUtf8Bytes(message, RigJson.Options), WebSocketMessageType.Text, endOfMessage: true, cancel);

    private static async Task CloseAsync(WebSocket socket, WebSocketCloseStatus status, string words, CancellationToken cancel)
    {
        if (socket.State is WebSocketState.Open or WebSocketState.CloseReceived)
        {
            await socket.CloseOutputAsync(status, words, cancel);
        }
    }
}
