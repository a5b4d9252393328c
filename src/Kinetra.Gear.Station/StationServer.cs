using System.Collections.Concurrent;
using System.Collections.Immutable;
using System.Globalization;
using System.Net;
using System.Net.Sockets;
using System.Security.Cryptography;
using System.Text;

namespace Kinetra.Gear.Station;

/// <summary>
/// A stand-in for a station's server, on this computer alone: takes streams by PUT, by SOURCE, and with the password on the first line one port above,
/// asks for its password, and gives what comes to whoever listens. It can be ended and begun, slowed, and told to say no. Any thread.
/// </summary>
public sealed class StationServer(string password, TimeProvider time) : IAsyncDisposable
{
    private const string User = "source";
    private const int FirstTries = 50;

    private readonly ConcurrentDictionary<string, Mount> _mounts = new(StringComparer.Ordinal);
    private readonly SemaphoreSlim _changing = new(1);
    private CancellationTokenSource? _open;
    private Task _serving = Task.CompletedTask;

    /// <summary>The port for HTTP; the one above is for the password on the first line. 0: it was never begun.</summary>
    public int Port { get; private set; }

    /// <summary>Whether it is there.</summary>
    public bool IsOn => Volatile.Read(ref _open) is not null;

    /// <summary>What it says instead of letting anybody in; null: it lets in who knows the password.</summary>
    public string? Refusal { get; set; }

    /// <summary>How many bytes a second it takes from each who sends; null: as many as come.</summary>
    public int? BytesASecond { get; set; }

    /// <summary>What is sent now, by path.</summary>
    public ImmutableArray<MountDocument> Mounts => [.. _mounts.Values.Select(m => m.Document).OrderBy(m => m.Path, StringComparer.Ordinal)];

    /// <summary>Begins.</summary>
    /// <param name="port">The port, with the one above; 0, or one that is taken: any two free ones, and where it was begun before the same as then.</param>
    /// <exception cref="IOException">There are none.</exception>
    public async Task StartAsync(int port)
    {
        await _changing.WaitAsync();
        try
        {
            if (_open is not null)
            {
                return;
            }

            var (first, second) = Listen(Port > 0 ? Port : port);
            Port = ((IPEndPoint)first.LocalEndpoint).Port;
            var open = new CancellationTokenSource();
            Volatile.Write(ref _open, open);
            _serving = Task.WhenAll(AcceptAsync(first, HttpAsync, open.Token), AcceptAsync(second, FirstLineAsync, open.Token));
        }
        finally
        {
            _changing.Release();
        }
    }

    /// <summary>Ends: whoever sends or listens is cut off.</summary>
    public async Task StopAsync()
    {
        await _changing.WaitAsync();
        try
        {
            if (_open is not { } open)
            {
                return;
            }

            await open.CancelAsync();
            await _serving;
            Volatile.Write(ref _open, null);
            open.Dispose();
        }
        finally
        {
            _changing.Release();
        }
    }

    /// <inheritdoc/>
    public async ValueTask DisposeAsync() => await StopAsync();

    private static (TcpListener First, TcpListener Second) Listen(int port)
    {
        for (var turn = 0; ; turn++)
        {
            var first = new TcpListener(IPAddress.Loopback, turn == 0 ? port : 0);
            TcpListener? second = null;
            try
            {
                first.Start();
                second = new TcpListener(IPAddress.Loopback, ((IPEndPoint)first.LocalEndpoint).Port + 1);
                second.Start();
                return (first, second);
            }
            catch (Exception e) when (e is SocketException or ArgumentOutOfRangeException)
            {
                first.Dispose();
                second?.Dispose();
                if (turn == FirstTries)
                {
                    throw new IOException("No two free ports, one above the other, were found.", e);
                }
            }
        }
    }

    private static async Task AcceptAsync(TcpListener listener, Func<Stream, CancellationToken, Task> serve, CancellationToken over)
    {
        var guests = new ConcurrentDictionary<Task, bool>();
        using (listener)
        {
            while (!over.IsCancellationRequested)
            {
                try
                {
                    var client = await listener.AcceptTcpClientAsync(over);
                    var task = ServeAsync(client, serve, over);
                    guests[task] = true;
                    _ = task.ContinueWith(t => guests.TryRemove(t, out var _), TaskScheduler.Default);
                }
                catch (Exception e) when (e is OperationCanceledException or SocketException)
                {
                    // It ends, or somebody went before he was let in.
                }
            }
        }

        await Task.WhenAll(guests.Keys);
    }

    private static async Task ServeAsync(TcpClient client, Func<Stream, CancellationToken, Task> serve, CancellationToken over)
    {
        using (client)
        {
            try
            {
                await using var line = client.GetStream();
                await serve(line, over);
            }
            catch (Exception e) when (e is IOException or OperationCanceledException or ObjectDisposedException or UriFormatException)
            {
                // Whoever it was has gone, or must go.
            }
        }
    }

    private async Task HttpAsync(Stream line, CancellationToken over)
    {
        if (await RequestHead.ReadAsync(line, over) is not { } head)
        {
            await SayAsync(line, "400 Bad Request", "This is no request.", over);
            return;
        }

        await (head.Method switch
        {
            "PUT" or "SOURCE" => SourceAsync(line, head, over),
            "GET" when head.Path == "/admin/metadata" => IsKnown(head) ? SongAsync(line, head.Asked("mount"), head, over) : WantsPasswordAsync(line, over),
            "GET" when head.Path == "/admin.cgi" => Same(head.Asked("pass"), password) ? SongAsync(line, PathOf(head.Asked("sid")), head, over) : WantsPasswordAsync(line, over),
            "GET" => ListenAsync(line, head, over),
            _ => SayAsync(line, "405 Method Not Allowed", "This server takes PUT and SOURCE, and gives by GET.", over),
        });
    }

