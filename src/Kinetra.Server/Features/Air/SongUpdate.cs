using System.Globalization;
using System.Net.Sockets;
using System.Text;
using Kinetra.Core.Rigs;
using Kinetra.Server.Hosting.Secrets;

namespace Kinetra.Server.Features.Air;

/// <summary>Tells a stream's server what is heard now, beside the sound.</summary>
static class SongUpdate
{
    /// <summary>Tells it.</summary>
    /// <exception cref="StreamServerException">The server is not there, or does not take it.</exception>
    public static async Task SendAsync(Broadcast stream, Secret? password, string song, CancellationToken cancel)
    {
        using var patience = CancellationTokenSource.CreateLinkedTokenSource(cancel);
        patience.CancelAfter(SourceConnection.Patience);
        var server = stream.Server;
        try
        {
            using var client = new TcpClient();
            await using var line = await SourceConnection.ConnectAsync(client, server, server.Port, patience.Token);
            await line.WriteAsync(Encoding.UTF8.GetBytes(Request(server, password, song)), patience.Token);
            var answer = await ServerAnswer.ReadAsync(line, headers: true, patience.Token);
            if (answer.Status is not (>= 200 and < 300))
            {
                throw new StreamServerException($"The server did not take the song’s name: {answer.Line}", null, isRefusal: true);
            }
        }
        catch (Exception e) when (e is IOException || (e is OperationCanceledException && !cancel.IsCancellationRequested))
        {
            throw new StreamServerException("The server did not answer when it was told the song’s name.", null, isRefusal: false);
        }
    }

    private static string Request(AirServer server, Secret? password, string song)
    {
        var words = Uri.EscapeDataString(song);
        var host = server.Host.Contains(':', StringComparison.Ordinal) ? $"[{server.Host}]" : server.Host;
        if (server.Kind == ServerKind.FirstLine)
        {
            var number = server.Path.Length > 0 ? $"&sid={server.Path}" : "";
            return $"GET /admin.cgi?pass={Uri.EscapeDataString(password?.Reveal() ?? "")}&mode=updinfo{number}&song={words} HTTP/1.0\r\nHost: {host}\r\nUser-Agent: Mozilla (Kinetra)\r\n\r\n";
        }

        return string.Create(
            CultureInfo.InvariantCulture,
            $"GET /admin/metadata?mode=updinfo&mount={Uri.EscapeDataString(server.Path)}&charset=UTF-8&song={words} HTTP/1.0\r\nHost: {host}\r\nAuthorization: {SourceConnection.Basic(server, password)}\r\nUser-Agent: Kinetra\r\n\r\n");
    }
}
