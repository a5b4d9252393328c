using System.Net.WebSockets;
using System.Runtime.InteropServices;
using System.Text.Json.Nodes;

namespace Kinetra.Server.Tests;

/// <summary>The bench: what a source gave just now goes round through several chains, for those alone who listen to it.</summary>
public sealed class BenchTests(RunningServer server) : IClassFixture<RunningServer>, IAsyncLifetime
{
    private const string Loops = "/api/shows/LIVE/loops";
    private const string Quieter = """{"type":"utility","id":"quieter","bypassed":false,"values":{"gain":-12},"keys":[]}""";

    public async ValueTask InitializeAsync() => await server.OpenFreshShowAsync();

    public ValueTask DisposeAsync() => ValueTask.CompletedTask;

    [Fact]
    public async Task Half_a_minute_of_every_source_is_kept_as_it_goes_into_its_chain_and_a_stretch_of_it_is_taken()
    {
        var tone = await ToneAsync();
        await server.SendAsync(HttpMethod.Post, $"/api/shows/LIVE/sources/{tone}/chain", """{"type":"utility"}""");
        await server.StepAsync(32);
        var recent = (await server.SendAsync(HttpMethod.Get, "/api/shows/LIVE/recent")).Body.AsArray();
        recent.Count.ShouldBe((await server.ShowAsync())["sources"]!.AsArray().Count);
        recent.ShouldAllBe(r => Math.Abs((double)r!["seconds"]! - 30) < 0.01);
        var (status, loop) = await server.SendAsync(HttpMethod.Post, Loops, $$"""{"source":"{{tone}}","seconds":6}""");
        status.ShouldBe(200);
        ((string)loop["name"]!).ShouldBe("Loop");
        ((double)loop["seconds"]!).ShouldBe(5.98, 0.001);
        var variant = loop["variants"]!.AsArray().ShouldHaveSingleItem()!;
        ((string)variant["name"]!).ShouldBe("As it is now");
        ((string)variant["chain"]![0]!["type"]!).ShouldBe("utility");
        ((double)(await MeasuresAsync(loop))["plain"]!["loudness"]!).ShouldBe(-23.2, 0.5);
    }

    [Fact]
    public async Task What_was_given_since_a_moment_is_taken_too()
    {
        var tone = await ToneAsync();
        await server.StepAsync(1);
        var begun = (long)(await server.SendAsync(HttpMethod.Get, "/api/shows/LIVE/recent")).Body.AsArray().Single(r => (string)r!["source"]! == tone)!["until"]!;
        await server.StepAsync(6);
        var (_, loop) = await server.SendAsync(HttpMethod.Post, Loops, $$"""{"source":"{{tone}}","from":{{begun}},"name":"Since then"}""");
        ((double)loop["seconds"]!).ShouldBe(5.98, 0.01);
        ((string)loop["name"]!).ShouldBe("Since then");
    }

