using System.ComponentModel.DataAnnotations;
using System.Globalization;
using Kinetra.Core.Editing;
using Kinetra.Core.Engine;
using Kinetra.Core.Rigs;
using Kinetra.Core.Signal;
using Kinetra.Server.Features.Shows;
using Kinetra.Server.Features.Sources;
using Kinetra.Server.Hosting;
using Kinetra.Server.Live;
using Microsoft.AspNetCore.Http.HttpResults;

namespace Kinetra.Server.Features.Microphones;

/// <summary>How an input of a browser stands, as the API gives it.</summary>
/// <param name="Client">Which browser.</param>
/// <param name="Device">Which of its inputs.</param>
/// <param name="State">How it stands.</param>
/// <param name="Words">The same in words; null: all is well.</param>
/// <param name="Window">The window that gives it, or gave it last.</param>
/// <param name="Granted">What the browser granted.</param>
/// <param name="Gaps">How often its sound broke off.</param>
/// <param name="LostFrames">Frames that never arrived.</param>
/// <param name="ArrivedFrames">Frames that arrived.</param>
/// <param name="LatencyMs">How long its sound waits here; null: it is silent.</param>
/// <param name="ClockPpm">By how much its clock runs fast; null: that is still being learnt.</param>
public sealed record MicrophoneDocument(
    string Client, string Device, DeviceState State, string? Words, string? Window, Granted? Granted, long Gaps, long LostFrames, long ArrivedFrames,
    double? LatencyMs, double? ClockPpm);

/// <summary>A person on a microphone: one source.</summary>
/// <param name="Left">The input's channel, 0–7, that is left, or the only one.</param>
/// <param name="Right">The input's channel that is right; null: mono.</param>
/// <param name="Name">1–60 characters; left out: the input's name.</param>
public sealed record NewVoice(
    [property: Like(typeof(BrowserInput), "left")] int Left, [property: Like(typeof(BrowserInput), "right")] int? Right = null, [property: Like(typeof(Source), "name")] string? Name = null);

/// <summary>An input of a browser, to be one source or several.</summary>
/// <param name="Client">Which browser, 1–64 characters.</param>
/// <param name="Device">Which of its inputs, 1–128 characters.</param>
/// <param name="Label">What the browser calls it, 1–200 characters.</param>
/// <param name="Voices">1–8 sources.</param>
/// <param name="StillPlays">Of the sound of a tab or of the whole computer that is shared: whether it still plays where it played. Left out: an input that the browser lists.</param>
public sealed record NewMicrophone(
    [property: Like(typeof(BrowserInput), "client")] string Client,
    [property: Like(typeof(BrowserInput), "device")] string Device,
    [property: Like(typeof(BrowserInput), "label")] string Label,
    [property: Length(1, RigLimits.InputChannels)] IReadOnlyList<NewVoice> Voices,
    bool? StillPlays = null);

/// <summary>Inputs of browsers.</summary>
sealed class MicrophoneEndpoints : IFeature
{
    public void AddTo(IServiceCollection services, ServerOptions options)
    {
        services.AddSingleton<BrowserDevices>().AddSingleton<ISoundProvider>(s => s.GetRequiredService<BrowserDevices>()).AddSingleton<MicrophoneReport>().AddSingleton<MicrophoneSocket>();
        services.AddSingleton<MicrophoneNews>().AddHostedService(s => s.GetRequiredService<MicrophoneNews>());
    }

    public void MapTo(IEndpointRouteBuilder routes)
    {
        routes.Map("/microphone", (HttpContext context, MicrophoneSocket microphone) => microphone.ServeAsync(context)).ExcludeFromDescription();
        var show = routes.MapGroup(ShowEndpoints.Path);
        routes.MapGet("/microphones", (MicrophoneReport report) => report.All()).WithName("getMicrophones")
            .WithSummary("The browsers' inputs that the live show has, and how they stand.");
        routes.MapGet("/microphones/probe/{window}", Results<Ok<MicrophoneDocument>, ProblemHttpResult> (string window, BrowserDevices devices) =>
                devices.Find("probe", window) is { } probe
                    ? TypedResults.Ok(MicrophoneReport.Of(probe, "The probe"))
                    : Problems.NotFound("window", "This window has sent no probe.", "a window that measures its delay"))
            .WithName("getProbe").WithSummary("How a window's probe stands, which measures the way of a microphone.");
        show.MapPost("/microphones", AddAsync).WithName("addMicrophone").WithSummary("Adds an input of a browser as a source, or as several.");
    }

