using System.Security.Cryptography;
using Kinetra.Gear.Station;
using Kinetra.Server.Hosting;

namespace Kinetra.Server.Features.Station;

/// <summary>The stand-in for a station's server, with a password that stays the same over restarts. It is of this computer alone.</summary>
public sealed partial class StationHost : IHostedService, IAsyncDisposable
{
    private const int PasswordLength = 10;
    private readonly ServerOptions _options;
    private readonly ILogger<StationHost> _log;

    public StationHost(ServerOptions options, TimeProvider time, ILogger<StationHost> log)
    {
        (_options, _log) = (options, log);
        var note = new KeptNote<Note>(
            Path.Combine(options.DataFolder, "station.json"), new Note(""), log, "What password the practice station has", read => read.Password is { Length: > 0 } ? read : new Note(""));
        Password = note.Now.Password.Length > 0
            ? note.Now.Password
            : note.Change(_ => new Note(RandomNumberGenerator.GetString("abcdefghijkmnpqrstuvwxyz23456789", PasswordLength))).Password;
        Server = new StationServer(Password, time);
    }

    /// <summary>The stand-in.</summary>
    public StationServer Server { get; }

    /// <summary>What it wants to hear: it is shown, since it lets nobody in but programs of this computer.</summary>
    public string Password { get; }

    /// <summary>Begins it.</summary>
    public Task BeginAsync() => Server.StartAsync(_options.StationPort ?? 0);

    /// <inheritdoc/>
    public async Task StartAsync(CancellationToken cancellationToken)
    {
        if (_options.StationPort is { } port)
        {
            try
            {
                await BeginAsync();
                if (port > 0 && Server.Port != port)
                {
                    LogElsewhere(port, Server.Port);
                }
            }
            catch (IOException e)
            {
                LogNoPort(e.Message);
            }
        }
    }

    /// <inheritdoc/>
    public Task StopAsync(CancellationToken cancellationToken) => Server.StopAsync();

    /// <inheritdoc/>
    public ValueTask DisposeAsync() => Server.DisposeAsync();

    [LoggerMessage(LogLevel.Warning, "The practice station could not have port {Port}, and is at {Other}.")]
    private partial void LogElsewhere(int port, int other);

    [LoggerMessage(LogLevel.Warning, "The practice station is off: {Reason}")]
    private partial void LogNoPort(string reason);

    private sealed record Note(string Password);
}
