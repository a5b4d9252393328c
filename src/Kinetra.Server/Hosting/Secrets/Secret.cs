using System.Diagnostics;
using System.Text.Json;
using System.Text.Json.Serialization;

namespace Kinetra.Server.Hosting.Secrets;

/// <summary>
/// A password or key that somebody gave. It can be read from a body and never written: not into an answer, an export, a message or a log,
/// where it is null or dots. Who needs it says so (<see cref="Reveal"/>).
/// </summary>
[JsonConverter(typeof(WriteOnly))]
[DebuggerDisplay(Dots)]
public sealed class Secret
{
    /// <summary>What stands in its place.</summary>
    public const string Dots = "•••";

    /// <summary>The longest one, characters.</summary>
    public const int MaxLength = 1024;

    private readonly string _value;

    /// <summary>Keeps a secret.</summary>
    /// <param name="value">1 to 1024 characters.</param>
    /// <exception cref="ArgumentException">It is empty or longer. The message does not repeat it.</exception>
    public Secret(string value)
    {
        if (value is not { Length: > 0 and <= MaxLength })
        {
            throw new ArgumentException($"A secret has 1 to {MaxLength} characters.");
        }

        _value = value;
    }

    /// <summary>The secret itself, for whoever it is meant for.</summary>
    public string Reveal() => _value;

    /// <summary>Dots.</summary>
    public override string ToString() => Dots;

    private sealed class WriteOnly : JsonConverter<Secret>
    {
        public override Secret Read(ref Utf8JsonReader reader, Type typeToConvert, JsonSerializerOptions options)
        {
            if (reader.TokenType != JsonTokenType.String || reader.GetString() is not { Length: > 0 and <= MaxLength } value)
            {
                throw new JsonException($"A secret is a text of 1 to {MaxLength} characters.");
            }

            return new(value);
        }

        public override void Write(Utf8JsonWriter writer, Secret value, JsonSerializerOptions options) => writer.WriteNullValue();
    }
}
