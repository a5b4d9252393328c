using System.Text.Json.Serialization;
using Kinetra.Core.Editing;
using Kinetra.Core.Rigs;
using Kinetra.Data;
using Kinetra.Gear;
using Kinetra.Server.Features.Analysis;
using Kinetra.Server.Features.Cables;
using Kinetra.Server.Features.Chains;
using Kinetra.Server.Features.Clock;
using Kinetra.Server.Features.Hush;
using Kinetra.Server.Features.Meters;
using Kinetra.Server.Features.Microphones;
using Kinetra.Server.Features.Mixes;
using Kinetra.Server.Features.Shows;
using Kinetra.Server.Features.Sounds;
using Kinetra.Server.Features.Sources;
using Kinetra.Server.Features.Status;
using Kinetra.Server.Features.Takes;
using Kinetra.Server.Live;
using Kinetra.Server.Sockets;
using Microsoft.AspNetCore.Http.Features;
using Microsoft.AspNetCore.ResponseCompression;
using Microsoft.AspNetCore.SignalR;

namespace Kinetra.Server.Hosting;

/// <summary>Puts the server together.</summary>
public static class Application
{
    /// <summary>A server that is ready to be started.</summary>
    /// <param name="options">How it is started.</param>
    /// <param name="adjust">Puts other services in place of its own; for tests.</param>
    public static WebApplication Build(ServerOptions options, Action<IServiceCollection>? adjust = null)
    {
        ArgumentNullException.ThrowIfNull(options);
        var builder = WebApplication.CreateBuilder(new WebApplicationOptions { ContentRootPath = ContentRoot() });
        builder.Logging.ClearProviders().AddSimpleConsole(console => console.SingleLine = true).SetMinimumLevel(LogLevel.Warning);
        builder.Logging.AddFilter("Kinetra", LogLevel.Information).AddFilter("Microsoft.EntityFrameworkCore", LogLevel.None);
        builder.Logging.AddFilter("Microsoft.AspNetCore.Diagnostics.ExceptionHandlerMiddleware", LogLevel.None);
        builder.Logging.AddFilter("Microsoft.AspNetCore.StaticFiles", LogLevel.Error).AddFilter("Microsoft.AspNetCore.SignalR", LogLevel.None);
        builder.WebHost.ConfigureKestrel(kestrel =>
        {
            kestrel.Listen(System.Net.IPAddress.Loopback, options.Port);
            kestrel.Limits.MaxRequestBodySize = options.MaxUploadBytes + (1024 * 1024);
            kestrel.AddServerHeader = false;
        });
        AddServices(builder.Services, options);
        adjust?.Invoke(builder.Services);
        var app = builder.Build();
        MapAll(app);
        return app;
    }

    // Beside the sources while it is developed, beside the program once it is installed.
    private static string ContentRoot()
    {
        var folder = new DirectoryInfo(AppContext.BaseDirectory);
        while (folder is not null && !Directory.Exists(Path.Combine(folder.FullName, "wwwroot")))
        {
            folder = folder.Parent;
        }

        return folder?.FullName ?? AppContext.BaseDirectory;
    }

