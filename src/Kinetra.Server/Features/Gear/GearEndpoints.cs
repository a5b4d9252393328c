using System.Collections.Immutable;
using System.ComponentModel.DataAnnotations;
using Kinetra.Core.Editing;
using Kinetra.Core.Rigs;
using Kinetra.Core.Signal;
using Kinetra.Server.Features.Shows;
using Kinetra.Server.Hosting;
using Kinetra.Server.Live;
using Microsoft.AspNetCore.Http.HttpResults;

namespace Kinetra.Server.Features.Gear;

/// <summary>What a default is to be.</summary>
/// <param name="End"><c>device/ID/out</c> or <c>device/ID/in</c>, as the role plays or records, or <c>cable/ID</c>.</param>
public sealed record DefaultChoice([property: Like(typeof(RoleWish), "end")] Point End);

/// <summary>What a program's output or input is to be set to.</summary>
/// <param name="Choice">What.</param>
/// <param name="Restart">True: the program is started anew where it would not see that otherwise.</param>
public sealed record PortChoice(EndChoice Choice, bool Restart = false);

/// <summary>A change of a program. What is left out stays as it is.</summary>
/// <param name="IsRunning">Whether it runs.</param>
/// <param name="IsPlaying">Whether it plays what it has to play.</param>
/// <param name="Volume">Its own volume, dB, −120 … 0, or "off".</param>
/// <param name="EvensVoices">Whether it removes echo and evens levels.</param>
/// <param name="Tests">Whether it plays its test sound.</param>
public sealed record AppChange(bool? IsRunning = null, bool? IsPlaying = null, Gain? Volume = null, bool? EvensVoices = null, bool? Tests = null);

/// <summary>A change of a device. What is left out stays as it is.</summary>
/// <param name="IsPresent">Plugged in or out.</param>
/// <param name="BusyWith">The program that has it for itself; empty: none.</param>
/// <param name="Rate">Hz, 8 000 – 192 000.</param>
/// <param name="BufferFrames">16–4096.</param>
/// <param name="IsMonitoring">Whether it plays its inputs itself.</param>
public sealed record DeviceChange(
    bool? IsPresent = null,
    [property: MaxLength(RigLimits.NameLength)] string? BusyWith = null,
    [property: Range(Core.Gear.Device.LowestRate, Core.Gear.Device.HighestRate)] int? Rate = null,
    [property: Range(SetDevice.LeastBuffer, SetDevice.MostBuffer)] int? BufferFrames = null,
    bool? IsMonitoring = null);

/// <summary>A change of one input of a device. What is left out stays as it is.</summary>
/// <param name="Gain">The device's own gain, dB, 0–70.</param>
/// <param name="LowCut">The device's own low cut.</param>
/// <param name="IsExposed">Whether it is shown.</param>
public sealed record DeviceInputChange([property: Range(0.0, SetDeviceInput.MostGain)] double? Gain = null, bool? LowCut = null, bool? IsExposed = null);

/// <summary>Devices that are to be one.</summary>
/// <param name="Name">1–60 characters.</param>
/// <param name="Members">Two to four devices, in the order of its channels; the first gives the clock.</param>
public sealed record NewJoinedDevice(
    [property: Like(typeof(Source), "name")] string Name, [property: MinLength(2), MaxLength(JoinDevices.MostMembers)] ImmutableArray<DeviceId> Members);

/// <summary>One line of the computer's own history.</summary>
/// <param name="At">When.</param>
/// <param name="By">Who: a person, an installation, or the show.</param>
/// <param name="Window">What the person's window calls itself.</param>
/// <param name="Sentence">What was changed.</param>
/// <param name="Number">By what it is taken back; null: it cannot be, as what was installed, or changed before the last start.</param>
public sealed record GearHistoryLine(DateTimeOffset At, GearActor By, string? Window, string Sentence, long? Number);

