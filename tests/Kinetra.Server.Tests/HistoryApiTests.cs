using System.Text.Json.Nodes;

namespace Kinetra.Server.Tests;

public sealed class HistoryApiTests(RunningServer server) : IClassFixture<RunningServer>, IAsyncLifetime
{
    private const string Send = "/api/shows/LIVE/mixes/viewers/sends/record-shelf";
    private static readonly (string, string)[] Mine = [("X-Window", "mine"), ("X-Window-Name", "A browser on a boat")];
    private static readonly (string, string)[] Other = [("X-Window", "other")];

    public ValueTask InitializeAsync() => server.OpenFreshShowAsync();

    public ValueTask DisposeAsync() => ValueTask.CompletedTask;

    [Fact]
    public async Task Undo_takes_back_the_last_step_of_whichever_window_and_redo_does_it_again()
    {
        await server.SendAsync(HttpMethod.Patch, Send, """{"gain":-13,"pan":0.1}""");
        var before = await server.ShowAsync();
        await server.SendAsync(HttpMethod.Patch, Send, """{"gain":-9.5}""", Mine);
        await server.SendAsync(HttpMethod.Patch, "/api/shows/LIVE/mixes/viewers", """{"name":"Public"}""", Other);

        var (_, undone) = await server.UndoAsync(Mine);
        ((string)undone["mixes"]![1]!["name"]!).ShouldBe("Viewers");
        ((string)undone["toRedo"]!["sentence"]!).ShouldBe("Took back: Viewers renamed to Public");
        var (_, all) = await server.UndoAsync(Other);
        Rig(all).ShouldBe(Rig(before));
        ((string?)all["toUndo"]?["sentence"]).ShouldBe((string?)before["toUndo"]?["sentence"]);

        await server.RedoAsync(Other);
        var (_, redone) = await server.RedoAsync(Other);
        ((string)redone["mixes"]![1]!["name"]!).ShouldBe("Public");
        var history = (JsonArray)(await server.SendAsync(HttpMethod.Get, "/api/shows/LIVE/history")).Body;
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
        await server.UndoAsync();
        await server.UndoAsync();
    }

    [Fact]
    public async Task A_step_that_is_no_longer_the_last_is_not_taken_back_unseen()
    {
        var (_, first) = await server.SendAsync(HttpMethod.Patch, Send, """{"pan":0.5}""", Mine);
        var seen = (long)first["toUndo"]!["revision"]!;
        await server.SendAsync(HttpMethod.Patch, "/api/shows/LIVE/mixes/viewers", """{"gain":-2}""", Other);
        var answer = await server.SendAsync(HttpMethod.Post, "/api/shows/LIVE/undo", $$"""{"step":{{seen}}}""", Mine);
        answer.ShouldSayWhatWhereAndWhatIsAllowed(409, "step");
        ((double)answer.Body["current"]!["mixes"]![1]!["gain"]!).ShouldBe(-2);
    }

    [Fact]
    public async Task What_was_done_before_a_restart_can_be_undone_after_it()
    {
        var before = Rig(await server.ShowAsync());
        await server.SendAsync(HttpMethod.Delete, "/api/shows/LIVE/sources/guest-call");
        await server.SendAsync(HttpMethod.Put, "/api/shows/LIVE/sources/sea-mic/place", """{"index":0}""");
        await server.SendAsync(HttpMethod.Post, "/api/shows/LIVE/mixes", """{"name":"Hall","purpose":"Other"}""");
        await server.SendAsync(HttpMethod.Put, "/api/shows/LIVE/mixes/viewers/place", """{"index":9}""");
        var (_, changed) = await server.SendAsync(HttpMethod.Delete, "/api/shows/LIVE/mixes/my-ears");
        changed["mixes"]!.AsArray().Select(m => (string)m!["name"]!).ShouldBe(["Guest hears", "Hall", "Viewers"]);
        ((string)changed["sources"]![0]!["name"]!).ShouldBe("Sea mic");
        await server.StopAsync();
        await server.StartAsync();
        for (var step = 0; step < 5; step++)
        {
            (await server.UndoAsync()).Status.ShouldBe(200);
        }

        Rig(await server.ShowAsync()).ShouldBe(before);
        await server.StepAsync(0.1);
    }

    [Fact]
    public async Task Two_changes_of_one_value_by_two_windows_are_shown_to_the_second_and_two_of_different_values_are_both_done()
    {
        var start = (long)(await server.ShowAsync())["revision"]!;
        await server.SendAsync(HttpMethod.Patch, $"{Send}?revision={start}", """{"gain":-3}""", Other);
        (await server.SendAsync(HttpMethod.Patch, $"{Send}?revision={start}", """{"muted":true}""", Mine)).Status.ShouldBe(200);
        var late = await server.SendAsync(HttpMethod.Patch, $"{Send}?revision={start}", """{"gain":-9}""", Mine);
        late.ShouldSayWhatWhereAndWhatIsAllowed(409, "revision");
        ((string)late.Body["step"]!["window"]!).ShouldBe("other");
        ((double)late.Body["yours"]!["gain"]!).ShouldBe(-9);

        // One's own last change is no surprise, even where its answer has not come back yet.
        (await server.SendAsync(HttpMethod.Patch, $"{Send}?revision={start}", """{"gain":-4}""", Other)).Status.ShouldBe(200);
    }

    [Fact]
    public async Task A_mix_is_copied_with_all_its_sends_and_bad_ones_are_refused_with_words()
    {
        var (_, show) = await server.SendAsync(HttpMethod.Post, "/api/shows/LIVE/mixes", """{"purpose":"Viewers","copyOf":"guest-hears"}""");
        var copy = show["mixes"]!.AsArray()[^1]!;
        var original = show["mixes"]!.AsArray().Single(m => (string)m!["id"]! == "guest-hears")!;
        copy["sends"]!.ToJsonString().ShouldBe(original["sends"]!.ToJsonString());
        ((string)copy["name"]!).ShouldBe("Guest hears 2");
        (await server.SendAsync(HttpMethod.Post, "/api/shows/LIVE/mixes", """{"purpose":"Viewers","copyOf":"x"}""")).ShouldSayWhatWhereAndWhatIsAllowed(404, "copyOf");
        (await server.SendAsync(HttpMethod.Post, "/api/shows/LIVE/mixes", """{"purpose":"Nobody"}""")).Status.ShouldBe(400);
        (await server.SendAsync(HttpMethod.Post, "/api/shows/LIVE/mixes", """{"purpose":"Other","name":"GUEST HEARS"}""")).Status.ShouldBe(422);
        (await server.SendAsync(HttpMethod.Put, "/api/shows/LIVE/mixes/x/place", """{"index":0}""")).ShouldSayWhatWhereAndWhatIsAllowed(404, "mix");
    }

    private static string Rig(JsonNode show) => show["sources"]!.ToJsonString() + show["mixes"]!.ToJsonString();
}
