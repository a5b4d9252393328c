using System.Collections.Immutable;
using System.ComponentModel.DataAnnotations;
using Kinetra.Core.Editing;
using Kinetra.Core.Rigs;
using Kinetra.Core.Signal;
using Kinetra.Server.Features.Shows;
using Kinetra.Server.Features.Sources;
using Kinetra.Server.Hosting;
using Kinetra.Server.Hosting.Secrets;
using Kinetra.Server.Live;
using Microsoft.AspNetCore.Http.HttpResults;

namespace Kinetra.Server.Features.Air;

/// <summary>A new stream.</summary>
/// <param name="Mix">What it takes.</param>
/// <param name="Name">1–60 characters; left out: by its server.</param>
/// <param name="Server">Where it goes; left out: this computer, port 8000, to be changed.</param>
public sealed record NewBroadcast(MixId Mix, [property: Like(typeof(Broadcast), "name")] string? Name = null, AirServer? Server = null);

/// <summary>A change of a stream. What is left out stays as it is.</summary>
/// <param name="Name">1–60 characters.</param>
/// <param name="Mix">What it takes.</param>
/// <param name="Server">Where it goes, all of it.</param>
/// <param name="Form">What it is encoded as.</param>
/// <param name="Channels">1 or 2.</param>
/// <param name="Kilobits">kbit/s.</param>
/// <param name="SampleRate">Hz.</param>
/// <param name="Gain">Its own level, which a stream on air takes over at once.</param>
/// <param name="Title">What listeners see that they hear.</param>
/// <param name="Description">What it is about.</param>
/// <param name="IsPublic">Whether the server may list it.</param>
/// <param name="Song">Who says what listeners hear; a stream on air takes this over at once too.</param>
public sealed record StreamChange(
    [property: Like(typeof(Broadcast), "name")] string? Name = null,
    MixId? Mix = null,
    AirServer? Server = null,
    StreamForm? Form = null,
    [property: Like(typeof(Broadcast), "channels")] int? Channels = null,
    [property: Like(typeof(Broadcast), "kilobits")] int? Kilobits = null,
    [property: Like(typeof(Broadcast), "sampleRate")] int? SampleRate = null,
    Gain? Gain = null,
    [property: Like(typeof(Broadcast), "title")] string? Title = null,
    [property: Like(typeof(Broadcast), "description")] string? Description = null,
    bool? IsPublic = null,
    SongTeller? Song = null);

/// <summary>A stream's password.</summary>
/// <param name="Password">It is kept encrypted and never given again; left out: none.</param>
public sealed record StreamPassword(Secret? Password = null);

/// <summary>What listeners are told that they hear.</summary>
/// <param name="Song">1–200 characters on one line.</param>
public sealed record StreamSong([property: StringLength(200, MinimumLength = 1)] string Song);

/// <summary>A bit rate that is worth offering.</summary>
/// <param name="Kilobits">kbit/s.</param>
/// <param name="Words">What it sounds like.</param>
public sealed record BitRateOffer(int Kilobits, string Words);

/// <summary>What a stream can be encoded as.</summary>
/// <param name="Form">The form.</param>
/// <param name="SampleRates">Hz, highest first.</param>
/// <param name="Offers">Bit rates that are worth offering, lowest first.</param>
/// <param name="LeastKilobits">The least, kbit/s; 0: it has no bit rate.</param>
/// <param name="MostKilobits">The most.</param>
/// <param name="OnlyOffers">True: no others are possible.</param>
public sealed record StreamFormDocument(StreamForm Form, ImmutableArray<int> SampleRates, ImmutableArray<BitRateOffer> Offers, int LeastKilobits, int MostKilobits, bool OnlyOffers);

/// <summary>Streams to servers: steps of the show, and going on air.</summary>
sealed class AirEndpoints : IFeature
{
    public void AddTo(IServiceCollection services, ServerOptions options)
    {
        services.AddSingleton<AirPasswords>().AddSingleton<AirDesk>().AddSingleton<AirChecks>().AddSingleton<HearBack>().AddHostedService<ProgramSongs>();
        services.AddHostedService(s => s.GetRequiredService<AirDesk>());
    }

