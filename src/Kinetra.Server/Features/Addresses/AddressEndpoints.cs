using System.Collections.Immutable;
using Kinetra.Core.Engine;
using Kinetra.Core.Signal;
using Kinetra.Server.Hosting;
using Kinetra.Server.Live;
using Microsoft.AspNetCore.Http.HttpResults;

namespace Kinetra.Server.Features.Addresses;

/// <summary>A mix or a cable that other programs of this computer are to get at.</summary>
/// <param name="Point">mix/ID or cable/ID.</param>
public sealed record NewAddress(Point Point);

/// <summary>An address.</summary>
/// <param name="Key">What nobody guesses.</param>
/// <param name="Point">The mix or the cable.</param>
/// <param name="Name">What that is called; null: the show does not have it now.</param>
/// <param name="Paths">Where it is read, below the server's own address: one for each kind of sound.</param>
/// <param name="Since">When it was opened.</param>
/// <param name="Readers">Who reads it now.</param>
/// <param name="Into">Where sound is sent into it, below the server's own address; null: it is a mix, which takes none.</param>
/// <param name="Sender">Who sends into it now; null: nobody.</param>
/// <param name="Refused">What came of who wanted to send into it last, where it came to nothing or broke off; null: nothing went wrong.</param>
public sealed record AddressDocument(
    string Key,
    Point Point,
    string? Name,
    ImmutableArray<string> Paths,
    DateTimeOffset Since,
    ImmutableArray<ReaderDocument> Readers,
    string? Into,
    SenderDocument? Sender,
    SenderRefused? Refused);

/// <summary>Mixes and cables under addresses, for programs that have no virtual device.</summary>
sealed class AddressEndpoints : IFeature
{
    public void AddTo(IServiceCollection services, ServerOptions options) =>
        services.AddSingleton<AddressBook>().AddSingleton<LiveReaders>().AddSingleton<SenderSounds>().AddSingleton<ISoundProvider>(s => s.GetRequiredService<SenderSounds>()).AddSingleton<LiveSenders>();

    public void MapTo(IEndpointRouteBuilder routes)
    {
        routes.MapGet("/addresses", All)
            .WithName("getAddresses").WithSummary("The addresses of the live show under which other programs get at a mix or a cable, and who reads them and sends into them.");
        routes.MapPost("/addresses", Open)
            .WithName("openAddress").WithSummary("Opens an address for a mix or a cable of the live show; where there is one already, it is that.");
        routes.MapDelete("/addresses/{key}/sender", LetGo)
            .WithName("letSenderGo").WithSummary("Lets go of whoever sends into a cable by its address; what waits of it is not heard any more.");
        routes.MapDelete("/addresses/{key}", Close)
            .WithName("closeAddress").WithSummary("Closes an address, and cuts off whoever reads it or sends there.");
    }

    public void MapBeside(IEndpointRouteBuilder routes)
    {
        routes.MapGet("/live/{key}.{ending}", (HttpContext context, string key, string ending, LiveReaders readers) => readers.ServeAsync(context, key, ending))
            .ExcludeFromDescription();
        routes.MapPut("/live/{name}", (HttpContext context, string name, LiveSenders senders) => SourceRequests.PutAsync(context, name, senders))
            .ExcludeFromDescription();
    }

    private static ImmutableArray<AddressDocument> All(AddressBook book, LiveShow live, LiveReaders readers, LiveSenders senders) => [.. book.OfLive.Select(a => Document(a, live, readers, senders))];

    private static Results<Ok<AddressDocument>, ProblemHttpResult> Open(NewAddress wanted, AddressBook book, LiveShow live, Playing playing, LiveReaders readers, LiveSenders senders)
    {
        if (wanted.Point is not (MixPoint { Tap: Tap.AfterChain } or CablePoint))
        {
            return Problems.Invalid("point", $"“{wanted.Point}” cannot have an address.", "mix/ID or cable/ID");
        }

        if (playing.Plan.ChannelsOf(wanted.Point) == 0)
        {
            return Problems.NotFound("point", $"The show has no “{wanted.Point}”.", "a mix or a cable of the live show");
        }

        return book.Open(wanted.Point) is { } address
            ? TypedResults.Ok(Document(address, live, readers, senders))
            : Problems.Conflict("address", $"There are {AddressBook.Most} addresses already.", "closing one first");
    }

    private static Results<NoContent, ProblemHttpResult> Close(string key, AddressBook book, LiveReaders readers, LiveSenders senders)
    {
        if (!book.Close(key))
        {
            return Problems.NotFound("address", "There is no such address.", "a key of /api/addresses");
        }

        readers.CutOff(key);
        senders.CutOff(key);
        return TypedResults.NoContent();
    }

    // What it had handed over ahead may be minutes.
    private static Results<NoContent, ProblemHttpResult> LetGo(string key, LiveSenders senders) =>
        senders.LetGo(key) ? TypedResults.NoContent() : Problems.NotFound("address", "Nobody sends there.", "an address of /api/addresses with a sender");

    private static AddressDocument Document(Address address, LiveShow live, LiveReaders readers, LiveSenders senders)
    {
        var point = Point.Parse(address.Point)!;
        return new(
            address.Key,
            point,
            live.Show.Rig.Has(point) ? live.Show.Rig.NameOf(point) : null,
            [.. LiveForms.Endings.Select(e => $"/live/{address.Key}.{e}")],
            address.Since,
            [.. readers.Of(address.Key)],
            point is CablePoint ? $"/live/{address.Key}" : null,
            senders.Of(address.Key),
            senders.RefusedAt(address.Key));
    }
}
