using System.Collections.Immutable;
using System.ComponentModel.DataAnnotations;
using System.Text;
using Kinetra.Core.Editing;
using Kinetra.Core.Rigs;
using Kinetra.Core.Signal;
using Kinetra.Data;
using Kinetra.Data.Rows;
using Kinetra.Server.Features.Sources;
using Kinetra.Server.Hosting;
using Microsoft.AspNetCore.Http.HttpResults;

namespace Kinetra.Server.Features.Chains;

/// <summary>Hears when the chains that people keep change.</summary>
public interface IPresetAudience
{
    /// <summary>One has come, gone or got another name.</summary>
    void PresetsChanged();
}

/// <summary>A chain that somebody has kept.</summary>
/// <param name="Id">Its identity.</param>
/// <param name="Name">1–60 characters.</param>
/// <param name="Says">What it is for.</param>
/// <param name="Chain">Its processors; they listen to nobody else.</param>
public sealed record OwnPreset(Guid Id, string Name, string Says, ImmutableArray<Processor> Chain);

/// <summary>A chain that is to be kept.</summary>
/// <param name="Name">1–60 characters.</param>
/// <param name="Says">What it is for; left out: nothing.</param>
/// <param name="Chain">Its processors, at least one.</param>
public sealed record NewPreset(
    [property: Like(typeof(Source), "name")] string Name,
    [property: Like(typeof(Source), "chain")] ImmutableArray<Processor> Chain,
    [property: MaxLength(ChainFile.SaysLength)] string? Says = null);

/// <summary>Another name or another description. What is left out stays.</summary>
/// <param name="Name">1–60 characters.</param>
/// <param name="Says">What it is for.</param>
public sealed record PresetChange([property: Like(typeof(Source), "name")] string? Name = null, [property: MaxLength(ChainFile.SaysLength)] string? Says = null);

/// <summary>The chains that people have kept: of every show, in the database, and as files.</summary>
sealed class OwnPresets(PresetStore store, IPresetAudience audience, TimeProvider time)
{
    /// <summary>The most that are kept.</summary>
    public const int Most = 200;

    /// <summary>All that can be understood.</summary>
    public async Task<IReadOnlyList<OwnPreset>> AllAsync(CancellationToken cancel) => [.. (await store.AllAsync(cancel)).Select(Read).OfType<OwnPreset>()];

    /// <summary>One, each processor with an identity of its own; or null.</summary>
    public async Task<OwnPreset?> FindAsync(Guid id, CancellationToken cancel) =>
        await store.FindAsync(id, cancel) is { } row && Read(row) is { } found ? found with { Chain = [.. found.Chain.Select(p => p with { Id = ProcessorId.New() })] } : null;

    /// <summary>Keeps one; where another has its name, it gets a number.</summary>
    public async Task<OwnPreset> AddAsync(ChainFile file, CancellationToken cancel)
    {
        var chain = file.Chain.Select(p => p with { Keys = [] }).ToImmutableArray();
        var row = new PresetRow
        {
            Id = Guid.CreateVersion7(),
            Name = FreeNames.For((await store.AllAsync(cancel)).Select(p => p.Name), file.Name, "Chain"),
            Says = file.Says.Trim(),
            Chain = StoredJson.Write(chain),
            Form = StoredJson.Version,
            MadeAt = time.GetUtcNow(),
        };
        await store.AddAsync(row, cancel);
        audience.PresetsChanged();
        return new(row.Id, row.Name, row.Says, chain);
    }

    /// <summary>Gives one another name or description.</summary>
    /// <returns>Null: it is gone.</returns>
    public async Task<OwnPreset?> ChangeAsync(OwnPreset preset, CancellationToken cancel)
    {
        if (!await store.RenameAsync(preset.Id, preset.Name, preset.Says, cancel))
        {
            return null;
        }

        audience.PresetsChanged();
        return preset;
    }

    /// <summary>Forgets one.</summary>
    /// <returns>False: it was gone.</returns>
    public async Task<bool> RemoveAsync(Guid id, CancellationToken cancel)
    {
        var removed = await store.RemoveAsync(id, cancel);
        audience.PresetsChanged();
        return removed;
    }

    // One that a newer program wrote, or that is damaged, stays where it is, and is not offered.
    private static OwnPreset? Read(PresetRow row)
    {
        try
        {
            var chain = StoredJson.Read<ImmutableArray<Processor>>(row.Chain, row.Form, "A kept chain");
            return ChainAlone.Check(chain).IsEmpty ? new OwnPreset(row.Id, row.Name, row.Says, chain) : null;
        }
        catch (InvalidDataException)
        {
            return null;
        }
    }
}

