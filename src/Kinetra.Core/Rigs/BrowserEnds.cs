using System.Text;
using Kinetra.Core.Signal;

namespace Kinetra.Core.Rigs;

/// <summary>A browser's inputs and outputs as devices.</summary>
public static class BrowserEnds
{
    /// <summary>The device that a browser's output is: the same for the same browser and output, for ever (FNV-1a, 64 bits, of both names).</summary>
    /// <param name="client">The browser.</param>
    /// <param name="device">Its own id of the output.</param>
    public static DeviceId IdOf(string client, string device)
    {
        const ulong offset = 14_695_981_039_346_656_037, prime = 1_099_511_628_211;
        var hash = offset;
        foreach (var b in Encoding.UTF8.GetBytes($"{client}\n{device}"))
        {
            hash = (hash ^ b) * prime;
        }

        return new($"browser-{hash:x16}");
    }
}
