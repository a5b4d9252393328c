using System.Net.WebSockets;
using System.Runtime.InteropServices;
using System.Text.Json.Nodes;

namespace Kinetra.Server.Tests;

/// <summary>What the workshop on a chain looks at: curves, spectra, and what each processor does.</summary>
public sealed class VoiceTests(RunningServer server) : IClassFixture<RunningServer>, IAsyncLifetime
{
    private const string Chain = "/api/shows/LIVE/sources/record-shelf/chain";

    public async ValueTask InitializeAsync() => await server.OpenFreshShowAsync();

    public ValueTask DisposeAsync() => ValueTask.CompletedTask;

    [Fact]
    public async Task A_curve_is_drawn_of_values_that_no_show_has_and_changes_nothing()
    {
        var before = (await server.ShowAsync()).ToJsonString();
        var (status, curve) = await server.SendAsync(HttpMethod.Post, "/api/processors/equaliser/curve", """{"values":{"frequency2":1000,"gain2":6,"q2":1}}""");
        status.ShouldBe(200);
        var response = curve["response"]!;
        var frequencies = response["frequencies"]!.AsArray().Select(f => (double)f!).ToList();
        var at = frequencies.IndexOf(frequencies.MinBy(f => Math.Abs(Math.Log(f / 1000))));
        ((double)response["decibels"]![at]!).ShouldBe(6, 0.1);
        response["parts"]!.AsArray().Count.ShouldBe(4);
        curve["transfer"].ShouldBeNull();
        (await server.ShowAsync()).ToJsonString().ShouldBe(before);
    }

    [Theory]
    [InlineData("equaliser", """{"values":{"gain2":99}}""", 422, "values.gain2", "−24")]
    [InlineData("equaliser", """{"values":{"colour":1}}""", 422, "values.colour", "gain2")]
    [InlineData("toaster", """{"values":{}}""", 404, "type", "equaliser")]
    [InlineData("equaliser", """{}""", 400, "", "")]
    [InlineData("equaliser", """{"values":null}""", 400, "", "")]
    public async Task What_cannot_be_drawn_is_answered_with_words(string type, string body, int status, string where, string allowed)
    {
        var (answered, problem) = await server.SendAsync(HttpMethod.Post, $"/api/processors/{type}/curve", body);
        answered.ShouldBe(status);
        var first = problem["problems"]![0]!;
        ((string)first["where"]!).ShouldStartWith(where);
        ((string)first["allowed"]!).Replace("-", "−", StringComparison.Ordinal).ShouldContain(allowed);
    }

    [Fact]
    public async Task Where_an_order_works_against_itself_is_told_until_it_does_no_more()
    {
        await AddAsync("compressor");
        var gate = await AddAsync("gate");
        var notes = (await server.SendAsync(HttpMethod.Get, "/api/shows/LIVE/chain-notes")).Body.AsArray();
        var chain = notes.ShouldHaveSingleItem()!;
        ((string)chain["place"]!).ShouldBe("source/record-shelf");
        var note = chain["notes"]!.AsArray().ShouldHaveSingleItem()!;
        ((string)note["processor"]!).ShouldBe(gate);
        ((string)note["words"]!).ShouldContain("louder room");
        (await server.SendAsync(HttpMethod.Put, $"{Chain}/{gate}/place", """{"index":0}""")).Status.ShouldBe(200);
        (await server.SendAsync(HttpMethod.Get, "/api/shows/LIVE/chain-notes")).Body.AsArray().ShouldBeEmpty();
        (await server.SendAsync(HttpMethod.Get, $"/api/shows/{Guid.NewGuid()}/chain-notes")).Status.ShouldBe(409);
    }

