using System.Collections.Immutable;
using System.Diagnostics;
using System.Text.Json;
using Kinetra.Core.Editing;
using Kinetra.Data;
using Kinetra.Server.Hosting.Access;
using Microsoft.AspNetCore.Diagnostics;
using Microsoft.AspNetCore.Http.HttpResults;

namespace Kinetra.Server.Hosting;

/// <summary>Every error of the API as problem details (RFC 9457): what, where, and what is allowed.</summary>
static partial class Problems
{
    public static ProblemHttpResult Invalid(ImmutableArray<RigProblem> problems) =>
        Problem(StatusCodes.Status422UnprocessableEntity, "This cannot be done.", problems);

    public static ProblemHttpResult Invalid(string where, string what, string allowed) => Invalid([new RigProblem(where, what, allowed)]);

    public static ProblemHttpResult NotFound(ImmutableArray<RigProblem> problems) =>
        Problem(StatusCodes.Status404NotFound, "This does not exist.", problems);

    public static ProblemHttpResult NotFound(string where, string what, string allowed) => NotFound([new RigProblem(where, what, allowed)]);

    public static ProblemHttpResult Conflict(string where, string what, string allowed, IDictionary<string, object?>? more = null) =>
        Problem(StatusCodes.Status409Conflict, "This does not fit what is there now.", [new RigProblem(where, what, allowed)], more);

    public static ProblemHttpResult Unavailable(string what) => Problem(
        StatusCodes.Status503ServiceUnavailable,
        "Not stored.",
        [new RigProblem("database", what, "the same again once the database answers; what plays goes on playing")]);

    public static ProblemHttpResult Problem(
        int status, string title, ImmutableArray<RigProblem> problems, IDictionary<string, object?>? more = null)
    {
        var extensions = new Dictionary<string, object?>(more ?? new Dictionary<string, object?>()) { ["problems"] = problems };
        return TypedResults.Problem(
            statusCode: status, title: title, detail: string.Join(" ", problems.Select(p => p.ToString())), extensions: extensions);
    }

    /// <summary>What was thrown becomes a problem in words; what nobody foresaw is logged once, by the trace that the answer carries.</summary>
    public static void UseProblems(this WebApplication app)
    {
        app.UseExceptionHandler(errors => errors.Run(async context =>
        {
            var thrown = context.Features.Get<IExceptionHandlerFeature>()?.Error;
            var problem = From(thrown, TraceOf(context));
            if (problem.StatusCode is StatusCodes.Status500InternalServerError or StatusCodes.Status507InsufficientStorage)
            {
                LogFailed(context.RequestServices.GetRequiredService<ILogger<WebApplication>>(), thrown, context.Request.Method, context.Request.Path, context.CallerWords(), TraceOf(context));
            }

            await problem.ExecuteAsync(context);
        }));
        app.UseStatusCodePages(async pages =>
        {
            var response = pages.HttpContext.Response;
            var path = pages.HttpContext.Request.Path;
            if (path.StartsWithSegments("/api", StringComparison.Ordinal))
            {
                await ForStatus(response.StatusCode, pages.HttpContext.Request).ExecuteAsync(pages.HttpContext);
            }
        });
    }

    /// <summary>By what a request is found in the log.</summary>
    public static string TraceOf(HttpContext context) => Activity.Current?.Id ?? context.TraceIdentifier;

    private static ProblemHttpResult From(Exception? thrown, string trace) => thrown switch
    {
        BadHttpRequestException { InnerException: JsonException json } => Problem(
            StatusCodes.Status400BadRequest,
            "The request's body is not what it should be.",
            [BodyProblem.Of(json)]),
        BadHttpRequestException bad => Problem(bad.StatusCode, "The request is not what it should be.", [RequestProblem.Of(bad)]),
        Microsoft.EntityFrameworkCore.DbUpdateConcurrencyException => Unavailable("The stored show is no longer the one that plays; it is fetched with the next change."),
        not null when DatabaseFaults.IsAway(thrown) => Unavailable("The database does not answer."),
        InvalidDataException damaged => Problem(
            StatusCodes.Status422UnprocessableEntity,
            "This is damaged.",
            [new RigProblem("show", damaged.Message, "a show that is not damaged; all others work")]),
        IOException => Problem(
            StatusCodes.Status507InsufficientStorage,
            "Not stored.",
            [new RigProblem("disk", thrown is NotKeptException ? thrown.Message : "The data folder takes no more: it is full, or may not be written to.", "a data folder with room that can be written to")],
            new Dictionary<string, object?> { ["traceId"] = trace }),
        _ => Problem(
            StatusCodes.Status500InternalServerError,
            "Something went wrong that nobody foresaw.",
            [new RigProblem("server", $"The request failed; the server's log says more under {trace}.", "trying again")],
            new Dictionary<string, object?> { ["traceId"] = trace }),
    };

    private static ProblemHttpResult ForStatus(int status, HttpRequest request) => status switch
    {
        StatusCodes.Status404NotFound => NotFound("path", $"There is nothing at {request.Path}.", "a path of /api/openapi.json"),
        StatusCodes.Status405MethodNotAllowed => Problem(
            status, "Wrong method.", [new RigProblem("method", $"{request.Method} is not for {request.Path}.", "a method of /api/openapi.json")]),
        StatusCodes.Status415UnsupportedMediaType => Problem(
            status, "Wrong kind of body.", [new RigProblem("Content-Type", "This kind of body is not read here.", "application/json, or multipart/form-data for a file")]),
        _ => Problem(status, "The request is not what it should be.", [new RigProblem("request", $"Status {status}.", "a request as in /api/openapi.json")]),
    };

    [LoggerMessage(LogLevel.Error, "{Method} {Path} of {Caller} failed. Trace {Trace}.")]
    private static partial void LogFailed(ILogger log, Exception? cause, string method, string path, string caller, string trace);
}

/// <summary>Something is so, but cannot be kept; the message is in words for a person and tells no path.</summary>
public sealed class NotKeptException(string message, Exception cause) : IOException(message, cause);
