using System.Text.Json.Nodes;

namespace Kinetra.Server.Tests;

public class HistoryApiTests(RunningServer server) : IClassFixture<RunningServer>
{
    private const string Send = "/api/show/mixes/viewers/sends/record-shelf";
    private static readonly (string, string)[] Mine = [("X-Window", "mine"), ("X-Window-Name", "A browser on a boat")];
    private static readonly (string, string)[] Other = [("X-Window", "other")];

    [Fact]
    public async Task Undo_takes_back_the_last_step_of_whichever_window_and_redo_does_it_again()
    {
        await server.SendAsync(HttpMethod.Patch, Send, """{"gain":-13,"pan":0.1}""");
        var before = await server.ShowAsync();
        await server.SendAsync(HttpMethod.Patch, Send, """{"gain":-9.5}""", Mine);
        await server.SendAsync(HttpMethod.Patch, "/api/show/mixes/viewers", """{"name":"Public"}""", Other);

        var (_, undone) = await server.SendAsync(HttpMethod.Post, "/api/show/undo", "{}", Mine);
        ((string)undone["mixes"]![1]!["name"]!).ShouldBe("Viewers");
        ((string)undone["toRedo"]!["sentence"]!).ShouldBe("Took back: Viewers renamed to Public");
        var (_, all) = await server.SendAsync(HttpMethod.Post, "/api/show/undo", "{}", Other);
        Rig(all).ShouldBe(Rig(before));
        ((string?)all["toUndo"]?["sentence"]).ShouldBe((string?)before["toUndo"]?["sentence"]);

        await server.SendAsync(HttpMethod.Post, "/api/show/redo", "{}", Other);
        var (_, redone) = await server.SendAsync(HttpMethod.Post, "/api/show/redo", "{}", Other);
        ((string)redone["mixes"]![1]!["name"]!).ShouldBe("Public");
        var history = (JsonArray)(await server.SendAsync(HttpMethod.Get, "/api/show/history")).Body;
        history.Take(6).Select(l => (string)l!["sentence"]!).ShouldBe(
        [
            "Did again: Viewers renamed to Public",
            "Did again: Record shelf in Viewers −13.0 → −9.5 dB",
            "Took back: Record shelf in Viewers −13.0 → −9.5 dB",
            "Took back: Viewers renamed to Public",
            "Viewers renamed to Public",
            "Record shelf in Viewers −13.0 → −9.5 dB",
        ]);
        ((string)history[5]!["windowName"]!).ShouldBe("A browser on a boat");
        ((string)history[2]!["window"]!).ShouldBe("other");
        await server.SendAsync(HttpMethod.Post, "/api/show/undo", "{}");
        await server.SendAsync(HttpMethod.Post, "/api/show/undo", "{}");
    }

    [Fact]
    public async Task A_step_that_is_no_longer_the_last_is_not_taken_back_unseen()
    {
        var (_, first) = await server.SendAsync(HttpMethod.Patch, Send, """{"pan":0.5}""", Mine);
        var seen = (long)first["toUndo"]!["revision"]!;
        await server.SendAsync(HttpMethod.Patch, "/api/show/mixes/viewers", """{"gain":-2}""", Other);
        var answer = await server.SendAsync(HttpMethod.Post, "/api/show/undo", $$"""{"revision":{{seen}}}""", Mine);
        answer.ShouldSayWhatWhereAndWhatIsAllowed(409, "revision");
        ((double)answer.Body["current"]!["mixes"]![1]!["gain"]!).ShouldBe(-2);
    }

    [Fact]
    public async Task What_was_done_before_a_restart_can_be_undone_after_it()
    {
        var before = Rig(await server.ShowAsync());
        await server.SendAsync(HttpMethod.Delete, "/api/show/sources/guest-call");
        await server.SendAsync(HttpMethod.Put, "/api/show/sources/sea-mic/place", """{"index":0}""");
        await server.SendAsync(HttpMethod.Post, "/api/show/mixes", """{"name":"Hall","purpose":"Other"}""");
        await server.SendAsync(HttpMethod.Put, "/api/show/mixes/viewers/place", """{"index":9}""");
        var (_, changed) = await server.SendAsync(HttpMethod.Delete, "/api/show/mixes/my-ears");
        changed["mixes"]!.AsArray().Select(m => (string)m!["name"]!).ShouldBe(["Guest hears", "Hall", "Viewers"]);
        ((string)changed["sources"]![0]!["name"]!).ShouldBe("Sea mic");
        await server.StopAsync();
        await server.StartAsync();
        for (var step = 0; step < 5; step++)
        {
            (await server.SendAsync(HttpMethod.Post, "/api/show/undo", "{}")).Status.ShouldBe(200);
        }

        Rig(await server.ShowAsync()).ShouldBe(before);
        await server.StepAsync(0.1);
    }

    [Fact]
    public async Task Two_changes_of_one_value_by_two_windows_are_shown_to_the_second_and_two_of_different_values_are_both_done()
    {
        var start = (long)(await server.ShowAsync())["revision"]!;
        await server.SendAsync(HttpMethod.Patch, Send, $$"""{"gain":-3,"baseRevision":{{start}}}""", Other);
        (await server.SendAsync(HttpMethod.Patch, Send, $$"""{"muted":true,"baseRevision":{{start}}}""", Mine)).Status.ShouldBe(200);
        var late = await server.SendAsync(HttpMethod.Patch, Send, $$"""{"gain":-9,"baseRevision":{{start}}}""", Mine);
        late.ShouldSayWhatWhereAndWhatIsAllowed(409, "baseRevision");
        ((string)late.Body["step"]!["window"]!).ShouldBe("other");
        ((double)late.Body["yours"]!["gain"]!).ShouldBe(-9);

        // One's own last change is no surprise, even where its answer has not come back yet.
        (await server.SendAsync(HttpMethod.Patch, Send, $$"""{"gain":-4,"baseRevision":{{start}}}""", Other)).Status.ShouldBe(200);
    }

    [Fact]
    public async Task A_mix_is_copied_with_all_its_sends_and_bad_ones_are_refused_with_words()
    {
        var (_, show) = await server.SendAsync(HttpMethod.Post, "/api/show/mixes", """{"purpose":"Viewers","copyOf":"guest-hears"}""");
        var copy = show["mixes"]!.AsArray()[^1]!;
        var original = show["mixes"]!.AsArray().Single(m => (string)m!["id"]! == "guest-hears")!;
        copy["sends"]!.ToJsonString().ShouldBe(original["sends"]!.ToJsonString());
        ((string)copy["name"]!).ShouldBe("Guest hears 2");
        (await server.SendAsync(HttpMethod.Post, "/api/show/mixes", """{"purpose":"Viewers","copyOf":"x"}""")).ShouldSayWhatWhereAndWhatIsAllowed(404, "copyOf");
        (await server.SendAsync(HttpMethod.Post, "/api/show/mixes", """{"purpose":"Nobody"}""")).Status.ShouldBe(400);
        (await server.SendAsync(HttpMethod.Post, "/api/show/mixes", """{"purpose":"Other","name":"GUEST HEARS"}""")).Status.ShouldBe(422);
        (await server.SendAsync(HttpMethod.Put, "/api/show/mixes/x/place", """{"index":0}""")).ShouldSayWhatWhereAndWhatIsAllowed(404, "mix");
    }

    private static string Rig(JsonNode show) => show["sources"]!.ToJsonString() + show["mixes"]!.ToJsonString();
}
