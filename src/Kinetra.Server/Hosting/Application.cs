using Kinetra.Core.Editing;
using Kinetra.Data;
using Kinetra.Server.Features.Addresses;
using Kinetra.Server.Hosting.Access;
using Kinetra.Server.Hosting.Secrets;
using Kinetra.Server.Live;
using Microsoft.AspNetCore.Http.Features;
using Microsoft.AspNetCore.ResponseCompression;

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
        builder.Logging.ClearProviders().AddRedactedConsole().SetMinimumLevel(LogLevel.Warning);
        builder.Logging.AddFilter("Kinetra", LogLevel.Information).AddFilter("Microsoft.EntityFrameworkCore", LogLevel.None);
        builder.Logging.AddFilter("Microsoft.AspNetCore.Diagnostics.ExceptionHandlerMiddleware", LogLevel.None);
        builder.Logging.AddFilter("Microsoft.AspNetCore.StaticFiles", LogLevel.Error).AddFilter("Microsoft.AspNetCore.SignalR", LogLevel.None);
        builder.WebHost.ConfigureKestrel(kestrel =>
        {
            foreach (var binding in options.Bindings)
            {
                kestrel.Listen(binding.Address, binding.Port, listen => listen.UseSourceRequests());
            }

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
    internal static string ContentRoot()
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
        services.AddSingleton<ShowStore>().AddSingleton<TakeStore>().AddSingleton<PromiseBreakStore>().AddSingleton<LoopStore>().AddSingleton<PresetStore>();
        services.AddSingleton(new AccessRules(options.Bindings));
        services.AddSecrets(options);
        services.AddSingleton(s => new PrivateFolder(options.DataFolder, s.GetRequiredService<ILogger<PrivateFolder>>()));
        foreach (var feature in IFeature.All)
        {
            feature.AddTo(services, options);
        }

        services.Configure<RouteHandlerOptions>(routes => routes.ThrowOnBadRequest = true);
        services.ConfigureHttpJsonOptions(json =>
        {
            AnswerJson.Configure(json.SerializerOptions);

            // What is left out is not taken for a default: a hush that does not say whether would end one.
            json.SerializerOptions.RespectRequiredConstructorParameters = true;
            json.SerializerOptions.RespectNullableAnnotations = true;
            json.SerializerOptions.AllowDuplicateProperties = false;
        });
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
        services.AddOutputCache();
    }

    private static void MapAll(WebApplication app)
    {
        app.UseProblems();
        app.UsePageHeaders();
        app.UseAccess();
        app.UseResponseCompression();
        app.UsePageFiles();
        app.UseOutputCache();
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

        ((IEndpointConventionBuilder)api).Finally(SharedAnswers.PutStandIns);

        // Making it takes seconds of a processor: it is made once.
        api.MapOpenApi("/openapi.json").CacheOutput(cache => cache.Expire(TimeSpan.FromDays(365)));
        foreach (var feature in IFeature.All)
        {
            feature.MapTo(api);
            feature.MapBeside(app);
        }
    }
}
