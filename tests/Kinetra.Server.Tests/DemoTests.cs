using System.Text.Json.Nodes;

namespace Kinetra.Server.Tests;

/// <summary>What somebody finds who starts the application for the first time.</summary>
public sealed class DemoTests : IAsyncLifetime
{
    private readonly RunningServer _server = new() { Demo = true };

    public ValueTask InitializeAsync() => _server.InitializeAsync();

    public ValueTask DisposeAsync() => _server.DisposeAsync();

    [Fact]
    public async Task The_computer_is_set_up_for_the_first_show_and_is_as_it_was_once_that_is_put_back()
    {
        var gear = await GearAsync();
        gear["unmet"]!.AsArray().ShouldBeEmpty();
        ((string)Port(gear, "harbour-call", "mic")["end"]!).ShouldBe("cable/to-guest");
        ((string)Port(gear, "beacon-encoder", "main")["end"]!).ShouldBe("cable/to-encoder");
        (await _server.ShowAsync())["loops"]!.AsArray().ShouldBeEmpty();
        (_, gear) = await _server.SendAsync(HttpMethod.Post, "/api/gear/put-back");
        ((string)Port(gear, "harbour-call", "mic")["choice"]!["type"]!).ShouldBe("default");
        gear["unmet"]!.AsArray().Count.ShouldBe(2);

        // It is done for nobody a second time.
        await _server.StopAsync();
        await _server.StartAsync();
        (await GearAsync())["unmet"]!.AsArray().Count.ShouldBe(2);
    }

    [Fact]
    public async Task The_guest_and_the_encoder_get_what_the_show_sends_them()
    {
        await _server.StepAsync(10);
        (await _server.PeakAsync("app/harbour-call/mic")).ShouldBeGreaterThan(-60);
        (await _server.PeakAsync("app/beacon-encoder/main")).ShouldBeGreaterThan(-60);
    }

    [Fact]
    public async Task Another_demo_show_leaves_the_call_set_to_its_cable()
    {
        var other = (await _server.SendAsync(HttpMethod.Get, "/api/shows")).Body.AsArray().First(s => (string)s!["name"]! == "Tide Tables")!;
        (await _server.SendAsync(HttpMethod.Post, $"/api/shows/{(string)other["id"]!}/open")).Status.ShouldBe(200);
        var gear = await GearAsync();
        ((string)Port(gear, "harbour-call", "mic")["end"]!).ShouldBe("cable/to-guest");
        gear["unmet"]!.AsArray().Select(u => (string)u!["app"]!).ShouldAllBe(a => a == "reel-recorder");
    }

    private async Task<JsonNode> GearAsync() => (await _server.SendAsync(HttpMethod.Get, "/api/gear")).Body;

    private static JsonNode Port(JsonNode gear, string app, string port) =>
        gear["apps"]!.AsArray().Single(a => (string)a!["id"]! == app)!["ports"]!.AsArray().Single(p => (string)p!["id"]! == port)!;
}
