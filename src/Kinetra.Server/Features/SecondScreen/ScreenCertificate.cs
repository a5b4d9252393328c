using System.Net;
using System.Security.Cryptography;
using System.Security.Cryptography.X509Certificates;
using Kinetra.Data;
using Kinetra.Server.Hosting;

namespace Kinetra.Server.Features.SecondScreen;

/// <summary>This machine's own certificate for TLS, kept in the private data folder. Nobody vouches for it: a device asks once whether it is to be trusted, and its fingerprint is shown beside the code.</summary>
public sealed class ScreenCertificate(ServerOptions options, TimeProvider time)
{
    private const int Years = 2;

    private string File => Path.Combine(options.DataFolder, "second-screen.pfx");

    /// <summary>The certificate for some addresses: the one that is kept, or a new one where that is for others, or soon over.</summary>
    public X509Certificate2 For(IReadOnlyList<IPAddress> addresses)
    {
        ArgumentNullException.ThrowIfNull(addresses);
        var now = time.GetUtcNow();
        try
        {
            var kept = X509CertificateLoader.LoadPkcs12FromFile(File, null);
            if (kept.NotAfter.ToUniversalTime() > now.UtcDateTime.AddDays(30) && addresses.All(a => NamesOf(kept).Contains(a.ToString())))
            {
                return kept;
            }

            kept.Dispose();
        }
        catch (Exception e) when (e is IOException or UnauthorizedAccessException or CryptographicException)
        {
            // There is none that can be used: a new one.
        }

        return Make(addresses, now);
    }

    /// <summary>Its SHA-256, as browsers show it.</summary>
    public static string FingerprintOf(X509Certificate2 certificate)
    {
        ArgumentNullException.ThrowIfNull(certificate);
        return string.Join(' ', Convert.ToHexString(certificate.GetCertHash(HashAlgorithmName.SHA256)).Chunk(4).Select(c => new string(c)));
    }

    private static HashSet<string> NamesOf(X509Certificate2 certificate) =>
        [.. certificate.Extensions.OfType<X509SubjectAlternativeNameExtension>().SelectMany(e => e.EnumerateIPAddresses()).Select(a => a.ToString())];

    private X509Certificate2 Make(IReadOnlyList<IPAddress> addresses, DateTimeOffset now)
    {
        using var key = ECDsa.Create(ECCurve.NamedCurves.nistP256);
        var request = new CertificateRequest("CN=Kinetra", key, HashAlgorithmName.SHA256);
        var names = new SubjectAlternativeNameBuilder();
        foreach (var address in addresses.Append(IPAddress.Loopback).Distinct())
        {
            names.AddIpAddress(address);
        }

        request.CertificateExtensions.Add(names.Build());
        request.CertificateExtensions.Add(new X509BasicConstraintsExtension(false, false, 0, true));
        request.CertificateExtensions.Add(new X509KeyUsageExtension(X509KeyUsageFlags.DigitalSignature, true));
        request.CertificateExtensions.Add(new X509EnhancedKeyUsageExtension([new Oid("1.3.6.1.5.5.7.3.1")], false));
        using var made = request.CreateSelfSigned(now.AddDays(-1), now.AddYears(Years));
        var bytes = made.Export(X509ContentType.Pkcs12);
        try
        {
            System.IO.File.WriteAllBytes(File + ".part", bytes);
            if (!OperatingSystem.IsWindows())
            {
                System.IO.File.SetUnixFileMode(File + ".part", UnixFileMode.UserRead | UnixFileMode.UserWrite);
            }

            System.IO.File.Move(File + ".part", File, overwrite: true);
            FolderSync.Flush(options.DataFolder);
        }
        catch (Exception e) when (e is IOException or UnauthorizedAccessException)
        {
            // It holds until a restart; devices ask once more then.
        }

        return X509CertificateLoader.LoadPkcs12(bytes, null);
    }
}
