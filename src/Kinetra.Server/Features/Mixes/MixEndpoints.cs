using System.Collections.Immutable;
using System.ComponentModel.DataAnnotations;
using Kinetra.Core.Editing;
using Kinetra.Core.Planning;
using Kinetra.Core.Rigs;
using Kinetra.Core.Signal;
using Kinetra.Server.Features.Shows;
using Kinetra.Server.Features.Sources;
using Kinetra.Server.Hosting;
using Kinetra.Server.Live;
using Microsoft.AspNetCore.Http.HttpResults;

namespace Kinetra.Server.Features.Mixes;

/// <summary>A change of one send. What is left out stays as it is.</summary>
/// <param name="Gain">dB, −120 … 12, or "off".</param>
/// <param name="Heard">False: in the dock.</param>
/// <param name="Muted">True: silenced in its place.</param>
/// <param name="Pan">−1 (left) … 1 (right).</param>
/// <param name="Tap">Where the source's sound is taken.</param>
public sealed record SendChange(
    Gain? Gain = null, bool? Heard = null, bool? Muted = null, [property: Like(typeof(Send), "pan")] double? Pan = null, Tap? Tap = null);

/// <summary>A change of one mix. What is left out stays as it is.</summary>
/// <param name="Name">1–60 characters.</param>
/// <param name="Gain">dB, −120 … 12, or "off".</param>
/// <param name="TargetLufs">LUFS, −40 … −6.</param>
public sealed record MixChange([property: Like(typeof(Source), "name")] string? Name = null, Gain? Gain = null, [property: Like(typeof(Mix), "targetLufs")] double? TargetLufs = null);

/// <summary>A new mix.</summary>
/// <param name="Name">1–60 characters; left out: a free one.</param>
/// <param name="Purpose">Which listener it is for.</param>
/// <param name="CopyOf">The mix whose sends, gain, chain and target it takes; null: every source in its proposed place.</param>
public sealed record NewMix(MixPurpose Purpose, [property: Like(typeof(Source), "name")] string? Name = null, [property: RegularExpression(ShowFileSchema.IdPattern)] string? CopyOf = null);

/// <summary>Mixes and their sends.</summary>
sealed class MixEndpoints : IFeature
{
    public void MapTo(IEndpointRouteBuilder routes)
    {
        var show = routes.MapGroup(ShowEndpoints.Path);
        show.MapPatch("/mixes/{mix}", ChangeMixAsync).WithName("changeMix").WithSummary("Changes a mix.");
        show.MapPost("/mixes", AddMixAsync).WithName("addMix").WithSummary("Adds a mix.");
        show.MapDelete("/mixes/{mix}", RemoveMixAsync).WithName("removeMix").WithSummary("Removes a mix.");
        show.MapPut("/mixes/{mix}/place", MoveMixAsync).WithName("moveMix").WithSummary("Puts a mix in another place among the mixes.");
        show.MapPatch("/mixes/{mix}/sends/{source}", ChangeSendAsync).WithName("changeSend").WithSummary("Changes a source's level in a mix.");
    }

    private static Task<Results<Ok<ShowDocument>, ProblemHttpResult>> ChangeMixAsync(
        string mix, MixChange change, ShowCommands commands, [AsParameters] CommandCall call) =>
        commands.DoAsync(call, new SetMix(new(mix), change.Name, change.Gain, change.TargetLufs));

    private static Task<Results<Ok<ShowDocument>, ProblemHttpResult>> ChangeSendAsync(
        string mix, string source, SendChange change, ShowCommands commands, [AsParameters] CommandCall call) =>
        commands.DoAsync(call, new SetSend(new(mix), new(source), change.Gain, change.Heard, change.Muted, change.Pan, change.Tap));

    private static Task<Results<Ok<ShowDocument>, ProblemHttpResult>> AddMixAsync(NewMix wanted, ShowCommands commands, [AsParameters] CommandCall call) =>
        commands.DoAsync(call, rig =>
        {
            var copied = wanted.CopyOf is null ? null : rig.Find(new MixId(wanted.CopyOf));
            if (wanted.CopyOf is not null && copied is null)
            {
                return Wish.Unknown("copyOf", $"There is no mix “{wanted.CopyOf}”.");
            }

            return new AddMix(new Mix
            {
                Id = MixId.New(),
                Name = wanted.Name ?? FreeNames.For(rig.Mixes.Select(m => m.Name), copied?.Name ?? "", "New mix"),
                Purpose = wanted.Purpose,
                Gain = copied?.Gain ?? Gain.Unity,
                TargetLufs = copied?.TargetLufs ?? NewShow.Target(wanted.Purpose),
                Chain = copied is null ? [] : Copy(copied.Chain),
                Sends = copied is null ? [] : [.. copied.Sends.Select(s => s with { Ducker = s.Ducker is null ? null : Copy([s.Ducker])[0] })],
            });
        });

    // What is copied is another processor.
    private static ImmutableArray<Processor> Copy(ImmutableArray<Processor> chain) => [.. chain.Select(p => p with { Id = ProcessorId.New() })];

    private static Task<Results<Ok<ShowDocument>, ProblemHttpResult>> RemoveMixAsync(string mix, ShowCommands commands, [AsParameters] CommandCall call) =>
        commands.DoAsync(call, new RemoveMix(new(mix)));

    private static Task<Results<Ok<ShowDocument>, ProblemHttpResult>> MoveMixAsync(string mix, Place place, ShowCommands commands, [AsParameters] CommandCall call) =>
        place.DoAsync(index => commands.DoAsync(call, new MoveMix(new(mix), index)));
}
