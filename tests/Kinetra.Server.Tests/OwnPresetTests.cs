using System.Text;
using System.Text.Json.Nodes;

namespace Kinetra.Server.Tests;

/// <summary>Chains that people keep: named, described, used again in any show, and taken along as files.</summary>
public sealed class OwnPresetTests(RunningServer server) : IClassFixture<RunningServer>, IAsyncLifetime
{
    private const string Chain = """[{"id":"one","type":"lowCut","bypassed":false,"values":{"frequency":90},"keys":[]},{"id":"two","type":"compressor","bypassed":true,"values":{"ratio":3},"keys":["source/host"]}]""";

    public async ValueTask InitializeAsync() => await server.OpenFreshShowAsync();

    public ValueTask DisposeAsync() => ValueTask.CompletedTask;

    [Fact]
    public async Task A_chain_is_kept_used_in_a_chain_as_one_step_and_kept_over_a_restart()
    {
        var kept = await KeepAsync("Late night", "For speaking softly.");
        ((string)kept["chain"]![1]!["type"]!).ShouldBe("compressor");
        kept["chain"]![1]!["keys"]!.AsArray().ShouldBeEmpty();
        var (status, show) = await server.SendAsync(HttpMethod.Put, "/api/shows/LIVE/sources/record-shelf/chain", $$"""{"own":"{{kept["id"]}}"}""");
        status.ShouldBe(200);
        var chain = show["sources"]!.AsArray().Single(s => (string)s!["id"]! == "record-shelf")!["chain"]!.AsArray();
        chain.Select(p => (string)p!["type"]!).ShouldBe(["lowCut", "compressor"]);
        ((bool)chain[1]!["bypassed"]!).ShouldBeTrue();
        ((string)chain[0]!["id"]!).ShouldNotBe("one");
        ((string)show["toUndo"]!["sentence"]!).ShouldContain("Late night");

        // The same again in another place: its processors have identities of their own.
        (await server.SendAsync(HttpMethod.Put, "/api/shows/LIVE/mixes/viewers/chain", $$"""{"own":"{{kept["id"]}}"}""")).Status.ShouldBe(200);
        await server.StopAsync();
        await server.StartAsync();
        (await AllAsync()).ShouldContain(p => (string)p!["id"]! == (string)kept["id"]!);
    }

    [Fact]
    public async Task What_is_taken_out_as_a_file_comes_in_again_as_it_was_under_a_name_of_its_own()
    {
        var kept = await KeepAsync("Wärme – “dunkel”", "Zum Vorlesen.");
        using var answer = await server.Http.GetAsync($"/api/presets/{kept["id"]}/file", TestContext.Current.CancellationToken);
        var text = await answer.Content.ReadAsStringAsync(TestContext.Current.CancellationToken);
        answer.Content.Headers.ContentDisposition!.FileNameStar!.ShouldEndWith(".chain.json");
        text.ShouldContain("Wärme – “dunkel”");
        text.ShouldNotContain("\"id\"");
        var (status, again) = await server.SendAsync(HttpMethod.Post, "/api/presets/file", text);
        status.ShouldBe(200);
        ((string)again["name"]!).ShouldBe("Wärme – “dunkel” 2");
        ((string)again["says"]!).ShouldBe("Zum Vorlesen.");
        again["chain"]!.AsArray().Select(p => (p!["type"]!.ToJsonString(), p["values"]!.ToJsonString(), p["bypassed"]!.ToJsonString()))
            .ShouldBe(kept["chain"]!.AsArray().Select(p => (p!["type"]!.ToJsonString(), p["values"]!.ToJsonString(), p["bypassed"]!.ToJsonString())));
    }

    [Fact]
    public async Task It_gets_another_name_and_is_forgotten()
    {
        var kept = await KeepAsync("First", "");
        (await server.SendAsync(HttpMethod.Patch, $"/api/presets/{kept["id"]}", """{"name":"Second","says":"Better."}""")).Status.ShouldBe(200);
        (await AllAsync()).Single(p => (string)p!["id"]! == (string)kept["id"]!)!["name"]!.ToString().ShouldBe("Second");
        (await server.SendAsync(HttpMethod.Delete, $"/api/presets/{kept["id"]}")).Status.ShouldBe(204);
        (await server.SendAsync(HttpMethod.Delete, $"/api/presets/{kept["id"]}")).ShouldSayWhatWhereAndWhatIsAllowed(404, "preset");
        (await server.SendAsync(HttpMethod.Put, "/api/shows/LIVE/sources/host/chain", $$"""{"own":"{{kept["id"]}}"}""")).ShouldSayWhatWhereAndWhatIsAllowed(422, "own");
    }

    [Theory]
    [InlineData("""{"name":"","chain":[]}""", "name")]
    [InlineData("""{"name":"a","chain":[]}""", "chain")]
    [InlineData("""{"name":"a","chain":[{"id":"x","type":"toaster","bypassed":false,"values":{},"keys":[]}]}""", "chain[0].type")]
    [InlineData("""{"name":"a","chain":[{"id":"x","type":"lowCut","bypassed":false,"values":{"frequency":1},"keys":[]}]}""", "chain[0].values.frequency")]
    public async Task What_breaks_a_rule_is_not_kept(string body, string where) =>
        (await server.SendAsync(HttpMethod.Post, "/api/presets", body)).ShouldSayWhatWhereAndWhatIsAllowed(422, where);

    [Theory]
    [InlineData("nothing", "file")]
    [InlineData("{}", "format")]
    [InlineData("""{"format":"kinetra-chain","version":"9","name":"a","says":"","chain":[]}""", "format")]
    [InlineData("""{"format":"kinetra-chain","version":"1","name":"a","says":"","chain":[]}""", "chain")]
    [InlineData("""{"format":"kinetra-chain","version":"1","name":"a","says":"","chain":[null]}""", "chain[0].type")]
    [InlineData("""{"format":"kinetra-chain","version":"1","name":"a","says":"","chain":"loud"}""", "chain")]
    [InlineData("""{"format":"kinetra-chain","version":"1","name":"a","says":"","chain":[{"type":"lowCut","values":{"frequency":1e400}}]}""", "chain[0].values.frequency")]
    [InlineData("""{"format":"kinetra-chain","version":"1","name":"a","says":"","chain":[{"type":"lowCut","colour":3}]}""", "chain[0].colour")]
    public async Task A_file_that_is_none_is_refused_with_words(string file, string where) =>
        (await server.SendAsync(HttpMethod.Post, "/api/presets/file", file)).ShouldSayWhatWhereAndWhatIsAllowed(422, where);

    [Fact]
    public async Task A_file_that_is_too_large_is_refused_with_words()
    {
        using var request = new HttpRequestMessage(HttpMethod.Post, "/api/presets/file") { Content = new StringContent(new string(' ', 70_000), Encoding.UTF8, "application/json") };
        (await server.SendAsync(request)).ShouldSayWhatWhereAndWhatIsAllowed(422, "file");
    }

    private async Task<JsonNode> KeepAsync(string name, string says)
    {
        var body = new JsonObject { ["name"] = name, ["says"] = says, ["chain"] = JsonNode.Parse(Chain) };
        var (status, kept) = await server.SendAsync(HttpMethod.Post, "/api/presets", body.ToJsonString());
        status.ShouldBe(200);
        return kept;
    }

    private async Task<JsonArray> AllAsync() => (await server.SendAsync(HttpMethod.Get, "/api/presets")).Body.AsArray();
}
