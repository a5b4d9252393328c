using System.Buffers.Binary;
using System.Net;
using System.Net.Sockets;
using System.Text;
using System.Text.Json.Nodes;
using Kinetra.Core.Hands;
using Kinetra.Server.Features.Hands;

namespace Kinetra.Server.Tests;

/// <summary>Hands that come without a window: commands over HTTP and messages of Open Sound Control do what the table says, and nobody else's do anything.</summary>
public sealed class HandTests(RunningServer server) : IClassFixture<RunningServer>, IAsyncLifetime
{
    private static CancellationToken Cancel => TestContext.Current.CancellationToken;

    public async ValueTask InitializeAsync()
    {
        await server.OpenFreshShowAsync();
        await server.SendAsync(HttpMethod.Put, "/api/hush", """{"on":false}""");
        await server.SendAsync(HttpMethod.Delete, "/api/hands/holds");
    }

    public ValueTask DisposeAsync() => ValueTask.CompletedTask;

    [Fact]
    public async Task A_command_is_done_with_the_token_alone_and_with_an_old_one_no_more()
    {
        (await server.SendAsync(HttpMethod.Delete, "/api/hands/token")).Status.ShouldBe(204);
        var (status, body) = await server.SendAsync(HttpMethod.Post, "/api/do/hush?value=on");
        status.ShouldBe(401);
        body.ToJsonString().ShouldContain("switched off");
        var token = await TokenAsync();
        (await server.SendAsync(HttpMethod.Post, "/api/do/hush?value=on&token=wrong")).Status.ShouldBe(401);
        (await HushedAsync()).ShouldBeFalse();
        (await server.SendAsync(HttpMethod.Post, $"/api/do/hush?value=on&token={token}")).Status.ShouldBe(204);
        (await HushedAsync()).ShouldBeTrue();
        (await server.SendAsync(HttpMethod.Get, "/api/do/hush", null, ("Authorization", $"Bearer {token}"))).Status.ShouldBe(204);
        (await HushedAsync()).ShouldBeFalse();
        await TokenAsync();
        (await server.SendAsync(HttpMethod.Post, $"/api/do/hush?token={token}")).Status.ShouldBe(401);
        (await HushedAsync()).ShouldBeFalse();

        // It is told once, and stands nowhere.
        (await server.SendAsync(HttpMethod.Get, "/api/hands")).Body.ToJsonString().ShouldNotContain(token);
        (await File.ReadAllTextAsync(Path.Combine(server.Data, "hands.json"), Cancel)).ShouldNotContain(token);
    }

    [Theory]
    [InlineData("no/such/thing", 404, "address")]
    [InlineData("mix/nobody/level?value=0", 404, "mix")]
    [InlineData("mix/viewers/level", 422, "value")]
    [InlineData("mix/viewers/level?value=99", 422, "value")]
    [InlineData("hush?value=perhaps", 422, "value")]
    [InlineData("pad/none/press", 404, "pad")]
    [InlineData("cue/next", 422, "cues")]
    [InlineData("palette", 404, "address")]
    public async Task A_command_that_cannot_be_done_is_told_with_what_where_and_what_is_allowed(string command, int status, string where)
    {
        var token = await TokenAsync();
        (await server.SendAsync(HttpMethod.Post, $"/api/do/{command}{(command.Contains('?') ? "&" : "?")}token={token}")).ShouldSayWhatWhereAndWhatIsAllowed(status, where);
    }

    [Fact]
    public async Task A_source_is_docked_and_muted_by_name_and_each_is_a_step_that_undo_takes_back()
    {
        var token = await TokenAsync();
        var source = (await server.ShowAsync())["sources"]![0]!;
        var (id, name) = ((string)source["id"]!, (string)source["name"]!);
        await DoAsync($"mix/viewers/source/{Uri.EscapeDataString(name)}/dock?value=on", token);
        (await SendAsync("viewers", id))["heard"]!.GetValue<bool>().ShouldBeFalse();
        ((string)(await server.ShowAsync())["toUndo"]!["windowName"]!).ShouldBe("A command");
        await DoAsync("undo", token);
        (await SendAsync("viewers", id))["heard"]!.GetValue<bool>().ShouldBeTrue();
        await DoAsync($"mix/viewers/source/{id}/mute", token);
        (await SendAsync("viewers", id))["muted"]!.GetValue<bool>().ShouldBeTrue();
    }