/// <summary>Which wishes of the show are to be fulfilled; all where nothing is said.</summary>
/// <param name="Role">Of this default.</param>
/// <param name="App">Of this program.</param>
/// <param name="Port">Of this port.</param>
public sealed record WishesToFulfil(Role? Role = null, AppId? App = null, [property: Like(typeof(PortWish), "port")] string? Port = null);

/// <summary>The computer around the desk: its devices, programs and defaults. Changes of it are no steps of the show.</summary>
sealed class GearEndpoints : IFeature
{
    public void MapTo(IEndpointRouteBuilder routes)
    {
        var gear = routes.MapGroup("/gear");
        gear.MapGet("", (LiveGear live) => GearDocument.Of(live.Now)).WithName("getGear").WithSummary("The computer around the desk: devices, programs, defaults.");
        gear.MapGet("/history", HistoryOf).WithName("getGearHistory").WithSummary("What was changed of it, and by whom; newest last.");
        gear.MapPost("/history/{number:long}/take-back", TakeBackAsync).WithName("takeGearBack").WithSummary("Takes back one change of it, as far as nobody has changed the same again since.");
        gear.MapGet("/clocks", Clocks).WithName("getGearClocks").WithSummary("How the devices' clocks run against the engine's.");
        gear.MapPut("/roles/{role}", SetRoleAsync).WithName("setDefault").WithSummary("Makes a device or a cable a default.");
        gear.MapPatch("/apps/{app}", ChangeAppAsync).WithName("changeApp").WithSummary("Starts, ends, plays or pauses a program.");
        gear.MapPut("/apps/{app}/ports/{port}", SetPortAsync).WithName("setPort").WithSummary("Sets a program's output or input.");
        gear.MapPatch("/devices/{device}", ChangeDeviceAsync).WithName("changeDevice").WithSummary("Plugs a device in or out, or sets it.");
        gear.MapPatch("/devices/{device}/inputs/{input:int}", ChangeInputAsync).WithName("changeDeviceInput").WithSummary("Sets one input of a device.");
        gear.MapPost("/devices", JoinAsync).WithName("joinDevices").WithSummary("Makes several devices one.");
        gear.MapDelete("/devices/{device}", PartAsync).WithName("partDevices").WithSummary("Takes a joined device apart.");
        gear.MapPost("/put-back", PutBackAsync).WithName("putGearBack").WithSummary("After the show: puts defaults and programs' choices back as they stood before it was opened.");
        gear.MapPost("/fulfil", FulfilAsync).WithName("fulfilWishes").WithSummary("Sets the computer as the live show wants it.");
    }

    private static IEnumerable<GearHistoryLine> HistoryOf(LiveGear gear)
    {
        // Two lines may say the same.
        var done = gear.Done;
        return gear.History.Select(l => new GearHistoryLine(l.At, l.By, l.Window, l.Sentence, done.FirstOrDefault(d => ReferenceEquals(d.Line, l))?.Number));
    }

    private static async Task<Results<Ok<GearDocument>, ProblemHttpResult>> TakeBackAsync(long number, LiveGear gear, HttpRequest request) =>
        await gear.TakeBackAsync(number, WindowName(request)) is { } outcome
            ? Answer(outcome, gear)
            : Problems.NotFound("number", "There is no such change any more.", "the number of a line of /api/gear/history");

    private static Task<Results<Ok<GearDocument>, ProblemHttpResult>> SetRoleAsync(string role, DefaultChoice choice, LiveGear gear, HttpRequest request) =>
        Enum.TryParse<Role>(role, ignoreCase: true, out var known) && Enum.IsDefined(known) && !int.TryParse(role, out _)
            ? AnswerAsync(gear, new SetDefault(known, choice.End), request)
            : Task.FromResult<Results<Ok<GearDocument>, ProblemHttpResult>>(Problems.NotFound("role", $"There is no role “{role}”.", string.Join(", ", Enum.GetNames<Role>())));

    private static Task<Results<Ok<GearDocument>, ProblemHttpResult>> ChangeAppAsync(string app, AppChange change, LiveGear gear, HttpRequest request) =>
        AnswerAsync(gear, new SetApp(new(app), change.IsRunning, change.IsPlaying, change.Volume, change.EvensVoices, change.Tests), request);

