using System.Collections.Immutable;
using Kinetra.Core.Editing;
using Kinetra.Core.Engine;
using Kinetra.Core.Planning;
using Kinetra.Core.Processors;
using Kinetra.Core.Rigs;
using Kinetra.Core.Signal;
using Kinetra.Core.Voice;
using Kinetra.Server.Features.Analysis;
using Kinetra.Server.Features.Shows;
using Kinetra.Server.Features.Sources;
using Kinetra.Server.Hosting;
using Kinetra.Server.Live;
using Microsoft.AspNetCore.Http.HttpResults;

namespace Kinetra.Server.Features.Bench;

/// <summary>The bench: stretches of one's own sound that go round through several chains, for those alone who listen to them.</summary>
sealed class LoopEndpoints : IFeature
{
    public void AddTo(IServiceCollection services, ServerOptions options)
    {
        services.AddSingleton<Loops>().AddSingleton<RecentSounds>().AddSingleton<BlindComparisons>().AddSingleton<IAnalysisTopic, LoopTopic>();
        services.AddSingleton<IFollower>(s => s.GetRequiredService<Loops>()).AddSingleton<IFollower>(s => s.GetRequiredService<RecentSounds>());
    }

    public void MapTo(IEndpointRouteBuilder routes)
    {
        var show = routes.MapGroup(ShowEndpoints.Path);
        show.MapGet("/recent", RecentOf).WithName("getRecent").WithSummary("How much of each source of the live show is kept, up to half a minute.");
        show.MapGet("/loops", async (Guid show, Loops loops, CancellationToken cancel) => (await loops.OfAsync(show, cancel)).Select(LoopDocument.Of))
            .WithName("getLoops").WithSummary("The loops of a show, the newest first.");
        show.MapPost("/loops", TakeAsync).WithName("takeLoop").WithSummary("Puts what a source of the live show gave just now on the bench.");
        var one = show.MapGroup("/loops/{loop:guid}");
        one.MapPatch("", RenameAsync).WithName("renameLoop").WithSummary("Gives a loop another name.");
        one.MapDelete("", RemoveAsync).WithName("removeLoop").WithSummary("Removes a loop, and its sound.");
        one.MapGet("/measures", MeasureAsync).WithName("measureLoop").WithSummary("What is measured of each variant, and of the sound without any.");
        one.MapGet("/pictures/{variant}", DrawAsync).WithName("drawLoop").WithSummary("A variant's waveform and spectrogram.");
        one.MapPost("/variants", AddAsync).WithName("addVariant").WithSummary("Adds a variant.");
        one.MapPatch("/variants/{variant}", ChangeAsync).WithName("changeVariant").WithSummary("Changes a variant's name or chain. It is heard by those who listen to it.");
        one.MapDelete("/variants/{variant}", RemoveVariantAsync).WithName("removeVariant").WithSummary("Removes a variant.");
        one.MapPut("/variants/{variant}/apply", ApplyAsync).WithName("applyVariant").WithSummary("Puts a variant's chain in place of that of its source: for everybody, as one step.");
        one.MapPost("/blind", BeginBlindAsync).WithName("beginBlind").WithSummary("Begins to compare two variants without saying which is which.");
        one.MapPost("/blind/{blind:guid}/choices", Choose).WithName("chooseBlind").WithSummary("Says which of both was the better one; the next round begins.");
        one.MapPost("/blind/{blind:guid}/end", EndBlindAsync).WithName("endBlind").WithSummary("Ends a comparison, and tells which was which.");
    }

    private static Results<Ok<IEnumerable<RecentDocument>>, ProblemHttpResult> RecentOf(Guid show, LiveShow live, RecentSounds recent)
    {
        var state = live.State;
        return state.Show.Id == show
            ? TypedResults.Ok(state.Show.Rig.Sources.Select(s =>
            {
                var (begin, end) = recent.Find(s.Id)?.Kept ?? default;
                return new RecentDocument(s.Id.Value, (double)(end - begin) / AudioFormat.SampleRate, end);
            }))
            : CommandAnswers.NotLive(state);
    }

