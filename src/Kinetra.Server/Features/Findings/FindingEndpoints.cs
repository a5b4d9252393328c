using System.Collections.Immutable;
using System.ComponentModel.DataAnnotations;
using Kinetra.Core.Editing;
using Kinetra.Core.Findings;
using Kinetra.Core.Rigs;
using Kinetra.Core.Signal;
using Kinetra.Server.Features.Shows;
using Kinetra.Server.Hosting;
using Kinetra.Server.Live;
using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.AspNetCore.Mvc;

namespace Kinetra.Server.Features.Findings;

/// <summary>Something about where sound goes that a person should know.</summary>
/// <param name="Key">What it stays the same by while its figures change.</param>
/// <param name="Kind">What it is about.</param>
/// <param name="Harm">How much harm it does.</param>
/// <param name="Sentence">What is so, and what comes of it.</param>
/// <param name="Places">What it concerns: where to look first comes first.</param>
/// <param name="Fixes">What ends it, the least change first.</param>
/// <param name="IsAccepted">True: somebody has accepted it as it is, and it stays quiet until its facts change.</param>
public sealed record FindingReport(string Key, FindingKind Kind, Harm Harm, string Sentence, ImmutableArray<Point> Places, ImmutableArray<FixReport> Fixes, bool IsAccepted);

/// <summary>One change that ends what was found.</summary>
/// <param name="Label">What it does, as something that is asked for.</param>
/// <param name="OfComputer">True: it changes the computer, and is no step of the show.</param>
public sealed record FixReport(string Label, bool OfComputer);

/// <summary>What is found in the live show.</summary>
/// <param name="Show">The show.</param>
/// <param name="Revision">At which revision.</param>
/// <param name="Findings">The most harmful first.</param>
public sealed record FindingsDocument(Guid Show, long Revision, ImmutableArray<FindingReport> Findings);

/// <summary>The fix that is wanted.</summary>
/// <param name="Key">Of which finding.</param>
/// <param name="Label">Which of its fixes.</param>
public sealed record WantedFix([property: MaxLength(2_000)] string Key, [property: MaxLength(400)] string Label);

/// <summary>The finding that is accepted as it is, or no longer.</summary>
/// <param name="Key">Which.</param>
/// <param name="Accepted">True: it stays quiet until its facts change.</param>
public sealed record AcceptedFinding([property: MaxLength(RigLimits.FindingKey)] string Key, bool Accepted);

/// <summary>What would be lost if a device went.</summary>
/// <param name="Lost">Who would hear what no more, or otherwise; none: nobody hears anything by it.</param>
/// <param name="Promises">Which promises, kept by the routing now, would be broken then, or could not be told any more.</param>
public sealed record LossDocument(ImmutableArray<string> Lost, ImmutableArray<string> Promises);

/// <summary>What is found about where every sound goes, and what ends it.</summary>
sealed class FindingEndpoints : IFeature
{
    public void AddTo(IServiceCollection services, ServerOptions options) => services.AddSingleton<FindingsNow>();

    public void MapTo(IEndpointRouteBuilder routes)
    {
        var show = routes.MapGroup(ShowEndpoints.Path + "/findings");
        show.MapGet("", Get).WithName("getFindings").WithSummary("What is found about where every sound goes: doubles, loops, leaks, who hears himself, what is stranded.");
        show.MapGet("/effect", EffectOf).WithName("getFixEffect").WithSummary("What a fix would change; it changes nothing yet.");
        show.MapGet("/without/{device}", Without).WithName("getLoss").WithSummary("What would be lost if a device went; it changes nothing.");
        show.MapPut("/accepted", AcceptAsync).WithName("acceptFinding").WithSummary("Lets what was found stay quiet until its facts change, or speak again. Part of the show, and undone like it.");
        show.MapPost("/fix", FixAsync).WithName("fixFinding").WithSummary("Ends what was found by one of its fixes.");
    }

    private static Results<Ok<FindingsDocument>, ProblemHttpResult> Get(Guid show, FindingsNow findings)
    {
        var looked = findings.Look();
        return looked.State.Show.Id == show
            ? TypedResults.Ok(new FindingsDocument(
                show,
                looked.State.Show.Revision,
                [.. looked.Findings.Select(f => new FindingReport(f.Key, f.Kind, f.Harm, f.Sentence, f.Places, [.. f.Fixes.Select(x => new FixReport(x.Label, x.Computer is not null))], looked.Situation.IsAccepted(f)))]))
            : CommandAnswers.NotLive(looked.State);
    }

    private static Results<Ok<FixEffect>, ProblemHttpResult> EffectOf(Guid show, string key, string label, FindingsNow findings) =>
        Fixing.Effect(show, findings, looked => Find(looked, new(key, label)), key);

    private static Results<Ok<LossDocument>, ProblemHttpResult> Without(Guid show, string device, FindingsNow findings)
    {
        var looked = findings.Look();
        if (looked.State.Show.Id != show)
        {
            return CommandAnswers.NotLive(looked.State);
        }

        return findings.After(looked, new Fix("", Computer: new SetDevice(new(device), IsPresent: false))) is { } after
            ? TypedResults.Ok(new LossDocument(Losses.Between(looked.Situation, after), Fixing.NoLongerKept(looked.Situation, after)))
            : Problems.NotFound("device", $"There is no device “{device}” on this computer.", "a device of /api/gear");
    }

    private static async Task<Results<Ok<ShowDocument>, ProblemHttpResult>> AcceptAsync(
        AcceptedFinding wanted, FindingsNow findings, ShowCommands commands, [AsParameters] CommandCall call)
    {
        var looked = findings.Look();
        if (!wanted.Accepted || looked.State.Show.Id != call.Show)
        {
            return await commands.DoAsync(call, new AcceptFinding(wanted.Key));
        }

        return looked.Findings.FirstOrDefault(f => f.Key == wanted.Key) is { } found
            ? await commands.DoAsync(call, new AcceptFinding(found.Key, looked.Situation.FactsOf(found)))
            : Problems.NotFound("key", "This is not found any more.", "a finding as it is told now");
    }

    private static Task<Results<Ok<ShowDocument>, ProblemHttpResult>> FixAsync(
        WantedFix wanted, FindingsNow findings, ShowCommands commands, LiveShow live, LiveGear gear, [AsParameters] CommandCall call) =>
        Fixing.DoAsync(call, findings, commands, live, gear, looked => Find(looked, wanted));

    private static Fix? Find(Looked looked, WantedFix wanted) =>
        looked.Findings.FirstOrDefault(f => f.Key == wanted.Key)?.Fixes.FirstOrDefault(f => f.Label == wanted.Label);
}
