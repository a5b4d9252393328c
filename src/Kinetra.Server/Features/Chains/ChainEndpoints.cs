using System.Collections.Immutable;
using System.ComponentModel.DataAnnotations;
using Kinetra.Core.Editing;
using Kinetra.Core.Planning;
using Kinetra.Core.Processors;
using Kinetra.Core.Rigs;
using Kinetra.Core.Signal;
using Kinetra.Server.Features.Mixes;
using Kinetra.Server.Features.Shows;
using Kinetra.Server.Hosting;
using Kinetra.Server.Live;
using Microsoft.AspNetCore.Http.HttpResults;

namespace Kinetra.Server.Features.Chains;

/// <summary>What can stand in a chain.</summary>
/// <param name="Types">All processors, with their parameters.</param>
/// <param name="Presets">Whole chains to begin with.</param>
public sealed record ProcessorCatalogue(ImmutableArray<ProcessorType> Types, ImmutableArray<ChainPreset> Presets);

/// <summary>A new processor, at its defaults.</summary>
/// <param name="Type">The key of its type.</param>
/// <param name="Index">Where in the chain, from 0; left out: last.</param>
/// <param name="Keys">What it listens to; left out: its own input.</param>
public sealed record NewProcessor(
    [property: ProcessorKeys] string Type, [property: Range(0, int.MaxValue)] int? Index = null, [property: Like(typeof(Processor), "keys")] ImmutableArray<Point>? Keys = null);

/// <summary>A change of a processor. What is left out stays as it is.</summary>
/// <param name="Bypassed">True: the sound passes it unchanged.</param>
/// <param name="Values">Parameters by their keys; /api/processors states the range of each.</param>
/// <param name="Keys">What it listens to; empty: its own input.</param>
public sealed record ProcessorChange(
    bool? Bypassed = null, ImmutableSortedDictionary<string, double>? Values = null, [property: Like(typeof(Processor), "keys")] ImmutableArray<Point>? Keys = null);

/// <summary>A whole chain in place of another.</summary>
/// <param name="Preset">The key of a preset; null: an empty chain.</param>
public sealed record NewChain([property: PresetKeys] string? Preset = null);

/// <summary>Chains of sources and mixes, and duckers of sends.</summary>
sealed class ChainEndpoints : IFeature
{
    public void MapTo(IEndpointRouteBuilder routes)
    {
        var show = routes.MapGroup(ShowEndpoints.Path);
        routes.MapGet("/processors", () => new ProcessorCatalogue(ProcessorTypes.All, ChainPresets.All))
            .WithName("getProcessors").WithSummary("All processors with their parameters, and the presets.");
        Map(show, "/sources/{source}/chain", "SourceProcessor", "SourceChain", "of a source");
        Map(show, "/mixes/{mix}/chain", "MixProcessor", "MixChain", "of a mix");
        Map(show, "/mixes/{mix}/sends/{source}/ducker", "Ducker", null, "of a send");
    }

    private static void Map(IEndpointRouteBuilder routes, string path, string one, string? all, string of)
    {
        routes.MapPost(path, AddAsync).WithName($"add{one}").WithSummary($"Adds a processor to the chain {of}.");
        routes.MapPatch($"{path}/{{processor}}", ChangeAsync).WithName($"change{one}").WithSummary($"Changes a processor {of}.");
        routes.MapDelete($"{path}/{{processor}}", RemoveAsync).WithName($"remove{one}").WithSummary($"Removes a processor {of}.");
        if (all is not null)
        {
            routes.MapPut($"{path}/{{processor}}/place", MoveAsync).WithName($"move{one}").WithSummary($"Moves a processor within the chain {of}.");
            routes.MapPut(path, ReplaceAsync).WithName($"set{all}").WithSummary($"Puts a preset, or nothing, in place of the chain {of}.");
        }
    }

    private static Point PlaceOf(HttpRequest request) => (request.RouteValues["source"], request.RouteValues["mix"]) switch
    {
        (string source, string mix) => new SendPoint(new(mix), new(source)),
        (string source, _) => new SourcePoint(new(source)),
        (_, var mix) => new MixPoint(new((string)mix!)),
    };

    private static async Task<Results<Ok<ShowDocument>, ProblemHttpResult>> AddAsync(NewProcessor wanted, ShowCommands commands, [AsParameters] CommandCall call)
    {
        if (Place.Check(wanted.Index) is { } wrong)
        {
            return Problems.Invalid([wrong]);
        }

        if (ProcessorTypes.Find(wanted.Type) is not { } type)
        {
            return Problems.Invalid("type", $"There is no processor “{wanted.Type}”.", string.Join(", ", ProcessorTypes.All.Select(t => t.Key)));
        }

        var processor = Processor.Of(type) with { Keys = wanted.Keys ?? [] };
        return await commands.DoAsync(call, new AddProcessor(PlaceOf(call.Request), processor, wanted.Index));
    }

    private static Task<Results<Ok<ShowDocument>, ProblemHttpResult>> ChangeAsync(
        string processor, ProcessorChange change, ShowCommands commands, [AsParameters] CommandCall call) =>
        commands.DoAsync(call, new SetProcessor(PlaceOf(call.Request), new(processor), change.Bypassed, change.Values, change.Keys));

    private static Task<Results<Ok<ShowDocument>, ProblemHttpResult>> RemoveAsync(string processor, ShowCommands commands, [AsParameters] CommandCall call) =>
        commands.DoAsync(call, new RemoveProcessor(PlaceOf(call.Request), new(processor)));

    private static Task<Results<Ok<ShowDocument>, ProblemHttpResult>> MoveAsync(
        string processor, Place place, ShowCommands commands, [AsParameters] CommandCall call) =>
        place.DoAsync(index => commands.DoAsync(call, new MoveProcessor(PlaceOf(call.Request), new(processor), index)));

    private static async Task<Results<Ok<ShowDocument>, ProblemHttpResult>> ReplaceAsync(NewChain wanted, ShowCommands commands, [AsParameters] CommandCall call)
    {
        if (wanted.Preset is null)
        {
            return await commands.DoAsync(call, new SetChain(PlaceOf(call.Request), []));
        }

        return ChainPresets.Find(wanted.Preset) is { } preset
            ? await commands.DoAsync(call, new SetChain(PlaceOf(call.Request), preset.Make(), preset.Name))
            : Problems.Invalid("preset", $"There is no preset “{wanted.Preset}”.", string.Join(", ", ChainPresets.All.Select(p => p.Key)));
    }
}
