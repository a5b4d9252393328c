using System.Text.Json.Nodes;

namespace Kinetra.Server.Tests;

public sealed class ShowListTests : IAsyncLifetime
{
    private readonly RunningServer _server = new();

    public ValueTask InitializeAsync() => _server.InitializeAsync();

    public ValueTask DisposeAsync() => _server.DisposeAsync();

    [Fact]
    public async Task Another_show_is_opened_while_it_sounds_and_the_first_is_found_again_as_it_was()
    {
        await _server.SendAsync(HttpMethod.Patch, "/api/shows/LIVE/mixes/viewers", """{"gain":-2.5}""");
        var first = await _server.ShowAsync();
        await _server.StepAsync(0.3);
        var (status, opened) = await _server.SendAsync(HttpMethod.Post, $"/api/shows/{await IdOf("Tide Tables")}/open");
        status.ShouldBe(200);
        ((string)opened["name"]!).ShouldBe("Tide Tables");
        await _server.StepAsync(1);
        await _server.SendAsync(HttpMethod.Patch, "/api/shows/LIVE/sources/second-mic", """{"trim":3}""");
        await _server.StopAsync();
        await _server.StartAsync();
        ((string)(await _server.ShowAsync())["name"]!).ShouldBe("Tide Tables");
        await _server.SendAsync(HttpMethod.Post, $"/api/shows/{(string)first["id"]!}/open");
        var again = await _server.ShowAsync();
        ((long)again["sequence"]!).ShouldBeGreaterThan((long)first["sequence"]!);
        again["sequence"] = first["sequence"]!.DeepClone();
        again.ToJsonString().ShouldBe(first.ToJsonString());
        await _server.StepAsync(1);
    }

    [Fact]
    public async Task A_show_is_copied_renamed_deleted_and_brought_back()
    {
        var live = (string)(await _server.ShowAsync())["id"]!;
        var (_, copy) = await _server.SendAsync(HttpMethod.Post, "/api/shows", $$"""{"copyOf":"{{live}}"}""");
        ((string)copy["name"]!).ShouldBe("The Lamp Room 2");
        var id = (string)copy["id"]!;
        (await _server.SendAsync(HttpMethod.Patch, $"/api/shows/{id}", """{"name":"  Night watch "}""")).Status.ShouldBe(204);
        (await IdOf("Night watch")).ShouldBe(id);
        (await _server.SendAsync(HttpMethod.Delete, $"/api/shows/{id}")).Status.ShouldBe(204);
        (await _server.SendAsync(HttpMethod.Post, $"/api/shows/{id}/open")).ShouldSayWhatWhereAndWhatIsAllowed(404, "show");
        (await _server.SendAsync(HttpMethod.Post, $"/api/shows/{id}/restore")).Status.ShouldBe(204);
        (await _server.SendAsync(HttpMethod.Post, $"/api/shows/{id}/open")).Status.ShouldBe(200);
        await _server.SendAsync(HttpMethod.Post, $"/api/shows/{live}/open");
        await _server.StepAsync(2);

        var (_, fresh) = await _server.SendAsync(HttpMethod.Post, "/api/shows", """{}""");
        ((int)fresh["sources"]!).ShouldBe(0);
        ((int)fresh["mixes"]!).ShouldBe(4);
    }

    [Fact]
    public async Task The_live_show_cannot_be_deleted_and_no_other_is_opened_while_a_take_is_recorded()
    {
        var live = (string)(await _server.ShowAsync())["id"]!;
        (await _server.SendAsync(HttpMethod.Delete, $"/api/shows/{live}")).ShouldSayWhatWhereAndWhatIsAllowed(409, "show");
        (await _server.SendAsync(HttpMethod.Post, "/api/takes", "{}")).Status.ShouldBe(200);
        (await _server.SendAsync(HttpMethod.Post, $"/api/shows/{await IdOf("Tide Tables")}/open")).ShouldSayWhatWhereAndWhatIsAllowed(409, "take");
        await _server.SendAsync(HttpMethod.Post, "/api/takes/current/stop");
        (await _server.SendAsync(HttpMethod.Patch, $"/api/shows/{live}", """{"name":" "}""")).ShouldSayWhatWhereAndWhatIsAllowed(422, "name");
        (await _server.SendAsync(HttpMethod.Patch, $"/api/shows/{Guid.Empty}", """{"name":"x"}""")).ShouldSayWhatWhereAndWhatIsAllowed(404, "show");
        (await _server.SendAsync(HttpMethod.Post, "/api/shows", $$"""{"copyOf":"{{Guid.Empty}}"}""")).ShouldSayWhatWhereAndWhatIsAllowed(404, "show");
    }

    [Fact]
    public async Task The_name_of_the_live_show_changes_where_it_is_shown()
    {
        var live = (string)(await _server.ShowAsync())["id"]!;
        await _server.SendAsync(HttpMethod.Patch, $"/api/shows/{live}", """{"name":"Lamp Room, late"}""");
        ((string)(await _server.ShowAsync())["name"]!).ShouldBe("Lamp Room, late");
        await _server.SendAsync(HttpMethod.Patch, $"/api/shows/{live}", """{"name":"The Lamp Room"}""");
    }

    private async Task<string> IdOf(string name) =>
        (string)((JsonArray)(await _server.SendAsync(HttpMethod.Get, "/api/shows")).Body).Single(s => (string)s!["name"]! == name)!["id"]!;
}
