using Kinetra.Core.Editing;
using Kinetra.Core.Rigs;
using Kinetra.Core.Signal;
using Kinetra.Server.Features.Shows;
using Kinetra.Server.Hosting;
using Kinetra.Server.Live;
using Microsoft.AspNetCore.Http.HttpResults;

namespace Kinetra.Server.Features.Mixes;

/// <summary>Where a mix is to go.</summary>
/// <param name="End">A device of the computer, or a browser's output.</param>
/// <param name="Into">Which of its channels are filled; left out: the first two.</param>
/// <param name="Gain">dB, −120 … 12, or "off"; left out: 0.</param>
/// <param name="On">False: nothing goes there yet.</param>
public sealed record NewDestination(DestinationEnd End, CableChannels? Into = null, Gain? Gain = null, bool On = true);

/// <summary>A change of how a mix goes to a destination. What is left out stays as it is.</summary>
/// <param name="Gain">dB, −120 … 12, or "off".</param>
/// <param name="On">False: nothing goes there now.</param>
/// <param name="Into">Which channels are filled.</param>
/// <param name="End">Another device in its place.</param>
/// <param name="LoopAllowed">True: where it closes a loop, it plays all the same.</param>
public sealed record DestinationChange(Gain? Gain = null, bool? On = null, CableChannels? Into = null, DestinationEnd? End = null, bool? LoopAllowed = null);

/// <summary>Where mixes go, beside cables.</summary>
sealed class DestinationEndpoints : IFeature
{
    public void MapTo(IEndpointRouteBuilder routes)
    {
        var mix = routes.MapGroup(ShowEndpoints.Path + "/mixes/{mix}/destinations");
        mix.MapPost("", AddAsync).WithName("addDestination").WithSummary("Lets a mix go to one more destination.");
        mix.MapPatch("/{destination}", ChangeAsync).WithName("changeDestination").WithSummary("Changes how a mix goes to a destination.");
        mix.MapDelete("/{destination}", RemoveAsync).WithName("removeDestination").WithSummary("Lets a mix no longer go to a destination.");
    }

    private static Task<Results<Ok<ShowDocument>, ProblemHttpResult>> AddAsync(string mix, NewDestination wanted, ShowCommands commands, [AsParameters] CommandCall call) =>
        commands.DoAsync(call, new AddDestination(new(mix), new Destination
        {
            Id = DestinationId.New(),
            End = wanted.End,
            Into = wanted.Into ?? new(0, 1),
            Gain = wanted.Gain ?? Gain.Unity,
            On = wanted.On,
        }));

    private static Task<Results<Ok<ShowDocument>, ProblemHttpResult>> ChangeAsync(
        string mix, string destination, DestinationChange change, ShowCommands commands, [AsParameters] CommandCall call) =>
        commands.DoAsync(call, new SetDestination(new(mix), new(destination), change.Gain, change.On, change.Into, change.End, change.LoopAllowed));

    private static Task<Results<Ok<ShowDocument>, ProblemHttpResult>> RemoveAsync(string mix, string destination, ShowCommands commands, [AsParameters] CommandCall call) =>
        commands.DoAsync(call, new RemoveDestination(new(mix), new(destination)));
}
