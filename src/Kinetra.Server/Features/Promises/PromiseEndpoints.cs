using System.Collections.Immutable;
using System.ComponentModel.DataAnnotations;
using Kinetra.Core.Editing;
using Kinetra.Core.Findings;
using Kinetra.Core.Promises;
using Kinetra.Core.Rigs;
using Kinetra.Core.Signal;
using Kinetra.Data;
using Kinetra.Server.Features.Findings;
using Kinetra.Server.Features.Shows;
using Kinetra.Server.Hosting;
using Kinetra.Server.Live;
using Microsoft.AspNetCore.Http.HttpResults;

namespace Kinetra.Server.Features.Promises;

/// <summary>How a promise stands by one way of looking.</summary>
/// <param name="State">Kept, broken or not known.</param>
/// <param name="Why">Why, in a sentence.</param>
/// <param name="Places">Where to look.</param>
/// <param name="Fixes">What would mend it.</param>
public sealed record VerdictReport(PromiseState State, string Why, ImmutableArray<Point> Places, ImmutableArray<FixReport> Fixes);

/// <summary>A promise and how it stands.</summary>
/// <param name="Promise">The promise.</param>
/// <param name="Sentence">The same in words.</param>
/// <param name="State">How it stands in all.</param>
/// <param name="Routing">By the routing: can it happen?</param>
/// <param name="Sound">By what was heard: does it?</param>
public sealed record PromiseReport(Promise Promise, string Sentence, PromiseState State, VerdictReport Routing, VerdictReport Sound);

/// <summary>A promise that is offered.</summary>
/// <param name="Promise">The promise; its id is not the show's.</param>
/// <param name="Sentence">The same in words.</param>
public sealed record OfferedPromise(Promise Promise, string Sentence);

/// <summary>How the promises of the live show stand.</summary>
/// <param name="Show">The show.</param>
/// <param name="Revision">At which revision.</param>
/// <param name="Promises">In the show's order.</param>
/// <param name="Offers">What is offered for it as it is.</param>
/// <param name="Listeners">Who can be promised something.</param>
/// <param name="Defaults">What the computer's defaults are now, and could be promised to stay.</param>
public sealed record PromisesDocument(
    Guid Show, long Revision, ImmutableArray<PromiseReport> Promises, ImmutableArray<OfferedPromise> Offers, ImmutableArray<ListenerReport> Listeners, ImmutableArray<DefaultReport> Defaults);

/// <summary>Somebody who hears.</summary>
/// <param name="Point">The last point before the ears.</param>
/// <param name="Name">What a person calls it.</param>
public sealed record ListenerReport(Point Point, string Name);

/// <summary>A default as it is now.</summary>
/// <param name="Role">Which.</param>
/// <param name="End">The device or cable.</param>
/// <param name="Name">What a person calls that.</param>
public sealed record DefaultReport(Role Role, Point End, string Name);

/// <summary>Promises that are made.</summary>
/// <param name="Promises">1–64. Their ids do not count: each gets a new one.</param>
public sealed record NewPromises([property: MinLength(1), MaxLength(RigLimits.Promises)] ImmutableArray<Promise> Promises);

/// <summary>What a promise becomes.</summary>
/// <param name="Promise">Another promise; its id does not count.</param>
public sealed record ChangedPromise(Promise Promise);

/// <summary>The fix that is wanted.</summary>
/// <param name="Label">Which of the fixes of the promise.</param>
public sealed record WantedMending([property: MaxLength(400)] string Label);

/// <summary>A time in which a promise was broken.</summary>
/// <param name="Promise">The promise's id.</param>
/// <param name="Sentence">The promise in words, as it was then.</param>
/// <param name="Why">Why it was broken, as it was when that began.</param>
/// <param name="BySound">True: it was heard. False: the routing allowed it.</param>
/// <param name="Began">When it began.</param>
/// <param name="Ended">When it ended; null: it goes on, or nobody knows.</param>
/// <param name="GoesOn">True: it goes on now.</param>
public sealed record PromiseBreak(string Promise, string Sentence, string Why, bool BySound, DateTimeOffset Began, DateTimeOffset? Ended, bool GoesOn);

/// <summary>Promises about who hears what: made, watched, mended, and when they broke.</summary>
sealed class PromiseEndpoints : IFeature
{
    public void AddTo(IServiceCollection services, ServerOptions options)
    {
        services.AddSingleton(s => new Lazy<EngineHost>(s.GetRequiredService<EngineHost>)).AddSingleton(s => new Lazy<FindingsNow>(s.GetRequiredService<FindingsNow>));
        services.AddSingleton<PromiseWatch>().AddSingleton<IFollower>(s => s.GetRequiredService<PromiseWatch>());
        services.AddSingleton<PromiseHistory>().AddHostedService(s => s.GetRequiredService<PromiseHistory>());
    }

