using System.Collections.Immutable;
using System.ComponentModel.DataAnnotations;
using Kinetra.Server.Features.Hands;
using Kinetra.Server.Hosting;
using Kinetra.Server.Hosting.Secrets;
using Microsoft.AspNetCore.Http.HttpResults;

namespace Kinetra.Server.Features.SecondScreen;

/// <summary>How second screens stand.</summary>
/// <param name="On">Whether they are let in.</param>
/// <param name="Port">At which port.</param>
/// <param name="Addresses">At which of this machine's addresses; empty: none was chosen yet.</param>
/// <param name="Machine">All addresses that this machine has.</param>
/// <param name="HasPassphrase">Whether a passphrase was chosen.</param>
/// <param name="Fingerprint">That of the certificate, SHA-256; null: they are not let in.</param>
/// <param name="Problem">Why they are not let in although they should be; null: nothing is wrong.</param>
/// <param name="Rights">What they may do.</param>
/// <param name="Devices">Which were let in.</param>
public sealed record SecondScreenDocument(
    bool On, int Port, ImmutableArray<string> Addresses, ImmutableArray<string> Machine, bool HasPassphrase, string? Fingerprint, string? Problem, ScreenRights Rights, ImmutableArray<ScreenDocument> Devices);

/// <summary>How second screens are to be let in. What is left out stays as it is.</summary>
/// <param name="On">Whether they are.</param>
/// <param name="Port">At which port.</param>
/// <param name="Addresses">At which of this machine's addresses.</param>
/// <param name="Passphrase">Another passphrase, 8 characters or more: whoever was let in with the one before is thrown out.</param>
/// <param name="Rights">What they may do.</param>
public sealed record SecondScreenWish(
    bool? On = null, [property: Range(1024, 65535)] int? Port = null, [property: MaxLength(32)] ImmutableArray<string>? Addresses = null, Secret? Passphrase = null, ScreenRights? Rights = null);

/// <summary>Second screens, as this machine sees them: switched on, given rights, thrown out.</summary>
sealed class ScreenEndpoints : IFeature
{
    public void AddTo(IServiceCollection services, ServerOptions options)
    {
        services.AddSingleton<ScreenSettings>().AddSingleton<ScreenCertificate>().AddSingleton<Screens>().AddSingleton<Board>().AddSingleton<ScreenSocket>();
        services.AddSingleton<ScreenHost>().AddHostedService(s => s.GetRequiredService<ScreenHost>());
    }

    public void MapTo(IEndpointRouteBuilder routes)
    {
        var screen = routes.MapGroup("/second-screen");
        screen.MapGet("", Now).WithName("getSecondScreen").WithSummary("How second screens are let in, and which were.");
        screen.MapPatch("", ChangeAsync).WithName("setSecondScreen").WithSummary("Lets second screens in, or no longer, and says what they may do.");
        screen.MapDelete("/devices", (Screens screens, IHandAudience audience) =>
        {
            screens.ThrowOut(null);
            audience.HandsChanged();
            return TypedResults.NoContent();
        }).WithName("throwOutScreens").WithSummary("Throws all second screens out.");
        screen.MapDelete("/devices/{device:guid}", Results<NoContent, ProblemHttpResult> (Guid device, Screens screens, IHandAudience audience) =>
        {
            if (!screens.ThrowOut(device))
            {
                return Problems.NotFound("device", "There is no such device any more.", "a device of /api/second-screen");
            }

            audience.HandsChanged();
            return TypedResults.NoContent();
        }).WithName("throwOutScreen").WithSummary("Throws a second screen out, at once.");
    }

    private static SecondScreenDocument Now(ScreenSettings settings, ScreenHost host, Screens screens)
    {
        var ways = settings.Now;
        return new(ways.On, ways.Port, ways.Addresses ?? [], ScreenSettings.Machine, ways.Hash is not null, host.Fingerprint, host.Problem, ways.Rights ?? new(), screens.All);
    }

    private static async Task<Results<Ok<SecondScreenDocument>, ProblemHttpResult>> ChangeAsync(
        SecondScreenWish wish, ScreenSettings settings, ScreenHost host, Screens screens, IHandAudience audience)
    {
        if (wish.Port is < 1024 or > 65535)
        {
            return Problems.Invalid("port", $"{wish.Port} is no port that can be listened at.", "1024 to 65535");
        }

        if (wish.Addresses is { } chosen && chosen.FirstOrDefault(a => !ScreenSettings.Machine.Contains(a)) is { } unknown)
        {
            return Problems.Invalid("addresses", $"This machine has no address “{Core.Editing.Names.Cut(unknown ?? "", 40)}”.", string.Join(", ", ScreenSettings.Machine));
        }

        if (wish.Passphrase is { } given && given.Reveal() is not { Length: >= ScreenWays.ShortestPassphrase and <= 200 })
        {
            return Problems.Invalid("passphrase", "This passphrase is too short or too long.", $"{ScreenWays.ShortestPassphrase} to 200 characters");
        }

        if (wish.Rights?.Check() is { } wrong)
        {
            return Problems.Invalid([wrong]);
        }

        var before = settings.Now;
        if ((wish.On ?? before.On) && wish.Passphrase is null && before.Hash is null)
        {
            return Problems.Invalid("passphrase", "There is no passphrase yet.", "one that is chosen before second screens are let in");
        }

        if ((wish.On ?? before.On) && (wish.Addresses ?? before.Addresses ?? []).IsEmpty)
        {
            return Problems.Invalid("addresses", "No address was chosen.", string.Join(", ", ScreenSettings.Machine));
        }

        settings.Change(w =>
        {
            w = w with { On = wish.On ?? w.On, Port = wish.Port ?? w.Port, Addresses = wish.Addresses ?? w.Addresses, Rights = wish.Rights ?? w.Rights ?? new() };
            return wish.Passphrase is { } passphrase ? ScreenSettings.With(w, passphrase.Reveal()) : w;
        });

        // Whom another passphrase let in is let in no more; what they may do is looked at with each press.
        if (wish.Passphrase is not null || wish.On == false)
        {
            screens.ThrowOut(null);
        }

        if (wish.Passphrase is not null)
        {
            screens.Forgive();
        }

        var now = settings.Now;
        if (now.On != before.On || now.Port != before.Port || wish.Addresses is not null || host.Problem is not null)
        {
            await host.ApplyAsync();
        }
        else
        {
            audience.HandsChanged();
        }

        return TypedResults.Ok(Now(settings, host, screens));
    }
}
