using System.Collections.Immutable;
using System.ComponentModel.DataAnnotations;
using Kinetra.Core.Hands;
using Kinetra.Server.Hosting;
using Kinetra.Server.Live;
using Microsoft.AspNetCore.Http.HttpResults;

namespace Kinetra.Server.Features.Hands;

/// <summary>Something that is held now.</summary>
/// <param name="Hand">By whom: the id of a window's connection, or another word.</param>
/// <param name="Words">What it does, as a sentence.</param>
/// <param name="Address">Its action's address.</param>
/// <param name="Leaks">Whom it reaches all the same, as sentences.</param>
public sealed record HeldDocument(string Hand, string Words, string Address, ImmutableArray<string> Leaks);

/// <summary>How it stands with ways for hands.</summary>
/// <param name="Holds">What is held.</param>
/// <param name="Osc">Messages of Open Sound Control.</param>
/// <param name="HasToken">Whether there is a token, so that commands over HTTP are taken.</param>
public sealed record HandsDocument(ImmutableArray<HeldDocument> Holds, OscState Osc, bool HasToken);

/// <summary>Whether messages are listened for.</summary>
/// <param name="On">True: they are.</param>
/// <param name="Port">At which port of 127.0.0.1; left out: as before.</param>
public sealed record OscWish(bool On, [property: Range(1024, 65535)] int? Port = null);

/// <summary>A token that was just made.</summary>
/// <param name="Token">The token. It is told once.</param>
public sealed record NewToken(string Token);

/// <summary>Whatever is done by hand without a window: the table of actions, commands over HTTP, and which ways are open.</summary>
sealed class HandEndpoints : IFeature
{
    public void AddTo(IServiceCollection services, ServerOptions options)
    {
        services.AddSingleton<HandSettings>().AddSingleton<ActionDesk>();
        services.AddSingleton<LevelMoves>().AddHostedService(s => s.GetRequiredService<LevelMoves>());
        services.AddSingleton<OscListener>().AddHostedService(s => s.GetRequiredService<OscListener>());
    }

    public void MapTo(IEndpointRouteBuilder routes)
    {
        routes.MapGet("/actions", () => ActionTable.All).WithName("getActions").WithSummary("All that can be done by hand, with its addresses: the same for keys, controllers, messages and commands.");
        routes.MapPost("/do/{**address}", DoAsync).WithName("doAction").WithSummary("Does an action, with the token that was made for commands (Authorization: Bearer, or ?token=).");
        routes.MapGet("/do/{**address}", DoAsync).WithName("doActionByAddress").WithSummary("The same, for programs that can only open an address.");
        var hands = routes.MapGroup("/hands");
        hands.MapGet("", Now).WithName("getHands").WithSummary("What is held now, and which ways for hands are open.");
        hands.MapPut("/osc", OscAsync).WithName("setOsc").WithSummary("Listens for messages of Open Sound Control on this machine, or no longer.");
        hands.MapPost("/token", (HandSettings settings, IHandAudience audience) =>
        {
            var token = settings.NewToken();
            audience.HandsChanged();
            return new NewToken(token);
        }).WithName("makeToken").WithSummary("Makes a token for commands over HTTP; the one before is worth nothing from then on.");
        hands.MapDelete("/token", (HandSettings settings, IHandAudience audience, ActionDesk desk) =>
        {
            settings.Change(w => w with { TokenHash = null });
            desk.Gone(Hand.Commands);
            audience.HandsChanged();
            return TypedResults.NoContent();
        }).WithName("removeToken").WithSummary("Takes no commands over HTTP any more.");
        hands.MapDelete("/holds", (Playing playing, IHandAudience audience) =>
        {
            if (playing.LetGo(null))
            {
                audience.HandsChanged();
            }

            return TypedResults.NoContent();
        }).WithName("endHolds").WithSummary("Lets go of all that is held, whoever holds it.");
    }

    private static HandsDocument Now(Playing playing, LiveShow live, OscListener osc, HandSettings settings, Features.Findings.FindingsNow findings)
    {
        var (holds, rig) = (playing.Holds, live.Show.Rig);
        if (holds.IsEmpty)
        {
            return new([], osc.Now, settings.Now.TokenHash is not null);
        }

        var over = findings.With(Playing.Laid(holds, rig));
        return new(
            [.. holds.Select(h => new HeldDocument(h.Hand, h.Hold.Words(rig), h.Hold.Address, [.. h.Hold.OthersReached(over), .. h.Hold.ProgramsReached(h.Hold is Cough ? over : findings.With(Playing.Laid(holds.Add(new("", new Cough(h.Hold.Source))), rig)))]))], osc.Now, settings.Now.TokenHash is not null);
    }

    private static async Task<Results<Ok<OscState>, ProblemHttpResult>> OscAsync(OscWish wish, HandSettings settings, OscListener osc)
    {
        if (wish.Port is < 1024 or > 65535)
        {
            return Problems.Invalid("port", $"{wish.Port} is no port that can be listened at.", "1024 to 65535");
        }

        settings.Change(w => w with { Osc = wish.On, OscPort = wish.Port ?? w.OscPort });
        await osc.ApplyAsync();
        return TypedResults.Ok(osc.Now);
    }

    private static async Task<Results<NoContent, ProblemHttpResult>> DoAsync(
        string address, HttpRequest request, HandSettings settings, ActionDesk desk, CancellationToken cancel, string? value = null, [Range(-60d, 0d)] double level = 0, string? token = null)
    {
        if (!settings.IsToken(TokenOf(request) ?? token))
        {
            return Problems.Problem(
                StatusCodes.Status401Unauthorized,
                "Refused.",
                [new Core.Editing.RigProblem("token", settings.Now.TokenHash is null ? "Commands are switched off: no token has been made." : "This is not the token.", "the token that was made in Hands, as Authorization: Bearer or as ?token=")]);
        }

        var (call, problem, _) = await desk.FindAsync(address, cancel);
        return call is null ? Problems.NotFound([problem!])
            : await desk.DoAsync(Hand.Commands, address, value, level, cancel) is { } wrong ? Problems.Invalid([wrong]) : TypedResults.NoContent();
    }

    private static string? TokenOf(HttpRequest request) =>
        request.Headers.Authorization.ToString() is { } header && header.StartsWith("Bearer ", StringComparison.OrdinalIgnoreCase) ? header["Bearer ".Length..].Trim() : null;
}
