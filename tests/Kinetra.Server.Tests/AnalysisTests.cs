using System.Buffers.Binary;
using System.Diagnostics;
using System.Net.WebSockets;
using System.Text.Json.Nodes;
using Kinetra.Core.Engine;

namespace Kinetra.Server.Tests;

/// <summary>What can be looked at while it changes.</summary>
public sealed class AnalysisTests(RunningServer server) : IClassFixture<RunningServer>, IAsyncLifetime
{
    private static CancellationToken Cancel => TestContext.Current.CancellationToken;

    public async ValueTask InitializeAsync() => await server.OpenFreshShowAsync();

    public ValueTask DisposeAsync() => ValueTask.CompletedTask;

    [Fact]
    public void A_frame_has_as_many_values_as_have_names()
    {
        Enum.GetValues<SourceMeter>().Length.ShouldBe(MeterLayout.SourceValues);
        Enum.GetValues<MixMeter>().Length.ShouldBe(MeterLayout.MixValues);
        Enum.GetValues<ProcessorMeter>().Length.ShouldBe(MeterLayout.ProcessorValues);
    }

    [Fact]
    public async Task How_loud_it_is_at_a_point_is_what_a_sine_of_known_level_has_there()
    {
        // 750 Hz at −20 dBFS in the file: whole periods in every block. −12 dB by the trim: raw it is before the trim, then after it.
        var (status, show) = await server.UploadAsync(Tone(0.1), "tone.wav", loop: true);
        status.ShouldBe(200);
        var tone = (string)show["sources"]!.AsArray().Single(s => (string)s!["name"]! == "tone")!["id"]!;
        (await server.SendAsync(HttpMethod.Patch, $"/api/shows/LIVE/sources/{tone}", """{"trim":-12}""")).Status.ShouldBe(200);
        await server.StepAsync(2);
        using var raw = await server.LookAsync("point", $"source/{tone}/raw");
        using var trimmed = await server.LookAsync("point", $"source/{tone}");
        (await LevelAsync(raw)).ShouldBe((-20, -23.01), new Near(0.02));
        (await LevelAsync(trimmed)).ShouldBe((-32, -35.01), new Near(0.05));
    }

    [Theory]
    [InlineData("""{"open":1,"topic":"weather"}""", "topic", "dynamics, levels, loop, pads, point, spectrum, stereo")]
    [InlineData("""{"open":1}""", "topic", "dynamics, levels, loop, pads, point, spectrum, stereo")]
    [InlineData("""{"open":1,"topic":"levels","of":"mix/viewers"}""", "of", "nothing")]
    [InlineData("""{"open":1,"topic":"point"}""", "of", "source/host/before")]
    [InlineData("""{"open":1,"topic":"point","of":"stage/nobody"}""", "of", "now")]
    [InlineData("""{"open":1,"topic":"spectrum"}""", "of", "stage/ID")]
    [InlineData("""{"open":1,"topic":"spectrum","of":"source/nobody"}""", "of", "now")]
    [InlineData("""{"open":1,"topic":"dynamics"}""", "of", "processor")]
    [InlineData("""{"open":1,"topic":"dynamics","of":"nobody"}""", "of", "processor")]
    [InlineData("""{"open":1,"topic":"point","of":"mix/nobody"}""", "of", "now")]
    [InlineData("""{"open":1,"topic":"levels","rate":0.5}""", "rate", "125")]
    [InlineData("""{"open":1,"topic":"levels","rate":1e9}""", "rate", "125")]
    [InlineData("""{"open":1,"close":1}""", "message", "close")]
    [InlineData("""{"open":-1,"topic":"levels"}""", "message", "close")]
    [InlineData("""{"open":1,"topic":"levels","colour":"red"}""", "message", "close")]
    [InlineData("{}", "message", "close")]
    [InlineData("loud please", "message", "close")]
    public async Task What_cannot_be_looked_at_is_answered_with_words_and_the_socket_stays(string wish, string where, string allowed)
    {
        using var socket = await server.ConnectAsync("/api/analysis");
        await RunningServer.SendTextAsync(socket, wish);
        var words = JsonNode.Parse((await RunningServer.ReceiveAsync(socket)).Data)!;
        ((string)words["where"]!).ShouldBe(where);
        ((string)words["allowed"]!).ShouldContain(allowed);
        ((string)words["what"]!).ShouldNotBeNullOrWhiteSpace();
        await RunningServer.SendTextAsync(socket, """{"open":2,"topic":"levels"}""");
        ((uint)JsonNode.Parse((await RunningServer.ReceiveAsync(socket)).Data)!["id"]!).ShouldBe(2u);
    }

