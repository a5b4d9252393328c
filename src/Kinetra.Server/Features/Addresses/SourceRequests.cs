using System.Buffers;
using System.Text;
using Kinetra.Core.Rigs;
using Microsoft.AspNetCore.Connections;
using Microsoft.AspNetCore.Connections.Features;
using Microsoft.AspNetCore.Http.Features;
using Microsoft.AspNetCore.Server.Kestrel.Core;
using Microsoft.AspNetCore.Server.Kestrel.Core.Features;

namespace Kinetra.Server.Features.Addresses;

/// <summary>
/// Requests by which sound is sent in. Encoders for internet radio send a head that names no length and then go on without an end, which HTTP
/// does not know: such a connection is taken over whole, before the web server reads it. All else, and a <c>PUT</c> that says how its body ends,
/// is the web server's.
/// </summary>
static class SourceRequests
{
    private const string Path = "/live/";
    private const int MostHead = 16_384;

    // Whoever says nothing for so long is the web server's to wait for.
    private static readonly TimeSpan Patience = TimeSpan.FromSeconds(10);

    private static readonly byte[][] Beginnings = ["SOURCE /live/"u8.ToArray(), "PUT /live/"u8.ToArray()];

    /// <summary>Looks at each connection first.</summary>
    public static void UseSourceRequests(this ListenOptions listen) => listen.Use(next => async connection =>
    {
        Head? head;
        try
        {
            head = await HeadAsync(connection);
        }
        catch (Exception e) when (e is IOException or ConnectionAbortedException)
        {
            // It went before it had said anything.
            return;
        }

        if (head is not null)
        {
            await ServeAsync(connection, head, listen.ApplicationServices.GetRequiredService<LiveSenders>());
            return;
        }

        await next(connection);
    });

    /// <summary>The same of a request that the web server has read: its body has a length, or says where it ends.</summary>
    public static async Task PutAsync(HttpContext context, string name, LiveSenders senders)
    {
        if (context.Features.Get<IHttpMaxRequestBodySizeFeature>() is { IsReadOnly: false } most)
        {
            most.MaxRequestBodySize = null;
        }

        if (context.Features.Get<IHttpMinRequestBodyDataRateFeature>() is { } least)
        {
            least.MinDataRate = null;
        }

        if (senders.Enter(KeyOf(name), NameOf(context.Request.Headers["ice-name"].FirstOrDefault()), context.Abort, out var problem) is not { } sender)
        {
            await Hosting.Problems.Problem(problem.Status, "Refused.", [problem.Problem]).ExecuteAsync(context);
            return;
        }

        await senders.TakeAsync(sender, context.Request.BodyReader.AsStream());
        if (!context.RequestAborted.IsCancellationRequested && senders.RefusedAt(sender.Key) is { } refused && refused.At >= sender.Since)
        {
            await Hosting.Problems.Invalid("body", refused.What, refused.Allowed).ExecuteAsync(context);
        }
    }

    // Null: it is the web server's.
    private static async Task<Head?> HeadAsync(ConnectionContext connection)
    {
        var input = connection.Transport.Input;
        using var patience = new CancellationTokenSource(Patience);
        await using var giveUp = patience.Token.Register(input.CancelPendingRead);

        // A server that ends waits for nobody who has said nothing, as a browser that has connected ahead.
        await using var ends = (connection.Features.Get<IConnectionLifetimeNotificationFeature>()?.ConnectionClosedRequested ?? default).Register(input.CancelPendingRead);
        while (true)
        {
            var read = await input.ReadAsync();
            var buffer = read.Buffer;
            var begun = buffer.Slice(0, Math.Min(buffer.Length, MostHead)).ToArray();
            var isOurs = Beginnings.Any(b => begun.AsSpan(0, Math.Min(begun.Length, b.Length)).SequenceEqual(b.AsSpan(0, Math.Min(begun.Length, b.Length))));
            if (isOurs && Parse(begun) is { } head)
            {
                if (!head.IsWithoutLength)
                {
                    input.AdvanceTo(buffer.Start);
                    return null;
                }

                input.AdvanceTo(buffer.GetPosition(head.Bytes));
                return head;
            }

            if (!isOurs || begun.Length == MostHead || read.IsCompleted || read.IsCanceled)
            {
                input.AdvanceTo(buffer.Start);
                return null;
            }

            input.AdvanceTo(buffer.Start, buffer.End);
        }
    }

    private static Head? Parse(byte[] begun)
    {
        var end = begun.AsSpan().IndexOf("\r\n\r\n"u8);
        if (end < 0)
        {
            return null;
        }

        var lines = Encoding.UTF8.GetString(begun, 0, end).Split("\r\n");
        var fields = new Dictionary<string, string>(StringComparer.OrdinalIgnoreCase);
        foreach (var parts in lines.Skip(1).Select(l => l.Split(':', 2)).Where(p => p.Length == 2))
        {
            fields[parts[0].Trim()] = parts[1].Trim();
        }

        var words = lines[0].Split(' ');
        return new Head(words[0], words[1][Path.Length..].Split('?')[0], fields, end + 4);
    }

    private static async Task ServeAsync(ConnectionContext connection, Head head, LiveSenders senders)
    {
        var output = connection.Transport.Output;
        try
        {
            if (senders.Enter(KeyOf(head.Name), NameOf(head["ice-name"]), connection.Abort, out var problem) is not { } sender)
            {
                await output.WriteAsync(Encoding.UTF8.GetBytes(
                    $"HTTP/1.0 {problem.Status} {ReasonOf(problem.Status)}\r\nContent-Type: text/plain; charset=utf-8\r\nConnection: close\r\n\r\n{problem.Problem.What} Allowed: {problem.Problem.Allowed}.\r\n"));
                return;
            }

            var answer = head.Method == "SOURCE" ? "HTTP/1.0 200 OK\r\n\r\n" : head["expect"].Length > 0 ? "HTTP/1.1 100 Continue\r\n\r\n" : "HTTP/1.1 200 OK\r\n\r\n";
            await output.WriteAsync(Encoding.ASCII.GetBytes(answer));
            await senders.TakeAsync(sender, connection.Transport.Input.AsStream(leaveOpen: true));
        }
        catch (Exception e) when (e is IOException or ConnectionAbortedException or ConnectionResetException)
        {
            // Whoever it was has gone.
        }
    }

    // Programs like an ending, and it says nothing: what comes is found out.
    private static string KeyOf(string name) => name.Split('.')[0];

    private static string? NameOf(string? said) => said?.Trim() is { Length: > 0 and <= RigLimits.NameLength } name ? name : null;

    private static string ReasonOf(int status) => status switch { 404 => "Not Found", 409 => "Conflict", _ => "Service Unavailable" };

    private sealed record Head(string Method, string Name, Dictionary<string, string> Fields, int Bytes)
    {
        public string this[string field] => Fields.GetValueOrDefault(field, "");

        public bool IsWithoutLength => Method == "SOURCE" || (!Fields.ContainsKey("content-length") && !Fields.ContainsKey("transfer-encoding"));
    }
}
