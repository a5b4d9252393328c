using System.Globalization;
using Kinetra.Server.Hosting.Access;

namespace Kinetra.Server.Hosting;

/// <summary>What drives the engine's time.</summary>
public enum ClockKind
{
    /// <summary>The machine's clock, 48 000 frames a second.</summary>
    Real,

    /// <summary>Requests: it goes as fast as the machine can, and stands still between them. For tests.</summary>
    Stepped,
}

/// <summary>How the server was started.</summary>
public sealed record ServerOptions
{
    /// <summary>The port on the loopback address; 0: any free one.</summary>
    public int Port { get; init; } = 5870;

    /// <summary>What is listened on. This machine's own address only, until there is a way for another device to be known.</summary>
    public IReadOnlyList<Binding> Bindings => [Binding.Loopback(Port)];

    /// <summary>Folder for sounds, takes and logs.</summary>
    public string DataFolder { get; init; } = Path.Combine(Path.GetTempPath(), "kinetra");

    /// <summary>Folder where the stand-ins' sounds are kept between starts; null: in the data folder.</summary>
    public string? StandInFolder { get; init; }

    /// <summary>Folder with the show files that a new database begins with; null: the demo shows.</summary>
    public string? FirstShowsFolder { get; init; }

    /// <summary>The port of the practice station, which has the one above, too; 0: any two free ones; null: it is off until somebody begins it.</summary>
    public int? StationPort { get; init; }

    /// <summary>How to reach PostgreSQL. From the environment, since it holds a password.</summary>
    public string Connection { get; init; } = "";

    /// <summary>The database is one that was there already, and not that of ./kinetra run.</summary>
    public bool IsDatabaseGiven { get; init; }

    /// <summary>Names an existing database: <see cref="DatabaseAddress"/>.</summary>
    public const string AddressVariable = "KINETRA_DATABASE";

    /// <summary>The connection string for the database that ./kinetra run starts.</summary>
    public const string ConnectionVariable = "KINETRA_DB";

    /// <summary>What drives the engine.</summary>
    public ClockKind Clock { get; init; }

    /// <summary>Largest sound file that may be sent, bytes.</summary>
    public long MaxUploadBytes { get; init; } = 512L * 1024 * 1024;

    /// <summary>Most bytes that all stored sounds may take, decoded ones included.</summary>
    public long MaxSoundBytes { get; init; } = 16L * 1024 * 1024 * 1024;

    /// <summary>The words of the command line.</summary>
    public const string Usage = "serve [--port 1–65535] [--data FOLDER] [--clock real|stepped] [--stand-ins FOLDER] [--first-shows FOLDER] [--station 0–65534]; KINETRA_DATABASE may name an existing PostgreSQL: " + DatabaseAddress.Allowed;

    /// <summary>Reads the command line.</summary>
    /// <exception cref="FormatException">Something in it cannot be understood.</exception>
    public static ServerOptions Parse(IReadOnlyList<string> arguments)
    {
        ArgumentNullException.ThrowIfNull(arguments);
        var address = Environment.GetEnvironmentVariable(AddressVariable);
        var options = string.IsNullOrEmpty(address)
            ? new ServerOptions { Connection = Environment.GetEnvironmentVariable(ConnectionVariable) ?? "" }
            : new ServerOptions { Connection = DatabaseAddress.Read(address), IsDatabaseGiven = true };
        for (var i = 0; i < arguments.Count; i += 2)
        {
            var value = i + 1 < arguments.Count ? arguments[i + 1] : throw new FormatException($"{arguments[i]}: its value is missing. Usage: {Usage}");
            options = arguments[i] switch
            {
                "--port" when int.TryParse(value, CultureInfo.InvariantCulture, out var port) && port is >= 0 and <= 65535 => options with { Port = port },
                "--station" when int.TryParse(value, CultureInfo.InvariantCulture, out var station) && station is >= 0 and <= 65534 => options with { StationPort = station },
                "--data" => options with { DataFolder = Path.GetFullPath(value) },
                "--stand-ins" => options with { StandInFolder = Path.GetFullPath(value) },
                "--first-shows" => options with { FirstShowsFolder = Path.GetFullPath(value) },
                "--clock" when Enum.TryParse<ClockKind>(value, ignoreCase: true, out var clock) => options with { Clock = clock },
                _ => throw new FormatException($"{arguments[i]} {value}: not understood. Usage: {Usage}"),
            };
        }

        return options;
    }
}
