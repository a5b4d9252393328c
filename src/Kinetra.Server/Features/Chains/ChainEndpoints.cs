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

/// <summary>A new processor: of a type, at its defaults, or a copy of another.</summary>
/// <param name="Type">The key of its type; left out where it is a copy.</param>
/// <param name="CopyOf">The id of a processor of the show that it is a copy of, with its settings; left out: it is new.</param>
/// <param name="Index">Where in the chain, from 0; left out: last.</param>
/// <param name="Keys">What it listens to; left out: its own input.</param>
public sealed record NewProcessor(
    [property: ProcessorKeys] string? Type = null,
    [property: Like(typeof(Processor), "id")] ProcessorId? CopyOf = null,
    [property: Range(0, int.MaxValue)] int? Index = null,
    [property: Like(typeof(Processor), "keys")] ImmutableArray<Point>? Keys = null);

/// <summary>A change of a processor. What is left out stays as it is.</summary>
/// <param name="Bypassed">True: the sound passes it unchanged.</param>
/// <param name="Values">Parameters by their keys; /api/processors states the range of each.</param>
/// <param name="Keys">What it listens to; empty: its own input.</param>
public sealed record ProcessorChange(
    bool? Bypassed = null, ImmutableSortedDictionary<string, double>? Values = null, [property: Like(typeof(Processor), "keys")] ImmutableArray<Point>? Keys = null);

/// <summary>A whole chain in place of another.</summary>
/// <param name="Preset">The key of a preset; null, and no copy: an empty chain.</param>
/// <param name="CopyOf">The source or mix whose chain it is a copy of; left out: of none.</param>
/// <param name="Own">The id of a chain that somebody has kept; left out: none.</param>
public sealed record NewChain([property: PresetKeys] string? Preset = null, [property: Like(typeof(CableFeed), "from")] Point? CopyOf = null, Guid? Own = null);

/// <summary>Whether a chain is at work.</summary>
/// <param name="Bypassed">True: the sound passes all of it unchanged.</param>
public sealed record ChainBypass(bool Bypassed);

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
            routes.MapPut($"{path}/bypass", BypassAsync).WithName($"bypass{all}").WithSummary($"Bypasses all processors {of}, or lets all work.");
            routes.MapPut(path, ReplaceAsync).WithName($"set{all}").WithSummary($"Puts a preset, or nothing, in place of the chain {of}.");
        }
    }

    private static Point PlaceOf(HttpRequest request) => (request.RouteValues["source"], request.RouteValues["mix"]) switch
    {
        (string source, string mix) => new SendPoint(new(mix), new(source)),
        (string source, _) => new SourcePoint(new(source)),
        (_, var mix) => new MixPoint(new((string)mix!)),
    };

    private static async Task<Results<Ok<ShowDocument>, ProblemHttpResult>> AddAsync(
        NewProcessor wanted, ShowCommands commands, LiveShow live, [AsParameters] CommandCall call)
    {
        if (Place.Check(wanted.Index) is { } wrong)
        {
            return Problems.Invalid([wrong]);
        }

        if (wanted.Type is null == wanted.CopyOf is null)
        {
            return Problems.Invalid("type", "A processor is of a type, or a copy of another.", "either type or copyOf");
        }

        if (wanted.CopyOf is { } id)
        {
            return live.State.Show.Rig.Chains.SelectMany(c => c.Chain).FirstOrDefault(p => p.Id == id) is { } copied
                ? await commands.DoAsync(call, new AddProcessor(PlaceOf(call.Request), copied with { Id = ProcessorId.New(), Keys = wanted.Keys ?? copied.Keys }, wanted.Index))
                : Problems.Invalid("copyOf", $"There is no processor “{id}”.", "the id of a processor that the show has now");
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

    private static async Task<Results<Ok<ShowDocument>, ProblemHttpResult>> BypassAsync(
        ChainBypass wanted, ShowCommands commands, LiveShow live, [AsParameters] CommandCall call)
    {
        var place = PlaceOf(call.Request);
        return live.State.Show.Rig.ChainAt(place) is { IsEmpty: true }
            ? Problems.Invalid("chain", "There is no processor to bypass.", "a chain that has processors")
            : await commands.DoAsync(call, new Several([.. (live.State.Show.Rig.ChainAt(place) ?? []).Select(p => new SetProcessor(place, p.Id, wanted.Bypassed))]));
    }

    private static async Task<Results<Ok<ShowDocument>, ProblemHttpResult>> ReplaceAsync(
        NewChain wanted, ShowCommands commands, LiveShow live, OwnPresets own, [AsParameters] CommandCall call, CancellationToken cancel)
    {
        if ((wanted.CopyOf is null ? 0 : 1) + (wanted.Preset is null ? 0 : 1) + (wanted.Own is null ? 0 : 1) > 1)
        {
            return Problems.Invalid("preset", "A chain is a preset, one that was kept, or a copy of another.", "one of preset, own and copyOf");
        }

        if (wanted.Own is { } id)
        {
            return await own.FindAsync(id, cancel) is { } kept
                ? await commands.DoAsync(call, new SetChain(PlaceOf(call.Request), kept.Chain, kept.Name))
                : Problems.Invalid("own", $"There is no kept chain {id}.", "one of /api/presets");
        }

        if (wanted.CopyOf is { } other)
        {
            var rig = live.State.Show.Rig;
            return other is SourcePoint { Tap: Tap.AfterChain } or MixPoint { Tap: Tap.AfterChain } && rig.ChainAt(other) is { } chain
                ? await commands.DoAsync(call, new SetChain(PlaceOf(call.Request), [.. chain.Select(p => p with { Id = ProcessorId.New() })], $"of {rig.NameOf(other)}"))
                : Problems.Invalid("copyOf", $"There is no chain of “{other}”.", "a source or a mix of the show, as source/ID or mix/ID");
        }

        if (wanted.Preset is null)
        {
            return await commands.DoAsync(call, new SetChain(PlaceOf(call.Request), []));
        }

        return ChainPresets.Find(wanted.Preset) is { } preset
            ? await commands.DoAsync(call, new SetChain(PlaceOf(call.Request), preset.Make(), preset.Name))
            : Problems.Invalid("preset", $"There is no preset “{wanted.Preset}”.", string.Join(", ", ChainPresets.All.Select(p => p.Key)));
    }
}
