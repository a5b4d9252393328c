using System.Collections.Concurrent;
using System.Text.Json.Nodes;
using Kinetra.Server.Hosting;
using Microsoft.AspNetCore.Builder;
using Microsoft.AspNetCore.SignalR;
using Microsoft.AspNetCore.SignalR.Client;
using Microsoft.Extensions.DependencyInjection;
using Microsoft.Extensions.Logging;

namespace Kinetra.Server.Tests;

/// <summary>What nobody foresaw, in a server that has no database at all.</summary>
public sealed class UnforeseenTests : IAsyncLifetime
{
    private readonly DirectoryInfo _data = Directory.CreateTempSubdirectory("kinetra-unforeseen-");
    private readonly Collected _log = new();
    private WebApplication? _app;
    private HttpClient _http = new();

    private static CancellationToken Cancel => TestContext.Current.CancellationToken;

    public async ValueTask InitializeAsync()
    {
        var options = new ServerOptions { Port = 0, DataFolder = _data.FullName, Connection = "Host=127.0.0.1;Port=1;Database=none;Username=none", Clock = ClockKind.Stepped };
        _app = Application.Build(options, services => services
            .AddSingleton<ILoggerProvider>(_log)
            .AddSingleton(RunningServer.StandIns)
            .Configure<HubOptions>(hub => hub.AddFilter(new Boom())));
        _app.MapGet("/api/status/boom", string () => throw new FormatException("A secret of the program."));
        _app.MapGet("/api/status/full", string () => throw new IOException("No space left on device : '/home/somebody/kinetra/takes'"));
        await _app.StartAsync(Cancel);
        _http = new HttpClient { BaseAddress = new Uri(_app.Urls.First()) };
    }

    public async ValueTask DisposeAsync()
    {
        _http.Dispose();
        await _app!.StopAsync(CancellationToken.None);
        await _app.DisposeAsync();
        _log.Dispose();
        _data.Delete(recursive: true);
    }

    [Fact]
    public async Task An_error_that_nobody_foresaw_is_logged_once_with_its_trace_and_the_answer_carries_that_and_nothing_else_of_it()
    {
        using var response = await _http.GetAsync("/api/status/boom", Cancel);
        var answer = JsonNode.Parse(await response.Content.ReadAsStringAsync(Cancel))!;
        ((int)response.StatusCode, answer).ShouldSayWhatWhereAndWhatIsAllowed(500, "server");
        var trace = (string)answer["traceId"]!;
        trace.ShouldNotBeNullOrEmpty();
        _log.Lines.Where(l => l.Contains("secret", StringComparison.Ordinal)).ShouldHaveSingleItem().ShouldContain(trace);
        answer.ToJsonString().ShouldNotContain("secret");
    }

    [Fact]
    public async Task What_nobody_foresaw_in_a_call_of_a_window_is_logged_once_with_the_trace_that_it_is_told_and_nothing_else_of_it()
    {
        await using var window = new HubConnectionBuilder().WithUrl(new Uri(_http.BaseAddress!, "/api/live")).Build();
        await window.StartAsync(Cancel);
        var thrown = await Should.ThrowAsync<HubException>(() => window.InvokeAsync("EndPreview", "viewers", "host", Cancel));
        thrown.Message.ShouldNotContain("secret");
        var line = _log.Lines.Where(l => l.Contains("secret", StringComparison.Ordinal)).ShouldHaveSingleItem();
        thrown.Message.ShouldContain(line.Split("Trace ")[1].Split(". ")[0]);
    }

    [Fact]
    public async Task A_full_disk_is_told_without_a_path_and_logged_with_it()
    {
        using var response = await _http.GetAsync("/api/status/full", Cancel);
        var answer = JsonNode.Parse(await response.Content.ReadAsStringAsync(Cancel))!;
        ((int)response.StatusCode, answer).ShouldSayWhatWhereAndWhatIsAllowed(507, "disk");
        answer.ToJsonString().ShouldNotContain("/home");
        _log.Lines.ShouldContain(l => l.Contains("/home/somebody", StringComparison.Ordinal));
    }

    [Theory]
    [InlineData("/api/status/boom")]
    [InlineData("/api/nothing")]
    [InlineData("/api/status")]
    public async Task Every_answer_has_the_headers_that_protect_the_page(string path)
    {
        using var response = await _http.GetAsync(path, Cancel);
        foreach (var header in new[] { "Content-Security-Policy", "Cross-Origin-Opener-Policy", "Cross-Origin-Embedder-Policy", "Permissions-Policy", "Referrer-Policy", "X-Content-Type-Options" })
        {
            response.Headers.Contains(header).ShouldBeTrue(header);
        }
    }

    private sealed class Boom : IHubFilter
    {
        public ValueTask<object?> InvokeMethodAsync(HubInvocationContext invocationContext, Func<HubInvocationContext, ValueTask<object?>> next) =>
            throw new FormatException("A secret of the program.");
    }

    private sealed class Collected : ILoggerProvider, ILogger
    {
        public ConcurrentBag<string> Lines { get; } = [];

        public ILogger CreateLogger(string categoryName) => this;

        public IDisposable? BeginScope<TState>(TState state)
            where TState : notnull => null;

        public bool IsEnabled(LogLevel logLevel) => true;

        public void Log<TState>(LogLevel logLevel, EventId eventId, TState state, Exception? exception, Func<TState, Exception?, string> formatter) =>
            Lines.Add($"{formatter(state, exception)} {exception}");

        public void Dispose()
        {
        }
    }
}