    public void MapTo(IEndpointRouteBuilder routes)
    {
        var show = routes.MapGroup(ShowEndpoints.Path);
        show.MapPost("/streams", (NewBroadcast wanted, ShowCommands commands, [AsParameters] CommandCall call) => commands.DoAsync(call, rig => new AddBroadcast(Made(rig, wanted))))
            .WithName("addStream").WithSummary("Adds a stream to a server.");
        show.MapPatch("/streams/{stream}", (string stream, StreamChange change, ShowCommands commands, [AsParameters] CommandCall call) => commands.DoAsync(call, new SetBroadcast(
            new(stream), change.Name, change.Mix, change.Server, change.Form, change.Channels, change.Kilobits, change.SampleRate, change.Gain, change.Title, change.Description, change.IsPublic, change.Song)))
            .WithName("changeStream").WithSummary("Changes a stream. One that is on air takes over its level, and who says what listeners hear, at once, and all else when it is started next.");
        show.MapDelete("/streams/{stream}", (string stream, ShowCommands commands, [AsParameters] CommandCall call) => commands.DoAsync(call, new RemoveBroadcast(new(stream))))
            .WithName("removeStream").WithSummary("Removes a stream; one that is on air ends.");

        routes.MapGet("/air", (AirDesk desk) => TypedResults.Ok(desk.All.ToImmutableArray())).WithName("getAir").WithSummary("How the streams of the live show stand.");
        routes.MapGet("/air/checks", async (AirChecks checks, CancellationToken cancel, bool ask = false) => TypedResults.Ok(await checks.LookAsync(ask, cancel)))
            .WithName("getAirChecks").WithSummary("What is looked at before a show goes on air, as it is now. Whether a server is there is asked at most every 30 s, unless it is said that it is to be asked now.");
        routes.MapGet("/air/forms", Forms).WithName("getStreamForms").WithSummary("What streams can be encoded as, and what their bit rates sound like.");
        routes.MapPut("/air/{stream}/password", (string stream, StreamPassword password, AirDesk desk, AirPasswords passwords, LiveShow live) => Of(stream, live, desk, (show, one) =>
        {
            passwords.Keep(show, one.Id, password.Password);
            return Task.FromResult<ProblemHttpResult?>(null);
        })).WithName("setStreamPassword").WithSummary("Keeps a stream's password, encrypted, for this computer alone. It is never given again.");
        routes.MapPost("/air/{stream}/start", (string stream, AirDesk desk, LiveShow live) => Of(stream, live, desk, (show, one) => StartAsync(desk, show, one)))
            .WithName("startStream").WithSummary("Goes on air: connects to the server, and again after every loss, until it is stopped or the server says no.");
        routes.MapPost("/air/{stream}/stop", (string stream, AirDesk desk, LiveShow live) => Of(stream, live, desk, async (_, one) =>
        {
            await desk.StopAsync(one.Id);
            return null;
        })).WithName("stopStream").WithSummary("Goes off air; what was said up to now still goes out.");
        routes.MapPut("/air/{stream}/pause", (string stream, AirPause pause, AirDesk desk, LiveShow live) => Of(stream, live, desk, (_, one) =>
            Task.FromResult(Pause(desk, live, one, pause)))).WithName("pauseStream").WithSummary("Sends silence or a source instead of the mix; the stream stays on air.");
        routes.MapDelete("/air/{stream}/pause", (string stream, AirDesk desk, LiveShow live) => Of(stream, live, desk, (_, one) =>
            Task.FromResult(Pause(desk, live, one, null)))).WithName("resumeStream").WithSummary("Sends the mix again.");
        routes.MapPut("/air/{stream}/song", (string stream, StreamSong song, AirDesk desk, LiveShow live) => Of(stream, live, desk, (_, one) =>
            Task.FromResult(song.Song.Length is < 1 or > 200 || song.Song.Any(char.IsControl)
                ? Problems.Invalid("song", "This text cannot be sent.", "1 to 200 characters on one line")
                : desk.Sing(one.Id, song.Song) ? null : NotOnAir(one)))).WithName("setStreamSong").WithSummary("Tells listeners what they hear.");
        routes.MapPost("/air/{stream}/heard", HeardAsync).WithName("hearStreamBack")
            .WithSummary("Listens at a stream's server for some seconds as a listener does, and says whether that is its mix, and how late.");
        routes.MapGet("/air/{stream}/return", ReturnAsync).Produces<byte[]>(StatusCodes.Status200OK, "application/octet-stream").WithName("getStreamReturn")
            .WithSummary("What listeners of a stream get, as its server gives it, without an end.");
    }

