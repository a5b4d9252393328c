using System.Collections.Immutable;
using Kinetra.Core.Editing;
using Kinetra.Core.Planning;
using Kinetra.Core.Processors;
using Kinetra.Core.Rigs;
using Kinetra.Core.Signal;
using Kinetra.Server.Features.Analysis;
using Kinetra.Server.Features.Shows;
using Kinetra.Server.Hosting;
using Kinetra.Server.Live;
using Microsoft.AspNetCore.Http.HttpResults;

namespace Kinetra.Server.Features.Voice;

/// <summary>What a processor is to be drawn with.</summary>
/// <param name="Values">Parameters by their keys; those left out are at their defaults.</param>
public sealed record WantedCurve(ImmutableSortedDictionary<string, double> Values);

/// <summary>What a chain's order does against itself.</summary>
/// <param name="Place">The point that the chain leads to.</param>
/// <param name="Notes">In the chain's order.</param>
public sealed record ChainNotes(Point Place, ImmutableArray<OrderNote> Notes);

/// <summary>What is compared on air.</summary>
/// <param name="Comparison">Null: nothing.</param>
public sealed record OnAirAnswer(OnAirDocument? Comparison);

/// <summary>The workshop on one chain: what its processors do, drawn, and live.</summary>
sealed class VoiceFeature : IFeature
{
    public void AddTo(IServiceCollection services, ServerOptions options)
    {
        services.AddSingleton<IAnalysisTopic, SpectrumTopic>().AddSingleton<IAnalysisTopic, DynamicsTopic>().AddSingleton<IAnalysisTopic, StereoTopic>();
        services.AddSingleton<OnAir>().AddSingleton<IFollower>(s => s.GetRequiredService<OnAir>());
    }

    public void MapTo(IEndpointRouteBuilder routes)
    {
        routes.MapPost("/processors/{type}/curve", Draw).WithName("drawProcessor").WithSummary("What a processor does with certain values, to be drawn. It changes nothing.");
        routes.MapGet("/on-air", (OnAir onAir) => new OnAirAnswer(onAir.Now)).WithName("getOnAir").WithSummary("What is compared on air: all hear it with, or without.");
        routes.MapDelete("/on-air", EndOnAir).WithName("endOnAir").WithSummary("Ends what is compared on air, whoever began it: all hear what the show says.");
        routes.MapGroup(ShowEndpoints.Path).MapGet("/chain-notes", NotesOf).WithName("getChainNotes")
            .WithSummary("Where the order of a chain of the live show works against itself; chains where it does not are left out.");
    }

    private static OnAirAnswer EndOnAir(OnAir onAir)
    {
        onAir.End();
        return new OnAirAnswer(onAir.Now);
    }

    private static Results<Ok<ProcessorCurve>, ProblemHttpResult> Draw(string type, WantedCurve wanted)
    {
        if (ProcessorTypes.Find(type) is not { } known)
        {
            return Problems.NotFound("type", $"There is no processor “{type}”.", string.Join(", ", ProcessorTypes.All.Select(t => t.Key)));
        }

        var processor = Processor.Of(known) with { Values = wanted.Values };
        return ChainRules.CheckValues("", processor) is { IsEmpty: false } problems
            ? Problems.Invalid([.. problems.Select(p => p with { Where = p.Where.TrimStart('.') })])
            : TypedResults.Ok(known.Curve(processor.ValuesOf(known)));
    }

    private static Results<Ok<ImmutableArray<ChainNotes>>, ProblemHttpResult> NotesOf(Guid show, LiveShow live)
    {
        var state = live.State;
        return state.Show.Id == show
            ? TypedResults.Ok(state.Show.Rig.Chains.Select(c => new ChainNotes(c.Place, ChainOrder.Notes(c.Chain))).Where(c => !c.Notes.IsEmpty).ToImmutableArray())
            : CommandAnswers.NotLive(state);
    }
}
