using System.Collections.Immutable;

namespace Kinetra.Server.Hosting.Secrets;

/// <summary>All secrets that this program has come to know, so that whoever writes a line can take them out.</summary>
public sealed class Redaction
{
    // Shorter ones would take ordinary words and numbers out of every line, and tell by that what they are.
    private const int Shortest = 4;

    private ImmutableArray<string> _known = [];

    /// <summary>Never again written, in any of the forms that an address or a JSON text gives it. Any thread.</summary>
    public void Add(Secret secret)
    {
        ArgumentNullException.ThrowIfNull(secret);
        var value = secret.Reveal();
        string[] forms = [value, Uri.EscapeDataString(value), System.Text.Json.JsonEncodedText.Encode(value).Value];
        foreach (var form in forms.Where(f => f.Length >= Shortest))
        {
            // Longest first: one may hold another.
            ImmutableInterlocked.Update(ref _known, (all, one) => all.Contains(one) ? all : [.. all.Append(one).OrderByDescending(s => s.Length)], form);
        }
    }

    /// <summary>A text without any of them.</summary>
    public string Hide(string text)
    {
        ArgumentNullException.ThrowIfNull(text);
        foreach (var secret in _known)
        {
            text = text.Replace(secret, Secret.Dots, StringComparison.Ordinal);
        }

        return text;
    }
}
