using System.ComponentModel.DataAnnotations;
using Kinetra.Core.Editing;
using Kinetra.Core.Planning;
using Kinetra.Core.Rigs;
using Kinetra.Core.Signal;
using Kinetra.Media;
using Kinetra.Server.Features.Shows;
using Kinetra.Server.Features.Sounds;
using Kinetra.Server.Hosting;
using Kinetra.Server.Live;
using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.AspNetCore.Mvc;

namespace Kinetra.Server.Features.Sources;

/// <summary>A change of one source. What is left out stays as it is.</summary>
/// <param name="Name">1–60 characters.</param>
/// <param name="Trim">dB, −120 … 12, or "off".</param>
/// <param name="Look">Colour and shape.</param>
/// <param name="Input">What it takes its sound from: another device in its place keeps all else.</param>
/// <param name="Inverted">True: upside down.</param>
/// <param name="Fold">True: both channels are folded into one.</param>
/// <param name="SyncDelay">By how much it is held back after its chain, ms, 0–2000.</param>
/// <param name="Kind">What kind of thing it is.</param>
public sealed record SourceChange(
    [property: Like(typeof(Source), "name")] string? Name = null,
    Gain? Trim = null,
    SourceLook? Look = null,
    SourceInput? Input = null,
    bool? Inverted = null,
    bool? Fold = null,
    [property: Like(typeof(Source), "syncDelay")] double? SyncDelay = null,
    SourceKind? Kind = null);

/// <summary>A source that takes its sound from the computer, or from a cable.</summary>
/// <param name="Input">What from.</param>
/// <param name="Name">1–60 characters; left out: a free one.</param>
/// <param name="Kind">What kind of thing it is; left out: an app.</param>
/// <param name="And">More sources, in the same step: several people on one device. At most 7.</param>
public sealed record NewSource(
    SourceInput Input, [property: Like(typeof(Source), "name")] string? Name = null, SourceKind? Kind = null, [property: MaxLength(NewSource.MostMore)] IReadOnlyList<OtherSource>? And = null)
{
    /// <summary>The most sources beside the first.</summary>
    public const int MostMore = 7;
}

/// <summary>One source of several that are added in one step.</summary>
/// <param name="Input">What from.</param>
/// <param name="Name">1–60 characters; left out: a free one.</param>
/// <param name="Kind">What kind of thing it is; left out: an app.</param>
public sealed record OtherSource(SourceInput Input, [property: Like(typeof(Source), "name")] string? Name = null, SourceKind? Kind = null);

/// <summary>Sources: changed, added from a sound file, played again, removed.</summary>
sealed class SourceEndpoints : IFeature
{
    public void MapTo(IEndpointRouteBuilder routes)
    {
        var show = routes.MapGroup(ShowEndpoints.Path);
        show.MapPatch("/sources/{source}", ChangeAsync).WithName("changeSource").WithSummary("Changes a source.");
        // Put together at the start, unlike all others: of a form that the compiler reads, the description of the API leaves a field's name out.
#pragma warning disable RDG002
        Delegate add = AddAsync;
        show.MapPost("/sources", add).WithName("addSource").DisableAntiforgery()
            .WithSummary("Adds a sound file as a source (multipart: file, name, loop).");
#pragma warning restore RDG002
        show.MapPost("/sources/taken", TakeAsync).WithName("takeSource").WithSummary("Adds a source that takes its sound from a device, a program or a cable.");
        show.MapDelete("/sources/{source}", RemoveAsync).WithName("removeSource").WithSummary("Removes a source.");
        show.MapGet("/sources/{source}/trim-advice", Advise).WithName("getTrimAdvice").WithSummary("How a voice comes in, and which trim would be good, from the loudest peak as it comes in, before the trim, dBFS.");
        show.MapPut("/sources/{source}/place", MoveAsync).WithName("moveSource").WithSummary("Puts a source in another place among the sources.");
        show.MapPost("/sources/{source}/play", Play).WithName("playSource").WithSummary("Plays a sound file from its beginning.");
    }

    private static Task<Results<Ok<ShowDocument>, ProblemHttpResult>> ChangeAsync(
        string source, SourceChange change, ShowCommands commands, [AsParameters] CommandCall call) =>
        commands.DoAsync(
            call,
            new SetSource(new(source), change.Name, change.Trim, change.Look, change.Input, change.Inverted, change.Fold, change.SyncDelay, change.Kind));

