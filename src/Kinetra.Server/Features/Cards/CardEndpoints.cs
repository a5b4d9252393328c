using System.Collections.Immutable;
using System.ComponentModel.DataAnnotations;
using Kinetra.Core.Cards;
using Kinetra.Core.Editing;
using Kinetra.Core.Findings;
using Kinetra.Core.Signal;
using Kinetra.Server.Features.Findings;
using Kinetra.Server.Features.Shows;
using Kinetra.Server.Hosting;
using Kinetra.Server.Live;
using Microsoft.AspNetCore.Http.HttpResults;

namespace Kinetra.Server.Features.Cards;

/// <summary>One thing to pick or set.</summary>
/// <param name="Key">What it stays the same by, within its card.</param>
/// <param name="Kind">What is picked or set.</param>
/// <param name="State">Whether it is so.</param>
/// <param name="What">What it is called in a sentence.</param>
/// <param name="Wanted">What it must be, as that program's list names it.</param>
/// <param name="Now">What it is now.</param>
/// <param name="Where">Where in such a program the choice usually stands; null: nowhere.</param>
/// <param name="Notes">What else must be known or done, each a sentence.</param>
/// <param name="Fix">What makes it so in one press; null: no press does.</param>
public sealed record PickReport(string Key, PickKind Kind, PickState State, string What, string Wanted, string Now, string? Where, ImmutableArray<string> Notes, FixReport? Fix);

/// <summary>What must be picked and set in one program, or, of the computer itself, its defaults.</summary>
/// <param name="App">The program; null: the computer.</param>
/// <param name="Title">What it is called.</param>
/// <param name="Why">What it takes part by.</param>
/// <param name="IsRight">True where nothing is otherwise than it must be.</param>
/// <param name="Picks">What to pick, in the order in which a person does it.</param>
/// <param name="Text">The same as plain text.</param>
public sealed record CardReport(AppId? App, string Title, string Why, bool IsRight, ImmutableArray<PickReport> Picks, string Text);

/// <summary>What to pick where, for the live show on this computer.</summary>
/// <param name="Show">The show.</param>
/// <param name="Revision">At which revision.</param>
/// <param name="Cards">The computer's first, then one for each program that takes part.</param>
public sealed record CardsDocument(Guid Show, long Revision, ImmutableArray<CardReport> Cards);

/// <summary>What of a card is to be made so.</summary>
/// <param name="App">Whose card; null: the computer's.</param>
/// <param name="Key">Which of its picks; null: all that are otherwise than they must be.</param>
public sealed record WantedPick(AppId? App = null, [property: MaxLength(80)] string? Key = null);

/// <summary>What to pick where: cards.</summary>
sealed class CardEndpoints : IFeature
{
    public void MapTo(IEndpointRouteBuilder routes)
    {
        var show = routes.MapGroup(ShowEndpoints.Path + "/cards");
        show.MapGet("", Get).WithName("getCards").WithSummary("What must be picked and set in each program that takes part, and what it is now.");
        show.MapPost("/set", SetAsync).WithName("setCard").WithSummary("Makes one thing of a card so, or all that are otherwise than they must be.");
    }

    private static Results<Ok<CardsDocument>, ProblemHttpResult> Get(Guid show, FindingsNow findings)
    {
        var looked = findings.Look();
        return looked.State.Show.Id == show
            ? TypedResults.Ok(new CardsDocument(show, looked.State.Show.Revision, [.. Deck.Of(looked.Situation).Select(Report)]))
            : CommandAnswers.NotLive(looked.State);
    }

    private static CardReport Report(Card card) => new(
        card.App,
        card.Title,
        card.Why,
        card.IsRight,
        [.. card.Picks.Select(p => new PickReport(p.Key, p.Kind, p.State, p.What, p.Wanted, p.Now, p.Where, p.Notes, p.Fix is { } fix ? new FixReport(fix.Label, fix.Computer is not null) : null))],
        Deck.TextOf([card]));

    private static async Task<Results<Ok<ShowDocument>, ProblemHttpResult>> SetAsync(
        WantedPick wanted, FindingsNow findings, ShowCommands commands, LiveShow live, LiveGear gear, [AsParameters] CommandCall call)
    {
        if (wanted.Key is { } key)
        {
            return await Fixing.DoAsync(call, findings, commands, live, gear, looked => CardOf(looked, wanted)?.Picks.FirstOrDefault(p => p.Key == key)?.Fix);
        }

        var looked = findings.Look();
        if (looked.State.Show.Id != call.Show)
        {
            return CommandAnswers.NotLive(looked.State);
        }

        if (CardOf(looked, wanted) is not { } card)
        {
            return Problems.NotFound("app", "There is no such card.", "a program of the cards as they are told now, or null for the computer's own");
        }

        // One after the other: what one changes, the next may need. A restart of the program, say, that is made once for all.
        foreach (var change in card.Picks.Where(p => p.State == PickState.Wrong).Select(p => p.Fix?.Computer).OfType<GearChange>())
        {
            if (await gear.DoAsync(change, window: call.Target.Author.By.Name) is GearOutcome.Refused refused)
            {
                return Problems.Invalid([refused.Problem]);
            }
        }

        return TypedResults.Ok(live.State.Document);
    }

    private static Card? CardOf(Looked looked, WantedPick wanted) => Deck.Of(looked.Situation).FirstOrDefault(c => c.App == wanted.App);
}
