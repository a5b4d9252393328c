using System.Text.RegularExpressions;
using Kinetra.Core.Editing;
using Microsoft.AspNetCore.Http;

namespace Kinetra.Server.Hosting;

/// <summary>
/// What is wrong with a request that could not be bound, in words of this application: the framework's own sentences name types of the
/// program, and tell a person nothing.
/// </summary>
static partial class RequestProblem
{
    private const string Document = "a request as in /api/openapi.json";

    /// <summary>The problem that an exception of the framework stands for.</summary>
    public static RigProblem Of(BadHttpRequestException thrown)
    {
        if (Missing().Match(thrown.Message) is { Success: true } missing)
        {
            return new(Field(missing), "This is missing.", $"a value in the {(missing.Groups["where"].Value == "form" ? "form" : missing.Groups["where"].Value)}");
        }

        if (NotBound().Match(thrown.Message) is { Success: true } wrong)
        {
            return new(Field(wrong), $"“{Cut(wrong.Groups["value"].Value)}” is not understood here.", "a value as in /api/openapi.json");
        }

        return thrown.StatusCode switch
        {
            StatusCodes.Status413PayloadTooLarge => new("body", "The request's body is too large.", "a smaller one"),
            StatusCodes.Status415UnsupportedMediaType => new("Content-Type", "This kind of body is not read here.", "application/json, or multipart/form-data for a file"),
            _ when thrown.Message.Contains("body was", StringComparison.Ordinal) || thrown.Message.Contains("no body", StringComparison.Ordinal) => new("body", "The request has no body.", Document),
            _ when thrown.Message.Contains("form", StringComparison.OrdinalIgnoreCase) => new("body", "The form cannot be read.", "multipart/form-data, whole"),
            _ => new("request", "The request is not understood.", Document),
        };
    }

    // A parameter's name in the program begins with a capital where it is a member of a record.
    private static string Field(Match match)
    {
        var name = match.Groups["name"].Value;
        return char.ToLowerInvariant(name[0]) + name[1..];
    }

    private static string Cut(string value) => value.Length <= 40 ? value : Names.Cut(value, 40) + "…";

    [GeneratedRegex("""^Required parameter "\S+ (?<name>\w+)" was not provided from (?<where>query|form|header|route|body)""")]
    private static partial Regex Missing();

    [GeneratedRegex("""^Failed to bind parameter "\S+ (?<name>\w+)" from "(?<value>.*)"\.$""", RegexOptions.Singleline)]
    private static partial Regex NotBound();
}
