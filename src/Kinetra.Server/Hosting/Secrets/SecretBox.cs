using System.Security.Cryptography;
using Microsoft.AspNetCore.DataProtection;

namespace Kinetra.Server.Hosting.Secrets;

/// <summary>A kept secret cannot be read: the keys in the data folder are not those that it was kept with.</summary>
public sealed class SecretLostException(Exception inner)
    : Exception("This secret was kept with keys that are not in this data folder. It has to be given again.", inner);

/// <summary>
/// Secrets at rest. What goes into the database or a file is useless without the keys in the data folder, which is private and in no export.
/// Whatever was opened here appears in no log line from then on.
/// </summary>
public sealed class SecretBox(IDataProtectionProvider protection, Redaction redaction)
{
    private readonly IDataProtector _protector = protection.CreateProtector("Kinetra.Secrets");

    /// <summary>A secret, closed: text that may be stored.</summary>
    public string Close(Secret secret)
    {
        ArgumentNullException.ThrowIfNull(secret);
        redaction.Add(secret);
        return _protector.Protect(secret.Reveal());
    }

    /// <summary>Opens what was closed.</summary>
    /// <exception cref="SecretLostException">The keys are others, or what was stored has been changed.</exception>
    public Secret Open(string closed)
    {
        try
        {
            var secret = new Secret(_protector.Unprotect(closed));
            redaction.Add(secret);
            return secret;
        }
        catch (Exception e) when (e is CryptographicException or FormatException)
        {
            throw new SecretLostException(e);
        }
    }
}
