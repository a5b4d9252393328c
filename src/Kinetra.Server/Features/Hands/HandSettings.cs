using System.Security.Cryptography;
using System.Text;
using Kinetra.Server.Hosting;

namespace Kinetra.Server.Features.Hands;

/// <summary>Which ways for hands are open: those of the computer, not of a show.</summary>
/// <param name="Osc">Whether messages of Open Sound Control are listened for.</param>
/// <param name="OscPort">At which port of this machine.</param>
/// <param name="TokenHash">SHA-256 of the token of HTTP commands; null: there is none, and no command is taken.</param>
public sealed record HandWays(bool Osc = false, int OscPort = HandWays.UsualOscPort, string? TokenHash = null)
{
    /// <summary>The port that is proposed.</summary>
    public const int UsualOscPort = 5871;
}

/// <summary>Keeps them in the data folder; all are closed until a person opens them. Any thread.</summary>
public sealed class HandSettings(ServerOptions options, ILogger<HandSettings> log)
{
    private readonly KeptNote<HandWays> _note = new(
        Path.Combine(options.DataFolder, "hands.json"), new HandWays(), log, "Which ways for hands are open", w => w.OscPort is >= 1024 and <= 65535 ? w : w with { Osc = false, OscPort = HandWays.UsualOscPort });

    /// <summary>As they are now.</summary>
    public HandWays Now => _note.Now;

    /// <summary>Makes them others.</summary>
    public HandWays Change(Func<HandWays, HandWays> change) => _note.Change(change);

    /// <summary>Makes a new token, in place of the one before.</summary>
    /// <returns>The token: it is told once, and not kept.</returns>
    public string NewToken()
    {
        var token = Convert.ToHexStringLower(RandomNumberGenerator.GetBytes(20));
        Change(w => w with { TokenHash = HashOf(token) });
        return token;
    }

    /// <summary>Whether this is the token of HTTP commands.</summary>
    public bool IsToken(string? token) =>
        Now.TokenHash is { } hash && token is { Length: > 0 and < 200 } && CryptographicOperations.FixedTimeEquals(Encoding.ASCII.GetBytes(HashOf(token)), Encoding.ASCII.GetBytes(hash));

    private static string HashOf(string token) => Convert.ToHexStringLower(SHA256.HashData(Encoding.UTF8.GetBytes(token)));
}