    [Fact]
    public async Task Variants_are_heard_as_loud_as_one_another_and_what_is_turned_is_heard_while_nobody_else_hears_any_of_it()
    {
        var (tone, loop) = await LoopAsync();
        var path = $"{Loops}/{loop["id"]}";
        var (_, two) = await server.SendAsync(HttpMethod.Post, $"{path}/variants", """{"name":"Quieter"}""");
        var quieter = (string)two["variants"]![1]!["id"]!;
        (await server.SendAsync(HttpMethod.Patch, $"{path}/variants/{quieter}", $$"""{"chain":[{{Quieter}}]}""")).Status.ShouldBe(200);
        var measures = await MeasuresAsync(loop);
        ((double)measures[quieter]!["loudness"]! - (double)measures["plain"]!["loudness"]!).ShouldBe(-12, 0.05);
        ((double)measures[quieter]!["gain"]!).ShouldBe(12, 0.05);
        ((double)measures["plain"]!["gain"]!).ShouldBe(0, 0.05);

        using var others = await server.ConnectAsync("/api/listen");
        await RunningServer.SendTextAsync(others, $$"""{"source":"{{tone}}"}""");
        using var ears = await server.ConnectAsync("/api/listen");
        await RunningServer.SendTextAsync(ears, $$$"""{"bench":{"loop":"{{{loop["id"]}}}","variant":"plain"}}""");
        (await PeakAsync(ears, p => Math.Abs(p + 20) < 0.1)).ShouldBe(-20, 0.1);
        await RunningServer.SendTextAsync(ears, $$$"""{"bench":{"loop":"{{{loop["id"]}}}","variant":"{{{quieter}}}"}}""");
        (await PeakAsync(ears, p => Math.Abs(p + 20) < 0.1)).ShouldBe(-20, 0.1);

        // Measured anew once it is stored; until then as much is made up for as before.
        (await server.SendAsync(HttpMethod.Patch, $"{path}/variants/{quieter}", $$"""{"chain":[{{Quieter.Replace("-12", "-18", StringComparison.Ordinal)}}]}""")).Status.ShouldBe(200);
        await MeasuresAsync(loop);
        (await PeakAsync(ears, p => Math.Abs(p + 20) < 0.1)).ShouldBe(-20, 0.1);
        var heard = 0;
        (await PeakAsync(others, _ => ++heard > 10)).ShouldBe(-20, 0.05);
    }

    [Fact]
    public async Task Where_the_order_of_a_variant_works_against_itself_is_told_with_it()
    {
        var (_, loop) = await LoopAsync();
        var variant = (string)loop["variants"]![0]!["id"]!;
        loop["variants"]![0]!["notes"]!.AsArray().ShouldBeEmpty();
        const string Room = """{"id":"room-1","type":"room"}""", Gate = """{"id":"gate-1","type":"gate"}""";
        var path = $"{Loops}/{loop["id"]}/variants/{variant}";
        var (_, changed) = await server.SendAsync(HttpMethod.Patch, path, $$"""{"chain":[{{Room}},{{Gate}}]}""");
        var note = changed["variants"]![0]!["notes"]!.AsArray().ShouldHaveSingleItem()!;
        ((string)note["processor"]!).ShouldBe("gate-1");
        ((string)note["words"]!).ShouldContain("cuts its tail off");
        (_, changed) = await server.SendAsync(HttpMethod.Patch, path, $$"""{"chain":[{{Gate}},{{Room}}]}""");
        changed["variants"]![0]!["notes"]!.AsArray().ShouldBeEmpty();
    }

    [Fact]
    public async Task A_loop_that_somebody_looks_at_runs_and_its_points_and_processors_are_looked_at_like_the_shows()
    {
        var (_, loop) = await LoopAsync();
        var variant = (string)loop["variants"]![0]!["id"]!;
        await server.SendAsync(HttpMethod.Patch, $"{Loops}/{loop["id"]}/variants/{variant}", $$"""{"chain":[{{Quieter}}]}""");
        using (var refused = await server.LookAsync("point", $"source/{variant}"))
        {
            ((string)JsonNode.Parse((await RunningServer.ReceiveAsync(refused)).Data)!["where"]!).ShouldBe("of");
        }

        using var look = await server.LookAsync("loop", (string)loop["id"]!);
        ((int)JsonNode.Parse((await RunningServer.ReceiveAsync(look)).Data)!["values"]!["frames"]!).ShouldBe((6 * 48_000) - 960);
        await server.StepAsync(0.5);
        using var after = await server.LookAsync("point", "stage/quieter");
        await server.StepAsync(0.5);
        float peak;
        do
        {
            peak = MemoryMarshal.Cast<byte, float>((await NextAsync(after)).Data.AsSpan(8))[4];
        }
        while (Math.Abs(peak + 32) > 0.1f);
    }