/// <summary>The chains that people have kept, over the API.</summary>
sealed class PresetEndpoints : IFeature
{
    public void AddTo(IServiceCollection services, ServerOptions options) => services.AddSingleton<OwnPresets>();

    public void MapTo(IEndpointRouteBuilder routes)
    {
        routes.MapGet("/presets", (OwnPresets presets, CancellationToken cancel) => presets.AllAsync(cancel)).WithName("getPresets").WithSummary("The chains that people have kept, by name.");
        routes.MapPost("/presets", AddAsync).WithName("keepPreset").WithSummary("Keeps a chain, to be used again in any show.");
        routes.MapPost("/presets/file", ImportAsync).WithName("importPreset").WithSummary("Keeps the chain of a chain file.").Accepts<ChainFileBody>("application/json");
        routes.MapPatch("/presets/{preset:guid}", ChangeAsync).WithName("changePreset").WithSummary("Gives a kept chain another name or description.");
        routes.MapDelete("/presets/{preset:guid}", RemoveAsync).WithName("removePreset").WithSummary("Forgets a kept chain. Where it is used, nothing changes.");
        routes.MapGet("/presets/{preset:guid}/file", ExportAsync).WithName("exportPreset").WithSummary("A kept chain as a file (docs/chain-format.md).").Produces<string>(200, "application/json");
    }

    private static async Task<Results<Ok<OwnPreset>, ProblemHttpResult>> AddAsync(NewPreset wanted, OwnPresets presets, CancellationToken cancel) =>
        await KeepAsync(new ChainFile(wanted.Name, wanted.Says ?? "", wanted.Chain), presets, cancel);

    private static async Task<Results<Ok<OwnPreset>, ProblemHttpResult>> ImportAsync(HttpRequest request, OwnPresets presets, CancellationToken cancel)
    {
        using var body = new MemoryStream();
        var buffer = new byte[16 * 1024];
        int count;
        while (body.Length <= ChainFile.MaxBytes && (count = await request.Body.ReadAsync(buffer, cancel)) > 0)
        {
            body.Write(buffer, 0, count);
        }

        return ChainFile.Read(body.GetBuffer().AsSpan(0, (int)body.Length), out var problems) is { } file
            ? await KeepAsync(file, presets, cancel)
            : Problems.Invalid(problems);
    }

    private static async Task<Results<Ok<OwnPreset>, ProblemHttpResult>> KeepAsync(ChainFile file, OwnPresets presets, CancellationToken cancel)
    {
        if (file.Check() is { IsEmpty: false } problems)
        {
            return Problems.Invalid(problems);
        }

        if (file.Chain.IsEmpty)
        {
            return Problems.Invalid("chain", "There is no processor to keep.", "at least one");
        }

        return (await presets.AllAsync(cancel)).Count >= OwnPresets.Most
            ? Problems.Invalid("presets", "There is no room for another.", $"at most {OwnPresets.Most}: remove one first")
            : TypedResults.Ok(await presets.AddAsync(file, cancel));
    }

    private static async Task<Results<Ok<OwnPreset>, ProblemHttpResult>> ChangeAsync(Guid preset, PresetChange change, OwnPresets presets, CancellationToken cancel)
    {
        if (await presets.FindAsync(preset, cancel) is not { } known)
        {
            return NoPreset(preset);
        }

        var changed = known with { Name = change.Name?.Trim() ?? known.Name, Says = change.Says?.Trim() ?? known.Says };
        if (new ChainFile(changed.Name, changed.Says, changed.Chain).Check() is { IsEmpty: false } problems)
        {
            return Problems.Invalid(problems);
        }

        return await presets.ChangeAsync(changed, cancel) is { } now ? TypedResults.Ok(now) : NoPreset(preset);
    }

    private static async Task<Results<NoContent, ProblemHttpResult>> RemoveAsync(Guid preset, OwnPresets presets, CancellationToken cancel) =>
        await presets.RemoveAsync(preset, cancel) ? TypedResults.NoContent() : NoPreset(preset);

    private static async Task<Results<FileContentHttpResult, ProblemHttpResult>> ExportAsync(Guid preset, OwnPresets presets, CancellationToken cancel) =>
        await presets.FindAsync(preset, cancel) is { } found
            ? TypedResults.File(Encoding.UTF8.GetBytes(new ChainFile(found.Name, found.Says, found.Chain).Write()), "application/json", FileNames.Of(found.Name, ".chain.json"))
            : NoPreset(preset);

    private static ProblemHttpResult NoPreset(Guid preset) => Problems.NotFound("preset", $"There is no kept chain {preset}.", "one of /api/presets");

    /// <summary>A chain file; see docs/chain-format.md.</summary>
    private sealed record ChainFileBody;
}
