using System.Text.Json;
using System.Text.RegularExpressions;
using Kinetra.Core.Editing;

namespace Kinetra.Server.Hosting;

/// <summary>What is wrong with a body of JSON, in words of this application and not of the library that read it.</summary>
static partial class BodyProblem
{
    private const string Fields = "the fields that /api/openapi.json names";
    private const string Value = "a value as in /api/openapi.json";

    /// <summary>The problem that an exception of the library stands for.</summary>
    public static RigProblem Of(JsonException thrown)
    {
        var where = thrown.Path is { Length: > 0 } path ? path : "body";
        if (Missing().Match(thrown.Message) is { Success: true } missing)
        {
            return new(Below(where, missing.Groups[1].Value), "This field is missing.", "a value");
        }

        if (Twice().Match(thrown.Message) is { Success: true } twice)
        {
            return new(Below(where, twice.Groups[1].Value), "This field stands twice.", "each field once");
        }

        if (thrown.Message.Contains("could not be mapped", StringComparison.Ordinal))
        {
            return new(where, "There is no such field.", Fields);
        }

        if (thrown.InnerException is JsonException)
        {
            return new(where, $"This is not JSON from line {(thrown.LineNumber ?? 0) + 1} on.", Value);
        }

        // Gains and points say themselves what they may be.
        return thrown.Message.StartsWith("A ", StringComparison.Ordinal)
            ? new(where, FirstSentence(thrown.Message), Value)
            : new(where, "This is not understood.", Value);
    }

    private static string Below(string where, string name) => where == "body" || where == "$" ? $"$.{name}" : where.EndsWith($".{name}", StringComparison.Ordinal) ? where : $"{where}.{name}";

    private static string FirstSentence(string message)
    {
        var end = message.IndexOf(" Path: ", StringComparison.Ordinal);
        return end > 0 ? message[..end] : message;
    }

    [GeneratedRegex("missing required properties including: '([^']+)'")]
    private static partial Regex Missing();

    [GeneratedRegex("^Duplicate property '([^']+)'")]
    private static partial Regex Twice();
}