    private static async Task<Results<Ok<ShowDocument>, ProblemHttpResult>> TakeAsync(
        NewSource wanted, LiveGear gear, ShowCommands commands, [AsParameters] CommandCall call)
    {
        OtherSource[] all = [new(wanted.Input, wanted.Name, wanted.Kind), .. wanted.And ?? []];
        if (all.Length > NewSource.MostMore + 1 || all.Contains(null))
        {
            return Problems.Invalid("and", "These sources cannot be added in one step.", $"at most {NewSource.MostMore} beside the first, none of them null");
        }

        if (Array.FindIndex(all, s => s.Input is SoundFileInput) is >= 0 and var file)
        {
            return Problems.Invalid(file == 0 ? "input" : $"and[{file - 1}].input", "A sound file is added with its file.", "a device, a program, everything else, a cable or a browser's input");
        }

        return await commands.DoAsync(call, rig =>
        {
            var adds = new List<RigCommand>();
            foreach (var one in all)
            {
                var add = new AddSource(new Source
                {
                    Id = SourceId.New(),
                    Name = one.Name ?? FreeNames.For(rig, NameOf(one.Input, rig, gear)),
                    Kind = one.Kind ?? (one.Input is DeviceInput ? SourceKind.Microphone : one.Input is EverythingElseInput ? SourceKind.CatchAll : one.Input is PadsInput ? SourceKind.Pads : SourceKind.App),
                    Input = one.Input,
                    Look = FreeNames.Look(rig),
                });
                adds.Add(add);
                rig = add.Apply(rig) is CommandResult.Applied applied ? applied.Rig : rig;
            }

            return adds.Count == 1 ? adds[0] : new Several([.. adds]);
        });
    }

    private static Results<Ok<TrimAdvice>, ProblemHttpResult> Advise(Guid show, string source, double peak, LiveShow live, LiveGear gear)
    {
        if (live.Show.Id != show || live.Show.Rig.Find(new SourceId(source)) is not { } found)
        {
            return Problems.NotFound("source", $"There is no source “{source}”.", "a source of the show that is live");
        }

        if (peak > RigLimits.HighestPeak)
        {
            return Problems.Invalid("peak", "No sound is as loud as that.", $"a peak in dBFS, at most {RigLimits.HighestPeak}");
        }

        var gain = found.Input is DeviceInput input && gear.Now.State.Find(input.Device) is { } device && input.Left < device.Inputs.Length ? device.Inputs[input.Left].Gain : null;
        return TypedResults.Ok(TrimAdvice.Of(peak, found.Trim, gain, SetDeviceInput.MostGain));
    }

    private static string NameOf(SourceInput input, Core.Rigs.Rig rig, LiveGear gear) => input switch
    {
        DeviceInput device => gear.Now.State.Find(device.Device)?.Name,
        AppInput app => gear.Now.State.Find(app.App)?.Name,
        EverythingElseInput => "Computer",
        PadsInput => "Pads",
        CableInput cable => rig.Find(cable.Cable)?.Name,
        _ => null,
    } ?? "Source";

    private static Task<Results<Ok<ShowDocument>, ProblemHttpResult>> RemoveAsync(
        string source, ShowCommands commands, [AsParameters] CommandCall call) =>
        commands.DoAsync(call, new RemoveSource(new(source)));

    private static Task<Results<Ok<ShowDocument>, ProblemHttpResult>> MoveAsync(
        string source, Place place, ShowCommands commands, [AsParameters] CommandCall call) =>
        place.DoAsync(index => commands.DoAsync(call, new MoveSource(new(source), index)));

    private static async Task<Results<Ok<ShowDocument>, ProblemHttpResult>> AddAsync(
        IFormFile file, [FromForm, Like(typeof(Source), "name")] string? name, [FromForm] bool? loop, LiveShow live, SoundLibrary sounds, ShowCommands commands,
        [AsParameters] CommandCall call, CancellationToken cancel)
    {
        // Told before a long file is decoded for nothing.
        var chosen = string.IsNullOrWhiteSpace(name) ? null : name;
        if (chosen is not null && RigRules.CheckName("name", chosen.Trim()) is { } problem)
        {
            return Problems.Invalid([problem]);
        }

        if (live.State is var state && state.Show.Id != call.Show)
        {
            return CommandAnswers.NotLive(state);
        }

        try
        {
            await using var content = file.OpenReadStream();
            var sound = await sounds.TakeInAsync(content, file.FileName, cancel);

            // Read before it is this command's turn; whoever waits for theirs does not wait for a disk.
            var ready = await sounds.OpenAsync(sound.Address, cancel);
            var answer = await commands.DoAsync(call, rig => new AddSource(new Source
            {
                Id = SourceId.New(),
                Name = chosen ?? FreeNames.For(rig, Path.GetFileNameWithoutExtension(file.FileName)),
                Kind = SourceKind.File,
                Input = new SoundFileInput(sound.Address, loop ?? true),
                Look = FreeNames.Look(rig),
            }));
            GC.KeepAlive(ready);
            return answer;
        }
        catch (SoundFileException refusal)
        {
            return Problems.Invalid("file", refusal.What, refusal.Allowed);
        }
    }

    private static Results<NoContent, ProblemHttpResult> Play(Guid show, string source, LiveShow live, EngineHost host)
    {
        var state = live.State;
        if (state.Show.Id != show)
        {
            return CommandAnswers.NotLive(state);
        }

        switch (state.Show.Rig.Find(new SourceId(source)))
        {
            case null:
                return Problems.NotFound("source", $"There is no source “{source}”.", "an id that the show has now");
            case { Input: not SoundFileInput }:
                return Problems.Invalid("source", "This source has no beginning to play from.", "a source that is a sound file");
            default:
                host.Engine.PostRestart(new SourceId(source));
                return TypedResults.NoContent();
        }
    }
}
