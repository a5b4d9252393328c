using System.Collections.Immutable;
using System.ComponentModel.DataAnnotations;
using Kinetra.Core.Editing;
using Kinetra.Core.Planning;
using Kinetra.Core.Rigs;
using Kinetra.Core.Signal;
using Kinetra.Core.Takes;
using Kinetra.Server.Features.Shows;
using Kinetra.Server.Features.Sources;
using Kinetra.Server.Hosting;
using Kinetra.Server.Live;
using Microsoft.AspNetCore.Http.HttpResults;

namespace Kinetra.Server.Features.Takes;

/// <summary>A new planned track.</summary>
/// <param name="Takes">What it takes: source/ID or source/ID/before, mix/ID, cable/ID, or app/ID/PORT, what a program hears there.</param>
/// <param name="Name">1–60 characters; left out: by what it takes.</param>
/// <param name="Index">Its place in the plan; left out: last.</param>
public sealed record NewTrack(
    [property: Like(typeof(PlannedTrack), "takes")] Point Takes, [property: Like(typeof(PlannedTrack), "name")] string? Name = null, [property: Range(0, RigLimits.Tracks)] int? Index = null);

/// <summary>A change of a planned track. What is left out stays as it is.</summary>
/// <param name="Name">1–60 characters.</param>
/// <param name="Takes">What it takes.</param>
/// <param name="Width">Mono, stereo, or as it is.</param>
/// <param name="Armed">False: takes leave it out.</param>
/// <param name="Form">What its file is written as.</param>
/// <param name="FormOfShow">True: its file is written as the show says for all.</param>
/// <param name="FileName">What its file is called, without its ending; empty: its place and its name.</param>
/// <param name="Index">Its place in the plan.</param>
public sealed record TrackChange(
    [property: Like(typeof(PlannedTrack), "name")] string? Name = null,
    [property: Like(typeof(PlannedTrack), "takes")] Point? Takes = null,
    TrackWidth? Width = null,
    bool? Armed = null,
    TakeForm? Form = null,
    bool? FormOfShow = null,
    [property: MaxLength(RigLimits.FileNameLength)] string? FileName = null,
    [property: Range(0, RigLimits.Tracks)] int? Index = null);

/// <summary>A file that a take would have.</summary>
/// <param name="Track">The planned track; null: nothing is planned.</param>
/// <param name="Name">What the track is called.</param>
/// <param name="Takes">What it takes.</param>
/// <param name="Words">The same in words.</param>
/// <param name="Channels">1 or 2.</param>
/// <param name="Form">What its file is written as.</param>
/// <param name="FileName">What its file is called.</param>
/// <param name="IsThere">False: what it takes is not there now, and would be silent.</param>
public sealed record PlannedFile(TrackId? Track, string Name, Point Takes, string Words, int Channels, TakeForm Form, string FileName, bool IsThere);

/// <summary>What a take would be if it began now.</summary>
/// <param name="Sentence">In one sentence: how many tracks, of what, and how much room they need.</param>
/// <param name="IsPlanned">False: nothing is planned, and it has every mix and every source.</param>
/// <param name="BytesAnHour">How much room an hour needs.</param>
/// <param name="FreeBytes">How much room there is.</param>
/// <param name="Room">How long that lasts, in words.</param>
/// <param name="Files">Its files, in order.</param>
public sealed record TakePlanDocument(string Sentence, bool IsPlanned, double BytesAnHour, long FreeBytes, string Room, ImmutableArray<PlannedFile> Files);

/// <summary>What takes of the live show record: planned tracks, as steps of the show, and what comes of them.</summary>
sealed class TrackEndpoints : IFeature
{
    public void MapTo(IEndpointRouteBuilder routes)
    {
        var show = routes.MapGroup(ShowEndpoints.Path);
        show.MapPost("/tracks", (NewTrack wanted, ShowCommands commands, LiveGear gear, [AsParameters] CommandCall call) =>
            commands.DoAsync(call, rig => new AddTrack(Made(rig, wanted, gear), wanted.Index)))
            .WithName("addTrack").WithSummary("Plans one more track.");
        show.MapPatch("/tracks/{track}", (string track, TrackChange change, ShowCommands commands, [AsParameters] CommandCall call) =>
            commands.DoAsync(call, new SetTrack(new(track), change.Name, change.Takes, change.Width, change.Armed, change.Form, change.FormOfShow == true, change.FileName, change.Index)))
            .WithName("changeTrack").WithSummary("Changes or moves a planned track.");
        show.MapDelete("/tracks/{track}", (string track, ShowCommands commands, [AsParameters] CommandCall call) => commands.DoAsync(call, new RemoveTrack(new(track))))
            .WithName("removeTrack").WithSummary("Takes a track out of the plan.");
        show.MapPost("/tracks/proposed", (ShowCommands commands, [AsParameters] CommandCall call) => commands.DoAsync(call, rig => new PlanTracks(ProposedTracks.Of(rig))))
            .WithName("proposeTracks").WithSummary("Plans what is offered in place of what is planned: one blend, and every source apart.");
        show.MapDelete("/tracks", (ShowCommands commands, [AsParameters] CommandCall call) => commands.DoAsync(call, new PlanTracks([])))
            .WithName("planNoTracks").WithSummary("Plans nothing: a take has every mix and every source.");
        show.MapPut("/recording", (Recording recording, ShowCommands commands, [AsParameters] CommandCall call) => commands.DoAsync(call, new SetRecording(recording)))
            .WithName("setRecording").WithSummary("What holds for all takes of the show.");
        show.MapGet("/take-plan", Plan).WithName("getTakePlan").WithSummary("What a take would be if it began now: its files, and the room that they need.");
    }

    private static PlannedTrack Made(Rig rig, NewTrack wanted, LiveGear gear)
    {
        var name = gear.Now.State.NameOf(wanted.Takes) ?? rig.NameOf(wanted.Takes);
        name = wanted.Takes is SourcePoint { Tap: Tap.BeforeChain } ? $"{name} before its chain" : name;
        return new PlannedTrack(TrackId.New(), wanted.Name ?? FreeNames.For(rig.Tracks.Select(t => t.Name), name, "Track"), wanted.Takes);
    }

    private static Results<Ok<TakePlanDocument>, ProblemHttpResult> Plan(Guid show, LiveShow live, Playing playing, LiveGear gear, ServerOptions options)
    {
        var state = live.State;
        if (state.Show.Id != show)
        {
            return CommandAnswers.NotLive(state);
        }

        var (rig, plan) = (state.Show.Rig, playing.Plan);
        var take = TakePlan.Of(rig, plan.ChannelsOf);
        var free = TakeRoom.Free(options.DataFolder);
        return TypedResults.Ok(new TakePlanDocument(
            take.Sentence,
            take.IsPlanned,
            take.BytesAnHour,
            free,
            TakePlan.Room(free, take.BytesAnHour),
            [.. take.Tracks.Select(t => new PlannedFile(t.Track, t.Name, t.Takes, TrackWords.Of(t.Takes, NameOf), t.Channels, t.Form, t.FileName, plan.ChannelsOf(t.Takes) > 0))]));

        string NameOf(Point point) => gear.Now.State.NameOf(point) ?? rig.NameOf(point);
    }
}
