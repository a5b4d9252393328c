using System.Net.Http.Json;
using System.Net.WebSockets;
using System.Text;
using System.Text.Json.Nodes;
using Kinetra.Gear;
using Kinetra.Server.Hosting;
using Kinetra.Server.Live;
using Kinetra.Tests.Shared;
using Microsoft.AspNetCore.Builder;
using Microsoft.Extensions.DependencyInjection;

namespace Kinetra.Server.Tests;

/// <summary>A whole server on the stepped clock, on loopback, with a database and a data folder of its own.</summary>
public sealed class RunningServer : IAsyncLifetime
{
    // Made once: the same on every server.
    private static readonly Lazy<StandIns> AllStandIns = new(() => new StandIns());
    private readonly DirectoryInfo _data = Directory.CreateTempSubdirectory("kinetra-server-");
    private WebApplication? _app;
    private Guid? _original;

    /// <summary>The stand-ins of all servers.</summary>
    public static StandIns StandIns => AllStandIns.Value;

    /// <summary>What a stand-in plays, left or the only channel, from the engine's frame 0 on.</summary>
    public static float[] SoundOf(string standIn) => StandIns.Sound(standIn).Left;

    // Without cables, chains and destinations: what a test needs of those it makes.
    private static readonly string PlainShows = Path.Combine(AppContext.BaseDirectory, "shows");

    /// <summary>True: it begins with the demo shows, as the application does.</summary>
    public bool Demo { get; init; }

    public TestDatabase Database { get; } = new();

    public HttpClient Http { get; private set; } = new();

    public string Data => _data.FullName;

    public Uri Address => new(_app!.Urls.First());

    private static CancellationToken Cancel => TestContext.Current.CancellationToken;

    public async ValueTask InitializeAsync()
    {
        await Database.InitializeAsync();
        await StartAsync();
    }

    public async ValueTask DisposeAsync()
    {
        await StopAsync();
        await Database.DisposeAsync();
        _data.Delete(recursive: true);
    }

    /// <summary>Starts it; waits until it is ready, where it can be.</summary>
    public async Task StartAsync(bool untilReady = true, long maxUpload = 20_000_000, ClockKind clock = ClockKind.Stepped, TimeProvider? time = null)
    {
        var options = new ServerOptions
        {
            FirstShowsFolder = Demo ? null : PlainShows,
            Port = 0,
            DataFolder = Data,
            Connection = Database.Connection,
            Clock = clock,
            MaxUploadBytes = maxUpload,
        };
        _app = Application.Build(options, services => services.AddSingleton(StandIns).AddSingleton(time ?? TimeProvider.System));
        await _app.StartAsync(Cancel);
        // The description of the whole API takes half a minute of a processor when it is asked for first, and several servers start at once here.
        Http = new HttpClient { BaseAddress = Address, Timeout = TimeSpan.FromMinutes(5) };
        if (untilReady)
        {
            await Ready;
        }
    }

    /// <summary>Looks at a topic, by the number 1.</summary>
    public async Task<ClientWebSocket> LookAsync(string topic, string? of = null)
    {
        var socket = await ConnectAsync("/api/analysis");
        await SendTextAsync(socket, new System.Text.Json.Nodes.JsonObject { ["open"] = 1, ["topic"] = topic, ["of"] = of }.ToJsonString());
        return socket;
    }

