using System.Globalization;
using System.Net.Security;
using System.Net.Sockets;
using System.Security.Authentication;
using System.Text;
using Kinetra.Core.Rigs;
using Kinetra.Media.Streaming;
using Kinetra.Server.Hosting.Secrets;

namespace Kinetra.Server.Features.Air;

/// <summary>A connection to a stream's server that has let us in: what is written to it is heard there. It is closed by whoever opened it.</summary>
sealed class SourceConnection : IAsyncDisposable
{
    /// <summary>How long a server has to answer.</summary>
    public static readonly TimeSpan Patience = TimeSpan.FromSeconds(10);

    private readonly TcpClient _client;
    private readonly Stream _stream;
    private readonly CancellationTokenSource _over = new();

    private SourceConnection(TcpClient client, Stream stream)
    {
        (_client, _stream) = (client, stream);
        Ended = WatchAsync(_over.Token);
    }

    /// <summary>Ends when the server ends it, with its words.</summary>
    public Task<string> Ended { get; }

    /// <summary>Opens one.</summary>
    /// <exception cref="StreamServerException">The server is not there, or says no.</exception>
    public static async Task<SourceConnection> OpenAsync(Broadcast stream, Secret? password, CancellationToken cancel)
    {
        using var patience = CancellationTokenSource.CreateLinkedTokenSource(cancel);
        patience.CancelAfter(Patience);
        var server = stream.Server;
        var client = new TcpClient();
        Stream? line = null;
        try
        {
            line = await ConnectAsync(client, server, server.Kind == ServerKind.FirstLine ? server.Port + 1 : server.Port, patience.Token);
            await (server.Kind == ServerKind.FirstLine
                ? FirstLineAsync(line, stream, password, patience.Token)
                : RequestAsync(line, stream, password, patience.Token));
            return new SourceConnection(client, line);
        }
        catch (Exception e)
        {
            if (line is not null)
            {
                await line.DisposeAsync();
            }

            client.Dispose();
            if (e is OperationCanceledException && !cancel.IsCancellationRequested)
            {
                throw new StreamServerException(
                    $"{server.Host}, port {server.Port}, does not answer.", "Whether the server’s name and port are right, and whether it runs.", isRefusal: false);
            }

            if (e is IOException)
            {
                throw new StreamServerException("The server broke the connection off.", "Whether the port and the kind of server are right.", isRefusal: false);
            }

            throw;
        }
    }

    /// <summary>A line to a server, through TLS where it is said so.</summary>
    /// <exception cref="StreamServerException">There is none.</exception>
    public static async Task<Stream> ConnectAsync(TcpClient client, AirServer server, int port, CancellationToken cancel)
    {
        try
        {
            client.NoDelay = true;
            await client.ConnectAsync(server.Host, port, cancel);
        }
        catch (SocketException e)
        {
            throw e.SocketErrorCode is SocketError.HostNotFound or SocketError.NoData or SocketError.TryAgain
                ? new StreamServerException($"There is no server called {server.Host}.", "Whether its name is right, and whether this computer is online.", isRefusal: false)
                : new StreamServerException($"Nobody answers at {server.Host}, port {port}.", "Whether the server runs, and whether the port is right.", isRefusal: false);
        }

        Stream line = client.GetStream();
        if (!server.Secure)
        {
            return line;
        }

        var secure = new SslStream(line);
        var errors = SslPolicyErrors.None;
        try
        {
            await secure.AuthenticateAsClientAsync(
                new SslClientAuthenticationOptions { TargetHost = server.Host, RemoteCertificateValidationCallback = (_, _, _, found) => (errors = found) == SslPolicyErrors.None }, cancel);
            return secure;
        }
        catch (AuthenticationException) when (errors != SslPolicyErrors.None)
        {
            await secure.DisposeAsync();
            throw new StreamServerException(
                $"The server’s certificate is not one for {server.Host} that this computer trusts.", "Whether the server’s name is the one that its account page states.", isRefusal: true);
        }
        catch (Exception e) when (e is IOException or AuthenticationException)
        {
            await secure.DisposeAsync();
            throw new StreamServerException($"There is no TLS at {server.Host}, port {port}.", "Whether the stream is to go without TLS, or to another port.", isRefusal: true);
        }
    }

    /// <summary>What name and password look like in a request.</summary>
    public static string Basic(AirServer server, Secret? password) =>
        "Basic " + Convert.ToBase64String(Encoding.UTF8.GetBytes($"{server.User}:{password?.Reveal()}"));

    /// <summary>Writes sound.</summary>
    public ValueTask WriteAsync(ReadOnlyMemory<byte> bytes, CancellationToken cancel) => _stream.WriteAsync(bytes, cancel);

    /// <summary>Says that nothing more comes, so that the last of it arrives.</summary>
    public void Finish()
    {
        try
        {
            _client.Client.Shutdown(SocketShutdown.Send);
        }
        catch (Exception e) when (e is SocketException or ObjectDisposedException)
        {
            // It has gone already.
        }
    }

    /// <inheritdoc/>
    public async ValueTask DisposeAsync()
    {
        await _over.CancelAsync();
        await _stream.DisposeAsync();
        _client.Dispose();
        await Ended;
        _over.Dispose();
    }