    [Fact]
    public async Task A_window_looks_at_many_things_on_one_socket_each_under_its_number_until_it_closes_it_and_at_no_more_than_so_many()
    {
        using var socket = await server.ConnectAsync("/api/analysis");
        for (var id = 1; id <= 65; id++)
        {
            await RunningServer.SendTextAsync(socket, $$"""{"open":{{id}},"topic":"point","of":"mix/viewers"}""");
        }

        await RunningServer.SendTextAsync(socket, """{"open":1,"topic":"levels"}""");
        var seen = new HashSet<uint>();
        var refused = new List<string>();
        while (seen.Count < 64 || refused.Count < 2)
        {
            var (type, data) = await NextAsync(socket);
            if (type == WebSocketMessageType.Binary)
            {
                seen.Add(BinaryPrimitives.ReadUInt32LittleEndian(data));
            }
            else
            {
                refused.Add((string)JsonNode.Parse(data)!["what"]!);
            }
        }

        seen.Max().ShouldBe(64u);
        refused.ShouldBe(["So much is not looked at at once.", "1 is open already."], ignoreOrder: true);

        // What is closed is never heard of again; the answer to the last wish says that the closing has been done.
        for (var id = 2; id <= 64; id++)
        {
            await RunningServer.SendTextAsync(socket, $$"""{"close":{{id}}}""");
        }

        await RunningServer.SendTextAsync(socket, """{"open":99,"topic":"weather"}""");
        while ((await RunningServer.ReceiveAsync(socket)).Type == WebSocketMessageType.Binary)
        {
        }

        for (var n = 0; n < 5; n++)
        {
            var (type, data) = await NextAsync(socket);
            (type, BinaryPrimitives.ReadUInt32LittleEndian(data)).ShouldBe((WebSocketMessageType.Binary, 1u));
        }
    }

    [Fact]
    public async Task No_more_often_than_it_was_wished_and_what_comes_is_the_newest()
    {
        using var socket = await server.ConnectAsync("/api/analysis");
        await RunningServer.SendTextAsync(socket, """{"open":1,"topic":"point","of":"mix/viewers"}""");
        await RunningServer.SendTextAsync(socket, """{"open":2,"topic":"point","of":"mix/viewers","rate":2}""");
        var clock = Stopwatch.StartNew();
        var (often, seldom) = (0, new List<double>());
        double last = 0;
        while (often < 60)
        {
            var (_, data) = await NextAsync(socket);
            var end = BinaryPrimitives.ReadDoubleLittleEndian(data.AsSpan(8));
            if (BinaryPrimitives.ReadUInt32LittleEndian(data) == 1)
            {
                (often, last) = (often + 1, end);
            }
            else
            {
                seldom.Add(end);

                // Newer than what came under the other number before it.
                end.ShouldBeGreaterThanOrEqualTo(last);
            }
        }

        ((double)seldom.Count).ShouldBeLessThanOrEqualTo((clock.Elapsed.TotalSeconds * 2.1) + 2);
    }

    // Sound goes on until something comes.
    private async Task<(WebSocketMessageType Type, byte[] Data)> NextAsync(ClientWebSocket socket)
    {
        var receiving = RunningServer.ReceiveAsync(socket);
        while (!receiving.IsCompleted)
        {
            await server.StepAsync(0.1);
        }

        return await receiving;
    }

    // The peak and the RMS on the left of the next values, dBFS.
    private async Task<(double Peak, double Rms)> LevelAsync(ClientWebSocket socket)
    {
        var (type, data) = await NextAsync(socket);
        type.ShouldBe(WebSocketMessageType.Binary);
        return (BinaryPrimitives.ReadSingleLittleEndian(data.AsSpan(24)), BinaryPrimitives.ReadSingleLittleEndian(data.AsSpan(28)));
    }

    // A second of 750 Hz.
    internal static byte[] Tone(double amplitude) => Wave([.. Enumerable.Range(0, 48_000).Select(n => (float)(amplitude * Math.Sin(2 * Math.PI * 750 * n / 48_000)))]);

    // Mono, 48 kHz, as 32-bit floats (WAVE, format 3).
    internal static byte[] Wave(float[] samples)
    {
        using var file = new MemoryStream();
        using var writer = new BinaryWriter(file);
        writer.Write("RIFF"u8);
        writer.Write(36 + (samples.Length * 4));
        writer.Write("WAVEfmt "u8);
        writer.Write(16);
        writer.Write((short)3);
        writer.Write((short)1);
        writer.Write(48_000);
        writer.Write(192_000);
        writer.Write((short)4);
        writer.Write((short)32);
        writer.Write("data"u8);
        writer.Write(samples.Length * 4);
        foreach (var sample in samples)
        {
            writer.Write(sample);
        }

        return file.ToArray();
    }

    private sealed class Near(double by) : IEqualityComparer<(double, double)>
    {
        public bool Equals((double, double) x, (double, double) y) => Math.Abs(x.Item1 - y.Item1) < by && Math.Abs(x.Item2 - y.Item2) < by;

        public int GetHashCode((double, double) obj) => 0;
    }
}
