using Kinetra.Core.Editing;

namespace Kinetra.Server.Hosting;

/// <summary>
/// Keeps other sites out: a request must be addressed to this machine by one of its own names, and come from a page of ours
/// or from no page at all. Sets the headers that isolate the page and allow it nothing from elsewhere.
/// </summary>
static class Protection
{
    private const string ContentPolicy =
        "default-src 'none'; script-src 'self'; style-src 'self' 'unsafe-inline'; font-src 'self'; img-src 'self' data:; connect-src 'self'; "
        + "worker-src 'self'; media-src 'self' blob:; manifest-src 'self'; base-uri 'none'; form-action 'none'; frame-ancestors 'none'";

    // What a page of ours asks for, and nothing beside it.
    private const string Permissions =
        "microphone=(self), display-capture=(self), speaker-selection=(self), autoplay=(self), clipboard-write=(self), screen-wake-lock=(self), midi=(self), "
        + "camera=(), geolocation=(), payment=(), usb=(), serial=(), bluetooth=(), hid=(), publickey-credentials-get=(), browsing-topics=()";

    private static readonly string[] OwnNames = ["127.0.0.1", "localhost"];

    public static void UseProtection(this WebApplication app) => app.Use(async (context, next) =>
    {
        // Set last: an answer that takes the place of another one has them too.
        context.Response.OnStarting(
            response =>
            {
                var headers = ((HttpResponse)response).Headers;
                headers.ContentSecurityPolicy = ContentPolicy;
                headers["Cross-Origin-Opener-Policy"] = "same-origin";
                headers["Cross-Origin-Embedder-Policy"] = "require-corp";
                headers["Cross-Origin-Resource-Policy"] = "same-origin";
                headers["Permissions-Policy"] = Permissions;
                headers["Referrer-Policy"] = "no-referrer";
                headers.XContentTypeOptions = "nosniff";
                return Task.CompletedTask;
            },
            context.Response);
        if (Refusal(context.Request) is { } refusal)
        {
            await Problems.Problem(StatusCodes.Status403Forbidden, "Refused.", [refusal]).ExecuteAsync(context);
            return;
        }

        await next(context);
    });

    private static RigProblem? Refusal(HttpRequest request)
    {
        if (!OwnNames.Contains(request.Host.Host, StringComparer.OrdinalIgnoreCase))
        {
            return new RigProblem("Host", $"“{request.Host.Host}” is not a name of this server.", string.Join(", ", OwnNames));
        }

        var origin = request.Headers.Origin.ToString();
        return origin.Length == 0 || string.Equals(origin, $"{request.Scheme}://{request.Host}", StringComparison.OrdinalIgnoreCase)
            ? null
            : new RigProblem("Origin", $"A page of “{origin}” may not speak to this server.", "this server's own pages");
    }
}