    [Fact]
    public async Task What_is_on_the_bench_is_applied_as_one_step_and_taken_back()
    {
        var (tone, loop) = await LoopAsync();
        var variant = (string)loop["variants"]![0]!["id"]!;
        await server.SendAsync(HttpMethod.Patch, $"{Loops}/{loop["id"]}/variants/{variant}", $$"""{"name":"Softer","chain":[{{Quieter}}]}""");
        ChainOf(await server.ShowAsync(), tone).ShouldBeEmpty();
        var (status, show) = await server.SendAsync(HttpMethod.Put, $"{Loops}/{loop["id"]}/variants/{variant}/apply");
        status.ShouldBe(200);
        var applied = ChainOf(show, tone).ShouldHaveSingleItem()!;
        ((double)applied["values"]!["gain"]!).ShouldBe(-12);
        ((string)applied["id"]!).ShouldNotBe("quieter");
        ((string)show["toUndo"]!["sentence"]!).ShouldContain("Softer");
        ChainOf((await server.UndoAsync()).Body, tone).ShouldBeEmpty();
    }

    [Fact]
    public async Task Two_are_compared_without_saying_which_is_which_and_at_the_end_it_is_told_with_how_sure_one_can_be()
    {
        var (_, loop) = await LoopAsync();
        var path = $"{Loops}/{loop["id"]}";
        var variant = (string)loop["variants"]![0]!["id"]!;
        var (_, begun) = await server.SendAsync(HttpMethod.Post, $"{path}/blind", $$"""{"first":"plain","second":"{{variant}}"}""");
        using var ears = await server.ConnectAsync("/api/listen");
        await RunningServer.SendTextAsync(ears, $$$"""{"bench":{"loop":"{{{loop["id"]}}}","blind":"{{{begun["id"]}}}","which":2}}""");
        (await PeakAsync(ears, p => Math.Abs(p + 20) < 0.1)).ShouldBe(-20, 0.1);

        // The one every time: if it were the same sound every time, that would be a choice. Once in half a million times it is.
        for (var round = 1; round <= 20; round++)
        {
            var (status, answer) = await server.SendAsync(HttpMethod.Post, $"{path}/blind/{begun["id"]}/choices", """{"better":1}""");
            status.ShouldBe(200);
            answer.AsObject().Select(p => p.Key).ShouldBe(["id", "rounds"]);
            ((int)answer["rounds"]!).ShouldBe(round);
        }

        var (_, result) = await server.SendAsync(HttpMethod.Post, $"{path}/blind/{begun["id"]}/end");
        ((int)result["rounds"]!).ShouldBe(20);
        ((int)result["choseFirst"]!).ShouldBeInRange(1, 19);
        ((string)result["words"]!).ShouldContain("of 20 times");
        (await server.SendAsync(HttpMethod.Post, $"{path}/blind/{begun["id"]}/end")).Status.ShouldBe(404);
    }

    [Fact]
    public async Task A_picture_of_a_variant_is_drawn_and_of_one_that_is_not_there_none()
    {
        var (_, loop) = await LoopAsync();
        var (status, picture) = await server.SendAsync(HttpMethod.Get, $"{Loops}/{loop["id"]}/pictures/plain");
        status.ShouldBe(200);
        Convert.FromBase64String((string)picture["levels"]!).Length.ShouldBe((int)picture["columns"]! * (int)picture["rows"]!);
        ((sbyte)Convert.FromBase64String((string)picture["most"]!).Order().ElementAt(100)).ShouldBe((sbyte)13);
        (await server.SendAsync(HttpMethod.Get, $"{Loops}/{loop["id"]}/pictures/nobody")).Status.ShouldBe(404);
    }

