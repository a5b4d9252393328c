namespace Kinetra.Server.Hosting;

/// <summary>The headers that isolate the page and allow it nothing from elsewhere, on every answer.</summary>
static class PageHeaders
{
    private const string ContentPolicy =
        "default-src 'none'; script-src 'self'; style-src 'self' 'unsafe-inline'; font-src 'self'; img-src 'self' data:; connect-src 'self'; "
        + "worker-src 'self'; media-src 'self' blob:; manifest-src 'self'; base-uri 'none'; form-action 'none'; frame-ancestors 'none'";

    // What a page of ours asks for, and nothing beside it.
    private const string Permissions =
        "microphone=(self), display-capture=(self), speaker-selection=(self), autoplay=(self), clipboard-write=(self), screen-wake-lock=(self), midi=(self), "
        + "camera=(), geolocation=(), payment=(), usb=(), serial=(), bluetooth=(), hid=(), publickey-credentials-get=(), browsing-topics=()";

    public static void UsePageHeaders(this WebApplication app) => app.Use(async (context, next) =>
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
        await next(context);
    });
}
