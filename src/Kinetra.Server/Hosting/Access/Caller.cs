using System.Net;

namespace Kinetra.Server.Hosting.Access;

/// <summary>What is known of a request before it is let in.</summary>
/// <param name="Remote">Where it comes from; null: over no network.</param>
/// <param name="Local">At which address it came in; null: at none.</param>
/// <param name="Scheme">The scheme, in small letters.</param>
/// <param name="Host">The name that it asks for, with its port.</param>
/// <param name="Origin">The page that it comes from; empty: none.</param>
public sealed record Caller(IPAddress? Remote, IPAddress? Local, string Scheme, HostString Host, string Origin)
{
    /// <summary>That of a request.</summary>
    public static Caller Of(HttpContext context)
    {
        ArgumentNullException.ThrowIfNull(context);
        var (connection, request) = (context.Connection, context.Request);
        return new(connection.RemoteIpAddress, connection.LocalIpAddress, request.Scheme, request.Host, request.Headers.Origin.ToString());
    }
}
