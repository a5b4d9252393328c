using System.Diagnostics;
using System.Globalization;
using System.Text.Json;
using Kinetra.Media;

namespace Kinetra.Server.Features.Sounds;

/// <summary>What the child process says of a file that it decoded.</summary>
/// <param name="Format">Its format in words.</param>
/// <param name="SampleRate">Its own rate, Hz.</param>
/// <param name="Channels">Its own channels.</param>
/// <param name="PlayedChannels">Channels of the decoded sound, 1 or 2.</param>
/// <param name="Frames">Length of the decoded sound at 48 kHz.</param>
public sealed record DecodeReport(string Format, int SampleRate, int Channels, int PlayedChannels, long Frames);

/// <summary>
/// Decodes what comes from outside in a process of its own, with limits on time and memory, so that a hostile file can
/// harm nothing but its own decoding.
/// </summary>
public static class SoundDecoding
{
    /// <summary>The word on the command line that makes the program decode one file and end.</summary>
    public const string Verb = "decode";

    private const int ExitRefused = 2;
    private static readonly TimeSpan TimeLimit = TimeSpan.FromSeconds(60);

    /// <summary>The child's side: decodes a file, writes it as a <see cref="PlanarFile"/>, and reports on standard output.</summary>
    public static int RunChild(string input, string output)
    {
        try
        {
            var decoded = SoundFileReader.Read(input, new Lines());
            PlanarFile.Write(output, decoded.Sound);
            Console.Out.WriteLine(JsonSerializer.Serialize(
                new DecodeReport(decoded.Format, decoded.SampleRate, decoded.Channels, decoded.Sound.Channels, decoded.Sound.Frames)));
            return 0;
        }
        catch (SoundFileException e)
        {
            Console.Out.WriteLine(JsonSerializer.Serialize(new Refusal(e.What, e.Allowed)));
            return ExitRefused;
        }
    }

    /// <summary>The server's side: has a file decoded.</summary>
    /// <exception cref="SoundFileException">It is refused, took too long, or brought the child down.</exception>
    public static async Task<DecodeReport> RunAsync(string input, string output, IProgress<double> progress, CancellationToken cancel)
    {
        ArgumentNullException.ThrowIfNull(progress);

        // 8 GiB of address space is room for the runtime and for 15 minutes of sound; what wants more is no sound file.
        var start = new ProcessStartInfo("prlimit")
        {
            ArgumentList = { "--as=8589934592", "--core=0", "--", "dotnet", typeof(SoundDecoding).Assembly.Location, Verb, input, output },
            RedirectStandardOutput = true,
            RedirectStandardError = true,
        };
        start.Environment["DOTNET_GCHeapHardLimit"] = "0x60000000";
        start.Environment["DOTNET_TieredPGO"] = "0";
        start.Environment.Remove(Hosting.ServerOptions.ConnectionVariable);
        start.Environment.Remove(Hosting.ServerOptions.AddressVariable);
        using var process = Process.Start(start) ?? throw new IOException("The decoder cannot be started.");
        using var limit = CancellationTokenSource.CreateLinkedTokenSource(cancel);
        limit.CancelAfter(TimeLimit);
        try
        {
            var said = LastLineAsync(process.StandardOutput, progress, limit.Token);
            var errors = process.StandardError.ReadToEndAsync(limit.Token);
            await process.WaitForExitAsync(limit.Token);
            await errors;
            return process.ExitCode switch
            {
                0 => JsonSerializer.Deserialize<DecodeReport>(await said)!,
                ExitRefused => throw JsonSerializer.Deserialize<Refusal>(await said)!.AsException(),
                _ => throw new SoundFileException("The file brought its decoder down; nothing else was harmed.", SoundFileReader.Allowed),
            };
        }
        catch (OperationCanceledException) when (!cancel.IsCancellationRequested)
        {
            throw new SoundFileException($"The file was not decoded within {TimeLimit.TotalSeconds:0} s.", SoundFileReader.Allowed);
        }
        finally
        {
            if (!process.HasExited)
            {
                process.Kill(entireProcessTree: true);
            }
        }
    }

    // A number is how far it is; anything else is what it came to.
    private static async Task<string> LastLineAsync(StreamReader output, IProgress<double> progress, CancellationToken cancel)
    {
        var last = "";
        while (await output.ReadLineAsync(cancel) is { } line)
        {
            if (double.TryParse(line, CultureInfo.InvariantCulture, out var part))
            {
                progress.Report(part);
            }
            else
            {
                last = line;
            }
        }

        return last;
    }

    private sealed class Lines : IProgress<double>
    {
        private double _told;

        public void Report(double value)
        {
            if (value >= _told + 0.01)
            {
                _told = value;
                Console.Out.WriteLine(value.ToString("0.00", CultureInfo.InvariantCulture));
            }
        }
    }

    private sealed record Refusal(string What, string Allowed)
    {
        public SoundFileException AsException() => new(What, Allowed);
    }
}