    [Fact]
    public async Task A_level_that_is_moved_is_heard_at_once_and_is_one_step_however_many_values_came()
    {
        var token = await TokenAsync();
        var id = (string)(await server.ShowAsync())["sources"]![0]!["id"]!;
        var before = (long)(await server.ShowAsync())["revision"]!;
        foreach (var value in new[] { -3, -6, -9, -12 })
        {
            await DoAsync($"mix/viewers/source/{id}/level?value={value}", token);
        }

        await DoAsync($"mix/viewers/source/{id}/step?value=-1", token);

        // Undo lets it rest first, and takes back all of it.
        await DoAsync($"mix/viewers/source/{id}/mute?value=on", token);
        var show = await server.ShowAsync();
        ((long)show["revision"]!).ShouldBe(before + 2);
        (await SendAsync("viewers", id))["gain"]!.GetValue<double>().ShouldBe(-13);
    }

    [Fact]
    public async Task A_level_that_moves_while_the_server_ends_is_stored()
    {
        var token = await TokenAsync();
        var id = (string)(await server.ShowAsync())["sources"]![0]!["id"]!;
        await DoAsync($"mix/viewers/source/{id}/level?value=-17", token);
        await server.StopAsync();
        await server.StartAsync();
        (await SendAsync("viewers", id))["gain"]!.GetValue<double>().ShouldBe(-17);
    }

    [Theory]
    [InlineData("hands.json", """{"Osc":true,"OscPort":70000}""")]
    [InlineData("hands.json", """{"Osc":true,"OscPort":""")]
    [InlineData("second-screen.json", """{"On":true,"Port":-4,"Hash":"AA==","Salt":"AA==","Addresses":["127.0.0.1"]}""")]
    [InlineData("second-screen.json", """{"On":true,"Port":5872,"Hash":"no hash","Salt":"?","Addresses":["127.0.0.1","nowhere"]}""")]
    [InlineData("second-screen.json", "null")]
    [InlineData("pads-at-hand.json", """{"x":3}""")]
    public async Task A_note_that_somebody_has_damaged_keeps_nobody_from_starting_and_opens_nothing(string file, string content)
    {
        await server.StopAsync();
        var path = Path.Combine(server.Data, file);
        await File.WriteAllTextAsync(path, content, Cancel);
        try
        {
            await server.StartAsync();
            (await OscAsync())["on"]!.GetValue<bool>().ShouldBeFalse();
            (await server.SendAsync(HttpMethod.Get, "/api/second-screen")).Body["on"]!.GetValue<bool>().ShouldBeFalse();
            (await server.SendAsync(HttpMethod.Get, "/api/shows/LIVE/pads")).Status.ShouldBe(200);
        }
        finally
        {
            File.Delete(path);
            await server.StopAsync();
            await server.StartAsync();
        }
    }

    [Fact]
    public async Task Messages_do_the_same_actions_once_they_are_switched_on_and_nothing_before()
    {
        var port = FreePort();
        using var sender = new UdpClient();
        sender.Connect(IPAddress.Loopback, port);
        (await server.SendAsync(HttpMethod.Put, "/api/hands/osc", $$"""{"on":false,"port":{{port}}}""")).Status.ShouldBe(200);
        (await server.SendAsync(HttpMethod.Put, "/api/hands/osc", """{"on":true}""")).Body["port"]!.GetValue<int>().ShouldBe(port);
        var done = await DoneAsync();
        var id = (string)(await server.ShowAsync())["sources"]![0]!["id"]!;
        await sender.SendAsync(Osc("/kinetra/hush", ",T"), Cancel);
        await UntilDoneAsync(done + 1);
        (await HushedAsync()).ShouldBeTrue();
        await sender.SendAsync(Osc("/kinetra/hush", ",i", Big(0)), Cancel);
        await sender.SendAsync(Osc($"/kinetra/mix/viewers/source/{id}/mute", ",s", Text("on")), Cancel);
        await UntilDoneAsync(done + 3);
        (await HushedAsync()).ShouldBeFalse();
        (await SendAsync("viewers", id))["muted"]!.GetValue<bool>().ShouldBeTrue();

        // By a pattern: in all mixes at once.
        await sender.SendAsync(Osc($"/kinetra/mix/*/source/{id}/dock", ",T"), Cancel);
        var mixes = (await server.ShowAsync())["mixes"]!.AsArray();
        await UntilDoneAsync(done + 3 + mixes.Count);
        foreach (var mix in mixes)
        {
            (await SendAsync((string)mix!["id"]!, id))["heard"]!.GetValue<bool>().ShouldBeFalse();
        }

        // A bundle, whose time is now.
        await sender.SendAsync(Bundle(Osc("/kinetra/hush", ",T"), Osc("/kinetra/hush", ",F")), Cancel);
        await UntilDoneAsync(done + 5 + mixes.Count);
        (await HushedAsync()).ShouldBeFalse();
    }

