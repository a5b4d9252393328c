using System.Diagnostics;
using System.Globalization;
using System.Runtime.InteropServices;

namespace Kinetra.Server.Tests;

/// <summary>What another program, ffmpeg, hears, and how like that is to what was recorded.</summary>
static class Listening
{
    private static CancellationToken Cancel => TestContext.Current.CancellationToken;

    /// <summary>What another program decodes of an address, interleaved stereo.</summary>
    public static Task<double[]> PullAsync(string url, double seconds) => DecodeAsync(["-i", url, "-t", seconds.ToString(CultureInfo.InvariantCulture)]);

    /// <summary>What ffmpeg calls its own client for internet radio, as it lists it.</summary>
    public static async Task<string> RadioClientAsync()
    {
        using var process = Process.Start(new ProcessStartInfo("ffmpeg", ["-hide_banner", "-protocols"]) { RedirectStandardOutput = true })!;
        var listed = await process.StandardOutput.ReadToEndAsync(Cancel);
        await process.WaitForExitAsync(Cancel);
        return listed.Split('\n').Select(l => l.Trim()).Last(l => l.StartsWith("ice", StringComparison.Ordinal));
    }

    /// <summary>What another program decodes, interleaved stereo.</summary>
    /// <param name="input">Where it has it from: its arguments.</param>
    public static async Task<double[]> DecodeAsync(IReadOnlyList<string> input)
    {
        var start = new ProcessStartInfo("ffmpeg", ["-v", "error", .. input, "-ac", "2", "-ar", "48000", "-f", "f64le", "-"])
        {
            RedirectStandardOutput = true,
            RedirectStandardError = true,
        };
        using var process = Process.Start(start)!;
        try
        {
            using var output = new MemoryStream();
            var errors = process.StandardError.ReadToEndAsync(Cancel);
            await process.StandardOutput.BaseStream.CopyToAsync(output, Cancel);
            await process.WaitForExitAsync(Cancel);
            process.ExitCode.ShouldBe(0, await errors);
            return MemoryMarshal.Cast<byte, double>(output.ToArray()).ToArray();
        }
        finally
        {
            if (!process.HasExited)
            {
                process.Kill();
            }
        }
    }

    /// <summary>At the place at which both are most alike: what differs, and how much louder, dB.</summary>
    public static (double Differs, double Level) Likeness(double[] heard, float[] recorded)
    {
        const int Step = 16, Length = 96_000;
        var from = (heard.Length - Length) / 2;
        var coarse = Enumerable.Range(0, (recorded.Length - Length) / Step).Select(i => i * Step).OrderByDescending(at => Math.Abs(Product(at, 7))).Take(40).ToList();
        var best = coarse.SelectMany(at => Enumerable.Range(at - Step, 2 * Step)).Where(at => at >= 0 && at + Length <= recorded.Length).MaxBy(at => Product(at, 1));
        double differs = 0, own = 0, other = 0;
        for (var n = 0; n < Length; n++)
        {
            var (x, y) = (heard[from + n], recorded[best + n]);
            (differs, own, other) = (differs + ((x - y) * (x - y)), own + (x * x), other + (y * y));
        }

        return (10 * Math.Log10((differs / other) + 1e-30), 10 * Math.Log10(own / other));

        double Product(int at, int step)
        {
            double sum = 0;
            for (var n = 0; n < Length; n += step)
            {
                sum += heard[from + n] * recorded[at + n];
            }

            return sum;
        }
    }
}