    [Theory]
    [InlineData("POST", "", """{"source":"TONE","seconds":4}""", 422, "seconds")]
    [InlineData("POST", "", """{"source":"TONE","seconds":31}""", 422, "seconds")]
    [InlineData("POST", "", """{"source":"TONE"}""", 422, "seconds")]
    [InlineData("POST", "", """{"source":"TONE","seconds":6,"from":0}""", 422, "seconds")]
    [InlineData("POST", "", """{"source":"TONE","from":99999999999}""", 422, "from")]
    [InlineData("POST", "", """{"source":"nobody","seconds":6}""", 404, "source")]
    [InlineData("POST", "", """{"source":"TONE","seconds":6,"name":""}""", 422, "name")]
    [InlineData("PATCH", "/LOOP", """{"name":" "}""", 422, "name")]
    [InlineData("PATCH", "/LOOP/variants/VARIANT", """{"chain":[{"id":"a","type":"utility","bypassed":false,"values":{"gain":999},"keys":[]}]}""", 422, "variants[0].chain[0].values.gain")]
    [InlineData("PATCH", "/LOOP/variants/VARIANT", """{"name":""}""", 422, "variants[0].name")]
    [InlineData("PATCH", "/LOOP/variants/nobody", """{"name":"a"}""", 404, "variant")]
    [InlineData("POST", "/LOOP/variants", """{"copyOf":"nobody"}""", 422, "copyOf")]
    [InlineData("POST", "/LOOP/variants", """{"preset":"nothing"}""", 422, "preset")]
    [InlineData("POST", "/LOOP/blind", """{"first":"plain","second":"plain"}""", 422, "second")]
    [InlineData("POST", "/LOOP/blind", """{"first":"plain","second":"nobody"}""", 422, "second")]
    [InlineData("POST", "/LOOP/blind/00000000-0000-0000-0000-000000000000/choices", """{"better":1}""", 404, "blind")]
    [InlineData("DELETE", "/00000000-0000-0000-0000-000000000000", null, 404, "loop")]
    [InlineData("PUT", "/LOOP/variants/nobody/apply", null, 404, "variant")]
    public async Task What_cannot_be_done_is_answered_with_words(string method, string path, string? body, int status, string where)
    {
        var (tone, loop) = await LoopAsync();
        path = path.Replace("LOOP", (string)loop["id"]!, StringComparison.Ordinal).Replace("VARIANT", (string)loop["variants"]![0]!["id"]!, StringComparison.Ordinal);
        (await server.SendAsync(new HttpMethod(method), Loops + path, body?.Replace("TONE", tone, StringComparison.Ordinal))).ShouldSayWhatWhereAndWhatIsAllowed(status, where);
    }

    [Theory]
    [InlineData("""{"bench":{"loop":"00000000-0000-0000-0000-000000000000","variant":"plain"}}""", "bench")]
    [InlineData("""{"bench":{"loop":"LOOP","variant":"nobody"}}""", "bench")]
    [InlineData("""{"bench":{"loop":"LOOP"}}""", "bench")]
    [InlineData("""{"bench":{"loop":"LOOP","variant":"plain"},"source":"host"}""", "message")]
    public async Task What_cannot_be_heard_of_it_is_refused_with_words(string wish, string where)
    {
        var (_, loop) = await LoopAsync();
        using var ears = await server.ConnectAsync("/api/listen");
        await RunningServer.SendTextAsync(ears, wish.Replace("LOOP", (string)loop["id"]!, StringComparison.Ordinal));
        var (type, data) = await RunningServer.ReceiveAsync(ears);
        type.ShouldBe(WebSocketMessageType.Text);
        ((string)JsonNode.Parse(data)!["where"]!).ShouldBe(where);
    }

    [Fact]
    public async Task There_are_eight_variants_and_no_more_and_one_that_is_removed_is_gone()
    {
        var (_, loop) = await LoopAsync();
        var path = $"{Loops}/{loop["id"]}/variants";
        for (var n = 2; n <= 8; n++)
        {
            (await server.SendAsync(HttpMethod.Post, path, $$"""{"copyOf":"{{loop["variants"]![0]!["id"]}}"}""")).Status.ShouldBe(200);
        }

        (await server.SendAsync(HttpMethod.Post, path, "{}")).ShouldSayWhatWhereAndWhatIsAllowed(422, "variants");
        var (status, after) = await server.SendAsync(HttpMethod.Delete, $"{path}/{loop["variants"]![0]!["id"]}");
        status.ShouldBe(200);
        after["variants"]!.AsArray().Select(v => (string)v!["name"]!).Distinct().Count().ShouldBe(7);
    }

