using Microsoft.AspNetCore.DataProtection;
using Microsoft.Extensions.Logging.Console;
using Npgsql;

namespace Kinetra.Server.Hosting.Secrets;

/// <summary>Puts what keeps secrets together.</summary>
public static class SecretServices
{
    /// <summary>The folder of the keys, in the data folder.</summary>
    public const string Folder = "keys";

    public static void AddSecrets(this IServiceCollection services, ServerOptions options)
    {
        services.AddSingleton(_ => Knowing(options)).AddSingleton<SecretBox>();
        services.AddDataProtection().SetApplicationName("Kinetra").PersistKeysToFileSystem(new DirectoryInfo(Path.Combine(options.DataFolder, Folder)));
    }

    public static ILoggingBuilder AddRedactedConsole(this ILoggingBuilder logging)
    {
        // The folder of the keys is private, which is what the framework's warning about keys at rest asks for.
        logging.AddFilter("Microsoft.AspNetCore.DataProtection", LogLevel.Error);
        return logging.AddConsole(console => console.FormatterName = RedactedConsole.FormatterName).AddConsoleFormatter<RedactedConsole, ConsoleFormatterOptions>();
    }

    private static Redaction Knowing(ServerOptions options)
    {
        var redaction = new Redaction();
        try
        {
            if (new NpgsqlConnectionStringBuilder(options.Connection).Password is { Length: > 0 and <= Secret.MaxLength } password)
            {
                redaction.Add(new Secret(password));
            }
        }
        catch (ArgumentException)
        {
            // It cannot be read, so that any part of it may be the password.
            redaction.Add(new Secret(options.Connection[..Math.Min(options.Connection.Length, Secret.MaxLength)]));
        }

        return redaction;
    }
}