    [Fact]
    public async Task What_is_no_message_and_what_cannot_be_done_is_told_and_the_next_one_is_done()
    {
        var port = FreePort();
        using var sender = new UdpClient();
        sender.Connect(IPAddress.Loopback, port);
        await server.SendAsync(HttpMethod.Put, "/api/hands/osc", $$"""{"on":true,"port":{{port}}}""");
        var done = await DoneAsync();
        foreach (var (packet, words) in new (byte[], string)[]
        {
            ([1, 2, 3], "byte 0"),
            ("hello world!"u8.ToArray(), "neither a message"),
            (Osc("/elsewhere/hush", ",T"), "/kinetra/"),
            (Osc("/kinetra/nothing", ",T"), "There is no action"),
            (Osc("/kinetra/mix/viewers/level", ",f", Big(BitConverter.SingleToInt32Bits(99))), "value"),
            (Osc("/kinetra/x*y/z", ",T"), "No address is like this"),
            (Bundle(ulong.MaxValue, Osc("/kinetra/hush", ",T")), "too late a time"),
        })
        {
            await sender.SendAsync(packet, Cancel);
            await RunningServer.UntilAsync(async () => ((string?)(await OscAsync())["last"]?["problem"])?.Contains(words, StringComparison.Ordinal) == true);
        }

        await sender.SendAsync(Osc("/kinetra/hush", ",F"), Cancel);
        await UntilDoneAsync(done + 1);
    }

    [Fact]
    public async Task Messages_reach_this_machine_alone_and_a_port_that_is_taken_is_told()
    {
        using var other = new UdpClient(new IPEndPoint(IPAddress.Loopback, 0));
        var taken = ((IPEndPoint)other.Client.LocalEndPoint!).Port;
        var (_, state) = await server.SendAsync(HttpMethod.Put, "/api/hands/osc", $$"""{"on":true,"port":{{taken}}}""");
        ((string)state["problem"]!).ShouldContain($"Port {taken}");
        var port = FreePort();
        (await server.SendAsync(HttpMethod.Put, "/api/hands/osc", $$"""{"on":true,"port":{{port}}}""")).Body["problem"].ShouldBeNull();
        System.Net.NetworkInformation.IPGlobalProperties.GetIPGlobalProperties().GetActiveUdpListeners()
            .Where(e => e.Port == port).Select(e => e.Address).ShouldBe([IPAddress.Loopback]);
        (await server.SendAsync(HttpMethod.Put, "/api/hands/osc", """{"on":true,"port":80}""")).ShouldSayWhatWhereAndWhatIsAllowed(422, "port");
    }

    [Fact]
    public async Task A_cough_is_heard_by_oneself_alone_and_changes_nothing_of_the_show()
    {
        var token = await TokenAsync();
        var id = (string)(await server.ShowAsync())["sources"]![0]!["id"]!;
        await AloneAsync(id);
        var revision = (long)(await server.ShowAsync())["revision"]!;
        await server.StepAsync(0.5);
        (await server.PeakAsync("mix/viewers")).ShouldBeGreaterThan(-60);
        await DoAsync($"source/{id}/cough?value=on", token);
        await server.StepAsync(0.1);
        (await PeakOfNowAsync("mix/viewers")).ShouldBeLessThan(-100);
        (await PeakOfNowAsync("mix/my-ears")).ShouldBeGreaterThan(-60);
        var holds = (await server.SendAsync(HttpMethod.Get, "/api/hands")).Body["holds"]!.AsArray();
        ((string)holds.ShouldHaveSingleItem()!["words"]!).ShouldContain("nobody but you");
        await DoAsync($"source/{id}/cough?value=off", token);
        await server.StepAsync(0.1);
        (await PeakOfNowAsync("mix/viewers")).ShouldBeGreaterThan(-60);
        ((long)(await server.ShowAsync())["revision"]!).ShouldBe(revision);
    }

