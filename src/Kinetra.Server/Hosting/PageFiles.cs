using Microsoft.AspNetCore.StaticFiles;
using Microsoft.Extensions.FileProviders;
using Microsoft.Net.Http.Headers;

namespace Kinetra.Server.Hosting;

/// <summary>
/// Serves the page: every address that is neither the API's nor a file's is a place within it. Files stand compressed beside themselves
/// (.br, .gz), and those whose names hold a hash of their content are kept by the browser for ever.
/// </summary>
static class PageFiles
{
    private static readonly FileExtensionContentTypeProvider Types = new();

    // What the browser prefers comes first.
    private static readonly (string Name, string Extension)[] Encodings = [("br", ".br"), ("gzip", ".gz")];

    /// <param name="app">The server.</param>
    /// <param name="page">The page that every place is in.</param>
    public static void UsePageFiles(this WebApplication app, string page = "/index.html") => app.Use(async (context, next) =>
    {
        var path = context.Request.Path.Value ?? "/";
        var isRead = HttpMethods.IsGet(context.Request.Method) || HttpMethods.IsHead(context.Request.Method);
        var isApi = context.Request.Path.StartsWithSegments("/api", StringComparison.OrdinalIgnoreCase);
        if (isApi || !isRead || path.EndsWith(".br", StringComparison.Ordinal) || path.EndsWith(".gz", StringComparison.Ordinal))
        {
            await next(context);
            return;
        }

        // A place in the page has no dot; what has one is a file, there or not.
        var name = path.Contains('.', StringComparison.Ordinal) ? path : page;
        if (!await SendAsync(context, app.Environment.WebRootFileProvider, name))
        {
            await next(context);
        }
    });

    private static async Task<bool> SendAsync(HttpContext context, IFileProvider files, string name)
    {
        var plain = files.GetFileInfo(name);
        if (!plain.Exists || plain.IsDirectory || !Types.TryGetContentType(name, out var type))
        {
            return false;
        }

        var (encoding, file) = Encodings
            .Where(e => Accepts(context.Request, e.Name))
            .Select(e => ((string?)e.Name, File: files.GetFileInfo(name + e.Extension)))
            .FirstOrDefault(e => e.File.Exists, (null, plain));
        var headers = context.Response.GetTypedHeaders();
        var tag = new EntityTagHeaderValue($"\"{plain.LastModified.UtcTicks:x}-{plain.Length:x}{(encoding is null ? "" : "-" + encoding)}\"");
        headers.ETag = tag;
        headers.CacheControl = name.StartsWith("/assets/", StringComparison.Ordinal)
            ? CacheControlHeaderValue.Parse("public, max-age=31536000, immutable")
            : new CacheControlHeaderValue { NoCache = true };
        context.Response.Headers.Vary = HeaderNames.AcceptEncoding;
        if (context.Request.GetTypedHeaders().IfNoneMatch.Any(known => known.Compare(tag, useStrongComparison: false)))
        {
            context.Response.StatusCode = StatusCodes.Status304NotModified;
            return true;
        }

        context.Response.ContentType = type is "text/html" or "text/javascript" or "text/css" ? type + "; charset=utf-8" : type;
        context.Response.ContentLength = file.Length;
        if (encoding is not null)
        {
            context.Response.Headers.ContentEncoding = encoding;
        }

        if (HttpMethods.IsGet(context.Request.Method))
        {
            await context.Response.SendFileAsync(file, context.RequestAborted);
        }

        return true;
    }

    private static bool Accepts(HttpRequest request, string encoding) =>
        request.GetTypedHeaders().AcceptEncoding.Any(a => a.Value.Equals(encoding, StringComparison.OrdinalIgnoreCase) && a.Quality is null or > 0);
}
