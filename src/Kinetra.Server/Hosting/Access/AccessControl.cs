namespace Kinetra.Server.Hosting.Access;

/// <summary>Lets requests in by <see cref="AccessRules"/>; whoever is in has a <see cref="Principal"/>.</summary>
static class AccessControl
{
    public static void UseAccess(this WebApplication app)
    {
        var rules = app.Services.GetRequiredService<AccessRules>();
        app.Use(async (context, next) =>
        {
            if (rules.Admit(Caller.Of(context), out var refusal) is not { } principal)
            {
                await Problems.Problem(refusal.Status, "Refused.", [refusal.Problem]).ExecuteAsync(context);
                return;
            }

            context.Features.Set(principal);
            await next(context);
        });
    }

    /// <summary>On whose behalf a request comes, in words; also where nobody was let in yet.</summary>
    public static string CallerWords(this HttpContext context) => context.Features.Get<Principal>()?.Words ?? "nobody known";
}
