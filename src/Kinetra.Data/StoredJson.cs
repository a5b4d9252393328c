using System.Text.Json;
using System.Text.Json.Nodes;
using System.Text.Json.Serialization;
using Kinetra.Core.Editing;
using Kinetra.Core.Rigs;

namespace Kinetra.Data;

/// <summary>
/// Documents as they are stored: each with the version of its form, which is kept beside it. An older one is brought up step by step; one
/// that a newer program wrote, or that cannot be understood, is damaged, and nothing is guessed.
/// </summary>
public static class StoredJson
{
    /// <summary>The version that is written now, of rigs and commands alike.</summary>
    public const int Version = 5;

    // What is stored was checked when it was written. A member that this program does not know is one that it no longer needs, or that a
    // newer one has added without changing what the others mean.
    private static readonly JsonSerializerOptions Reading = new(RigJson.Options) { UnmappedMemberHandling = JsonUnmappedMemberHandling.Skip };

    // From each version to the next; the first entry makes version 1 of what was stored before versions were kept, which is the same. With version 2
    // came the computer around the desk, with 3 promises, with 4 pads and cues, with 5 what a take has from before the press.
    private static readonly Action<JsonObject>[] Upcasters = [_ => { }, OlderInputs.Raise, _ => { }, _ => { }, _ => { }];

    /// <summary>Writes a document in the present form.</summary>
    public static string Write<T>(T document) => JsonSerializer.Serialize(document, RigJson.Options);

    /// <summary>Reads a document of any version up to the present one.</summary>
    /// <param name="json">The document.</param>
    /// <param name="version">The version of its form.</param>
    /// <param name="what">What it is, for the words of the exception.</param>
    /// <exception cref="InvalidDataException">It is damaged; the message says how.</exception>
    public static T Read<T>(string json, int version, string what)
    {
        if (version is < 0 or > Version)
        {
            throw new InvalidDataException($"{what} was written by a newer version of Kinetra (form {version}; this one knows up to {Version}).");
        }

        try
        {
            var node = JsonNode.Parse(json);
            if (node is JsonObject document)
            {
                Array.ForEach(Upcasters[version..], upcast => upcast(document));
            }

            return node.Deserialize<T>(Reading) ?? throw new InvalidDataException($"{what} is empty.");
        }
        catch (Exception e) when (e is JsonException or InvalidOperationException or NotSupportedException or ArgumentException)
        {
            var where = e is JsonException { Path: { Length: > 1 } path } ? $" from {path} on" : "";
            throw new InvalidDataException($"{what} cannot be understood{where}.", e);
        }
    }
}