    private async Task SourceAsync(Stream line, RequestHead head, CancellationToken over)
    {
        if (Refusal is { } refusal)
        {
            await SayAsync(line, $"403 {refusal}", refusal, over);
            return;
        }

        if (!IsKnown(head))
        {
            await WantsPasswordAsync(line, over);
            return;
        }

        var (path, way) = (head.Path, head.Method);
        var mount = new Mount(path, MediaTypeOf(head["content-type"]), head["ice-name"], head["ice-description"], way, time.GetUtcNow());
        if (!_mounts.TryAdd(path, mount))
        {
            await SayAsync(line, "403 Somebody sends here already", "Somebody sends here already.", over);
            return;
        }

        try
        {
            var answer = way == "SOURCE" ? "HTTP/1.0 200 OK\r\n\r\n" : head["expect"].Length > 0 ? "HTTP/1.1 100 Continue\r\n\r\n" : "HTTP/1.1 200 OK\r\n\r\n";
            await line.WriteAsync(Encoding.UTF8.GetBytes(answer), over);
            await PassAsync(line, mount, over);
        }
        finally
        {
            End(path, mount);
        }
    }

    private async Task FirstLineAsync(Stream line, CancellationToken over)
    {
        var first = await RequestHead.LineAsync(line, over);
        var parts = (first ?? "").Split(":#", 2);
        if (Refusal is not null || !Same(parts[0], password))
        {
            await line.WriteAsync(Encoding.UTF8.GetBytes($"{Refusal ?? "Invalid Password"}\r\n"), over);
            return;
        }

        var path = PathOf(parts.Length == 2 ? parts[1] : "");
        if (_mounts.ContainsKey(path))
        {
            await line.WriteAsync("Stream In Use\r\n"u8.ToArray(), over);
            return;
        }

        await line.WriteAsync("OK2\r\nicy-caps:11\r\n\r\n"u8.ToArray(), over);
        var fields = await RequestHead.FieldsAsync(line, over);
        var head = new RequestHead("", path, fields);
        var mount = new Mount(path, MediaTypeOf(head["content-type"]), head["icy-name"], head["icy-description"], "the password on the first line", time.GetUtcNow());
        if (_mounts.TryAdd(path, mount))
        {
            try
            {
                await PassAsync(line, mount, over);
            }
            finally
            {
                End(path, mount);
            }
        }
    }

    private void End(string path, Mount mount)
    {
        _mounts.TryRemove(path, out _);
        mount.End();
    }

    private async Task PassAsync(Stream line, Mount mount, CancellationToken over)
    {
        var buffer = new byte[16_384];
        while (true)
        {
            var most = BytesASecond is { } slow ? Math.Clamp(slow / 10, 1, buffer.Length) : buffer.Length;
            var count = await line.ReadAsync(buffer.AsMemory(0, most), over);
            if (count == 0)
            {
                return;
            }

            mount.Pass(buffer[..count]);
            if (BytesASecond is not null)
            {
                await Task.Delay(100, over);
            }
        }
    }

    private async Task SongAsync(Stream line, string path, RequestHead head, CancellationToken over)
    {
        if (!_mounts.TryGetValue(path, out var mount))
        {
            await SayAsync(line, "404 Not Found", "Nobody sends there.", over);
            return;
        }

        mount.Song = head.Asked("song");
        await SayAsync(line, "200 OK", "It is known.", over);
    }

    private async Task ListenAsync(Stream line, RequestHead head, CancellationToken over)
    {
        if (!_mounts.TryGetValue(head.Path, out var mount))
        {
            await SayAsync(line, "404 Not Found", "Nobody sends there.", over);
            return;
        }

        var listener = mount.Enter();
        try
        {
            var answer = $"HTTP/1.0 200 OK\r\nContent-Type: {mount.MediaType}\r\nCache-Control: no-store\r\nicy-name: {mount.Name}\r\n\r\n";
            await line.WriteAsync(Encoding.UTF8.GetBytes(answer), over);
            await foreach (var bytes in listener.Reader.ReadAllAsync(over))
            {
                await line.WriteAsync(bytes, over);
            }
        }
        finally
        {
            mount.Leave(listener);
        }
    }

    private bool IsKnown(RequestHead head) =>
        Same(head["authorization"], "Basic " + Convert.ToBase64String(Encoding.UTF8.GetBytes($"{User}:{password}")));

    private static bool Same(string one, string other) => CryptographicOperations.FixedTimeEquals(Encoding.UTF8.GetBytes(one), Encoding.UTF8.GetBytes(other));

    private static string PathOf(string number) => number.Length == 0 ? "/1" : "/" + number;

    // It stands in answers.
    private static string MediaTypeOf(string said) => said.Length is > 0 and < 60 && said.All(c => char.IsAsciiLetterOrDigit(c) || "/+-.".Contains(c, StringComparison.Ordinal)) ? said : "audio/mpeg";

    private static Task WantsPasswordAsync(Stream line, CancellationToken over) => SayAsync(line, "401 You need to say who you are", "You need to say who you are.", over);

    private static async Task SayAsync(Stream line, string status, string words, CancellationToken over) =>
        await line.WriteAsync(
            Encoding.UTF8.GetBytes(string.Create(CultureInfo.InvariantCulture, $"HTTP/1.0 {status}\r\nContent-Type: text/plain; charset=utf-8\r\nContent-Length: {Encoding.UTF8.GetByteCount(words)}\r\nConnection: close\r\n\r\n{words}")), over);
}
