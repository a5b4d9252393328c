using Kinetra.Core.Rigs;
using Kinetra.Server.Features.Shows;
using Kinetra.Server.Live;
using Microsoft.AspNetCore.Http.HttpResults;

namespace Kinetra.Server.Features.Mixes;

/// <summary>A change of one send. What is left out stays as it is.</summary>
/// <param name="Gain">dB, −120 … 12, or "off".</param>
/// <param name="Heard">False: in the dock.</param>
/// <param name="Muted">True: silenced in its place.</param>
/// <param name="Pan">−1 (left) … 1 (right).</param>
/// <param name="BaseRevision">The revision it was made on.</param>
public sealed record SendChange(Gain? Gain = null, bool? Heard = null, bool? Muted = null, double? Pan = null, long? BaseRevision = null);

/// <summary>A change of one mix. What is left out stays as it is.</summary>
/// <param name="Name">1–60 characters.</param>
/// <param name="Gain">dB, −120 … 12, or "off".</param>
/// <param name="TargetLufs">LUFS, −40 … −6.</param>
/// <param name="BaseRevision">The revision it was made on.</param>
public sealed record MixChange(string? Name = null, Gain? Gain = null, double? TargetLufs = null, long? BaseRevision = null);

/// <summary>Mixes and their sends.</summary>
static class MixEndpoints
{
    public static void MapMixes(this IEndpointRouteBuilder routes)
    {
        routes.MapPatch("/show/mixes/{mix}", ChangeMixAsync).WithName("changeMix").WithSummary("Changes a mix.");
        routes.MapPatch("/show/mixes/{mix}/sends/{source}", ChangeSendAsync).WithName("changeSend").WithSummary("Changes a source's level in a mix.");
    }

    private static Task<Results<Ok<ShowDocument>, ProblemHttpResult>> ChangeMixAsync(
        string mix, MixChange change, LiveShow live, HttpRequest request) =>
        live.DoAsync(new SetMix(new(mix), change.Name, change.Gain, change.TargetLufs), change.BaseRevision, request);

    private static Task<Results<Ok<ShowDocument>, ProblemHttpResult>> ChangeSendAsync(
        string mix, string source, SendChange change, LiveShow live, HttpRequest request) =>
        live.DoAsync(new SetSend(new(mix), new(source), change.Gain, change.Heard, change.Muted, change.Pan), change.BaseRevision, request);
}