    [Fact]
    public async Task Loops_variants_and_their_sound_are_there_after_a_restart_and_what_nobody_needs_is_swept_away()
    {
        var (_, loop) = await LoopAsync();
        var path = $"{Loops}/{loop["id"]}";
        await server.SendAsync(HttpMethod.Patch, path, """{"name":"Kept"}""");
        var variant = (string)loop["variants"]![0]!["id"]!;
        await server.SendAsync(HttpMethod.Patch, $"{path}/variants/{variant}", $$"""{"name":"Softer","chain":[{{Quieter}}]}""");
        var before = await MeasuresAsync(loop);
        var stray = Path.Combine(server.Data, "loops", $"{Guid.NewGuid():n}.f32");
        await File.WriteAllBytesAsync(stray, new byte[8], TestContext.Current.CancellationToken);
        await server.StopAsync();
        await server.StartAsync();
        var kept = (await server.SendAsync(HttpMethod.Get, Loops)).Body.AsArray().Single(l => (string)l!["id"]! == (string)loop["id"]!)!;
        ((string)kept["name"]!).ShouldBe("Kept");
        ((string)kept["variants"]![0]!["name"]!).ShouldBe("Softer");
        (await MeasuresAsync(loop)).ToJsonString().ShouldBe(before.ToJsonString());
        File.Exists(stray).ShouldBeFalse();
        (await server.SendAsync(HttpMethod.Delete, path)).Status.ShouldBe(204);
        Directory.EnumerateFiles(Path.Combine(server.Data, "loops")).ShouldNotContain(f => f.Contains(((string)loop["id"]!).Replace("-", "", StringComparison.Ordinal), StringComparison.Ordinal));
    }

    [Fact]
    public async Task Who_goes_round_beside_a_loop_is_kept_with_it_and_goes_with_it()
    {
        var tone = await ToneAsync();
        await server.StepAsync(9);
        var (status, loop) = await server.SendAsync(HttpMethod.Post, Loops, $$"""{"source":"{{tone}}","seconds":6,"beside":["record-shelf","record-shelf"]}""");
        status.ShouldBe(200);
        ((string)loop["beside"]!.AsArray().Single()!).ShouldBe("record-shelf");
        await server.StopAsync();
        await server.StartAsync();
        var kept = (await server.SendAsync(HttpMethod.Get, Loops)).Body.AsArray().Single(l => (string)l!["id"]! == (string)loop["id"]!)!;
        ((string)kept["beside"]![0]!).ShouldBe("record-shelf");
        (await MeasuresAsync(loop)).Count.ShouldBe(2);
        var id = ((string)loop["id"]!).Replace("-", "", StringComparison.Ordinal);
        Directory.EnumerateFiles(Path.Combine(server.Data, "loops")).Count(f => f.Contains(id, StringComparison.Ordinal)).ShouldBe(2);
        (await server.SendAsync(HttpMethod.Delete, $"{Loops}/{loop["id"]}")).Status.ShouldBe(204);
        Directory.EnumerateFiles(Path.Combine(server.Data, "loops")).ShouldNotContain(f => f.Contains(id, StringComparison.Ordinal));
        await server.StepAsync(7);
        foreach (var other in new[] { tone, "nobody" })
        {
            (await server.SendAsync(HttpMethod.Post, Loops, $$"""{"source":"{{tone}}","seconds":6,"beside":["{{other}}"]}""")).ShouldSayWhatWhereAndWhatIsAllowed(422, "beside");
        }
    }