    public void MapTo(IEndpointRouteBuilder routes)
    {
        var promises = routes.MapGroup(ShowEndpoints.Path + "/promises");
        promises.MapGet("", Get).WithName("getPromises").WithSummary("The promises of the live show and how each stands, by the routing and by what is heard; and what is offered.");
        promises.MapPost("", AddAsync).WithName("addPromises").WithSummary("Makes promises, as one step.");
        promises.MapPut("/{promise}", SetAsync).WithName("setPromise").WithSummary("Makes another of a promise.");
        promises.MapDelete("/{promise}", RemoveAsync).WithName("removePromise").WithSummary("Takes a promise out of the show.");
        promises.MapGet("/{promise}/effect", EffectOf).WithName("getMendingEffect").WithSummary("What a fix of a promise would change; it changes nothing yet.");
        promises.MapPost("/{promise}/fix", FixAsync).WithName("fixPromise").WithSummary("Mends a promise by one of its fixes.");
        promises.MapGet("/breaks", BreaksAsync).WithName("getPromiseBreaks").WithSummary("When promises of the live show broke, and for how long: the newest 200, the newest first.");
    }

    private static Results<Ok<PromisesDocument>, ProblemHttpResult> Get(Guid show, PromiseWatch watch)
    {
        var now = watch.Look();
        var (state, s) = (now.Looked.State, now.Looked.Situation);
        return state.Show.Id == show
            ? TypedResults.Ok(new PromisesDocument(
                show,
                state.Show.Revision,
                [.. now.Standings.Select(x => new PromiseReport(x.Promise, Words(x.Promise), x.State, Report(x.Routing), Report(x.Sound)))],
                [.. Offers.Of(s).Select(p => new OfferedPromise(p, Words(p)))],
                [.. s.Spread.Listeners.OrderBy(l => l is not MixPoint).ThenBy(l => l is DevicePoint).Select(l => new ListenerReport(l, s.NameInFull(l)))],
                [.. Enum.GetValues<Role>().Select(r => (Role: r, End: s.Routed.Wiring.Gear.DefaultOf(r))).Where(d => d.End is not null).Select(d => new DefaultReport(d.Role, d.End!, s.NameOf(d.End!)))]))
            : CommandAnswers.NotLive(state);

        string Words(Promise promise) => PromiseWords.Of(promise, s.Routed.Wiring.Rig, s.NameInFull);

        static VerdictReport Report(Verdict verdict) => new(verdict.State, verdict.Why, verdict.Places, [.. verdict.Fixes.Select(f => new FixReport(f.Label, f.Computer is not null))]);
    }

    private static async Task<Results<Ok<ShowDocument>, ProblemHttpResult>> AddAsync(NewPromises wanted, ShowCommands commands, [AsParameters] CommandCall call) =>
        wanted.Promises.IsDefaultOrEmpty || wanted.Promises.Length > RigLimits.Promises
            ? Problems.Invalid("promises", "There is nothing to promise, or too much.", $"1 to {RigLimits.Promises} promises")
            : await commands.DoAsync(call, wanted.Promises switch
            {
                [var one] => new SetPromise(one with { Id = PromiseId.New() }),
                _ => new Several([.. wanted.Promises.Select(p => new SetPromise(p with { Id = PromiseId.New() }))]),
            });

    private static Task<Results<Ok<ShowDocument>, ProblemHttpResult>> SetAsync(string promise, ChangedPromise wanted, ShowCommands commands, [AsParameters] CommandCall call) =>
        commands.DoAsync(call, rig => rig.Find(new PromiseId(promise)) is { } old
            ? new SetPromise(wanted.Promise with { Id = old.Id })
            : Wish.Unknown("promise", $"There is no promise “{promise}”."));

    private static Task<Results<Ok<ShowDocument>, ProblemHttpResult>> RemoveAsync(string promise, ShowCommands commands, [AsParameters] CommandCall call) =>
        commands.DoAsync(call, new RemovePromise(new(promise)));

    private static Results<Ok<FixEffect>, ProblemHttpResult> EffectOf(Guid show, string promise, string label, FindingsNow findings, PromiseWatch watch) =>
        Fixing.Effect(show, findings, _ => Find(watch, promise, label), null);

    private static Task<Results<Ok<ShowDocument>, ProblemHttpResult>> FixAsync(
        string promise, WantedMending wanted, FindingsNow findings, PromiseWatch watch, ShowCommands commands, LiveShow live, LiveGear gear, [AsParameters] CommandCall call) =>
        Fixing.DoAsync(call, findings, commands, live, gear, _ => Find(watch, promise, wanted.Label));

    private static async Task<Results<Ok<IReadOnlyList<PromiseBreak>>, ProblemHttpResult>> BreaksAsync(Guid show, LiveShow live, PromiseHistory history, CancellationToken cancel) =>
        live.Show.Id == show
            ? TypedResults.Ok<IReadOnlyList<PromiseBreak>>([.. (await history.OfAsync(show, cancel)).Select(b => new PromiseBreak(b.Promise, b.Sentence, b.Why, b.BySound, b.Began, b.Ended, history.IsOpen(b.Id)))])
            : CommandAnswers.NotLive(live.State);

    private static Fix? Find(PromiseWatch watch, string promise, string label) =>
        watch.Look().Standings.FirstOrDefault(s => s.Promise.Id.Value == promise) is { } standing
            ? standing.Routing.Fixes.Concat(standing.Sound.Fixes).FirstOrDefault(f => f.Label == label)
            : null;
}