    private static async Task<Results<Ok<HeardBack>, ProblemHttpResult>> HeardAsync(string stream, LiveShow live, HearBack back, CancellationToken cancel)
    {
        if (live.Show.Rig.Streams.FirstOrDefault(s => s.Id.Value == stream) is not { } one)
        {
            return NoStream(stream);
        }

        try
        {
            return TypedResults.Ok(await back.MeasureAsync(one, cancel));
        }
        catch (StreamServerException e)
        {
            return Problems.Conflict("stream", e.Check is null ? e.Message : $"{e.Message} To check: {e.Check}", "a stream that its server gives to listeners");
        }
    }

    private static async Task<Results<PushStreamHttpResult, ProblemHttpResult>> ReturnAsync(string stream, LiveShow live, CancellationToken cancel)
    {
        if (live.Show.Rig.Streams.FirstOrDefault(s => s.Id.Value == stream) is not { } one)
        {
            return NoStream(stream);
        }

        try
        {
            var line = await ReturnLine.OpenAsync(one.Server, cancel);
            return TypedResults.Stream(
                async to =>
                {
                    using (line)
                    {
                        try
                        {
                            await line.Sound.CopyToAsync(to, cancel);
                        }
                        catch (Exception e) when (e is IOException or OperationCanceledException)
                        {
                            // The server has ended it, or whoever heard it has gone.
                        }
                    }
                },
                one.Form == StreamForm.Mp3 ? "audio/mpeg" : "audio/ogg");
        }
        catch (StreamServerException e)
        {
            return Problems.Conflict("stream", e.Check is null ? e.Message : $"{e.Message} To check: {e.Check}", "a stream that its server gives to listeners");
        }
    }

    private static ProblemHttpResult NoStream(string stream) => Problems.NotFound("stream", $"The show has no stream “{stream}”.", "a stream of the live show");

    private static async Task<Results<Ok<AirDocument>, ProblemHttpResult>> Of(string stream, LiveShow live, AirDesk desk, Func<Guid, Broadcast, Task<ProblemHttpResult?>> act)
    {
        // One look: what is done is done with the show in which it was found.
        var show = live.Show;
        if (show.Rig.Streams.FirstOrDefault(s => s.Id.Value == stream) is not { } one)
        {
            return NoStream(stream);
        }

        return await act(show.Id, one) is { } problem ? problem : TypedResults.Ok(desk.Document(one));
    }

    private static async Task<ProblemHttpResult?> StartAsync(AirDesk desk, Guid show, Broadcast stream)
    {
        try
        {
            await desk.StartAsync(show, stream);
            return null;
        }
        catch (SecretLostException e)
        {
            return Problems.Conflict("password", e.Message, "the password, given once more");
        }
    }

    private static ProblemHttpResult? Pause(AirDesk desk, LiveShow live, Broadcast stream, AirPause? pause)
    {
        if (pause?.Source is { } source && live.Show.Rig.Find(source) is null)
        {
            return Problems.NotFound("source", $"The show has no source “{source}”.", "a source of the live show, or none for silence");
        }

        if (desk.Find(stream.Id) is not { IsRunning: true } run)
        {
            return NotOnAir(stream);
        }

        run.Pause(pause);
        return null;
    }

    private static ProblemHttpResult NotOnAir(Broadcast stream) => Problems.Conflict("stream", $"{stream.Name} is not on air.", "a stream that is on air");

    private static Broadcast Made(Rig rig, NewBroadcast wanted)
    {
        var server = wanted.Server ?? new AirServer(ServerKind.Put, "localhost", 8000);
        return new Broadcast(StreamId.New(), wanted.Name ?? FreeNames.For(rig.Streams.Select(s => s.Name), rig.Find(wanted.Mix)?.Name ?? "Stream", "Stream"), wanted.Mix, server);
    }

    private static Results<Ok<ImmutableArray<StreamFormDocument>>, ProblemHttpResult> Forms([Range(8_000, 48_000)] int sampleRate = AudioFormat.SampleRate, [Range(1, 2)] int channels = 2) => channels is not (1 or 2)
        ? Problems.Invalid("channels", $"A stream cannot have {channels} channels.", "1 or 2")
        : TypedResults.Ok<ImmutableArray<StreamFormDocument>>([.. AirForms.All.Select(form =>
        {
            var rates = AirForms.RatesOf(form);
            var rate = rates.Contains(sampleRate) ? sampleRate : rates[0];
            var (least, most, only) = AirForms.KilobitsOf(form, rate, channels);
            return new StreamFormDocument(
                form, rates, [.. AirForms.Offered(form, rate, channels).Select(k => new BitRateOffer(k, AirForms.Words(form, k, channels, rate)))], least, most, only is not null);
        })]);
}
