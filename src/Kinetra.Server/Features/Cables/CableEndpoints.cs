using System.Collections.Immutable;
using Kinetra.Core.Editing;
using Kinetra.Core.Rigs;
using Kinetra.Core.Signal;
using Kinetra.Server.Features.Shows;
using Kinetra.Server.Features.Sources;
using Kinetra.Server.Hosting;
using Kinetra.Server.Live;
using Microsoft.AspNetCore.Http.HttpResults;

namespace Kinetra.Server.Features.Cables;

/// <summary>A new cable.</summary>
/// <param name="Name">1–60 characters; left out: a free one.</param>
/// <param name="Channels">1–16; left out: 2.</param>
/// <param name="BufferFrames">0–4096; left out: 0.</param>
public sealed record NewCable(
    [property: Like(typeof(Source), "name")] string? Name = null, [property: Like(typeof(Cable), "channels")] int? Channels = null, [property: Like(typeof(Cable), "bufferFrames")] int? BufferFrames = null);

/// <summary>A change of a cable. What is left out stays as it is.</summary>
/// <param name="Name">1–60 characters.</param>
/// <param name="Channels">1–16.</param>
/// <param name="BufferFrames">0–4096.</param>
public sealed record CableChange(
    [property: Like(typeof(Source), "name")] string? Name = null, [property: Like(typeof(Cable), "channels")] int? Channels = null, [property: Like(typeof(Cable), "bufferFrames")] int? BufferFrames = null);

/// <summary>Something that is to play into a cable.</summary>
/// <param name="From">One source, one mix or one cable.</param>
/// <param name="Gain">dB, −120 … 12, or "off"; left out: 0.</param>
/// <param name="Into">Which channels it fills; left out: the first two that there are, of a cable from the first on.</param>
public sealed record NewFeed(Point From, Gain? Gain = null, CableChannels? Into = null);

/// <summary>A change of how something plays into a cable. What is left out stays as it is.</summary>
/// <param name="From">What plays.</param>
/// <param name="Gain">dB, −120 … 12, or "off".</param>
/// <param name="On">False: it does not play now.</param>
/// <param name="Into">Which channels it fills.</param>
/// <param name="LoopAllowed">True: where it closes a loop, it plays all the same.</param>
public sealed record FeedChange(
    Point From, Gain? Gain = null, bool? On = null, CableChannels? Into = null, bool? LoopAllowed = null);

/// <summary>What no longer plays into a cable.</summary>
/// <param name="From">What.</param>
public sealed record FeedRemoval(Point From);

/// <summary>A source that records from a cable.</summary>
/// <param name="Left">The cable's channel, from 0, that is left, or the only one.</param>
/// <param name="Right">The channel that is right; left out: the source is mono.</param>
/// <param name="Name">1–60 characters; left out: one that says so.</param>
/// <param name="Kind">What kind of thing it is; left out: an app.</param>
public sealed record NewRecorder(
    [property: Like(typeof(CableInput), "left")] int Left, [property: Like(typeof(CableInput), "right")] int? Right = null, [property: Like(typeof(Source), "name")] string? Name = null, SourceKind? Kind = null);

/// <summary>Whether what a source takes in may close a loop.</summary>
/// <param name="LoopAllowed">True: where it closes a loop, it plays all the same.</param>
public sealed record LoopChoice(bool LoopAllowed);

/// <summary>Cables: made, played into, recorded from.</summary>
sealed class CableEndpoints : IFeature
{
    public void MapTo(IEndpointRouteBuilder routes)
    {
        var show = routes.MapGroup(ShowEndpoints.Path);
        show.MapGet("/cables/losses", Losses).WithName("getCableLosses").WithSummary("Who would lose what if a cable were removed.");
        show.MapPost("/cables", AddAsync).WithName("addCable").WithSummary("Adds a cable.");
        show.MapPatch("/cables/{cable}", ChangeAsync).WithName("changeCable").WithSummary("Changes a cable.");
        show.MapDelete("/cables/{cable}", RemoveAsync).WithName("removeCable").WithSummary("Removes a cable that no source records from.");
        show.MapPost("/cables/{cable}/feeds", PlayAsync).WithName("addCableFeed").WithSummary("Lets a source, a mix or a cable play into a cable.");
        show.MapPatch("/cables/{cable}/feeds", ChangeFeedAsync).WithName("changeCableFeed").WithSummary("Changes how something plays into a cable.");
        show.MapPost("/cables/{cable}/feeds/remove", StopAsync).WithName("removeCableFeed").WithSummary("Lets something no longer play into a cable.");
        show.MapPost("/cables/{cable}/sources", RecordAsync).WithName("addCableSource").WithSummary("Adds a source that records from a cable.");
        show.MapPut("/sources/{source}/loop", AllowAsync).WithName("allowLoop").WithSummary("Lets a source that takes its sound from a cable, a device or a program close its loop, or no longer.");
    }