    [Fact]
    public async Task The_spectrum_of_a_tone_before_and_after_a_processor_says_what_it_does_to_it()
    {
        var tone = await ToneAsync();
        var (_, show) = await server.SendAsync(HttpMethod.Post, $"/api/shows/LIVE/sources/{tone}/chain", """{"type":"equaliser"}""");
        var equaliser = Chained(show, tone)[0];
        (await server.SendAsync(HttpMethod.Patch, $"/api/shows/LIVE/sources/{tone}/chain/{equaliser}", """{"values":{"frequency2":750,"gain2":-12,"q2":1}}""")).Status.ShouldBe(200);
        await server.StepAsync(0.1);
        using var before = await server.LookAsync("spectrum", $"source/{tone}/before");
        using var after = await server.LookAsync("spectrum", $"stage/{equaliser}");
        var layout = JsonNode.Parse((await RunningServer.ReceiveAsync(before)).Data)!["values"]!;
        ((string)layout["window"]!).ShouldBe("von Hann");
        var frequencies = layout["frequencies"]!.AsArray().Select(f => (double)f!).ToList();
        var at = frequencies.IndexOf(frequencies.MinBy(f => Math.Abs(Math.Log(f / 750))));

        // The looks have begun; after some of them all that is averaged is of the tone.
        await RunningServer.ReceiveAsync(after);
        float[] loud = [], soft = [];
        for (var n = 0; n < 15; n++)
        {
            await server.StepAsync(0.2);
            (loud, soft) = (await ValuesAsync(before, frequencies.Count), await ValuesAsync(after, frequencies.Count));
        }

        loud[at].ShouldBe(-20, 0.1f);
        soft[at].ShouldBe(-32, 0.1f);
    }

    [Fact]
    public async Task What_a_processor_changes_alone_has_a_spectrum_of_its_own_and_how_both_sides_belong_together_is_told()
    {
        var tone = await ToneAsync();
        var (_, show) = await server.SendAsync(HttpMethod.Post, $"/api/shows/LIVE/sources/{tone}/chain", """{"type":"exciter"}""");
        var exciter = Chained(show, tone)[0];
        (await server.SendAsync(HttpMethod.Patch, $"/api/shows/LIVE/sources/{tone}/chain/{exciter}", """{"values":{"highFrequency":1000,"highAmount":100}}""")).Status.ShouldBe(200);
        await server.StepAsync(0.1);
        using var after = await server.LookAsync("spectrum", $"stage/{exciter}");
        using var change = await server.LookAsync("spectrum", $"change/{exciter}");
        var frequencies = JsonNode.Parse((await RunningServer.ReceiveAsync(after)).Data)!["values"]!["frequencies"]!.AsArray().Select(f => (double)f!).ToList();
        await RunningServer.ReceiveAsync(change);
        float[] all = [], added = [];
        for (var n = 0; n < 15; n++)
        {
            await server.StepAsync(0.2);
            (all, added) = (await ValuesAsync(after, frequencies.Count), await ValuesAsync(change, frequencies.Count));
        }

        // The tone is not among what is added; its harmonics are, as loud as they come out.
        var most = Array.IndexOf(added, added.Max());
        frequencies[most].ShouldBeGreaterThan(1_300);
        added[most].ShouldBeGreaterThan(-60);
        added[most].ShouldBe(all[most], 1);
        all.Max().ShouldBeGreaterThan(added[most] + 5);
        using var nothing = await server.LookAsync("spectrum", "change/nobody");
        ((string)JsonNode.Parse((await RunningServer.ReceiveAsync(nothing)).Data)!["where"]!).ShouldBe("of");

        using var stereo = await server.LookAsync("stereo", $"stage/{exciter}");
        await server.StepAsync(3);
        var reading = await ValuesAsync(stereo, 4);
        reading[0].ShouldBe(1, 1e-4f);
        reading[1].ShouldBeLessThan(-60);
        reading[2].ShouldBeLessThan(-60);
    }