    /// <summary>The highest sample of a moment at a point of the computer, a cable or a mix, dBFS.</summary>
    public async Task<double> PeakAsync(string point)
    {
        using var meters = await LookAsync("levels");
        var layout = JsonNode.Parse((await ReceiveAsync(meters)).Data)!["values"]!;
        var (_, data) = await ReceiveAsync(meters);
        var values = System.Runtime.InteropServices.MemoryMarshal.Cast<byte, float>(data.AsSpan(40)).ToArray();
        var buses = layout["buses"]!.AsArray().Select(b => (Point: (string)b!["point"]!, Channels: (int)b["channels"]!)).ToList();
        var at = values.Length - buses.Sum(b => b.Channels) + buses.TakeWhile(b => b.Point != point).Sum(b => b.Channels);
        var (sources, mixes) = (layout["sources"]!.AsArray().Count, layout["mixes"]!.AsArray().Select(m => (string)m!).ToList());
        return Kinetra.Core.Signal.Point.Parse(point) is Kinetra.Core.Signal.MixPoint mix
            ? values[(sources * Kinetra.Core.Engine.MeterLayout.SourceValues) + (mixes.IndexOf(mix.Id.Value) * Kinetra.Core.Engine.MeterLayout.MixValues)]
            : values.AsSpan(at, buses.First(b => b.Point == point).Channels).ToArray().Max();
    }

    public Task Ready => _app!.Services.GetRequiredService<StartState>().Ready;

    public async Task StopAsync()
    {
        Http.Dispose();
        if (_app is not null)
        {
            await _app.StopAsync(CancellationToken.None);
            await _app.DisposeAsync();
            _app = null;
        }
    }

    public async Task<JsonNode> ShowAsync() => (await Http.GetFromJsonAsync<JsonNode>("/api/shows/live", Cancel))!;

    /// <summary>Sends a request. LIVE in the path is the live show, and what is changed there was seen as it is now, unless the path says otherwise.</summary>
    public async Task<(int Status, JsonNode Body)> SendAsync(HttpMethod method, string path, string? json = null, params (string Name, string Value)[] headers)
    {
        using var request = new HttpRequestMessage(method, path);
        if (json is not null)
        {
            request.Content = new StringContent(json, Encoding.UTF8, "application/json");
        }

        return await SendAsync(request, headers);
    }

    public async Task<(int Status, JsonNode Body)> SendAsync(HttpRequestMessage request, params (string Name, string Value)[] headers)
    {
        foreach (var (name, value) in headers)
        {
            request.Headers.TryAddWithoutValidation(name, value);
        }

        request.RequestUri = new Uri(await AddressedAsync(request.Method, request.RequestUri!.OriginalString), UriKind.Relative);
        using var response = await Http.SendAsync(request, Cancel);
        var text = await response.Content.ReadAsStringAsync(Cancel);
        return ((int)response.StatusCode, text.Length == 0 ? new JsonObject() : JsonNode.Parse(text)!);
    }

    private async Task<string> AddressedAsync(HttpMethod method, string path)
    {
        if (!path.Contains("LIVE", StringComparison.Ordinal))
        {
            return path;
        }

        var show = await ShowAsync();
        path = path.Replace("LIVE", (string)show["id"]!, StringComparison.Ordinal);
        return method == HttpMethod.Get || path.Contains('?', StringComparison.Ordinal) ? path : $"{path}?revision={show["revision"]}";
    }

    /// <summary>Opens a demo show that nobody has touched, whatever ran before on this server, and lets the one before fade out.</summary>
    public async ValueTask OpenFreshShowAsync()
    {
        _original ??= await LiveAsync();
        var (status, copy) = await SendAsync(HttpMethod.Post, "/api/shows", $$"""{"copyOf":"{{_original}}","name":"The Lamp Room"}""");
        status.ShouldBe(200, copy.ToJsonString());
        var (opened, answer) = await SendAsync(HttpMethod.Post, $"/api/shows/{copy["id"]}/open", "{}");
        opened.ShouldBe(200, answer.ToJsonString());
        await StepAsync(1);
    }

    /// <summary>The live show's id.</summary>
    public async Task<Guid> LiveAsync() => (Guid)(await ShowAsync())["id"]!;

    /// <summary>Takes back the step that the show names as the next one to be.</summary>
    public Task<(int Status, JsonNode Body)> UndoAsync(params (string Name, string Value)[] headers) => WalkAsync("undo", "toUndo", headers);

    /// <summary>Does again the step that the show names.</summary>
    public Task<(int Status, JsonNode Body)> RedoAsync(params (string Name, string Value)[] headers) => WalkAsync("redo", "toRedo", headers);