    private static Task<Results<Ok<ShowDocument>, ProblemHttpResult>> AddAsync(NewCable wanted, ShowCommands commands, [AsParameters] CommandCall call) =>
        commands.DoAsync(call, rig =>
        {
            var cable = new Cable { Id = CableId.New(), Name = wanted.Name ?? FreeNames.For(rig.Cables.Select(c => c.Name), "", "Cable") };
            return new AddCable(cable with { Channels = wanted.Channels ?? cable.Channels, BufferFrames = wanted.BufferFrames ?? cable.BufferFrames });
        });

    private static Task<Results<Ok<ShowDocument>, ProblemHttpResult>> ChangeAsync(string cable, CableChange change, ShowCommands commands, [AsParameters] CommandCall call) =>
        commands.DoAsync(call, new SetCable(new(cable), change.Name, change.Channels, change.BufferFrames));

    private static Task<Results<Ok<ShowDocument>, ProblemHttpResult>> RemoveAsync(string cable, ShowCommands commands, [AsParameters] CommandCall call) =>
        commands.DoAsync(call, new RemoveCable(new(cable)));

    private static Results<Ok<ImmutableArray<CableLosses>>, ProblemHttpResult> Losses(Guid show, LiveShow live, LiveGear gear)
    {
        var now = live.Show;
        return now.Id == show
            ? TypedResults.Ok((ImmutableArray<CableLosses>)[.. now.Rig.Cables.Select(c => CableLosses.Of(now.Rig, gear.Now.State, c))])
            : Problems.NotFound("show", "This show is not live.", "the id of the show that is live");
    }

    private static async Task<Results<Ok<ShowDocument>, ProblemHttpResult>> PlayAsync(string cable, NewFeed wanted, ShowCommands commands, [AsParameters] CommandCall call)
    {
        if (wanted.From is null)
        {
            return Problems.Invalid([new RigProblem("from", "Nothing is to play.", "one source, one mix or one cable of the show")]);
        }

        return await commands.DoAsync(call, rig =>
        {
            var channels = rig.Find(new CableId(cable))?.Channels ?? 0;
            var into = wanted.Into ?? (wanted.From is not CablePoint && channels > 1 ? new CableChannels(0, 1) : new CableChannels());
            return new AddCableFeed(new(cable), new CableFeed { From = wanted.From, Gain = wanted.Gain ?? Gain.Unity, Into = into });
        });
    }

    private static async Task<Results<Ok<ShowDocument>, ProblemHttpResult>> ChangeFeedAsync(string cable, FeedChange change, ShowCommands commands, [AsParameters] CommandCall call) =>
        change.From is null
            ? Problems.Invalid([new RigProblem("from", "What is to change is not said.", "what plays into the cable now")])
            : await commands.DoAsync(call, new SetCableFeed(new(cable), change.From, change.Gain, change.On, change.Into, change.LoopAllowed));

    private static async Task<Results<Ok<ShowDocument>, ProblemHttpResult>> StopAsync(string cable, FeedRemoval removal, ShowCommands commands, [AsParameters] CommandCall call) =>
        removal.From is null
            ? Problems.Invalid([new RigProblem("from", "What is to stop is not said.", "what plays into the cable now")])
            : await commands.DoAsync(call, new RemoveCableFeed(new(cable), removal.From));

    private static Task<Results<Ok<ShowDocument>, ProblemHttpResult>> RecordAsync(string cable, NewRecorder wanted, ShowCommands commands, [AsParameters] CommandCall call) =>
        commands.DoAsync(call, rig => rig.Find(new CableId(cable)) is not { } found
            ? Wish.Unknown("cable", $"There is no cable “{cable}”.")
            : new AddSource(new Source
            {
                Id = SourceId.New(),
                Name = wanted.Name ?? FreeNames.For(rig, $"From {found.Name}"),
                Kind = wanted.Kind ?? SourceKind.App,
                Input = new CableInput(found.Id, wanted.Left, wanted.Right),
                Look = FreeNames.Look(rig),
            }));

    private static Task<Results<Ok<ShowDocument>, ProblemHttpResult>> AllowAsync(string source, LoopChoice choice, ShowCommands commands, [AsParameters] CommandCall call) =>
        commands.DoAsync(call, rig => rig.Find(new SourceId(source)) switch
        {
            null => Wish.Unknown("source", $"There is no source “{source}”."),
            { Input: var input } when input.Looping(choice.LoopAllowed) is { } allowed => new SetSource(new(source), Input: allowed),
            _ => Wish.Invalid("source", "This source can close no loop.", "a source that takes its sound from a cable, a device or a program"),
        });
}
