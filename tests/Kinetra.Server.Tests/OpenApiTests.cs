using System.Text.Json.Nodes;

namespace Kinetra.Server.Tests;

public sealed class OpenApiTests(RunningServer server) : IClassFixture<RunningServer>, IAsyncLifetime
{
    private static readonly string[] Methods = ["get", "put", "post", "patch", "delete"];

    public ValueTask InitializeAsync() => server.OpenFreshShowAsync();

    public ValueTask DisposeAsync() => ValueTask.CompletedTask;

    [Fact]
    public async Task It_is_made_once_whoever_asks_and_is_sent_with_the_headers_of_every_answer()
    {
        await server.SendAsync(HttpMethod.Get, "/api/openapi.json");
        using var answer = await server.Http.GetAsync("/api/openapi.json", TestContext.Current.CancellationToken);
        answer.Headers.Age.ShouldNotBeNull();
        answer.Headers.GetValues("Content-Security-Policy").ShouldHaveSingleItem().ShouldContain("default-src 'none'");
        using var foreign = new HttpRequestMessage(HttpMethod.Get, "/api/openapi.json");
        foreign.Headers.Host = "elsewhere.example";
        using var refused = await server.Http.SendAsync(foreign, TestContext.Current.CancellationToken);
        ((int)refused.StatusCode).ShouldBe(403);
    }

    [Fact]
    public async Task Every_operation_declares_its_errors_as_they_are_answered()
    {
        var (_, document) = await server.SendAsync(HttpMethod.Get, "/api/openapi.json");
        var operations = document["paths"]!.AsObject().SelectMany(p => p.Value!.AsObject().Where(o => Methods.Contains(o.Key)).Select(o => (Name: $"{o.Key} {p.Key}", o.Value))).ToList();
        operations.Count.ShouldBeGreaterThan(40);
        foreach (var (name, operation) in operations)
        {
            foreach (var status in new[] { "400", "403", "404", "409", "413", "415", "422", "500", "503", "507" })
            {
                ((string)operation!["responses"]![status]!["content"]!["application/problem+json"]!["schema"]!["$ref"]!).ShouldEndWith("/ProblemDocument", Case.Sensitive, $"{name} {status}");
            }
        }
    }

    [Fact]
    public async Task Every_command_declares_the_show_and_the_revision_that_it_needs()
    {
        var (_, document) = await server.SendAsync(HttpMethod.Get, "/api/openapi.json");
        foreach (var (path, item) in document["paths"]!.AsObject().Where(p => p.Key.StartsWith("/api/shows/{show}/", StringComparison.Ordinal) && !IsBesideTheShow(p.Key)))
        {
            foreach (var (method, operation) in item!.AsObject().Where(o => Methods.Contains(o.Key) && o.Key != "get"))
            {
                var names = operation!["parameters"]!.AsArray().Where(p => (bool?)p!["required"] == true).Select(p => (string)p!["name"]!).ToList();
                names.ShouldContain("show", path);
                if (!path.EndsWith("/open", StringComparison.Ordinal) && !path.EndsWith("/restore", StringComparison.Ordinal) && !path.EndsWith("/play", StringComparison.Ordinal))
                {
                    names.ShouldContain("revision", $"{method} {path}");
                }
            }
        }
    }

    // What lies on the bench is no part of the show, what is only looked at changes nothing, and playing pads is playing.
    private static bool IsBesideTheShow(string path) =>
        path is "/api/shows/{show}/pad-sounds" or "/api/shows/{show}/pads/at-hand" or "/api/shows/{show}/pads/stop"
        || path.StartsWith("/api/shows/{show}/cue-run", StringComparison.Ordinal)
        || path.StartsWith("/api/shows/{show}/pads/{pad}/", StringComparison.Ordinal) && !path.EndsWith("/place", StringComparison.Ordinal) ||
        (path.StartsWith("/api/shows/{show}/loops", StringComparison.Ordinal) && !path.EndsWith("/apply", StringComparison.Ordinal)) || path.StartsWith("/api/shows/{show}/align", StringComparison.Ordinal) || path.StartsWith("/api/shows/{show}/clean-up", StringComparison.Ordinal);

    [Theory]
    [InlineData("PATCH", "/api/shows/LIVE/mixes/viewers?revision=99", """{"gain":0}""")]
    [InlineData("PUT", "/api/hush", "{}")]
    [InlineData("GET", "/api/nothing", null)]
    public async Task A_problem_has_no_member_that_is_not_declared(string method, string path, string? body)
    {
        var (_, document) = await server.SendAsync(HttpMethod.Get, "/api/openapi.json");
        var declared = document["components"]!["schemas"]!["ProblemDocument"]!["properties"]!.AsObject().Select(p => p.Key).ToList();
        var (_, answer) = await server.SendAsync(new HttpMethod(method), path, body);
        answer.AsObject().Select(p => p.Key).ShouldBeSubsetOf(declared);
    }
}
