namespace Kinetra.Server.Tests;

public class StrictBodyTests(RunningServer server) : IClassFixture<RunningServer>
{
    [Theory]
    [InlineData("PUT", "/api/hush", "{}", "$.on", "This field is missing.")]
    [InlineData("PUT", "/api/hush", """{"on":true,"on":false}""", "$.on", "This field stands twice.")]
    [InlineData("PUT", "/api/hush", """{"on":null}""", "$.on", "This is not understood.")]
    [InlineData("PUT", "/api/hush", """{"off":true}""", "$.off", "There is no such field.")]
    [InlineData("PUT", "/api/hush", """{"on":tru}""", "$.on", "This is not JSON from line 1 on.")]
    [InlineData("PUT", "/api/show/sources/host-mic/place", "{}", "$.index", "This field is missing.")]
    [InlineData("PATCH", "/api/show/mixes/viewers", """{"gain":{}}""", "$.gain", "A gain is a number of dB from -120 to 12, or \"off\".")]
    [InlineData("POST", "/api/show/microphones", """{"client":"c","device":"d","label":"l","voices":[null]}""", "voices", "This list cannot be used.")]
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
}