    [Fact]
    public async Task Talkback_reaches_one_listener_alone_also_one_that_does_not_hear_the_voice_otherwise()
    {
        var token = await TokenAsync();
        var id = (string)(await server.ShowAsync())["sources"]![0]!["id"]!;
        await AloneAsync(id);
        await DoAsync($"mix/guest-hears/source/{id}/dock?value=on", token);
        await DoAsync($"source/{id}/talk/guest-hears?value=on", token);
        await server.StepAsync(0.1);
        (await PeakOfNowAsync("mix/viewers")).ShouldBeLessThan(-100);
        (await PeakOfNowAsync("mix/guest-hears")).ShouldBeGreaterThan(-60);

        // Programs that record the microphone itself are no mix's business, and are told.
        (await server.SendAsync(HttpMethod.Get, "/api/hands")).Body["holds"]![0]!["leaks"]!.ToJsonString().ShouldContain("Harbour call");
        await server.SendAsync(HttpMethod.Delete, "/api/hands/holds");
        await server.StepAsync(0.1);
        (await PeakOfNowAsync("mix/viewers")).ShouldBeGreaterThan(-60);
        (await PeakOfNowAsync("mix/guest-hears")).ShouldBeLessThan(-100);
    }

    [Fact]
    public async Task The_table_in_the_documentation_and_the_one_of_the_API_are_the_table()
    {
        var folder = new DirectoryInfo(AppContext.BaseDirectory);
        while (!File.Exists(Path.Combine(folder!.FullName, "Kinetra.slnx")))
        {
            folder = folder.Parent;
        }

        (await File.ReadAllTextAsync(Path.Combine(folder.FullName, "docs", "control.md"), Cancel)).ShouldContain(
            $"{ActionWords.Begin}\n\n{ActionWords.Markdown()}\n{ActionWords.End}", Case.Sensitive, "./kinetra curves writes it");
        (await server.SendAsync(HttpMethod.Get, "/api/actions")).Body.AsArray().Select(a => (string)a!["address"]!).ShouldBe(ActionTable.All.Select(a => a.Address));
    }

    [Fact]
    public async Task Whatever_the_table_says_somebody_does()
    {
        // Something of each kind, with one pad that can be pressed and a program that is there.
        var token = await TokenAsync();
        var (_, made) = await server.SendAsync(HttpMethod.Post, "/api/shows/LIVE/pad-sets", """{"name":"Stings"}""");
        var set = (string)made["padSets"]![0]!["id"]!;
        await server.UploadAsync(AnalysisTests.Tone(0.1), "hum.wav", loop: true);
        var sound = (string)(await server.ShowAsync())["sources"]!.AsArray()[^1]!["input"]!["sound"]!;
        await server.SendAsync(HttpMethod.Post, $"/api/shows/LIVE/pad-sets/{set}/pads", $$"""{"pads":[{"name":"Bell","sound":"{{sound}}"}]}""");
        await server.SendAsync(HttpMethod.Post, "/api/shows/LIVE/cues", """{"name":"First"}""");
        var show = await server.ShowAsync();
        var named = new Dictionary<string, string>
        {
            ["{mix}"] = "viewers",
            ["{source}"] = (string)show["sources"]!.AsArray().First(s => (string)s!["input"]!["type"]! == "soundFile")!["id"]!,
            ["{pad}"] = (string)show["padSets"]![0]!["pads"]![0]!["id"]!,
            ["{set}"] = set,
            ["{cue}"] = (string)show["cues"]![0]!["id"]!,
            ["{app}"] = (string)(await server.SendAsync(HttpMethod.Get, "/api/gear")).Body["apps"]![0]!["id"]!,
            ["{show}"] = (string)show["id"]!,
        };
        foreach (var action in ActionTable.All.Where(a => a.Place == ActionPlace.Show))
        {
            var address = named.Aggregate(action.Address, (at, n) => at.Replace(n.Key, n.Value, StringComparison.Ordinal));
            address.ShouldNotContain("{");
            var value = action.Value is ActionValue.Decibels or ActionValue.Step ? "?value=-1&" : "?";
            foreach (var _ in Enumerable.Range(0, 2))
            {
                var (status, body) = await server.SendAsync(HttpMethod.Post, $"/api/do/{address}{value}token={token}");

                // What cannot be done now is told so: a mix that goes nowhere, a chain without processors, a list that is over, nothing to do again, no take to mark.
                status.ShouldBe(action.Address is "mix/{mix}/out" or "source/{source}/bypass" or "cue/next" or "redo" or "undo" or "mark" or "pause" && status == 422 ? 422 : 204, $"{address}: {body?.ToJsonString()}");
            }
        }

        (await server.SendAsync(HttpMethod.Get, "/api/status")).Body["recordingTake"].ShouldBeNull();
    }

