using System.Diagnostics;
using System.Runtime.InteropServices;

namespace Kinetra.Media.Tests;

/// <summary>The independent judge: another program decodes and encodes the files.</summary>
static class Ffmpeg
{
    /// <summary>Decodes a file to interleaved 64-bit float samples, whatever its own format.</summary>
    public static double[] Decode(string path) =>
        MemoryMarshal.Cast<byte, double>(Run("ffmpeg", "-v", "error", "-i", path, "-f", "f64le", "-")).ToArray();

    public static void Encode(string from, string to, params string[] options) =>
        Run("ffmpeg", ["-v", "error", "-y", "-i", from, .. options, to]);

    public static string Probe(string path) =>
        System.Text.Encoding.UTF8.GetString(Run("ffprobe", "-v", "error", "-show_format", "-show_streams", path));

    public static byte[] Run(string program, params string[] arguments)
    {
        var start = new ProcessStartInfo(program, arguments) { RedirectStandardOutput = true, RedirectStandardError = true };
        using var process = Process.Start(start)!;
        using var output = new MemoryStream();
        var errors = process.StandardError.ReadToEndAsync();
        process.StandardOutput.BaseStream.CopyTo(output);
        process.WaitForExit();
        process.ExitCode.ShouldBe(0, errors.Result);
        return output.ToArray();
    }
}

/// <summary>A folder that is gone after the test.</summary>
public abstract class InFolder : IDisposable
{
    private readonly DirectoryInfo _folder = Directory.CreateTempSubdirectory("kinetra-media-");

    public string At(string name) => Path.Combine(_folder.FullName, name);

    public void Dispose()
    {
        _folder.Delete(recursive: true);
        GC.SuppressFinalize(this);
    }
}