    private static async Task<Results<Ok<ShowDocument>, ProblemHttpResult>> AddAsync(NewMicrophone wanted, ShowCommands commands, [AsParameters] CommandCall call)
    {
        if (wanted.Voices is not { Count: >= 1 and <= RigLimits.InputChannels })
        {
            return Problems.Invalid("voices", "There must be at least one voice.", $"1 to {RigLimits.InputChannels} voices");
        }

        if (wanted.Voices.Any(v => v is null))
        {
            return Problems.Invalid("voices", "This list cannot be used.", $"1 to {RigLimits.InputChannels} voices, none of them null");
        }

        if (wanted.Voices.Select((v, i) => v.Name is null ? null : RigRules.CheckName($"voices[{i}].name", v.Name)).FirstOrDefault(p => p is not null) is { } wrong)
        {
            return Problems.Invalid([wrong]);
        }

        return await commands.DoAsync(call, rig =>
        {
            var adds = new List<RigCommand>();
            foreach (var voice in wanted.Voices)
            {
                var add = new AddSource(new Source
                {
                    Id = SourceId.New(),
                    Name = FreeNames.For(rig, string.IsNullOrWhiteSpace(voice.Name) ? wanted.Label ?? "" : voice.Name),
                    Kind = wanted.StillPlays is null ? SourceKind.Microphone : SourceKind.App,
                    Input = new BrowserInput(wanted.Client, wanted.Device, wanted.Label ?? "", voice.Left, voice.Right, wanted.StillPlays),
                    Look = FreeNames.Look(rig),
                });
                adds.Add(add);
                if (add.Apply(rig) is CommandResult.Applied applied)
                {
                    rig = applied.Rig;
                }
            }

            return adds.Count == 1 ? adds[0] : new Several([.. adds]);
        });
    }
}

/// <summary>Puts together how the live show's microphones stand.</summary>
public sealed class MicrophoneReport(LiveShow live, BrowserDevices devices)
{
    /// <summary>One for each input that the show has, in the order of its sources.</summary>
    public IReadOnlyList<MicrophoneDocument> All() =>
    [
        .. live.Show.Rig.Sources.Select(s => s.Input).OfType<BrowserInput>().DistinctBy(i => (i.Client, i.Device))
            .Select(i => Of(devices.Of(i.Client, i.Device), i.Label, i.IsShared)),
    ];

    internal static MicrophoneDocument Of(BrowserDevice device, string label, bool isShared = false)
    {
        var state = device.State;
        var latency = device.Input.Latency;
        var ppm = device.Input.PartsPerMillion;
        return new(
            device.Client,
            device.Device,
            state,
            isShared ? SharedWords(state, label) : Words(state, label, device),
            device.Window,
            device.Granted,
            device.Input.Gaps,
            device.Input.Lost,
            device.Input.Arrived,
            double.IsNaN(latency) ? null : latency * 1000 / AudioFormat.SampleRate,
            double.IsNaN(ppm) ? null : ppm);
    }

    private static string? SharedWords(DeviceState state, string label) => state switch
    {
        DeviceState.Live => null,
        DeviceState.Stalled => $"{label} sends nothing: its window sleeps or is too busy. It goes on by itself once that wakes up.",
        DeviceState.Refused => $"The browser was told not to share {label}.",
        _ => $"{label} is not shared now. Share it again in the browser that it was added in.",
    };

    private static string? Words(DeviceState state, string label, BrowserDevice device) => state switch
    {
        DeviceState.Live => null,
        DeviceState.OffRate => string.Create(
            CultureInfo.InvariantCulture,
            $"{label} gives {device.Rate / 1000:0.0} thousand samples a second where it says 48: its sound breaks off. Set another rate for it in its system, or plug it in again."),
        DeviceState.Stalled => $"{label} sends nothing: its computer sleeps or is too busy. It goes on by itself once that wakes up.",
        DeviceState.Unplugged => $"{label} is unplugged. It goes on by itself once it is back.",
        DeviceState.Refused => $"The browser was told not to give {label}. Allow the microphone at the browser's address bar.",
        DeviceState.WindowClosed => $"The window that gave {label} was closed. Open Kinetra in that browser again.",
        _ => $"No window gives {label} yet. Open Kinetra in the browser that it was added in.",
    };
}
