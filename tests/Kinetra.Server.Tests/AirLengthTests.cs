using System.Diagnostics;
using System.Globalization;
using System.Net;
using System.Net.Sockets;
using System.Runtime.InteropServices;

namespace Kinetra.Server.Tests;

/// <summary>
/// A stream for long, received and decoded by another program and held against the take of its mix. An hour takes minutes of a machine: by default it is a
/// minute and a half; KINETRA_AIR_SECONDS says how long.
/// </summary>
public sealed class AirLengthTests(RunningServer server) : IClassFixture<RunningServer>
{
    // What both are compared in: mono, so many samples a second.
    private const int Rate = 8_000;

    private static CancellationToken Cancel => TestContext.Current.CancellationToken;

    [Theory]
    [InlineData("Mp3", 128, "mp3")]
    [InlineData("OggOpus", 96, "ogg")]
    public async Task What_is_received_for_long_is_the_mix_without_a_gap_as_late_at_the_end_as_at_the_beginning(string form, int kilobits, string format)
    {
        var seconds = int.Parse(Environment.GetEnvironmentVariable("KINETRA_AIR_SECONDS") ?? "90", CultureInfo.InvariantCulture);
        await server.OpenFreshShowAsync();
        (await server.SendAsync(HttpMethod.Patch, "/api/shows/LIVE/mixes/viewers", """{"gain":-18}""")).Status.ShouldBe(200);
        var port = FreePort();
        var folder = Directory.CreateTempSubdirectory("kinetra-air-");
        var file = Path.Combine(folder.FullName, "received." + format);
        using var receiver = Process.Start(new ProcessStartInfo("ffmpeg", ["-v", "error", "-listen", "1", "-method", "PUT", "-f", format, "-i", $"http://127.0.0.1:{port}/live", "-c", "copy", file])
        {
            RedirectStandardError = true,
        })!;
        try
        {
            var wanted = string.Create(CultureInfo.InvariantCulture, $$$"""{"mix":"viewers","server":{"kind":"Put","host":"127.0.0.1","port":{{{port}}},"path":"/live","user":"source"}}""");
            (await server.SendAsync(HttpMethod.Post, "/api/shows/LIVE/streams", wanted)).Status.ShouldBe(200);
            var stream = (string)(await server.ShowAsync())["streams"]![0]!["id"]!;
            (await server.SendAsync(HttpMethod.Patch, $"/api/shows/LIVE/streams/{stream}", string.Create(CultureInfo.InvariantCulture, $$"""{"form":"{{form}}","kilobits":{{kilobits}}}"""))).Status.ShouldBe(200);
            (await server.SendAsync(HttpMethod.Post, "/api/shows/LIVE/tracks", """{"takes":"mix/viewers","name":"Blend"}""")).Status.ShouldBe(200);

            // The take first: whatever is received is then in it, however far the clock was stepped before the receiver took the stream.
            (await server.SendAsync(HttpMethod.Post, "/api/takes", "{}")).Status.ShouldBe(200);
            (await server.SendAsync(HttpMethod.Post, $"/api/air/{stream}/start")).Status.ShouldBe(200);
            await RunningServer.UntilAsync(async () =>
            {
                await server.StepAsync(0.1);
                return (string)(await OfAsync())["state"]! == "OnAir";
            });
            for (var at = 0; at < seconds; at += 3)
            {
                await server.StepAsync(3);

                // The clock is as fast as the machine; what is sent is not: nothing may be left out for that.
                await RunningServer.UntilAsync(async () => (double)(await OfAsync())["waitingSeconds"]! < 3);
            }

            var told = await OfAsync();
            ((double)told["droppedSeconds"]!).ShouldBe(0);
            told["gaps"]!.AsArray().ShouldBeEmpty();
            (await server.SendAsync(HttpMethod.Post, $"/api/air/{stream}/stop")).Status.ShouldBe(200);
            await receiver.WaitForExitAsync(Cancel);
            var take = (await server.SendAsync(HttpMethod.Post, "/api/takes/current/stop")).Body;
            var (received, recorded) = (Decode(file), Decode(Path.Combine((string)take["folder"]!, "01 Blend.wav")));

            // Both end where the stream was stopped.
            var first = Place(received, recorded, 4 * Rate, recorded.Length - received.Length);
            var last = Place(received, recorded, received.Length - (4 * Rate), first);
            Math.Abs(last - first).ShouldBeLessThanOrEqualTo(1, "samples of an eighth of a millisecond");
            received.Length.ShouldBeInRange((seconds - 1) * Rate, recorded.Length + Rate);

            // Second by second as loud, of what is no silence.
            var from = Math.Max(0, -first);
            for (var second = from; second + Rate <= received.Length - Rate && second + first + Rate <= recorded.Length; second += Rate)
            {
                var (heard, meant) = (Level(received, second), Level(recorded, second + first));
                if (meant > -60)
                {
                    heard.ShouldBe(meant, 1, $"dB, at second {second / Rate}");
                }
            }

            var length = (Math.Min(received.Length - from, recorded.Length - first - from) / (double)Rate) - 0.5;
            Loudness(file, from / (double)Rate, length).ShouldBe(Loudness(Path.Combine((string)take["folder"]!, "01 Blend.wav"), (from + first) / (double)Rate, length), 0.1);

            async Task<System.Text.Json.Nodes.JsonNode> OfAsync() => (await server.SendAsync(HttpMethod.Get, "/api/air")).Body.AsArray().Single(a => (string)a!["stream"]! == stream)!;
        }
        finally
        {
            if (!receiver.HasExited)
            {
                receiver.Kill();
            }

            folder.Delete(recursive: true);
        }
    }

