using System.Net;
using Kinetra.Core.Editing;

namespace Kinetra.Server.Hosting.Access;

/// <summary>Who gets in: at which addresses, under which names, and as whom.</summary>
/// <param name="bindings">All addresses that the server listens on.</param>
/// <param name="admitsOthers">Whether other machines come as far as what asks them who they are.</param>
public sealed class AccessRules(IReadOnlyList<Binding> bindings, bool admitsOthers = false)
{
    /// <summary>All addresses that the server listens on.</summary>
    public IReadOnlyList<Binding> Bindings => bindings;

    /// <summary>Lets somebody in, or says why not.</summary>
    /// <param name="caller">Who asks.</param>
    /// <param name="refusal">The status and the problem, where nobody is let in.</param>
    /// <returns>On whose behalf the request is done, or null.</returns>
    public Principal? Admit(Caller caller, out (int Status, RigProblem Problem) refusal)
    {
        ArgumentNullException.ThrowIfNull(caller);
        refusal = default;
        var binding = bindings.FirstOrDefault(b => caller.Local is null || b.Address.Equals(Plain(caller.Local)));
        var names = binding?.Names ?? [];
        if (!names.Contains(caller.Host.Host, StringComparer.OrdinalIgnoreCase))
        {
            refusal = (StatusCodes.Status403Forbidden, new("Host", $"“{caller.Host.Host}” is not a name of this server.", string.Join(", ", names)));
            return null;
        }

        if (caller.Origin.Length > 0 && !string.Equals(caller.Origin, $"{caller.Scheme}://{caller.Host}", StringComparison.OrdinalIgnoreCase))
        {
            refusal = (StatusCodes.Status403Forbidden, new("Origin", $"A page of “{caller.Origin}” may not speak to this server.", "this server's own pages"));
            return null;
        }

        if (admitsOthers)
        {
            return new Principal.Device();
        }

        if (caller.Remote is not null && !IPAddress.IsLoopback(Plain(caller.Remote)))
        {
            refusal = (StatusCodes.Status401Unauthorized, new("address", $"“{Plain(caller.Remote)}” is another machine, which this server does not know.", "a program on this machine"));
            return null;
        }

        return new Principal.ThisMachine();
    }

    private static IPAddress Plain(IPAddress address) => address.IsIPv4MappedToIPv6 ? address.MapToIPv4() : address;
}
