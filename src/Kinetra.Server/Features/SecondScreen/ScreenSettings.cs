using System.Collections.Immutable;
using System.ComponentModel.DataAnnotations;
using System.Net;
using System.Net.NetworkInformation;
using System.Net.Sockets;
using System.Security.Cryptography;
using Kinetra.Core.Editing;
using Kinetra.Core.Hands;
using Kinetra.Server.Hosting;

namespace Kinetra.Server.Features.SecondScreen;

/// <summary>What a second screen may do; nothing else.</summary>
/// <param name="Pads">Play pads, and take sets in hand.</param>
/// <param name="Cues">Go through the cues.</param>
/// <param name="Hush">Hush, and end that.</param>
/// <param name="Record">Record, and end the take.</param>
/// <param name="Voices">Which sources it may let cough, and speak to those of <paramref name="TalkTo"/>.</param>
/// <param name="TalkTo">To which mixes these may speak alone.</param>
/// <param name="Lanes">Of which mixes it may turn levels, mute and dock.</param>
public sealed record ScreenRights(
    bool Pads = true,
    bool Cues = false,
    bool Hush = false,
    bool Record = false,
    [property: MaxLength(ScreenRights.MostIds)] ImmutableArray<string>? Voices = null,
    [property: MaxLength(ScreenRights.MostIds)] ImmutableArray<string>? TalkTo = null,
    [property: MaxLength(ScreenRights.MostIds)] ImmutableArray<string>? Lanes = null)
{
    /// <summary>The most ids of one list: those of several shows stand beside each other.</summary>
    public const int MostIds = 256;

    /// <summary>Nothing.</summary>
    public static readonly ScreenRights None = new(Pads: false);

    /// <summary>What is wrong with them; null: nothing.</summary>
    public RigProblem? Check()
    {
        foreach (var (name, list) in new[] { ("voices", Voices), ("talkTo", TalkTo), ("lanes", Lanes) })
        {
            if (list is { } ids && (ids.Length > MostIds || ids.Any(id => id is not { Length: > 0 and <= 40 })))
            {
                return new RigProblem($"rights.{name}", "These are too many, or no ids.", $"at most {MostIds} ids of 1 to 40 characters");
            }
        }

        return null;
    }

    /// <summary>Whether it may do something.</summary>
    public bool Allow(ActionCall call)
    {
        ArgumentNullException.ThrowIfNull(call);
        var address = call.Type.Address;
        return address switch
        {
            "hush" => Hush,
            "record" or "pause" => Record,
            "pads/stop" or "pads/set/{set}" or "pad/{pad}/press" or "pad/{pad}/stop" => Pads,
            "source/{source}/cough" => Has(Voices, call.Source.Value),
            "source/{source}/talk/{mix}" => Has(Voices, call.Source.Value) && Has(TalkTo, call.Mix.Value),
            _ when address.StartsWith("cue/", StringComparison.Ordinal) => Cues,
            "mix/{mix}/level" or "mix/{mix}/step" or "mix/{mix}/source/{source}/level" or "mix/{mix}/source/{source}/step" or "mix/{mix}/source/{source}/mute"
                or "mix/{mix}/source/{source}/dock" => Has(Lanes, call.Mix.Value),
            _ => false,
        };
    }

    /// <summary>Whether a list has an id.</summary>
    public static bool Has(ImmutableArray<string>? list, string id) => list?.Contains(id) == true;
}

/// <summary>How second screens are let in.</summary>
/// <param name="On">Whether they are at all.</param>
/// <param name="Port">At which port.</param>
/// <param name="Addresses">At which of this machine's addresses.</param>
/// <param name="Salt">With which salt the passphrase was hashed; null: there is none yet.</param>
/// <param name="Hash">The passphrase's hash.</param>
/// <param name="Rights">What they may do.</param>
public sealed record ScreenWays(bool On = false, int Port = ScreenWays.UsualPort, ImmutableArray<string>? Addresses = null, string? Salt = null, string? Hash = null, ScreenRights? Rights = null)
{
    /// <summary>The port that is proposed.</summary>
    public const int UsualPort = 5872;

    /// <summary>The shortest passphrase, in characters.</summary>
    public const int ShortestPassphrase = 8;
}

/// <summary>Keeps that in the data folder; off until a person switches it on. Any thread.</summary>
public sealed class ScreenSettings(ServerOptions options, ILogger<ScreenSettings> log)
{
    // OWASP's figure for PBKDF2 with SHA-256, 2023.
    private const int Rounds = 600_000;

    private readonly KeptNote<ScreenWays> _note = new(Path.Combine(options.DataFolder, "second-screen.json"), new ScreenWays(), log, "How second screens are let in", Fit);

    /// <summary>As it is now.</summary>
    public ScreenWays Now => _note.Now;

    /// <summary>Makes it another.</summary>
    public ScreenWays Change(Func<ScreenWays, ScreenWays> change) => _note.Change(change);

    /// <summary>This machine's addresses at which others could reach it, and its own.</summary>
    public static ImmutableArray<string> Machine =>
    [
        .. NetworkInterface.GetAllNetworkInterfaces()
            .Where(n => n.OperationalStatus == OperationalStatus.Up)
            .SelectMany(n => n.GetIPProperties().UnicastAddresses)
            .Select(a => a.Address)
            .Where(a => a.AddressFamily == AddressFamily.InterNetwork)
            .OrderBy(IPAddress.IsLoopback)
            .Select(a => a.ToString())
            .Distinct(),
    ];

    /// <summary>The settings with another passphrase, which cannot be read out of them.</summary>
    public static ScreenWays With(ScreenWays ways, string passphrase)
    {
        ArgumentNullException.ThrowIfNull(ways);
        var salt = RandomNumberGenerator.GetBytes(16);
        return ways with { Salt = Convert.ToBase64String(salt), Hash = Convert.ToBase64String(HashOf(passphrase, salt)) };
    }

    /// <summary>Whether this is the passphrase. Takes some tenths of a second, so that guessing does.</summary>
    public bool IsPassphrase(string passphrase) =>
        Now is { Salt: { } salt, Hash: { } hash } && passphrase is { Length: <= 200 }
        && CryptographicOperations.FixedTimeEquals(HashOf(passphrase, Convert.FromBase64String(salt)), Convert.FromBase64String(hash));

    private static byte[] HashOf(string passphrase, byte[] salt) => Rfc2898DeriveBytes.Pbkdf2(passphrase.Normalize(), salt, Rounds, HashAlgorithmName.SHA256, 32);

    // What somebody has damaged lets nobody in.
    private static ScreenWays Fit(ScreenWays read) =>
        read.Port is >= 1024 and <= 65535 && IsHash(read.Salt) && IsHash(read.Hash) && read.Addresses is not { IsDefault: true } && read.Rights?.Check() is null ? read : new();

    private static bool IsHash(string? text) => text is null || Convert.TryFromBase64String(text, new byte[text.Length], out _);
}