    // Where a second and a half of one lies in the other, near a place where it is known; samples by which it is later there.
    private static int Place(float[] received, float[] recorded, int at, int near)
    {
        const int Window = 3 * Rate / 2, Around = 12 * Rate;
        var (best, most) = (0, double.MinValue);
        for (var lag = near - Around; lag <= near + Around; lag++)
        {
            if (at + lag < 0 || at + lag + Window > recorded.Length)
            {
                continue;
            }

            double product = 0, energy = 1e-12;
            for (var n = 0; n < Window; n++)
            {
                var other = recorded[at + lag + n];
                product += received[at + n] * other;
                energy += other * other;
            }

            if (product / Math.Sqrt(energy) > most)
            {
                (best, most) = (lag, product / Math.Sqrt(energy));
            }
        }

        return best;
    }

    private static double Level(float[] sound, int from) => 10 * Math.Log10(sound.AsSpan(from, Rate).ToArray().Average(x => (double)x * x) + 1e-12);

    private static float[] Decode(string file)
    {
        using var ffmpeg = Process.Start(new ProcessStartInfo("ffmpeg", ["-v", "error", "-i", file, "-ac", "1", "-ar", Rate.ToString(CultureInfo.InvariantCulture), "-f", "f32le", "-"]) { RedirectStandardOutput = true })!;
        using var output = new MemoryStream();
        ffmpeg.StandardOutput.BaseStream.CopyTo(output);
        ffmpeg.WaitForExit();
        ffmpeg.ExitCode.ShouldBe(0);
        return MemoryMarshal.Cast<byte, float>(output.GetBuffer().AsSpan(0, (int)output.Length)).ToArray();
    }

    private static double Loudness(string file, double from, double seconds)
    {
        string Plain(double value) => value.ToString("0.####", CultureInfo.InvariantCulture);
        using var ffmpeg = Process.Start(new ProcessStartInfo("ffmpeg", ["-hide_banner", "-nostats", "-i", file, "-af", $"atrim=start={Plain(from)}:duration={Plain(seconds)},ebur128", "-f", "null", "-"]) { RedirectStandardError = true })!;
        var said = ffmpeg.StandardError.ReadToEnd();
        ffmpeg.WaitForExit();
        return double.Parse(System.Text.RegularExpressions.Regex.Matches(said, @"I:\s+(-?[\d.]+) LUFS")[^1].Groups[1].Value, CultureInfo.InvariantCulture);
    }

    private static int FreePort()
    {
        using var listener = new TcpListener(IPAddress.Loopback, 0);
        listener.Start();
        return ((IPEndPoint)listener.LocalEndpoint).Port;
    }
}
