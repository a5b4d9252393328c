namespace Kinetra.Server.Tests;

public sealed class StrictBodyTests(RunningServer server) : IClassFixture<RunningServer>, IAsyncLifetime
{
    public ValueTask InitializeAsync() => server.OpenFreshShowAsync();

    public ValueTask DisposeAsync() => ValueTask.CompletedTask;

    [Theory]
    [InlineData("PUT", "/api/hush", "{}", "$.on", "This field is missing.")]
    [InlineData("PUT", "/api/hush", """{"on":true,"on":false}""", "$.on", "This field stands twice.")]
    [InlineData("PUT", "/api/hush", """{"on":null}""", "$.on", "This is not understood.")]
    [InlineData("PUT", "/api/hush", """{"off":true}""", "$.off", "There is no such field.")]
    [InlineData("PUT", "/api/hush", """{"on":tru}""", "$.on", "This is not JSON from line 1 on.")]
    [InlineData("PUT", "/api/shows/LIVE/sources/host-mic/place", "{}", "$.index", "This field is missing.")]
    [InlineData("PATCH", "/api/shows/LIVE/mixes/viewers", """{"gain":{}}""", "$.gain", "A gain is a number of dB from -120 to 12, or \"off\".")]
    [InlineData("POST", "/api/shows/LIVE/microphones", """{"client":"c","device":"d","label":"l","voices":[null]}""", "voices", "This list cannot be used.")]
    [InlineData("PATCH", "/api/shows/LIVE/mixes/viewers", """{"name":"a\u0000b"}""", "mixes[1].name", "The name holds a control character.")]
    [InlineData("PATCH", "/api/shows/LIVE/mixes/viewers", """{"name":"\u200b\u2060"}""", "mixes[1].name", "The name is only spaces.")]
    [InlineData("POST", "/api/shows/LIVE/sources/host-mic/chain", """{"type":null}""", "type", "A processor is of a type, or a copy of another.")]
    [InlineData("POST", "/api/shows/LIVE/cables/x/feeds", """{"from":null}""", "$.from", "This is not understood.")]
    public async Task What_is_left_out_or_stands_twice_is_refused_in_our_words_and_changes_nothing(string method, string path, string body, string where, string what)
    {
        await server.SendAsync(HttpMethod.Put, "/api/hush", """{"on":true}""");
        var before = (await server.ShowAsync()).ToJsonString();
        var answer = await server.SendAsync(new HttpMethod(method), path, body);
        answer.Status.ShouldBeOneOf(400, 422);
        var problem = answer.Body["problems"]![0]!;
        ((string?)problem["where"]).ShouldBe(where);
        ((string?)problem["what"]).ShouldBe(what);
        answer.Body.ToJsonString().ShouldNotContain("Kinetra.");
        ((bool)(await server.SendAsync(HttpMethod.Get, "/api/status")).Body["hushed"]!).ShouldBeTrue();
        (await server.ShowAsync()).ToJsonString().ShouldBe(before);
    }

    [Theory]
    [InlineData("POST", "/api/shows/LIVE/sources/host-mic/chain", """{"type":"gate","keys":[null]}""")]
    [InlineData("POST", "/api/shows/LIVE/mixes/viewers/sends/sea-mic/ducker", """{"type":"ducker","keys":[null]}""")]
    [InlineData("PUT", "/api/shows/LIVE/mixes/viewers/chain", """{"preset":7}""")]
    [InlineData("POST", "/api/shows/file", """{"format":null}""")]
    [InlineData("POST", "/api/shows/file", """{"sources":[null],"mixes":[null],"cables":[null]}""")]
    [InlineData("POST", "/api/shows", "null")]
    [InlineData("POST", "/api/shows", "[]")]
    [InlineData("PUT", "/api/hush", "null")]
    public async Task Null_where_something_is_wanted_is_refused_in_our_words(string method, string path, string body)
    {
        var before = (await server.ShowAsync()).ToJsonString();
        var answer = await server.SendAsync(new HttpMethod(method), path, body);
        answer.Status.ShouldBeOneOf(400, 422);
        answer.Body["problems"]!.AsArray().ShouldNotBeEmpty();
        foreach (var word in new[] { "Kinetra.", "System.", "parameter", "Implicit" })
        {
            answer.Body.ToJsonString().ShouldNotContain(word, Case.Sensitive);
        }

        (await server.ShowAsync()).ToJsonString().ShouldBe(before);
    }
}
