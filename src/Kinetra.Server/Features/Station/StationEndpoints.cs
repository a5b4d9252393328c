using System.Collections.Immutable;
using System.ComponentModel.DataAnnotations;
using Kinetra.Gear.Station;
using Kinetra.Server.Hosting;
using Microsoft.AspNetCore.Http.HttpResults;

namespace Kinetra.Server.Features.Station;

/// <summary>The stand-in for a station's server.</summary>
/// <param name="IsOn">Whether it is there.</param>
/// <param name="Port">Its port; 0: it was never begun.</param>
/// <param name="Password">What it wants to hear; its user is “source”.</param>
/// <param name="Refusal">What it says instead of letting anybody in; null: it lets in who knows the password.</param>
/// <param name="BytesASecond">How much it takes from each who sends; null: as much as comes.</param>
/// <param name="Mounts">What is sent there now.</param>
public sealed record StationDocument(bool IsOn, int Port, string Password, string? Refusal, int? BytesASecond, ImmutableArray<MountDocument> Mounts);

/// <summary>How the stand-in is to be.</summary>
/// <param name="IsOn">Whether it is there; off cuts off whoever sends or listens.</param>
/// <param name="Refusal">What it says to whoever comes from now on; null: it lets in who knows the password.</param>
/// <param name="BytesASecond">How much it takes from each who sends, 1 to 1 000 000; null: as much as comes.</param>
public sealed record StationWish(bool IsOn, [property: StringLength(100, MinimumLength = 1)] string? Refusal = null, [property: Range(1, 1_000_000)] int? BytesASecond = null);

/// <summary>The stand-in for a station's server: to try things on, and to see them fail.</summary>
sealed class StationEndpoints : IFeature
{
    public void AddTo(IServiceCollection services, ServerOptions options)
    {
        services.AddSingleton<StationHost>();
        services.AddHostedService(s => s.GetRequiredService<StationHost>());
    }

    public void MapTo(IEndpointRouteBuilder routes)
    {
        routes.MapGet("/station", Document).WithName("getStation").WithSummary("The practice station: a stand-in for a station's server, and what is sent there.");
        routes.MapPut("/station", SetAsync).WithName("setStation").WithSummary("Begins or ends the practice station, slows it, or makes it say no.");
    }

    private static StationDocument Document(StationHost host) =>
        new(host.Server.IsOn, host.Server.Port, host.Password, host.Server.Refusal, host.Server.BytesASecond, host.Server.Mounts);

    private static async Task<Results<Ok<StationDocument>, ProblemHttpResult>> SetAsync(StationWish wish, StationHost host)
    {
        if (wish.Refusal is { } refusal && (refusal.Length is < 1 or > 100 || refusal.Any(char.IsControl)))
        {
            return Problems.Invalid("refusal", "This text cannot be sent.", "1 to 100 characters on one line");
        }

        if (wish.BytesASecond is < 1 or > 1_000_000)
        {
            return Problems.Invalid("bytesASecond", $"It cannot take {wish.BytesASecond} bytes a second.", "a whole number from 1 to 1000000");
        }

        (host.Server.Refusal, host.Server.BytesASecond) = (wish.Refusal, wish.BytesASecond);
        try
        {
            await (wish.IsOn ? host.BeginAsync() : host.Server.StopAsync());
        }
        catch (IOException e)
        {
            return Problems.Conflict("port", e.Message, "two free ports of this computer");
        }

        return TypedResults.Ok(Document(host));
    }
}
