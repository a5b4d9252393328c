using System.Buffers.Binary;
using System.Text.Json.Nodes;

namespace Kinetra.Server.Tests;

/// <summary>A recording with flashes and beeps says by how much its picture is late; a clap that somebody marked does too.</summary>
public sealed class PictureTests(RunningServer server) : IClassFixture<RunningServer>, IAsyncLifetime
{
    private const int Rate = 48_000, FramesASecond = 30, Cells = 144;
    private const string Picture = "/api/shows/LIVE/align/picture", Clap = "/api/shows/LIVE/align/clap";

    public async ValueTask InitializeAsync() => await server.OpenFreshShowAsync();

    public ValueTask DisposeAsync() => ValueTask.CompletedTask;

    [Fact]
    public async Task By_as_much_as_the_picture_is_late_a_source_is_held_back_and_what_it_waits_already_counts()
    {
        var (status, answer) = await server.SendAsync(HttpMethod.Post, Picture, await RecordingAsync(late: 0.2));
        status.ShouldBe(200);
        ((double)answer["milliseconds"]!).ShouldBe(200, (double)answer["within"]! + 1);
        ((string)answer["words"]!).ShouldStartWith("The picture comes ");
        var delay = (double)answer["syncDelay"]!;
        delay.ShouldBe((double)answer["milliseconds"]!, 0.1);

        // Recorded again with that delay: as late as that, and no more is asked for.
        await server.SendAsync(HttpMethod.Patch, "/api/shows/LIVE/sources/sea-mic", $$"""{"syncDelay":{{answer["syncDelay"]!.ToJsonString()}}}""");
        var (_, then) = await server.SendAsync(HttpMethod.Post, Picture, await RecordingAsync(late: 0.2 - (delay / 1_000)));
        then["syncDelay"].ShouldBeNull();
        ((string)then["words"]!).ShouldContain("come together");
        var (_, toolong) = await server.SendAsync(HttpMethod.Post, Picture, await RecordingAsync(late: -0.1));
        ((double)toolong["syncDelay"]!).ShouldBe(delay + (double)toolong["milliseconds"]!, 0.11);
        var (_, more) = await server.SendAsync(HttpMethod.Post, Picture, await RecordingAsync(late: -0.5));
        ((double)more["syncDelay"]!).ShouldBe(0);
        ((string)more["words"]!).ShouldContain("hold the picture back");
    }

    [Fact]
    public async Task Without_flashes_it_says_so_and_where_somebody_clapped_and_a_frame_that_is_marked_gives_the_offer()
    {
        var recording = JsonNode.Parse(await RecordingAsync(late: 0.2))!;
        var sound = new byte[6 * Rate * 2];
        for (var n = 0; n < 4_000; n++)
        {
            BinaryPrimitives.WriteInt16LittleEndian(sound.AsSpan((n + (2 * Rate)) * 2), (short)((n % 2 == 0 ? 20_000 : -20_000) * Math.Exp(-n / 500.0)));
        }

        recording["sound"] = Convert.ToBase64String(sound);
        var (status, answer) = await server.SendAsync(HttpMethod.Post, Picture, recording.ToJsonString());
        status.ShouldBe(200);
        answer["milliseconds"].ShouldBeNull();
        answer["syncDelay"].ShouldBeNull();
        ((string)answer["words"]!).ShouldContain("not heard");
        var clap = (double)answer["claps"]!.AsArray().ShouldHaveSingleItem()!;
        clap.ShouldBe(2, 0.003);
        var (_, marked) = await server.SendAsync(HttpMethod.Post, Clap, $$"""{"source":"sea-mic","picture":2.15,"sound":2,"interval":0.04}""");
        ((double)marked["milliseconds"]!).ShouldBe(150, 0.01);
        ((double)marked["within"]!).ShouldBe(20, 0.01);
        ((double)marked["syncDelay"]!).ShouldBe(150, 0.1);
    }

    [Theory]
    [InlineData("source", "\"nobody\"", 404, "source")]
    [InlineData("picture", "\"AAAA\"", 422, "picture")]
    [InlineData("picture", "\"no base64!\"", 422, "picture")]
    [InlineData("frames", "[0,2,1]", 422, "picture")]
    [InlineData("sound", "\"\"", 422, "sound")]
    [InlineData("sound", "\"AAAA\"", 422, "sound")]
    public async Task What_is_no_recording_is_answered_with_words(string field, string value, int status, string where)
    {
        var recording = JsonNode.Parse(await RecordingAsync(late: 0))!;
        recording[field] = JsonNode.Parse(value);
        (await server.SendAsync(HttpMethod.Post, Picture, recording.ToJsonString())).ShouldSayWhatWhereAndWhatIsAllowed(status, where);
    }

    [Fact]
    public async Task Frames_whose_times_do_not_rise_and_a_mark_far_from_its_sound_are_refused()
    {
        var recording = JsonNode.Parse(await RecordingAsync(late: 0))!;
        (recording["frames"]![4], recording["frames"]![5]) = ((double)recording["frames"]![5]!, (double)recording["frames"]![4]!);
        (await server.SendAsync(HttpMethod.Post, Picture, recording.ToJsonString())).ShouldSayWhatWhereAndWhatIsAllowed(422, "frames");
        (await server.SendAsync(HttpMethod.Post, Clap, """{"source":"sea-mic","picture":9,"sound":2,"interval":0.04}""")).ShouldSayWhatWhereAndWhatIsAllowed(422, "picture");
        (await server.SendAsync(HttpMethod.Post, Clap, """{"source":"sea-mic","picture":2,"sound":2,"interval":1}""")).ShouldSayWhatWhereAndWhatIsAllowed(422, "interval");
    }

    // Half of the picture flashes late; the sound is nothing but the beeps.
    private async Task<string> RecordingAsync(double late)
    {
        const double Seconds = 12;
        var (_, signal) = await server.SendAsync(HttpMethod.Get, "/api/flash-signal");
        var times = signal["times"]!.AsArray().Select(t => (double)t!).ToArray();
        var (cycle, bright) = ((double)signal["cycleSeconds"]!, (double)signal["flashSeconds"]!);
        var beep = signal["beep"]!.AsArray().Select(b => (float)b!).ToArray();
        var sound = new byte[(int)(Seconds * Rate) * 2];
        foreach (var time in times)
        {
            for (var n = 0; n < beep.Length && (int)(time * Rate) + n < sound.Length / 2; n++)
            {
                BinaryPrimitives.WriteInt16LittleEndian(sound.AsSpan(((int)(time * Rate) + n) * 2), (short)(beep[n] * 20_000));
            }
        }

        var frames = Enumerable.Range(0, (int)(Seconds * FramesASecond)).Select(k => (double)k / FramesASecond).ToArray();
        var picture = frames.SelectMany(t =>
        {
            var isLit = times.Any(flash => (t - late - flash + (4 * cycle)) % cycle < bright);
            return Enumerable.Range(0, Cells).Select(c => (byte)(c < Cells / 2 && isLit ? 200 : 60));
        }).ToArray();
        return new JsonObject
        {
            ["source"] = "sea-mic",
            ["frames"] = new JsonArray([.. frames.Select(f => (JsonNode)f)]),
            ["picture"] = Convert.ToBase64String(picture),
            ["sound"] = Convert.ToBase64String(sound),
        }.ToJsonString();
    }
}