    [Fact]
    public async Task What_a_processor_does_is_told_block_by_block_and_a_chain_that_is_moved_goes_on_being_told()
    {
        var tone = await ToneAsync();
        var (_, show) = await server.SendAsync(HttpMethod.Post, $"/api/shows/LIVE/sources/{tone}/chain", """{"type":"compressor"}""");
        var compressor = Chained(show, tone)[0];
        (await server.SendAsync(HttpMethod.Patch, $"/api/shows/LIVE/sources/{tone}/chain/{compressor}", """{"values":{"threshold":-40,"ratio":2,"knee":0,"attack":0.1,"release":500}}""")).Status.ShouldBe(200);
        await server.StepAsync(0.1);
        using var look = await server.LookAsync("dynamics", compressor);
        ((int)JsonNode.Parse((await RunningServer.ReceiveAsync(look)).Data)!["values"]!["blockFrames"]!).ShouldBe(256);
        var block = await BlockAfterAsync(look, 0.3);
        block[0].ShouldBe(-20, 0.1f);
        block[1].ShouldBe(10, 0.3f);
        block[2].ShouldBe(-20, 0.1f);
        block[3].ShouldBe(-30, 0.3f);
        block[4].ShouldBe(-10, 0.3f);
        (await server.SendAsync(HttpMethod.Post, $"/api/shows/LIVE/sources/{tone}/chain", """{"type":"utility","index":0}""")).Status.ShouldBe(200);
        (await BlockAfterAsync(look, 0.3))[1].ShouldBe(10, 0.3f);
    }

    [Fact]
    public async Task A_processor_that_was_added_just_now_can_be_looked_at_before_the_engine_has_come_to_it()
    {
        // On the stepped clock the engine comes to it only with the next step.
        var compressor = await AddAsync("compressor");
        foreach (var (topic, of) in new[] { ("spectrum", $"stage/{compressor}"), ("dynamics", compressor) })
        {
            using var look = await server.LookAsync(topic, of);
            ((uint)JsonNode.Parse((await RunningServer.ReceiveAsync(look)).Data)!["layout"]!).ShouldBe(1u);
            var receiving = RunningServer.ReceiveAsync(look);
            while (!receiving.IsCompleted)
            {
                await server.StepAsync(0.1);
            }

            (await receiving).Type.ShouldBe(WebSocketMessageType.Binary);
        }
    }

    [Fact]
    public async Task Who_auditions_a_chain_without_itself_hears_it_as_loud_as_with_it_and_is_told_the_difference()
    {
        var tone = await ToneAsync();
        var (_, show) = await server.SendAsync(HttpMethod.Post, $"/api/shows/LIVE/sources/{tone}/chain", """{"type":"utility"}""");
        var utility = Chained(show, tone)[0];
        (await server.SendAsync(HttpMethod.Patch, $"/api/shows/LIVE/sources/{tone}/chain/{utility}", """{"values":{"gain":-12}}""")).Status.ShouldBe(200);
        await server.StepAsync(1);
        using var ears = await server.ConnectAsync("/api/listen");

        // The plain sound first: from one to the other it fades, and nothing is held up.
        await RunningServer.SendTextAsync(ears, $$"""{"source":"{{tone}}"}""");
        (await HeardAsync(ears, _ => true)).Peak.ShouldBe(-32, 0.2);
        await RunningServer.SendTextAsync(ears, $$$"""{"audition":{"place":"source/{{{tone}}}","kind":"Without"}}""");
        (await HeardAsync(ears, d => d is not null)).Difference!.Value.ShouldBe(-12, 0.1);
        (await HeardAsync(ears, _ => true)).Peak.ShouldBe(-32, 0.2);
        await RunningServer.SendTextAsync(ears, $$$"""{"audition":{"place":"source/{{{tone}}}","kind":"Without","processor":"{{{utility}}}"}}""");
        (await HeardAsync(ears, d => d is not null)).Difference!.Value.ShouldBe(-12, 0.1);
        await RunningServer.SendTextAsync(ears, $$"""{"source":"{{tone}}"}""");
        (await HeardAsync(ears, _ => true)).Peak.ShouldBe(-32, 0.2);
    }

