using System.Collections.Immutable;
using Kinetra.Core.Editing;
using Kinetra.Core.Findings;
using Kinetra.Core.Promises;
using Kinetra.Server.Features.Shows;
using Kinetra.Server.Hosting;
using Kinetra.Server.Live;
using Microsoft.AspNetCore.Http.HttpResults;

namespace Kinetra.Server.Features.Findings;

/// <summary>What a fix would change, beside what it is made for.</summary>
/// <param name="Ends">What is found now and would not be any more.</param>
/// <param name="Begins">What would be found anew.</param>
/// <param name="Heard">Who would hear what otherwise.</param>
/// <param name="Breaks">Which promises it would break by the routing.</param>
public sealed record FixEffect(ImmutableArray<string> Ends, ImmutableArray<string> Begins, ImmutableArray<string> Heard, ImmutableArray<string> Breaks);

/// <summary>Fixes, looked up in what is so by now: what one would change, and done.</summary>
static class Fixing
{
    public static Results<Ok<FixEffect>, ProblemHttpResult> Effect(Guid show, FindingsNow findings, Func<Looked, Fix?> find, string? key)
    {
        var looked = findings.Look();
        if (looked.State.Show.Id != show)
        {
            return CommandAnswers.NotLive(looked.State);
        }

        if (find(looked) is not { } fix || findings.After(looked, fix) is not { } after)
        {
            return Gone();
        }

        var (changes, sentences) = (Consequences.Between(looked.Situation, after), looked.Findings.ToDictionary(f => f.Key, f => f.Sentence));
        return TypedResults.Ok(new FixEffect([.. changes.Ends.Where(k => k != key).Select(k => sentences[k])], [.. changes.Begins.Select(f => f.Sentence)], changes.Heard, BrokenBy(looked.Situation, after)));
    }

    public static async Task<Results<Ok<ShowDocument>, ProblemHttpResult>> DoAsync(
        CommandCall call, FindingsNow findings, ShowCommands commands, LiveShow live, LiveGear gear, Func<Looked, Fix?> find)
    {
        var looked = findings.Look();
        if (looked.State.Show.Id != call.Show)
        {
            return CommandAnswers.NotLive(looked.State);
        }

        switch (find(looked))
        {
            case { Show: { } command }:
                return await commands.DoAsync(call, command);

            case { Computer: { } change }:
                return await gear.DoAsync(change, window: call.Target.Author.By.Name) is GearOutcome.Refused refused
                    ? Problems.Invalid([refused.Problem])
                    : TypedResults.Ok(live.State.Document);

            default:
                return Gone();
        }
    }

    /// <summary>The promises that the routing keeps before and not after, in words.</summary>
    public static ImmutableArray<string> NoLongerKept(Situation before, Situation after) =>
    [
        .. before.Routed.Wiring.Rig.Promises
            .Where(p => ByRouting.Of(p, before).State == PromiseState.Kept && ByRouting.Of(p, after).State != PromiseState.Kept)
            .Select(p => $"{PromiseWords.Of(p, before.Routed.Wiring.Rig, before.NameInFull)}."),
    ];

    private static ImmutableArray<string> BrokenBy(Situation before, Situation after) =>
    [
        .. after.Routed.Wiring.Rig.Promises
            .Where(p => ByRouting.Of(p, after).State == PromiseState.Broken && !(before.Routed.Wiring.Rig.Promises.Contains(p) && ByRouting.Of(p, before).State == PromiseState.Broken))
            .Select(p => $"{PromiseWords.Of(p, after.Routed.Wiring.Rig, after.NameInFull)}."),
    ];

    private static ProblemHttpResult Gone() => Problems.NotFound("key", "This is not found any more, or is ended otherwise now.", "a finding or a stretch and one of its fixes as they are told now");
}
