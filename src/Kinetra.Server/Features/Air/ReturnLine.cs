using System.Net.Sockets;
using System.Text;
using Kinetra.Core.Rigs;

namespace Kinetra.Server.Features.Air;

/// <summary>A connection to a stream's server as a listener has it: what comes out of it is what listeners get.</summary>
sealed class ReturnLine : IDisposable
{
    private const int MostHead = 16_384;

    private readonly TcpClient _client;

    private ReturnLine(TcpClient client, Stream sound) => (_client, Sound) = (client, sound);

    /// <summary>What listeners get, encoded.</summary>
    public Stream Sound { get; }

    /// <summary>Asks for it, as a player does.</summary>
    /// <exception cref="StreamServerException">The server is not there, or gives nothing.</exception>
    public static async Task<ReturnLine> OpenAsync(AirServer server, CancellationToken cancel)
    {
        ArgumentNullException.ThrowIfNull(server);
        using var patience = CancellationTokenSource.CreateLinkedTokenSource(cancel);
        patience.CancelAfter(SourceConnection.Patience);
        var said = "";
        foreach (var path in PathsOf(server))
        {
            var client = new TcpClient();
            try
            {
                var line = await SourceConnection.ConnectAsync(client, server, server.Port, patience.Token);
                var request = $"GET {path} HTTP/1.0\r\nHost: {server.Host}:{server.Port}\r\nUser-Agent: Kinetra\r\nConnection: close\r\n\r\n";
                await line.WriteAsync(Encoding.ASCII.GetBytes(request), patience.Token);
                said = await HeadAsync(line, patience.Token);
                if (said.Split(' ', 3) is [_, "200", ..])
                {
                    return new ReturnLine(client, line);
                }
            }
            catch (OperationCanceledException) when (!cancel.IsCancellationRequested)
            {
                client.Dispose();
                throw new StreamServerException($"{server.Host}, port {server.Port}, does not answer who listens.", null, isRefusal: false);
            }
            catch (IOException)
            {
                client.Dispose();
                throw new StreamServerException("The server broke the connection off.", null, isRefusal: false);
            }
            catch
            {
                client.Dispose();
                throw;
            }

            client.Dispose();
        }

        throw new StreamServerException($"The server gives listeners nothing there: “{ServerAnswer.Readable(said)}”.", "Whether listeners have it at another address.", isRefusal: true);
    }

    /// <inheritdoc/>
    public void Dispose()
    {
        Sound.Dispose();
        _client.Dispose();
    }

    // Of the oldest kind of server nothing says at which path listeners have it: the ways that there are, in turn.
    private static string[] PathsOf(AirServer server) =>
        server.Kind != ServerKind.FirstLine ? [server.Path] : server.Path.Trim('/') is { Length: > 0 } number ? [$"/stream/{number}/", $"/{number}"] : ["/", "/1"];

    // The first line; all of the head is read.
    private static async Task<string> HeadAsync(Stream line, CancellationToken cancel)
    {
        var head = new StringBuilder();
        var one = new byte[1];
        while (head.Length < MostHead && await line.ReadAsync(one, cancel) > 0)
        {
            head.Append((char)one[0]);
            if (one[0] == '\n' && head.ToString() is var text && (text.EndsWith("\n\n", StringComparison.Ordinal) || text.EndsWith("\r\n\r\n", StringComparison.Ordinal)))
            {
                break;
            }
        }

        return head.ToString().Split('\n')[0].Trim();
    }
}