    [Theory]
    [InlineData("""{"audition":{"place":"source/nobody","kind":"Without"}}""", "audition")]
    [InlineData("""{"audition":{"place":"source/record-shelf","kind":"Change"}}""", "audition")]
    [InlineData("""{"audition":{"place":"source/record-shelf","kind":"Part","processor":"nobody","part":1}}""", "audition")]
    [InlineData("""{"audition":{"place":"source/record-shelf","kind":"Louder"}}""", "message")]
    [InlineData("""{"audition":{"place":"stage/x","kind":"Without"}}""", "message")]
    [InlineData("""{"mix":"viewers","audition":{"place":"source/record-shelf","kind":"Without"}}""", "message")]
    public async Task What_cannot_be_auditioned_is_answered_with_words(string wish, string where)
    {
        using var ears = await server.ConnectAsync("/api/listen");
        await RunningServer.SendTextAsync(ears, wish);
        var (type, data) = await RunningServer.ReceiveAsync(ears);
        type.ShouldBe(WebSocketMessageType.Text);
        var words = JsonNode.Parse(data)!;
        ((string)words["where"]!).ShouldBe(where);
        ((string)words["what"]!).ShouldNotBeNullOrWhiteSpace();
        ((string)words["allowed"]!).ShouldNotBeNullOrWhiteSpace();
    }

    [Fact]
    public async Task A_processor_and_a_chain_are_copied_as_others_of_their_own_and_all_of_a_chain_is_bypassed_as_one_step()
    {
        var gate = await AddAsync("gate");
        (await server.SendAsync(HttpMethod.Patch, $"{Chain}/{gate}", """{"values":{"threshold":-33}}""")).Status.ShouldBe(200);
        var (status, show) = await server.SendAsync(HttpMethod.Post, Chain, $$"""{"copyOf":"{{gate}}","index":0}""");
        status.ShouldBe(200);
        var chain = ChainNode(show, "record-shelf");
        ((double)chain[0]!["values"]!["threshold"]!).ShouldBe(-33);
        ((string)chain[0]!["id"]!).ShouldNotBe(gate);
        (status, show) = await server.SendAsync(HttpMethod.Put, "/api/shows/LIVE/mixes/viewers/chain", """{"copyOf":"source/record-shelf"}""");
        status.ShouldBe(200);
        show["mixes"]!.AsArray().Single(m => (string)m!["id"]! == "viewers")!["chain"]!.AsArray().Select(p => (string)p!["id"]!).ShouldNotContain(gate);
        (status, show) = await server.SendAsync(HttpMethod.Put, $"{Chain}/bypass", """{"bypassed":true}""");
        status.ShouldBe(200);
        ChainNode(show, "record-shelf").ShouldAllBe(p => (bool)p!["bypassed"]!);
        var step = (long)show["toUndo"]!["revision"]!;
        (status, show) = await server.SendAsync(HttpMethod.Post, "/api/shows/LIVE/undo", $$"""{"step":{{step}}}""");
        status.ShouldBe(200);
        ChainNode(show, "record-shelf").ShouldAllBe(p => !(bool)p!["bypassed"]!);
    }

    [Theory]
    [InlineData("POST", "", """{"type":"gate","copyOf":"x"}""", "type")]
    [InlineData("POST", "", "{}", "type")]
    [InlineData("POST", "", """{"copyOf":"nobody"}""", "copyOf")]
    [InlineData("PUT", "", """{"copyOf":"source/nobody"}""", "copyOf")]
    [InlineData("PUT", "", """{"copyOf":"cable/x"}""", "copyOf")]
    [InlineData("PUT", "", """{"copyOf":"source/host-mic","preset":"voiceClose"}""", "preset")]
    [InlineData("PUT", "/bypass", """{"bypassed":true}""", "chain")]
    public async Task What_cannot_be_copied_or_bypassed_is_answered_with_words(string method, string path, string body, string where)
    {
        var (status, problem) = await server.SendAsync(new HttpMethod(method), Chain + path, body);
        status.ShouldBe(422);
        ((string)problem["problems"]![0]!["where"]!).ShouldBe(where);
    }

