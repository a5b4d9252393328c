using System.Text;

namespace Kinetra.Server.Features.Air;

/// <summary>What a stream's server says, in its first lines.</summary>
/// <param name="Status">The number of an HTTP answer; null: it speaks something else.</param>
/// <param name="Line">The first line, as it came, without what cannot be read.</param>
/// <param name="Location">Where it sends one instead; null: nowhere.</param>
sealed record ServerAnswer(int? Status, string Line, string? Location)
{
    /// <summary>The longest head, bytes: whoever says more than that says nothing.</summary>
    public const int MostBytes = 16_384;

    private const int MostWords = 160;

    /// <summary>Reads until a line ends that is empty, or, of what is no HTTP, until the first line ends.</summary>
    /// <exception cref="StreamServerException">It is no answer.</exception>
    public static async Task<ServerAnswer> ReadAsync(Stream from, bool headers, CancellationToken cancel)
    {
        var bytes = new List<byte>(256);
        var one = new byte[1];
        while (true)
        {
            if (await from.ReadAsync(one, cancel) == 0)
            {
                return bytes.Count == 0
                    ? throw new StreamServerException("The server closed the connection without a word.", "Whether the port and the kind of server are right.", isRefusal: true)
                    : Parse(bytes);
            }

            bytes.Add(one[0]);

            // A record of TLS begins so, and no line of text.
            if (bytes.Count == 1 && one[0] is 0x15 or 0x16)
            {
                throw new StreamServerException("The server speaks TLS there.", "Whether the stream is to go through TLS.", isRefusal: true);
            }

            if (bytes.Count > MostBytes)
            {
                throw new StreamServerException("The server’s answer has no end.", "Whether the port is that of a stream’s server.", isRefusal: true);
            }

            if (one[0] == '\n' && (!headers || !IsHttp(bytes) || EndsHead(bytes)))
            {
                return Parse(bytes);
            }
        }
    }

    /// <summary>Words of a server, fit to be shown: one line, what can be printed, not too long.</summary>
    public static string Readable(string text)
    {
        var line = new string([.. text.Select(c => char.IsControl(c) || c == '�' ? ' ' : c)]).Trim();
        return line.Length > MostWords ? line[..MostWords] + "…" : line;
    }

    private static bool IsHttp(List<byte> bytes) =>
        bytes.Count >= 5 && bytes[0] == 'H' && bytes[1] == 'T' && bytes[2] == 'T' && bytes[3] == 'P' && bytes[4] == '/';

    private static bool EndsHead(List<byte> bytes) =>
        (bytes.Count >= 2 && bytes[^2] == '\n') || (bytes.Count >= 4 && bytes[^2] == '\r' && bytes[^3] == '\n');

    private static ServerAnswer Parse(List<byte> bytes)
    {
        var lines = Encoding.UTF8.GetString([.. bytes]).Split('\n');
        var first = Readable(lines[0]);
        int? status = null;
        if (IsHttp(bytes) && first.Split(' ', 3) is [_, { Length: 3 } number, ..] && int.TryParse(number, out var parsed))
        {
            status = parsed;
        }

        var location = lines.Skip(1).Where(l => l.StartsWith("location:", StringComparison.OrdinalIgnoreCase)).Select(l => Readable(l["location:".Length..])).FirstOrDefault();
        return new(status, first, location);
    }
}
