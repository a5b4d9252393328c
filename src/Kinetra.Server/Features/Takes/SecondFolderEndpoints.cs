using System.ComponentModel.DataAnnotations;
using Kinetra.Core.Takes;
using Kinetra.Server.Hosting;
using Kinetra.Server.Live;
using Microsoft.AspNetCore.Http.HttpResults;

namespace Kinetra.Server.Features.Takes;

/// <summary>Where takes are written a second time.</summary>
/// <param name="Path">The folder; null: takes are written to one folder.</param>
/// <param name="IsThere">True: it is there now.</param>
/// <param name="Room">How much room there is and for how long it suffices, in words; null: it is not there.</param>
public sealed record SecondFolderDocument(string? Path, bool IsThere, string? Room);

/// <summary>Where takes are to be written a second time.</summary>
/// <param name="Path">A folder with its whole path, at most 1 000 characters; left out: nowhere.</param>
public sealed record WantedFolder([property: MaxLength(SecondFolder.PathLength)] string? Path = null);

/// <summary>The second folder of takes.</summary>
sealed class SecondFolderEndpoints : IFeature
{
    public void AddTo(IServiceCollection services, ServerOptions options) => services.AddSingleton<SecondFolder>();

    public void MapTo(IEndpointRouteBuilder routes)
    {
        routes.MapGet("/takes/second-folder", (SecondFolder second, Playing playing, LiveShow live) => TypedResults.Ok(Of(second, playing, live)))
            .WithName("getSecondFolder").WithSummary("The folder in which takes are written a second time.");
        routes.MapPut("/takes/second-folder", Set).WithName("setSecondFolder").WithSummary("Has takes, from the next on, written to a second folder at the same time, or to none.");
    }

    private static Results<Ok<SecondFolderDocument>, ProblemHttpResult> Set(WantedFolder wanted, SecondFolder second, Playing playing, LiveShow live, ITakeAudience audience)
    {
        if (second.Set(wanted.Path) is { } problem)
        {
            return Problems.Invalid([problem]);
        }

        audience.TakesChanged();
        return TypedResults.Ok(Of(second, playing, live));
    }

    private static SecondFolderDocument Of(SecondFolder second, Playing playing, LiveShow live)
    {
        var isThere = second.Path is { } path && Directory.Exists(path);
        return new(second.Path, isThere, isThere ? TakePlan.Room(TakeRoom.Free(second.Path!), TakePlan.Of(live.Show.Rig, playing.Plan.ChannelsOf).BytesAnHour) : null);
    }
}