    private static void AddServices(IServiceCollection services, ServerOptions options)
    {
        services.AddSingleton(options);
        services.AddSingleton(TimeProvider.System);
        services.AddPooledDbContextFactory<KinetraContext>(db => KinetraContext.Configure(db, options.Connection));
        services.AddSingleton<ShowStore>().AddSingleton<SoundStore>().AddSingleton<TakeStore>();
        services.AddSingleton(_ => new StandIns(options.StandInFolder ?? Path.Combine(options.DataFolder, "stand-ins"))).AddSingleton<SoundLibrary>().AddSingleton<SourceInlets>();
        services.AddSingleton<EngineFaults>();
        services.AddSingleton<IFollower>(s => s.GetRequiredService<EngineFaults>());
        services.AddSingleton<Outboxes>().AddSingleton<HubAudience>();
        services.AddSingleton<IShowAudience>(s => s.GetRequiredService<HubAudience>());
        services.AddSingleton<ITakeAudience>(s => s.GetRequiredService<HubAudience>());
        services.AddSingleton<IShowListAudience>(s => s.GetRequiredService<HubAudience>());
        services.AddSingleton<IMicrophoneAudience>(s => s.GetRequiredService<HubAudience>());
        services.AddSingleton<BrowserDevices>().AddSingleton<MicrophoneReport>().AddSingleton<MicrophoneNews>().AddSingleton<MicrophoneSocket>();
        services.AddSingleton<TakeRecorder>();
        services.AddSingleton<IFollower>(s => s.GetRequiredService<TakeRecorder>());
        services.AddSingleton<FolderOwner>();
        services.AddSingleton(s => new PrivateFolder(options.DataFolder, s.GetRequiredService<ILogger<PrivateFolder>>()));
        services.AddSingleton(_ => new CommandJournal(Path.Combine(options.DataFolder, "journal.jsonl"))).AddSingleton<ShowLedger>();
        services.AddSingleton<LossWatch>().AddSingleton<EngineHost>().AddSingleton<HushSwitch>().AddSingleton<Turn>().AddSingleton<LiveShow>().AddSingleton<Playing>().AddSingleton<Openings>().AddSingleton<ShowCommands>().AddSingleton<StartState>().AddSingleton<StatusReport>();
        services.AddSingleton<ListenSocket>();
        services.AddSingleton<IAnalysisTopic, LevelsTopic>().AddSingleton<IAnalysisTopic, PointTopic>().AddSingleton<AnalysisSocket>();
        services.AddHostedService<Startup>().AddHostedService<TakeWriting>().AddHostedService<StorageWatch>().AddHostedService<FaultWatch>().AddHostedService(s => s.GetRequiredService<LossWatch>()).AddHostedService(s => s.GetRequiredService<MicrophoneNews>());
        services.Configure<RouteHandlerOptions>(routes => routes.ThrowOnBadRequest = true);
        services.ConfigureHttpJsonOptions(json =>
        {
            ConfigureJson(json.SerializerOptions);

            // What is left out is not taken for a default: a hush that does not say whether would end one.
            json.SerializerOptions.RespectRequiredConstructorParameters = true;
            json.SerializerOptions.RespectNullableAnnotations = true;
            json.SerializerOptions.AllowDuplicateProperties = false;
        });
        services.AddSignalR(signalr =>
        {
            signalr.AddFilter<HubErrors>();
            signalr.MaximumReceiveMessageSize = SocketEndpoint.MaxMessage;
            signalr.KeepAliveInterval = TimeSpan.FromSeconds(2);
            signalr.ClientTimeoutInterval = TimeSpan.FromSeconds(10);
        }).AddJsonProtocol(json => ConfigureJson(json.PayloadSerializerOptions));
        services.Configure<FormOptions>(form =>
        {
            form.MultipartBodyLengthLimit = options.MaxUploadBytes;
            form.ValueLengthLimit = 1024;
        });
        services.AddResponseCompression(compression =>
        {
            compression.Providers.Add<BrotliCompressionProvider>();
            compression.Providers.Add<GzipCompressionProvider>();
        });
        services.AddProblemDetails();
        services.AddKinetraOpenApi();
    }

    private static void ConfigureJson(System.Text.Json.JsonSerializerOptions json)
    {
        RigJson.Configure(json);
        json.DefaultIgnoreCondition = JsonIgnoreCondition.Never;
    }

    private static void MapAll(WebApplication app)
    {
        app.UseProblems();
        app.UseProtection();
        app.UseResponseCompression();
        app.UsePageFiles();
        app.UseWebSockets(new WebSocketOptions { KeepAliveInterval = TimeSpan.FromSeconds(5) });
        app.Use(async (context, next) =>
        {
            var state = context.RequestServices.GetRequiredService<StartState>();
            var path = context.Request.Path;
            if (state.WaitingFor is { } waiting && path.StartsWithSegments("/api", StringComparison.Ordinal)
                && !path.StartsWithSegments("/api/status", StringComparison.Ordinal) && !path.StartsWithSegments("/api/live", StringComparison.Ordinal)
                && !path.StartsWithSegments("/api/openapi.json", StringComparison.Ordinal))
            {
                await Problems.Problem(
                    StatusCodes.Status503ServiceUnavailable, "Not ready.", [new RigProblem("server", waiting, "the same again in a moment")])
                    .ExecuteAsync(context);
                return;
            }

            await next(context);
        });
        var api = app.MapGroup("/api");
        foreach (var status in ProblemDocument.Statuses)
        {
            api.WithMetadata(new ProducesResponseTypeMetadata(status, typeof(ProblemDocument), ["application/problem+json"]));
        }

        api.MapOpenApi("/openapi.json");
        api.MapStatus();
        api.MapShow();
        api.MapShowList();
        api.MapShowFiles();
        api.MapMixes();
        api.MapSources();
        api.MapMicrophones();
        api.MapChains();
        api.MapCables();
        api.MapMeters();
        api.MapTakes();
        api.MapHush();
        api.MapClock();
        api.MapHub<ShowHub>("/live");
        api.Map("/analysis", (HttpContext context, AnalysisSocket analysis) => analysis.ServeAsync(context)).ExcludeFromDescription();
        api.Map("/listen", (HttpContext context, ListenSocket listen) => listen.ServeAsync(context)).ExcludeFromDescription();
        api.Map("/microphone", (HttpContext context, MicrophoneSocket microphone) => microphone.ServeAsync(context)).ExcludeFromDescription();
    }
}
