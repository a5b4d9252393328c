using System.Collections.Immutable;
using System.Globalization;
using Kinetra.Core.Rigs;
using Kinetra.Core.Signal;

namespace Kinetra.Core.Editing;

/// <summary>What makes streams valid. Whether anybody is there is no question of a rig.</summary>
static class StreamRules
{
    /// <summary>A server's name, in words.</summary>
    public const string HostAllowed = "a name such as radio.example or an IP address, without “http://”, port or path";

    /// <summary>A place on a server, in words.</summary>
    public const string PathAllowed = "a slash, then 1 to 200 of a–z, A–Z, 0–9 and . _ ~ - / % ; of “password first” a stream number from 1 to 999, or nothing";

    /// <summary>The longest of each, in characters.</summary>
    public const int HostLength = 253, PathLength = 201, UserLength = 100, TextLength = 200;

    public static void Check(ImmutableArray<RigProblem>.Builder problems, Rig rig)
    {
        if (rig.Streams.IsDefault || rig.Streams.Length > RigLimits.Streams || rig.Streams.Any(s => s?.Server is null))
        {
            var what = !rig.Streams.IsDefault && rig.Streams.Length > RigLimits.Streams ? $"A show cannot have {rig.Streams.Length} streams." : "These streams cannot be used.";
            problems.Add(new("streams", what, $"a list of at most {RigLimits.Streams}, none of them empty, each with a server"));
            return;
        }

        var ids = new HashSet<StreamId>();
        var names = new HashSet<string>(StringComparer.OrdinalIgnoreCase);
        for (var s = 0; s < rig.Streams.Length; s++)
        {
            var (where, stream) = ($"streams[{s}]", rig.Streams[s]);
            RigRules.AddIfAny(problems, RigRules.CheckId($"{where}.id", stream.Id.Value));
            RigRules.AddIfAny(problems, RigRules.CheckName($"{where}.name", stream.Name));
            RigRules.AddIfAny(problems, RigRules.CheckGain($"{where}.gain", stream.Gain));
            if (!ids.Add(stream.Id))
            {
                problems.Add(new($"{where}.id", "This id is taken.", "an id that no other stream has"));
            }

            if (stream.Name is not null && !names.Add(stream.Name))
            {
                problems.Add(new($"{where}.name", $"Another stream is called “{stream.Name}” already.", "a name that no other stream has"));
            }

            if (rig.Find(stream.Mix) is null)
            {
                problems.Add(new($"{where}.mix", $"The show has no mix “{stream.Mix}”.", "one of the show’s mixes") { IsReference = true });
            }

            CheckText(problems, $"{where}.title", stream.Title);
            CheckText(problems, $"{where}.description", stream.Description);
            if (stream.SongFrom is { } teller)
            {
                // Whether this computer has it is no question of a rig.
                RigRules.AddIfAny(problems, RigRules.CheckId($"{where}.songFrom", teller.Value));
            }

            CheckForm(problems, where, stream);
            Check(problems, $"{where}.server", stream.Server);
        }
    }

    // Whoever reads a header or a comment takes a line's end for the end of it.
    private static void CheckText(ImmutableArray<RigProblem>.Builder problems, string where, string? text)
    {
        if (text is null || text.Length > TextLength || text.Any(char.IsControl))
        {
            problems.Add(new(where, "This text cannot be sent.", $"at most {TextLength} characters on one line"));
        }
    }

    private static void CheckForm(ImmutableArray<RigProblem>.Builder problems, string where, Broadcast stream)
    {
        if (!AirForms.All.Contains(stream.Form))
        {
            problems.Add(new($"{where}.form", "No server takes this.", string.Join(", ", AirForms.All)));
            return;
        }

        if (stream.Channels is not (1 or 2))
        {
            problems.Add(new($"{where}.channels", $"A stream cannot have {stream.Channels} channels.", "1 or 2"));
            return;
        }

        var rates = AirForms.RatesOf(stream.Form);
        if (!rates.Contains(stream.SampleRate))
        {
            problems.Add(new($"{where}.sampleRate", $"{stream.Form} cannot be made at {stream.SampleRate} Hz.", $"{string.Join(", ", rates)} Hz"));
            return;
        }

        var (least, most, only) = AirForms.KilobitsOf(stream.Form, stream.SampleRate, stream.Channels);
        if (stream.Kilobits < least || stream.Kilobits > most || (only is { } all && !all.Contains(stream.Kilobits)))
        {
            var allowed = only is { } each ? $"{string.Join(", ", each)} kbit/s" : most == 0 ? "0: it has as many as it needs" : $"a whole number from {least} to {most} kbit/s";
            problems.Add(new($"{where}.kilobits", $"{stream.Form} cannot be made with {stream.Kilobits} kbit/s at {stream.SampleRate} Hz in {(stream.Channels == 1 ? "mono" : "stereo")}.", allowed));
        }
    }

    private static void Check(ImmutableArray<RigProblem>.Builder problems, string where, AirServer server)
    {
        if (!Enum.IsDefined(server.Kind))
        {
            problems.Add(new($"{where}.kind", "Unknown kind of server.", string.Join(", ", Enum.GetNames<ServerKind>())));
        }

        if (!IsHost(server.Host))
        {
            problems.Add(new($"{where}.host", $"“{server.Host}” is no server’s name.", HostAllowed));
        }

        // The oldest kind is met one port above.
        var highest = server.Kind == ServerKind.FirstLine ? 65_534 : 65_535;
        if (server.Port < 1 || server.Port > highest)
        {
            problems.Add(new($"{where}.port", $"There is no port {server.Port.ToString(CultureInfo.InvariantCulture)}.", $"a whole number from 1 to {highest}"));
        }

        if (!(server.Kind == ServerKind.FirstLine ? IsNumber(server.Path) : IsPath(server.Path)))
        {
            problems.Add(new($"{where}.path", $"“{server.Path}” is no place on this kind of server.", PathAllowed));
        }

        // A colon ends the name where name and password are sent together.
        if (server.User is null || server.User.Length > UserLength || server.User.Any(c => char.IsControl(c) || c == ':') || (server.User.Length == 0 && server.Kind != ServerKind.FirstLine))
        {
            problems.Add(new($"{where}.user", $"“{server.User}” is nobody’s name there.", $"1 to {UserLength} characters without a colon; most servers want “source”"));
        }
    }

    private static bool IsHost(string? host) =>
        host is { Length: >= 1 and <= HostLength } && host[0] != '['
        && Uri.CheckHostName(host) is UriHostNameType.Dns or UriHostNameType.IPv4 or UriHostNameType.IPv6;

    private static bool IsPath(string? path) =>
        path is { Length: >= 2 and <= PathLength } && path[0] == '/' && path.All(c => char.IsAsciiLetterOrDigit(c) || "._~-/%".Contains(c, StringComparison.Ordinal));

    private static bool IsNumber(string? path) =>
        path is "" || (path is { Length: <= 3 } && path.All(char.IsAsciiDigit) && path[0] != '0');
}