    private static async Task<Results<Ok<LoopDocument>, ProblemHttpResult>> TakeAsync(
        Guid show, NewLoop wanted, LiveShow live, RecentSounds recent, Loops loops, CancellationToken cancel)
    {
        var state = live.State;
        if (state.Show.Id != show)
        {
            return CommandAnswers.NotLive(state);
        }

        if (wanted.Seconds is null == wanted.From is null)
        {
            return Problems.Invalid("seconds", "A loop is the last seconds of a source, or all since an engine frame.", "either seconds or from");
        }

        if (wanted.Seconds is { } seconds && !(seconds >= LoopSound.ShortestSeconds && seconds <= LoopSound.LongestSeconds))
        {
            return Problems.Invalid("seconds", $"A loop is not {seconds:0.#} s long.", Lengths);
        }

        if (wanted.Name is not null && RigRules.CheckName("name", wanted.Name) is { } problem)
        {
            return Problems.Invalid([problem]);
        }

        var id = new SourceId(wanted.Source);
        if (state.Show.Rig.Find(id) is not { } source || recent.Find(id) is not { } kept)
        {
            return Problems.NotFound("source", $"There is no source “{wanted.Source}”.", "a source of the live show");
        }

        var known = await loops.OfAsync(show, cancel);
        if (known.Count >= Loops.MostOfShow)
        {
            return Problems.Invalid("loops", "There is no room for another loop.", $"at most {Loops.MostOfShow} of a show: remove one first");
        }

        var (begin, end) = kept.Kept;
        var frames = wanted.Seconds is { } last ? (int)(last * AudioFormat.SampleRate) : (int)Math.Clamp(end - wanted.From!.Value, 0, LoopSound.LongestSeconds * AudioFormat.SampleRate);
        if (kept.Take(end - frames, frames) is not { } sound || sound.Frames < LoopSound.ShortestSeconds * AudioFormat.SampleRate || sound.Frames < frames)
        {
            return Problems.Invalid(
                wanted.From is null ? "seconds" : "from",
                $"Of {source.Name}, {Math.Max(0, wanted.From is { } from ? Math.Min(end - begin, end - from) : end - begin) / AudioFormat.SampleRate} s are there.",
                Lengths);
        }

        NewBeside? beside = null;
        if (wanted.Beside is { IsEmpty: false } others)
        {
            var speakers = BesideSound.Speakers(state.Show.Rig, wanted.Source, others, "beside", out var against);
            if (against is not null)
            {
                return Problems.Invalid([against]);
            }

            ImmutableArray<double>? factors = null;
            if (wanted.Mix is { } mix && (factors = BesideSound.Factors(state.Show.Rig, mix, id, speakers)) is null)
            {
                return BesideSound.NotIn(state.Show.Rig, mix, source);
            }

            if (await Task.Run(() => BesideSound.Heard(speakers, factors, recent, end - frames, frames, cancel), cancel) is not { } heard)
            {
                return Problems.Invalid("beside", "Of the others, not all of it is there.", Lengths);
            }

            beside = new([.. speakers.Select(s => s.Id)], wanted.Mix, heard);
        }

        var name = wanted.Name?.Trim() ?? FreeNames.For(known.Where(l => l.Row.Source == id.Value).Select(l => l.Row.Name), "Loop", "Loop");
        return TypedResults.Ok(LoopDocument.Of(await loops.AddAsync(show, id, name, sound, [Made("As it is now", source.Chain)], beside, cancel)));
    }

    private static async Task<Results<Ok<LoopDocument>, ProblemHttpResult>> RenameAsync(Guid show, Guid loop, LoopChange change, Loops loops, CancellationToken cancel) =>
        await AnswerAsync(loops, show, loop, l => (change.Name.Trim(), l.Variants), cancel);

    private static async Task<Results<NoContent, ProblemHttpResult>> RemoveAsync(Guid show, Guid loop, Loops loops, CancellationToken cancel) =>
        await loops.RemoveAsync(show, loop, cancel) ? TypedResults.NoContent() : NoLoop(loop);

    private static async Task<Results<Ok<ImmutableArray<MeasuresDocument>>, ProblemHttpResult>> MeasureAsync(Guid show, Guid loop, Loops loops, CancellationToken cancel)
    {
        if (await loops.FindAsync(show, loop, cancel) is null || loops.Open(loop) is not { } handle)
        {
            return NoLoop(loop);
        }

        using (handle)
        {
            var measured = await handle.Loop.MeasureAsync(cancel);
            return TypedResults.Ok(measured.Select(m => MeasuresDocument.Of(m.Id, handle.Loop.GainOf(m.Id), m.Measured.Measures)).ToImmutableArray());
        }
    }

