using System.Diagnostics;
using System.Globalization;
using Kinetra.Core.Engine;
using Kinetra.Core.Rigs;
using Kinetra.Core.Signal;
using Kinetra.Media;

namespace Kinetra.Bench;

/// <summary>The reference rig rendered from files, one thread, against ffmpeg with the same graph (reference-graph.txt), in turns.</summary>
static class AgainstFfmpeg
{
    private const int Seconds = 60;
    private const int Rounds = 7;

    public static object Measure()
    {
        var folder = Directory.CreateTempSubdirectory("kinetra-bench-");
        try
        {
            var rig = ReferenceRig.Make();
            var files = Enumerable.Range(0, ReferenceRig.Sources).Select(s => Path.Combine(folder.FullName, $"{s}.wav")).ToArray();
            for (var s = 0; s < files.Length; s++)
            {
                var sound = ReferenceRig.Sound(s, Seconds * AudioFormat.SampleRate);
                using var writer = new SoundFileWriter(files[s], 2, SoundFormat.Wav);
                writer.Write(sound.Left, sound.Right);
            }

            Own(rig, files);
            var pairs = Enumerable.Range(0, Rounds).Select(_ => (Own: Own(rig, files), Other: Other(files))).OrderBy(p => p.Other / p.Own).ToArray();
            var middle = pairs[Rounds / 2];
            return new
            {
                seconds = Seconds,
                ownSeconds = middle.Own,
                ffmpegSeconds = middle.Other,
                timesRealTime = Seconds / middle.Own,
                ratioToFfmpeg = middle.Other / middle.Own,
                ratios = pairs.Select(p => p.Other / p.Own).ToArray(),
            };
        }
        finally
        {
            folder.Delete(recursive: true);
        }
    }

    private static double Own(Rig rig, string[] files)
    {
        var begun = Stopwatch.GetTimestamp();
        var inlets = rig.Sources.Zip(files).ToDictionary(p => p.First.Id, p => new FileInlet(p.Second));
        var engine = new MixEngine(EnginePlan.Build(rig, s => inlets[s.Id], null));
        for (var b = 0; b < Seconds * AudioFormat.SampleRate / AudioFormat.BlockFrames; b++)
        {
            engine.ProcessBlock();
        }

        foreach (var inlet in inlets.Values)
        {
            inlet.Dispose();
        }

        return Stopwatch.GetElapsedTime(begun).TotalSeconds;
    }

    private static double Other(string[] files)
    {
        var start = new ProcessStartInfo("ffmpeg") { RedirectStandardError = true };
        foreach (var word in (string[])["-v", "error", "-nostats", "-threads", "1", "-filter_threads", "1", "-filter_complex_threads", "1"])
        {
            start.ArgumentList.Add(word);
        }

        foreach (var file in files)
        {
            start.ArgumentList.Add("-i");
            start.ArgumentList.Add(file);
        }

        // An encoder that does nothing gives the graph its output: the last mix leaves through it.
        foreach (var word in (string[])["-filter_complex", Graph(), "-map", "[out]", "-f", "null", "-"])
        {
            start.ArgumentList.Add(word);
        }

        var begun = Stopwatch.GetTimestamp();
        using var process = Process.Start(start)!;
        var errors = process.StandardError.ReadToEnd();
        process.WaitForExit();
        return process.ExitCode == 0 ? Stopwatch.GetElapsedTime(begun).TotalSeconds : throw new InvalidOperationException(errors);
    }

    // The text has a line for a source N and one for a mix M.
    private static string Graph()
    {
        using var stream = typeof(AgainstFfmpeg).Assembly.GetManifestResourceStream("reference-graph.txt")!;
        using var reader = new StreamReader(stream);
        var lines = reader.ReadToEnd().Split('\n', StringSplitOptions.RemoveEmptyEntries);
        var sources = Enumerable.Range(0, ReferenceRig.Sources).Select(s => lines[0].Replace("N", s.ToString(CultureInfo.InvariantCulture), StringComparison.Ordinal));
        var mixes = Enumerable.Range(0, ReferenceRig.Mixes).Select(m => lines[1]
            .Replace("WEIGHTS", Weights(m), StringComparison.Ordinal)
            .Replace("M", m.ToString(CultureInfo.InvariantCulture), StringComparison.Ordinal)
            .Replace("anullsink", m == ReferenceRig.Mixes - 1 ? "anull[out]" : "anullsink", StringComparison.Ordinal));
        return string.Join(';', sources.Concat(mixes));
    }

    private static string Weights(int mix) => "'" + string.Join(' ', Enumerable.Range(0, ReferenceRig.Sources)
        .Select(i => Math.Pow(10, (-3 - ((i + mix) % 4 * 3)) / 20.0).ToString("0.####", CultureInfo.InvariantCulture))) + "'";
}
