using System.Collections.Immutable;
using System.Net;
using System.Net.Sockets;
using System.Net.WebSockets;
using System.Security.Cryptography.X509Certificates;
using System.Text.Json;
using Kinetra.Core.Editing;
using Kinetra.Server.Features.Hands;
using Kinetra.Server.Features.Pads;
using Kinetra.Server.Hosting;
using Kinetra.Server.Hosting.Access;
using Kinetra.Server.Hosting.Secrets;
using Kinetra.Server.Live;
using Kinetra.Server.Sockets;
using Microsoft.AspNetCore.Http.HttpResults;

namespace Kinetra.Server.Features.SecondScreen;

/// <summary>What a second screen sends to be let in.</summary>
/// <param name="Passphrase">The passphrase.</param>
/// <param name="Name">What the device calls itself; 1–60 characters, or it is called a device.</param>
public sealed record ScreenKnock(Secret Passphrase, string? Name = null);

/// <summary>
/// Lets second screens in: a server beside the server, with TLS, at the addresses that a person chose, which knows nothing but the board. The API is not there: whatever a device asks for, it
/// gets what it was given or a refusal.
/// </summary>
sealed partial class ScreenHost(
    ScreenSettings settings, ScreenCertificate certificates, Screens screens, ScreenSocket socket, Board board, PadSounds waveforms, Data.SoundStore store, Redaction redaction, IHandAudience audience, StartState start, ILogger<ScreenHost> log)
    : OpenedWay(audience, log)
{
    /// <summary>The cookie in which a device keeps its secret.</summary>
    public const string Cookie = "__Host-kinetra-screen";

    // One at a time: each takes a processor for some tenths of a second, which the engine needs more.
    private readonly SemaphoreSlim _knocking = new(1);
    private WebApplication? _app;
    private X509Certificate2? _certificate;

    /// <summary>The fingerprint of its certificate; null: it is off.</summary>
    public string? Fingerprint => _certificate is { } certificate ? ScreenCertificate.FingerprintOf(certificate) : null;

    /// <inheritdoc/>
    public override void Dispose()
    {
        _certificate?.Dispose();
        _knocking.Dispose();
        base.Dispose();
    }

    /// <inheritdoc/>
    protected override async Task<string?> OpenAsync()
    {
        var ways = settings.Now;
        if (!ways.On || ways.Hash is null)
        {
            return null;
        }

        // An address that this machine has no more is left out: the others are reached.
        var machine = ScreenSettings.Machine;
        List<IPAddress> addresses = [.. (ways.Addresses ?? []).Where(machine.Contains).Select(IPAddress.Parse)];
        if (addresses.Count == 0)
        {
            return "This machine has none of the chosen addresses now.";
        }

        _certificate = certificates.For(addresses);
        var app = Build(ways, addresses, _certificate);
        try
        {
            await app.StartAsync();
            _app = app;
            return null;
        }
        catch (Exception e) when (e is IOException or SocketException)
        {
            LogClosed(log, ways.Port, e.Message);
            await app.DisposeAsync();
            return $"Port {ways.Port} cannot be used: {e.Message}";
        }
    }

    /// <inheritdoc/>
    protected override async Task CloseAsync()
    {
        if (_app is { } app)
        {
            _app = null;
            using var soon = new CancellationTokenSource(TimeSpan.FromSeconds(2));
            await app.StopAsync(soon.Token);
            await app.DisposeAsync();
        }

        _certificate?.Dispose();
        _certificate = null;
    }

    private WebApplication Build(ScreenWays ways, List<IPAddress> addresses, X509Certificate2 certificate)
    {
        var builder = WebApplication.CreateBuilder(new WebApplicationOptions { ContentRootPath = Application.ContentRoot() });
        builder.Logging.ClearProviders().AddRedactedConsole().SetMinimumLevel(LogLevel.Warning);
        builder.Logging.AddFilter("Microsoft.AspNetCore.Diagnostics.ExceptionHandlerMiddleware", LogLevel.None);
        builder.WebHost.ConfigureKestrel(kestrel =>
        {
            foreach (var address in addresses)
            {
                kestrel.Listen(address, ways.Port, listen => listen.UseHttps(certificate));
            }

            // Nothing here sends much: a passphrase, and what is pressed.
            kestrel.Limits.MaxRequestBodySize = 4096;
            kestrel.Limits.MaxConcurrentConnections = 200;
            kestrel.AddServerHeader = false;
        });
        builder.Services.AddSingleton(redaction).AddProblemDetails();
        builder.Services.AddSingleton(new AccessRules([.. addresses.Select(a => new Binding(a, ways.Port, [a.ToString()]))], admitsOthers: true));
        builder.Services.Configure<RouteHandlerOptions>(routes => routes.ThrowOnBadRequest = true);
        builder.Services.ConfigureHttpJsonOptions(json => AnswerJson.Configure(json.SerializerOptions));
        var app = builder.Build();
        app.UseProblems();
        app.UsePageHeaders();
        app.UseAccess();
        app.UsePageFiles("/second.html");

        // A device that is gone without a word lets go of what it held within seconds.
        app.UseWebSockets(new WebSocketOptions { KeepAliveInterval = TimeSpan.FromSeconds(3), KeepAliveTimeout = TimeSpan.FromSeconds(6) });
        app.MapPost("/api/enter", EnterAsync);
        app.MapPost("/api/leave", Leave);
        app.MapGet("/api/sounds/{sound}", SoundAsync);
        app.Map("/api/board", BoardAsync);
        return app;
    }

    private async Task<IResult> SoundAsync(string sound, HttpContext context, CancellationToken cancel)
    {
        if (screens.Find(context.Request.Cookies[Cookie]) is null)
        {
            return NotIn();
        }

        return settings.Now.Rights is { Pads: true } && board.Has(sound) && await store.FindAsync(sound, cancel) is { } row && await waveforms.ColumnsAsync(sound, cancel) is { } columns
            ? TypedResults.Ok(PadEndpoints.DocumentOf(row, columns))
            : Problems.NotFound("sound", "There is no such sound.", "the sound of a pad of the board");
    }

    private async Task<IResult> EnterAsync(ScreenKnock knock, HttpContext context, CancellationToken cancel)
    {
        await _knocking.WaitAsync(cancel);
        try
        {
            // Looked at in turn, so that of many at once no more are tried than one after the other.
            if (screens.WaitsFor is { } wait)
            {
                return Problems.Problem(
                    StatusCodes.Status429TooManyRequests, "Too many tries.", [new RigProblem("passphrase", "Too many wrong ones were given.", $"another try in {Math.Max(1, Math.Ceiling(wait.TotalSeconds))} seconds")]);
            }

            if (!await Task.Run(() => settings.IsPassphrase(knock.Passphrase.Reveal()), cancel))
            {
                screens.WasWrong();
                return Problems.Problem(StatusCodes.Status401Unauthorized, "Refused.", [new RigProblem("passphrase", "This is not the passphrase.", "the one that was chosen in Kinetra, under Hands")]);
            }
        }
        finally
        {
            _knocking.Release();
        }

        var name = RigRules.CheckName("name", knock.Name?.Trim() ?? "") is null ? knock.Name!.Trim() : "A device";
        if (screens.LetIn(name, context.Connection.RemoteIpAddress?.ToString() ?? "") is not { } secret)
        {
            return Problems.Problem(StatusCodes.Status429TooManyRequests, "Too many devices.", [new RigProblem("device", $"{Screens.Most} devices are there already.", "one of them thrown out in Kinetra, under Hands")]);
        }

        context.Response.Cookies.Append(Cookie, secret, new CookieOptions { HttpOnly = true, Secure = true, SameSite = SameSiteMode.Strict, Path = "/", IsEssential = true, MaxAge = TimeSpan.FromDays(30) });
        Audience.HandsChanged();
        return Results.NoContent();
    }

    private IResult Leave(HttpContext context)
    {
        if (screens.Find(context.Request.Cookies[Cookie]) is { } id)
        {
            screens.ThrowOut(id);
            Audience.HandsChanged();
        }

        context.Response.Cookies.Delete(Cookie, new CookieOptions { Secure = true, Path = "/" });
        return Results.NoContent();
    }

    private async Task BoardAsync(HttpContext context)
    {
        if (screens.Find(context.Request.Cookies[Cookie]) is not { } id || screens.Connect(id) is not { } connection)
        {
            await NotIn().ExecuteAsync(context);
            return;
        }

        Audience.HandsChanged();
        try
        {
            await SocketEndpoint.ServeAsync(context, async (web, cancel) =>
            {
                using var ended = CancellationTokenSource.CreateLinkedTokenSource(cancel, connection.Out);
                await socket.ServeAsync(web, id, connection.Name, () => settings.Now.Rights ?? ScreenRights.None, start, ended.Token);
            });
        }
        finally
        {
            screens.Disconnect(id);
            Audience.HandsChanged();
        }
    }

    private static ProblemHttpResult NotIn() => Problems.Problem(
        StatusCodes.Status401Unauthorized, "Refused.", [new RigProblem("device", "This device is not let in, or not any more.", "the passphrase, given once more")]);

    [LoggerMessage(LogLevel.Warning, "Second screens are not let in: port {Port}: {Why}")]
    private static partial void LogClosed(ILogger log, int port, string why);
}
