using Kinetra.Core.Editing;
using Kinetra.Core.Rigs;
using Kinetra.Core.Signal;
using Kinetra.Server.Features.Shows;
using Kinetra.Server.Hosting;
using Kinetra.Server.Live;
using Microsoft.AspNetCore.Http.HttpResults;

namespace Kinetra.Server.Features.Gear;

/// <summary>What the show wants a default to be.</summary>
/// <param name="End">A device or a cable; null: it does not matter.</param>
public sealed record WishedDefault(Point? End);

/// <summary>What the show wants a program's output or input to be set to.</summary>
/// <param name="Choice">What; null: it does not matter.</param>
public sealed record WishedChoice(EndChoice? Choice);

/// <summary>When wishes are fulfilled. What is left out stays as it is.</summary>
/// <param name="Always">Without asking.</param>
/// <param name="PutBack">What stood before is put back when the show is left.</param>
public sealed record WishesChange(bool? Always = null, bool? PutBack = null);

/// <summary>What the live show wants of the computer: part of the show, and undone like it.</summary>
sealed class WishEndpoints : IFeature
{
    public void MapTo(IEndpointRouteBuilder routes)
    {
        var wishes = routes.MapGroup(ShowEndpoints.Path + "/wishes");
        wishes.MapPut("/roles/{role}", RoleAsync).WithName("wishDefault").WithSummary("Says what the show wants a default to be.");
        wishes.MapPut("/apps/{app}/ports/{port}", PortAsync).WithName("wishPort").WithSummary("Says what the show wants a program's output or input to be set to.");
        wishes.MapPatch("", ChangeAsync).WithName("changeWishes").WithSummary("Says when the show's wishes are fulfilled.");
    }

    private static async Task<Results<Ok<ShowDocument>, ProblemHttpResult>> RoleAsync(
        string role, WishedDefault wish, ShowCommands commands, [AsParameters] CommandCall call) =>
        Enum.TryParse<Role>(role, ignoreCase: true, out var known) && Enum.IsDefined(known) && !int.TryParse(role, out _)
            ? await commands.DoAsync(call, new WishRole(known, wish.End))
            : Problems.NotFound("role", $"There is no role “{role}”.", string.Join(", ", Enum.GetNames<Role>()));

    private static Task<Results<Ok<ShowDocument>, ProblemHttpResult>> PortAsync(
        string app, string port, WishedChoice wish, ShowCommands commands, [AsParameters] CommandCall call) =>
        commands.DoAsync(call, new WishPort(new(app), port, wish.Choice));

    private static Task<Results<Ok<ShowDocument>, ProblemHttpResult>> ChangeAsync(WishesChange change, ShowCommands commands, [AsParameters] CommandCall call) =>
        commands.DoAsync(call, new SetWishes(change.Always, change.PutBack));
}