    // Steps until what comes back says so: the highest sample of the last sound that came, dBFS, and the last difference that was told.
    private async Task<(double Peak, double? Difference)> HeardAsync(ClientWebSocket ears, Func<double?, bool> enough)
    {
        double? difference = null;
        var peak = double.NegativeInfinity;
        var sounds = 0;
        while (sounds < 30 || !enough(difference))
        {
            var receiving = RunningServer.ReceiveAsync(ears);
            while (!receiving.IsCompleted)
            {
                await server.StepAsync(0.05);
            }

            var (type, data) = await receiving;
            if (type == WebSocketMessageType.Text)
            {
                difference = (double)JsonNode.Parse(data)!["difference"]!;
                continue;
            }

            sounds++;
            peak = 20 * Math.Log10(MemoryMarshal.Cast<byte, float>(data.AsSpan(16)).ToArray().Max(Math.Abs) + 1e-9);
        }

        return (peak, difference);
    }

    private static JsonArray ChainNode(JsonNode show, string source) => show["sources"]!.AsArray().Single(s => (string)s!["id"]! == source)!["chain"]!.AsArray();

    private async Task<string> AddAsync(string type)
    {
        var (status, show) = await server.SendAsync(HttpMethod.Post, Chain, $$"""{"type":"{{type}}"}""");
        status.ShouldBe(200);
        return Chained(show, "record-shelf")[^1];
    }

    // 750 Hz at −20 dBFS.
    private async Task<string> ToneAsync()
    {
        var (_, show) = await server.UploadAsync(AnalysisTests.Tone(0.1), "tone.wav", loop: true);
        await server.StepAsync(1);
        return (string)show["sources"]!.AsArray().Single(s => (string)s!["name"]! == "tone")!["id"]!;
    }

    private static List<string> Chained(JsonNode show, string source) =>
        [.. show["sources"]!.AsArray().Single(s => (string)s!["id"]! == source)!["chain"]!.AsArray().Select(p => (string)p!["id"]!)];

    // It goes on stepping until values come: a look joins a chain only when it is looked again, and on a busy machine that is after any step.
    private async Task<float[]> ValuesAsync(ClientWebSocket socket, int count)
    {
        var receiving = RunningServer.ReceiveAsync(socket);
        while (!receiving.IsCompleted)
        {
            await server.StepAsync(0.1);
        }

        var (type, data) = await receiving;
        type.ShouldBe(WebSocketMessageType.Binary);
        var values = MemoryMarshal.Cast<byte, float>(data.AsSpan(16)).ToArray();
        values.Length.ShouldBe(count);
        return values;
    }

    // The last block of the first values that are of a time so much later than now. It goes on stepping meanwhile: a look joins a chain that
    // was moved only when it is looked again, and on a busy machine that is after any step.
    private async Task<float[]> BlockAfterAsync(ClientWebSocket socket, double seconds)
    {
        var (status, clock) = await server.SendAsync(HttpMethod.Post, "/api/clock/steps", """{"frames":256}""");
        status.ShouldBe(200);
        var from = (long)clock["frame"]! + (seconds * 48_000);
        while (true)
        {
            var receiving = RunningServer.ReceiveAsync(socket);
            while (!receiving.IsCompleted)
            {
                await server.StepAsync(0.1);
            }

            var (type, data) = await receiving;
            type.ShouldBe(WebSocketMessageType.Binary);
            if (BitConverter.ToDouble(data, 8) >= from)
            {
                return MemoryMarshal.Cast<byte, float>(data.AsSpan(16)).ToArray()[^6..];
            }
        }
    }
}