    private static async Task<Results<Ok<SoundPicture>, ProblemHttpResult>> DrawAsync(Guid show, Guid loop, string variant, Loops loops, CancellationToken cancel)
    {
        if (await loops.FindAsync(show, loop, cancel) is null || loops.Open(loop) is not { } handle)
        {
            return NoLoop(loop);
        }

        using (handle)
        {
            var measured = await handle.Loop.MeasureAsync(cancel);
            return measured.FirstOrDefault(m => m.Id.Value == variant).Measured is { } found ? TypedResults.Ok(found.Picture) : NoVariant(variant);
        }
    }

    private static async Task<Results<Ok<LoopDocument>, ProblemHttpResult>> AddAsync(
        Guid show, Guid loop, NewVariant wanted, LiveShow live, Loops loops, CancellationToken cancel)
    {
        if (wanted.CopyOf is not null && wanted.Preset is not null)
        {
            return Problems.Invalid("preset", "A variant is a copy of another, or a preset.", "either copyOf or preset");
        }

        if (wanted.Name is not null && RigRules.CheckName("name", wanted.Name) is { } problem)
        {
            return Problems.Invalid([problem]);
        }

        if (await loops.FindAsync(show, loop, cancel) is not { } known)
        {
            return NoLoop(loop);
        }

        if (wanted.CopyOf is { } other && known.Variants.All(v => v.Id.Value != other))
        {
            return Problems.Invalid("copyOf", $"There is no variant “{other}”.", "the id of a variant of the loop");
        }

        var preset = ChainPresets.Find(wanted.Preset ?? "");
        if (wanted.Preset is not null && preset is null)
        {
            return Problems.Invalid("preset", $"There is no preset “{wanted.Preset}”.", string.Join(", ", ChainPresets.All.Select(p => p.Key)));
        }

        var source = live.State.Show is { } now && now.Id == show ? now.Rig.Find(new SourceId(known.Row.Source)) : null;
        return await AnswerAsync(
            loops,
            show,
            loop,
            l =>
            {
                var copied = l.Variants.FirstOrDefault(v => v.Id.Value == wanted.CopyOf);
                var (name, chain) = preset is not null ? (preset.Name, preset.Make()) : copied is not null ? (copied.Name, copied.Chain) : ("As it is now", source?.Chain ?? []);
                return (l.Row.Name, l.Variants.Add(Made(FreeNames.For(l.Variants.Select(v => v.Name), wanted.Name ?? name, "Variant"), chain)));
            },
            cancel);
    }

    private static async Task<Results<Ok<LoopDocument>, ProblemHttpResult>> ChangeAsync(
        Guid show, Guid loop, string variant, VariantChange change, Loops loops, CancellationToken cancel) =>
        await OnVariantAsync(
            loops, show, loop, variant, v => v.Variants.Replace(v.It, v.It with { Name = change.Name?.Trim() ?? v.It.Name, Chain = change.Chain ?? v.It.Chain }), cancel);

    private static async Task<Results<Ok<LoopDocument>, ProblemHttpResult>> RemoveVariantAsync(Guid show, Guid loop, string variant, Loops loops, CancellationToken cancel) =>
        await OnVariantAsync(loops, show, loop, variant, v => v.Variants.Remove(v.It), cancel);

    private static async Task<Results<Ok<ShowDocument>, ProblemHttpResult>> ApplyAsync(
        string loop, string variant, Loops loops, ShowCommands commands, LiveShow live, [AsParameters] CommandCall call, CancellationToken cancel)
    {
        if (await loops.FindAsync(call.Show, Guid.Parse(loop), cancel) is not { } known)
        {
            return NoLoop(Guid.Parse(loop));
        }

        if (known.Variants.FirstOrDefault(v => v.Id.Value == variant) is not { } found)
        {
            return NoVariant(variant);
        }

        // What it listens to may be gone since.
        var rig = live.State.Show.Rig;
        var chain = found.Chain.Select(p => p with { Id = ProcessorId.New(), Keys = [.. p.Keys.Where(k => rig.ChainAt(k) is not null)] });
        return await commands.DoAsync(call, new SetChain(new SourcePoint(new(known.Row.Source)), [.. chain], found.Name));
    }

