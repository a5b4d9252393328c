using System.Text.Json;
using Kinetra.Core.Metering;
using Kinetra.Media;

namespace Kinetra.Server.CommandLine;

/// <summary>What a file is, and what it measures (<see cref="Measured"/>).</summary>
sealed record FileReport(
    string File,
    string Format,
    int SampleRate,
    int Channels,
    string? Layout,
    double Seconds,
    double? IntegratedLufs,
    double? LoudnessRangeLu,
    double? MaxMomentaryLufs,
    double? MaxShortTermLufs,
    double? TruePeakDbtp,
    double? SamplePeakDbfs,
    double? RmsDbfs,
    double? NoiseFloorDbfs,
    long Clips,
    long FlatTops,
    double DcOffset,
    double? Correlation)
{
    public static FileReport Of(string file, OpenSoundFile sound, Measured m) => new(
        file, sound.Format, sound.SampleRate, sound.Channels, sound.Layout, m.Seconds, m.IntegratedLufs, m.LoudnessRangeLu, m.MaxMomentaryLufs, m.MaxShortTermLufs,
        m.TruePeakDbtp, m.SamplePeakDbfs, m.RmsDbfs, m.NoiseFloorDbfs, m.Clips, m.FlatTops, m.DcOffset, m.Correlation);
}

/// <summary><c>measure FILE… [--json] [--for SECONDS]</c></summary>
static class MeasureCommand
{
    public static int Run(IReadOnlyList<string> files, bool json, double seconds, TextWriter output, TextWriter errors)
    {
        var reports = new List<FileReport>();
        var failed = false;
        foreach (var file in files)
        {
            try
            {
                var report = Measure(file, seconds);
                reports.Add(report);
                if (!json)
                {
                    Print(report, output);
                }
            }
            catch (Exception e) when (e is SoundFileException or IOException or UnauthorizedAccessException)
            {
                failed = true;
                errors.WriteLine($"{file}: {(e is SoundFileException refusal ? $"{refusal.What} Allowed: {refusal.Allowed}." : e.Message)}");
            }
        }

        if (json)
        {
            output.WriteLine(JsonSerializer.Serialize(reports, Commands.Json));
        }

        return failed ? 1 : 0;
    }

    private static FileReport Measure(string file, double seconds)
    {
        if (AddressSound.IsAddress(file))
        {
            using var taken = AddressSound.Take(file, seconds);
            return Measure(taken.Path, seconds) with { File = file, Format = taken.Format };
        }

        if (!File.Exists(file))
        {
            throw new SoundFileException("There is no such file.", OpenSoundFile.Allowed);
        }

        using var sound = new OpenSoundFile(file);
        return FileReport.Of(file, sound, sound.Measure());
    }

    private static void Print(FileReport r, TextWriter output)
    {
        output.WriteLine(r.File);
        output.WriteLine($"  {r.Format}, {Commands.Figure(r.SampleRate, "Hz", "0")}, {r.Channels} ch ({r.Layout ?? "where each is heard from is not known: all count alike"}), {Commands.Figure(r.Seconds, "s", "0.00")}");
        output.WriteLine($"  integrated {Commands.Figure(r.IntegratedLufs, "LUFS")}, range {Commands.Figure(r.LoudnessRangeLu, "LU")}, "
            + $"momentary at most {Commands.Figure(r.MaxMomentaryLufs, "LUFS")}, short-term at most {Commands.Figure(r.MaxShortTermLufs, "LUFS")}");
        output.WriteLine($"  true peak {Commands.Figure(r.TruePeakDbtp, "dBTP")}, sample peak {Commands.Figure(r.SamplePeakDbfs, "dBFS")}, "
            + $"RMS {Commands.Figure(r.RmsDbfs, "dBFS")}, noise floor about {Commands.Figure(r.NoiseFloorDbfs, "dBFS")}");
        output.WriteLine($"  clips {r.Clips}, flat tops below {r.FlatTops}, offset {Commands.Figure(r.DcOffset * 100, "%", "0.000")}, correlation {Commands.Figure(r.Correlation, "", "0.00")}");
    }
}