    private async Task<(int Status, JsonNode Body)> WalkAsync(string way, string next, (string Name, string Value)[] headers)
    {
        var step = (await ShowAsync())[next]?["revision"]?.ToJsonString() ?? "0";
        return await SendAsync(HttpMethod.Post, $"/api/shows/LIVE/{way}", $$"""{"step":{{step}}}""", headers);
    }

    public async Task<(int Status, JsonNode Body)> UploadAsync(byte[] file, string fileName, string? name = null, bool? loop = null)
    {
        using var form = new MultipartFormDataContent { { new ByteArrayContent(file), "file", fileName } };
        if (name is not null)
        {
            form.Add(new StringContent(name), "name");
        }

        if (loop is not null)
        {
            form.Add(new StringContent(loop.Value ? "true" : "false"), "loop");
        }

        using var request = new HttpRequestMessage(HttpMethod.Post, "/api/shows/LIVE/sources") { Content = form };
        return await SendAsync(request);
    }

    public async Task StepAsync(double seconds)
    {
        var (status, _) = await SendAsync(HttpMethod.Post, "/api/clock/steps", $"{{\"frames\":{(long)(seconds * 48_000)}}}");
        status.ShouldBe(200);
    }

    public async Task<ClientWebSocket> ConnectAsync(string path, string? origin = null)
    {
        var socket = new ClientWebSocket();
        if (origin is not null)
        {
            socket.Options.SetRequestHeader("Origin", origin);
        }

        await socket.ConnectAsync(new Uri($"ws://{Address.Authority}{path}"), Cancel);
        return socket;
    }

    /// <summary>For how long anything is waited for that must come.</summary>
    private static readonly TimeSpan Patience = TimeSpan.FromMinutes(3);

    /// <summary>Asks until something is so.</summary>
    /// <exception cref="TimeoutException">It was not so within the time that anything takes.</exception>
    public static async Task UntilAsync(Func<Task<bool>> isSo)
    {
        ArgumentNullException.ThrowIfNull(isSo);
        var begun = System.Diagnostics.Stopwatch.GetTimestamp();
        while (!await isSo())
        {
            Cancel.ThrowIfCancellationRequested();
            if (System.Diagnostics.Stopwatch.GetElapsedTime(begun) > Patience)
            {
                throw new TimeoutException("What was waited for has not come.");
            }
        }
    }

    /// <summary>The next whole message.</summary>
    public static async Task<(WebSocketMessageType Type, byte[] Data)> ReceiveAsync(ClientWebSocket socket)
    {
        // What never comes is told by the test that waits for it.
        using var patience = CancellationTokenSource.CreateLinkedTokenSource(Cancel);
        patience.CancelAfter(Patience);
        using var message = new MemoryStream();
        var buffer = new byte[65_536];
        WebSocketReceiveResult part;
        do
        {
            part = await socket.ReceiveAsync(buffer, patience.Token);
            message.Write(buffer, 0, part.Count);
        }
        while (!part.EndOfMessage);
        return (part.MessageType, message.ToArray());
    }

    public static Task SendTextAsync(ClientWebSocket socket, string text) =>
        socket.SendAsync(Encoding.UTF8.GetBytes(text), WebSocketMessageType.Text, endOfMessage: true, Cancel);
}

/// <summary>What problem details must hold, whatever went wrong.</summary>
static class ProblemChecks
{
    public static void ShouldSayWhatWhereAndWhatIsAllowed(this (int Status, JsonNode Body) answer, int status, string where)
    {
        answer.Status.ShouldBe(status, answer.Body.ToJsonString());
        ((int)answer.Body["status"]!).ShouldBe(status);
        var problem = answer.Body["problems"]![0]!;
        ((string)problem["where"]!).ShouldBe(where);
        ((string)problem["what"]!).ShouldNotBeNullOrWhiteSpace();
        ((string)problem["allowed"]!).ShouldNotBeNullOrWhiteSpace();
    }
}