    private static async Task<Results<Ok<BlindDocument>, ProblemHttpResult>> BeginBlindAsync(
        Guid show, Guid loop, NewBlind wanted, Loops loops, BlindComparisons blind, CancellationToken cancel)
    {
        if (await loops.FindAsync(show, loop, cancel) is not { } known)
        {
            return NoLoop(loop);
        }

        foreach (var (where, id) in new[] { ("first", wanted.First), ("second", wanted.Second) })
        {
            if (id != LoopBench.Plain.Value && known.Variants.All(v => v.Id.Value != id))
            {
                return Problems.Invalid(where, $"There is no variant “{id}”.", "the id of a variant of the loop, or plain");
            }
        }

        if (wanted.First == wanted.Second)
        {
            return Problems.Invalid("second", "A variant is not compared with itself.", "another one");
        }

        var begun = blind.Begin(loop, new(wanted.First), new(wanted.Second));
        return TypedResults.Ok(new BlindDocument(begun.Id, 0));
    }

    private static Results<Ok<BlindDocument>, ProblemHttpResult> Choose(Guid loop, Guid blind, BlindChoice choice, BlindComparisons all)
    {
        if (choice.Better is not (1 or 2))
        {
            return Problems.Invalid("better", "Only two are compared.", "1 or 2");
        }

        if (all.Find(blind) is not { } found || found.Loop != loop)
        {
            return NoBlind(blind);
        }

        return found.Choose(choice.Better)
            ? TypedResults.Ok(new BlindDocument(blind, found.Rounds))
            : Problems.Invalid("better", "More rounds are not counted.", $"at most {BlindTrial.MostRounds}: end it");
    }

    private static async Task<Results<Ok<BlindResult>, ProblemHttpResult>> EndBlindAsync(
        Guid show, Guid loop, Guid blind, Loops loops, BlindComparisons all, CancellationToken cancel)
    {
        if (all.Find(blind) is not { } found || found.Loop != loop || await loops.FindAsync(show, loop, cancel) is not { } known)
        {
            return NoBlind(blind);
        }

        all.End(blind);
        return TypedResults.Ok(new BlindResult(
            found.First.Value,
            found.Second.Value,
            found.Rounds,
            found.ChoseFirst,
            BlindTrial.ByChance(found.ChoseFirst, found.Rounds),
            BlindTrial.Words(found.ChoseFirst, found.Rounds, NameOf(found.First), NameOf(found.Second))));

        string NameOf(SourceId id) => id == LoopBench.Plain ? "Without" : known.Variants.FirstOrDefault(v => v.Id == id)?.Name ?? "one that is gone";
    }

    private const string Lengths = "5 to 30 s of what the source has given just now";

    private static BenchVariant Made(string name, ImmutableArray<Processor> chain) =>
        new(new SourceId($"v-{Guid.CreateVersion7():n}"), name, [.. chain.Select(p => p with { Id = ProcessorId.New() })]);

    private static async Task<Results<Ok<LoopDocument>, ProblemHttpResult>> OnVariantAsync(
        Loops loops, Guid show, Guid loop, string variant, Func<(ImmutableArray<BenchVariant> Variants, BenchVariant It), ImmutableArray<BenchVariant>> change, CancellationToken cancel)
    {
        if (await loops.FindAsync(show, loop, cancel) is not { } known)
        {
            return NoLoop(loop);
        }

        return known.Variants.All(v => v.Id.Value != variant)
            ? NoVariant(variant)
            : await AnswerAsync(
                loops, show, loop, l => (l.Row.Name, l.Variants.FirstOrDefault(v => v.Id.Value == variant) is { } it ? change((l.Variants, it)) : l.Variants), cancel);
    }

    private static async Task<Results<Ok<LoopDocument>, ProblemHttpResult>> AnswerAsync(
        Loops loops, Guid show, Guid loop, Func<KeptLoop, (string Name, ImmutableArray<BenchVariant> Variants)> change, CancellationToken cancel)
    {
        try
        {
            return await loops.ChangeAsync(show, loop, change, cancel) is { } changed ? TypedResults.Ok(LoopDocument.Of(changed)) : NoLoop(loop);
        }
        catch (LoopRefusedException e)
        {
            return Problems.Invalid(e.Problems);
        }
    }

    private static ProblemHttpResult NoLoop(Guid loop) => Problems.NotFound("loop", $"There is no loop {loop}.", "a loop of the show, whose sound can be read");

    private static ProblemHttpResult NoVariant(string variant) => Problems.NotFound("variant", $"There is no variant “{variant}”.", "a variant of the loop, or plain where it is only looked at");

    private static ProblemHttpResult NoBlind(Guid blind) => Problems.NotFound("blind", $"There is no comparison {blind} that goes on.", "one that was begun and not ended");
}