    private static Task<Results<Ok<GearDocument>, ProblemHttpResult>> SetPortAsync(string app, string port, PortChoice choice, LiveGear gear, HttpRequest request) =>
        AnswerAsync(gear, new SetPort(new(app), port, choice.Choice, choice.Restart), request);

    private static Task<Results<Ok<GearDocument>, ProblemHttpResult>> ChangeDeviceAsync(string device, DeviceChange change, LiveGear gear, HttpRequest request) =>
        AnswerAsync(gear, new SetDevice(new(device), change.IsPresent, change.BusyWith, change.Rate, change.BufferFrames, change.IsMonitoring), request, change.IsPresent == true);

    private static Task<Results<Ok<GearDocument>, ProblemHttpResult>> ChangeInputAsync(string device, int input, DeviceInputChange change, LiveGear gear, HttpRequest request) =>
        AnswerAsync(gear, new SetDeviceInput(new(device), input, change.Gain, change.LowCut, change.IsExposed), request);

    private static Task<Results<Ok<GearDocument>, ProblemHttpResult>> JoinAsync(NewJoinedDevice wanted, LiveGear gear, HttpRequest request) =>
        AnswerAsync(gear, new JoinDevices(new($"joined-{Guid.CreateVersion7():n}"), wanted.Name, wanted.Members), request);

    private static Task<Results<Ok<GearDocument>, ProblemHttpResult>> PartAsync(string device, LiveGear gear, HttpRequest request) =>
        AnswerAsync(gear, new PartDevices(new(device)), request);

    private static async Task<Ok<GearDocument>> FulfilAsync(WishesToFulfil which, LiveGear gear)
    {
        await gear.FulfilAsync(which.Role, which.App, which.Port);
        return TypedResults.Ok(GearDocument.Of(gear.Now));
    }

    private static async Task<Ok<GearDocument>> PutBackAsync(LiveGear gear)
    {
        await gear.PutBackAsync();
        return TypedResults.Ok(GearDocument.Of(gear.Now));
    }

    private static IEnumerable<ClockReport> Clocks(GearAround around) =>
        around.State.Devices.Select(d => (d.Id, Clock: around.ClockOf(d.Id))).Where(d => d.Clock is not null).Select(d => new ClockReport(
            d.Id,
            double.IsNaN(d.Clock!.PartsPerMillion) ? null : Math.Round(d.Clock.PartsPerMillion, 1),
            double.IsNaN(d.Clock.LatencyFrames) ? null : Math.Round(d.Clock.LatencyFrames * 1000 / AudioFormat.SampleRate, 2),
            d.Clock.Gaps));

    private static async Task<Results<Ok<GearDocument>, ProblemHttpResult>> AnswerAsync(LiveGear gear, Core.Editing.GearChange change, HttpRequest request, bool installs = false)
    {
        var outcome = await gear.DoAsync(change, installs ? GearActor.Installation : GearActor.Person, WindowName(request));
        return Answer(outcome, gear);
    }

    private static string? WindowName(HttpRequest request) =>
        request.Headers["X-Window-Name"].FirstOrDefault() is { } name && RigRules.CheckText("X-Window-Name", name, 60) is null ? name : null;

    private static Results<Ok<GearDocument>, ProblemHttpResult> Answer(GearOutcome outcome, LiveGear gear) =>
        outcome switch
        {
            GearOutcome.Refused { IsUnknown: true } refused => Problems.NotFound([refused.Problem]),
            GearOutcome.Refused { NeedsRestart: true } refused => Problems.Conflict(
                refused.Problem.Where, refused.Problem.What, refused.Problem.Allowed, new Dictionary<string, object?> { ["needsRestart"] = true }),
            GearOutcome.Refused refused => Problems.Invalid([refused.Problem]),
            _ => TypedResults.Ok(GearDocument.Of(gear.Now)),
        };
}