    private async Task<string> TokenAsync() => (string)(await server.SendAsync(HttpMethod.Post, "/api/hands/token")).Body["token"]!;

    private async Task DoAsync(string command, string token)
    {
        var (status, body) = await server.SendAsync(HttpMethod.Post, $"/api/do/{command}{(command.Contains('?') ? "&" : "?")}token={token}");
        status.ShouldBe(204, body?.ToJsonString());
    }

    private async Task<bool> HushedAsync() => (bool)(await server.SendAsync(HttpMethod.Get, "/api/status")).Body["hushed"]!;

    private async Task<JsonNode> SendAsync(string mix, string source) =>
        (await server.ShowAsync())["mixes"]!.AsArray().Single(m => (string)m!["id"]! == mix)!["sends"]!.AsArray().Single(s => (string)s!["source"]! == source)!;

    // Only this one sounds, in all mixes.
    private async Task AloneAsync(string id)
    {
        foreach (var mix in (await server.ShowAsync())["mixes"]!.AsArray().Select(m => (string)m!["id"]!))
        {
            foreach (var source in (await server.ShowAsync())["sources"]!.AsArray().Select(s => (string)s!["id"]!))
            {
                await server.SendAsync(HttpMethod.Patch, $"/api/shows/LIVE/mixes/{mix}/sends/{source}", source == id ? """{"heard":true,"gain":0}""" : """{"heard":false}""");
            }
        }
    }

    private async Task<double> PeakOfNowAsync(string point)
    {
        await server.SendAsync(HttpMethod.Post, "/api/meters/reset");
        await server.StepAsync(0.3);
        return await server.PeakAsync(point);
    }

    private async Task<JsonNode> OscAsync() => (await server.SendAsync(HttpMethod.Get, "/api/hands")).Body["osc"]!;

    private async Task<long> DoneAsync() => (long)(await OscAsync())["done"]!;

    private Task UntilDoneAsync(long count) => RunningServer.UntilAsync(async () => await DoneAsync() >= count);

    private static int FreePort()
    {
        using var socket = new UdpClient(new IPEndPoint(IPAddress.Loopback, 0));
        return ((IPEndPoint)socket.Client.LocalEndPoint!).Port;
    }

    private static byte[] Osc(string address, string tags, params byte[] arguments) => [.. Text(address), .. Text(tags), .. arguments];

    private static byte[] Bundle(params byte[][] elements) => Bundle(1, elements);

    private static byte[] Bundle(ulong tag, params byte[][] elements)
    {
        var time = new byte[8];
        BinaryPrimitives.WriteUInt64BigEndian(time, tag);
        return [.. Text("#bundle"), .. time, .. elements.SelectMany(e => (byte[])[.. Big(e.Length), .. e])];
    }

    private static byte[] Big(int value)
    {
        var bytes = new byte[4];
        BinaryPrimitives.WriteInt32BigEndian(bytes, value);
        return bytes;
    }

    private static byte[] Text(string text)
    {
        var bytes = Encoding.UTF8.GetBytes(text + "\0");
        return [.. bytes, .. new byte[(4 - (bytes.Length % 4)) % 4]];
    }
}