    [Fact]
    public async Task As_a_mix_turns_them_is_how_they_are_heard_beside_a_loop_and_that_is_kept_with_it_too()
    {
        var tone = await ToneAsync();
        await server.StepAsync(9);
        async Task<(int Status, JsonNode Body)> TakeAsync(string mix) =>
            await server.SendAsync(HttpMethod.Post, Loops, $$"""{"source":"{{tone}}","seconds":6,"beside":["record-shelf"],"mix":"{{mix}}"}""");
        await SendAsync(tone, """{"heard":false}""");
        (await TakeAsync("viewers")).ShouldSayWhatWhereAndWhatIsAllowed(422, "mix");
        (await TakeAsync("nobody")).ShouldSayWhatWhereAndWhatIsAllowed(404, "mix");
        await SendAsync(tone, """{"heard":true,"gain":-12}""");
        await SendAsync("record-shelf", """{"heard":true,"gain":-6}""");
        var (status, loop) = await TakeAsync("viewers");
        status.ShouldBe(200);
        ((string)loop["mix"]!).ShouldBe("viewers");
        await server.StopAsync();
        await server.StartAsync();
        (await MeasuresAsync(loop)).Count.ShouldBe(2);

        // 6 dB more of the others: the file that is heard is twice the one that is listened to.
        var id = ((string)loop["id"]!).Replace("-", "", StringComparison.Ordinal);
        var (key, heard) = (Samples($"{id}-beside.f32"), Samples($"{id}-mixed.f32"));
        key.Max(Math.Abs).ShouldBeGreaterThan(0.001f);
        key.Zip(heard, (k, h) => Math.Abs((k * Math.Pow(10, 6 / 20.0)) - h)).Max().ShouldBeLessThan(1e-5);
        (await server.SendAsync(HttpMethod.Delete, $"{Loops}/{loop["id"]}")).Status.ShouldBe(204);
        Directory.EnumerateFiles(Path.Combine(server.Data, "loops")).ShouldNotContain(f => f.Contains(id, StringComparison.Ordinal));

        async Task SendAsync(string source, string body) => (await server.SendAsync(HttpMethod.Patch, $"/api/shows/LIVE/mixes/viewers/sends/{source}", body)).Status.ShouldBe(200);
        float[] Samples(string name) => MemoryMarshal.Cast<byte, float>(File.ReadAllBytes(Path.Combine(server.Data, "loops", name))).ToArray();
    }

    private async Task<(string Tone, JsonNode Loop)> LoopAsync()
    {
        var tone = await ToneAsync();
        await server.StepAsync(7);
        var (status, loop) = await server.SendAsync(HttpMethod.Post, Loops, $$"""{"source":"{{tone}}","seconds":6}""");
        status.ShouldBe(200);
        return (tone, loop);
    }

    private async Task<string> ToneAsync()
    {
        var (_, show) = await server.UploadAsync(AnalysisTests.Tone(0.1), "tone.wav", loop: true);
        await server.StepAsync(1);
        return (string)show["sources"]!.AsArray().Single(s => (string)s!["name"]! == "tone")!["id"]!;
    }

    private async Task<JsonObject> MeasuresAsync(JsonNode loop) =>
        new((await server.SendAsync(HttpMethod.Get, $"{Loops}/{loop["id"]}/measures")).Body.AsArray().Select(m => KeyValuePair.Create((string)m!["variant"]!, (JsonNode?)m.DeepClone())));

    private static JsonArray ChainOf(JsonNode show, string source) => show["sources"]!.AsArray().Single(s => (string)s!["id"]! == source)!["chain"]!.AsArray();

    // The next message, for which time goes on.
    private async Task<(WebSocketMessageType Type, byte[] Data)> NextAsync(ClientWebSocket socket)
    {
        var receiving = RunningServer.ReceiveAsync(socket);
        while (!receiving.IsCompleted)
        {
            await server.StepAsync(0.05);
        }

        return await receiving;
    }

    // The highest sample of the first message whose highest is as it is waited for.
    private async Task<double> PeakAsync(ClientWebSocket ears, Func<double, bool> isIt)
    {
        while (true)
        {
            var (type, data) = await NextAsync(ears);
            if (type == WebSocketMessageType.Binary)
            {
                var samples = MemoryMarshal.Cast<byte, float>(data.AsSpan(16));
                var peak = 0f;
                foreach (var x in samples)
                {
                    peak = Math.Max(peak, Math.Abs(x));
                }

                var decibels = 20 * Math.Log10(peak);
                if (samples.Length >= 512 && isIt(decibels))
                {
                    return decibels;
                }
            }
        }
    }
}
