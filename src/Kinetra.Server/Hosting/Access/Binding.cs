using System.Net;

namespace Kinetra.Server.Hosting.Access;

/// <summary>An address that the server listens on, and the names under which it may be asked there.</summary>
/// <param name="Address">The address.</param>
/// <param name="Port">The port; 0: any free one.</param>
/// <param name="Names">Host names and addresses, without a port. A request under another one is refused: that is how other sites are kept from reaching in by a name of theirs that leads here (DNS rebinding).</param>
public sealed record Binding(IPAddress Address, int Port, IReadOnlyList<string> Names)
{
    /// <summary>This machine, for itself.</summary>
    public static Binding Loopback(int port) => new(IPAddress.Loopback, port, ["127.0.0.1", "localhost"]);
}
