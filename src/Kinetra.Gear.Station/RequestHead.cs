using System.Text;

namespace Kinetra.Gear.Station;

/// <summary>The head of a request: its first line, and what stands below it.</summary>
sealed record RequestHead(string Method, string Target, IReadOnlyDictionary<string, string> Fields)
{
    private const int MostBytes = 16_384;

    /// <summary>What a field says; empty: it is not there.</summary>
    public string this[string field] => Fields.TryGetValue(field, out var value) ? value : "";

    /// <summary>The target without its query.</summary>
    public string Path => Target.Split('?')[0];

    /// <summary>What the query says of a name; empty: nothing.</summary>
    public string Asked(string name)
    {
        var query = Target.Contains('?', StringComparison.Ordinal) ? Target[(Target.IndexOf('?', StringComparison.Ordinal) + 1)..] : "";
        return query.Split('&').Where(p => p.StartsWith(name + '=', StringComparison.Ordinal)).Select(p => Uri.UnescapeDataString(p[(name.Length + 1)..].Replace('+', ' '))).FirstOrDefault() ?? "";
    }

    /// <summary>A line, without its end; null: the other side has gone, or it has none.</summary>
    public static async Task<string?> LineAsync(Stream from, CancellationToken cancel)
    {
        var bytes = new List<byte>(128);
        var one = new byte[1];
        while (bytes.Count < MostBytes && await from.ReadAsync(one, cancel) > 0)
        {
            if (one[0] == '\n')
            {
                return Encoding.UTF8.GetString([.. bytes]).TrimEnd('\r');
            }

            bytes.Add(one[0]);
        }

        return null;
    }

    /// <summary>Fields, one on a line, up to an empty line.</summary>
    public static async Task<IReadOnlyDictionary<string, string>> FieldsAsync(Stream from, CancellationToken cancel)
    {
        var fields = new Dictionary<string, string>(StringComparer.OrdinalIgnoreCase);
        while (fields.Count < 100 && await LineAsync(from, cancel) is { Length: > 0 } line)
        {
            if (line.Split(':', 2) is [var name, var value])
            {
                fields[name.Trim()] = value.Trim();
            }
        }

        return fields;
    }

    /// <summary>The head of an HTTP request; null: it is none.</summary>
    public static async Task<RequestHead?> ReadAsync(Stream from, CancellationToken cancel) =>
        await LineAsync(from, cancel) is { } line && line.Split(' ') is [var method, var target, var version] && version.StartsWith("HTTP/", StringComparison.Ordinal)
            ? new(method, target, await FieldsAsync(from, cancel))
            : null;
}
