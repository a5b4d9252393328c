using System.Text.Json.Nodes;

namespace Kinetra.Core.Editing;

/// <summary>
/// Makes of the inputs of sources as they were before there was a computer around the desk, stand-ins each by itself, what they became: inputs of
/// its devices, and what its programs play.
/// </summary>
public static class OlderInputs
{
    private static readonly Dictionary<string, Func<JsonObject>> Became = new()
    {
        ["host-mic"] = () => Device(0),
        ["second-mic"] = () => Device(1),
        ["sea-mic"] = () => Device(2),
        ["guest-call"] = () => Program("harbour-call", "voice"),
        ["crew-talk"] = () => Program("crew-room", "voices"),
        ["skerry-keeper"] = () => Program("skerry-keeper", null),
        ["record-shelf"] = () => Program("record-shelf", null),
    };

    /// <summary>Changes a document in place, wherever an input stands in it.</summary>
    public static void Raise(JsonNode? document)
    {
        switch (document)
        {
            case JsonObject fields:
                foreach (var (name, value) in fields.ToList())
                {
                    if (value is JsonObject input && Text(input, "type") == "standIn" && Text(input, "device") is { } device)
                    {
                        // One that nobody has is a device that the show waits for.
                        fields[name] = Became.GetValueOrDefault(device)?.Invoke()
                            ?? new JsonObject { ["type"] = "device", ["device"] = Id(device), ["left"] = 0, ["right"] = 1 };
                    }
                    else
                    {
                        Raise(value);
                    }
                }

                break;
            case JsonArray items:
                foreach (var item in items)
                {
                    Raise(item);
                }

                break;
        }
    }

    private static JsonObject Device(int channel) => new() { ["type"] = "device", ["device"] = "desk-interface", ["left"] = channel };

    // Without a port: all that it plays.
    private static JsonObject Program(string app, string? port)
    {
        var input = new JsonObject { ["type"] = "app", ["app"] = app };
        if (port is not null)
        {
            input["port"] = port;
        }

        return input;
    }

    private static string Id(string device)
    {
        var letters = device.ToLowerInvariant().Select(c => c is (>= 'a' and <= 'z') or (>= '0' and <= '9') ? c : '-').Take(40).ToArray();
        return letters.Length == 0 ? "device" : new string(letters);
    }

    private static string? Text(JsonObject from, string name) => from[name] is JsonValue value && value.TryGetValue(out string? word) ? word : null;
}