    private static async Task RequestAsync(Stream line, Broadcast stream, Secret? password, CancellationToken cancel)
    {
        var server = stream.Server;
        var isPut = server.Kind == ServerKind.Put;
        var head = new StringBuilder();
        head.Append(CultureInfo.InvariantCulture, $"{(isPut ? "PUT" : "SOURCE")} {server.Path} HTTP/{(isPut ? "1.1" : "1.0")}\r\n");
        head.Append(CultureInfo.InvariantCulture, $"Host: {(server.Host.Contains(':', StringComparison.Ordinal) ? $"[{server.Host}]" : server.Host)}:{server.Port}\r\n");
        head.Append(CultureInfo.InvariantCulture, $"Authorization: {Basic(server, password)}\r\nUser-Agent: Kinetra\r\n");
        head.Append(CultureInfo.InvariantCulture, $"Content-Type: {StreamEncoder.MediaTypeOf(stream.Form)}\r\n");
        head.Append(CultureInfo.InvariantCulture, $"Ice-Name: {TitleOf(stream)}\r\nIce-Public: {(stream.IsPublic ? 1 : 0)}\r\n");
        if (stream.Description.Length > 0)
        {
            head.Append(CultureInfo.InvariantCulture, $"Ice-Description: {stream.Description}\r\n");
        }

        if (stream.Kilobits > 0)
        {
            head.Append(CultureInfo.InvariantCulture, $"Ice-Bitrate: {stream.Kilobits}\r\n");
        }

        head.Append(CultureInfo.InvariantCulture, $"Ice-Audio-Info: samplerate={stream.SampleRate};channels={stream.Channels};bitrate={stream.Kilobits}\r\n");
        head.Append(isPut ? "Expect: 100-continue\r\n\r\n" : "\r\n");
        await line.WriteAsync(Encoding.UTF8.GetBytes(head.ToString()), cancel);
        var answer = await ServerAnswer.ReadAsync(line, headers: true, cancel);
        if (answer.Status is not (100 or (>= 200 and < 300)))
        {
            throw Refusal(answer, server);
        }
    }

    private static StreamServerException Refusal(ServerAnswer answer, AirServer server) => answer.Status switch
    {
        null => new($"This is no server for this kind of stream. It says: {answer.Line}", "Whether the port and the kind of server are right.", isRefusal: true),
        401 => new($"The server does not let us in: {answer.Line}", $"The password, and whether the user is “{server.User}”.", isRefusal: true),
        403 => new($"The server says no: {answer.Line}", "Whether somebody sends there already, and whether the path is right.", isRefusal: true),
        404 => new($"The server has no such place: {answer.Line}", $"Whether the path is “{server.Path}”.", isRefusal: true),
        405 or 501 => new($"The server does not take streams in this way: {answer.Line}", "Whether the kind of server is right.", isRefusal: true),
        >= 300 and < 400 => new($"The server points elsewhere{(answer.Location is { } to ? $", to {to}" : "")}: {answer.Line}", "Whether the stream is to go there instead; it is not sent on by itself.", isRefusal: true),
        _ => new($"The server says no: {answer.Line}", "What the station’s account page says of this server.", isRefusal: true),
    };

    private static async Task FirstLineAsync(Stream line, Broadcast stream, Secret? password, CancellationToken cancel)
    {
        var server = stream.Server;
        var number = server.Path.Length > 0 ? $":#{server.Path}" : "";
        await line.WriteAsync(Encoding.UTF8.GetBytes($"{password?.Reveal()}{number}\r\n"), cancel);
        var answer = await ServerAnswer.ReadAsync(line, headers: false, cancel);
        if (!answer.Line.StartsWith("OK", StringComparison.OrdinalIgnoreCase))
        {
            throw answer.Status is not null
                ? new StreamServerException($"This is no server of the oldest kind. It says: {answer.Line}", "Whether the kind of server is right.", isRefusal: true)
                : new StreamServerException($"The server does not let us in: {answer.Line}", "The password.", isRefusal: true);
        }

        var head = new StringBuilder();
        head.Append(CultureInfo.InvariantCulture, $"icy-name:{TitleOf(stream)}\r\nicy-pub:{(stream.IsPublic ? 1 : 0)}\r\n");
        head.Append(CultureInfo.InvariantCulture, $"icy-description:{stream.Description}\r\nicy-br:{stream.Kilobits}\r\n");
        head.Append(CultureInfo.InvariantCulture, $"content-type:{StreamEncoder.MediaTypeOf(stream.Form)}\r\n\r\n");
        await line.WriteAsync(Encoding.UTF8.GetBytes(head.ToString()), cancel);
    }

    private static string TitleOf(Broadcast stream) => stream.Title.Length > 0 ? stream.Title : stream.Name;

    private async Task<string> WatchAsync(CancellationToken cancel)
    {
        const string Closed = "The server closed the connection.";
        var (buffer, kept) = (new byte[512], 0);
        var said = new byte[512];
        try
        {
            while (true)
            {
                var count = await _stream.ReadAsync(buffer, cancel);
                if (count == 0)
                {
                    var answer = Encoding.UTF8.GetString(said, 0, kept).Split('\n').Select(ServerAnswer.Readable).LastOrDefault(l => l.StartsWith("HTTP/", StringComparison.Ordinal));
                    return answer is null || answer.Contains(" 200", StringComparison.Ordinal) ? Closed : $"The server closed the connection: {answer}";
                }

                var room = Math.Min(count, said.Length - kept);
                buffer.AsSpan(0, room).CopyTo(said.AsSpan(kept));
                kept += room;
            }
        }
        catch (Exception e) when (e is IOException or OperationCanceledException or ObjectDisposedException)
        {
            return Closed;
        }
    }
}
