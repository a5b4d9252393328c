using System.Collections.Immutable;
using System.Diagnostics;
using System.Text.Json;
using Kinetra.Core.Editing;
using Kinetra.Core.Engine;
using Kinetra.Core.Gear;
using Kinetra.Core.Metering;
using Kinetra.Core.Rigs;
using Kinetra.Core.Signal;
using Kinetra.Gear;
using Kinetra.Gear.Practice;
using Kinetra.Media;

namespace Kinetra.Server.CommandLine;

/// <summary>What is to be rendered.</summary>
sealed record RenderOrder(
    string Show, IReadOnlyList<string> Inputs, string Folder, SoundFormat Format, string Bits, bool Sources, double? Seconds, string? Cues = null, string? Sounds = null);

/// <summary>What a source played.</summary>
/// <param name="Source">Its name.</param>
/// <param name="From">A file's path, a stand-in, a cable, or silence.</param>
sealed record RenderedInput(string Source, string From);

/// <summary>A loop of the show.</summary>
/// <param name="Through">What it goes through, by name.</param>
/// <param name="GainDb">What a sound gains with each round.</param>
/// <param name="Held">True: it was held muted.</param>
sealed record RenderedLoop(ImmutableArray<string> Through, double GainDb, bool Held);

/// <summary>One file that was written.</summary>
/// <param name="File">Its name in the folder.</param>
/// <param name="Kind">mix or source.</param>
/// <param name="Name">Whose it is.</param>
/// <param name="LookAheadMs">By how much its processors look ahead; taken out, so that all files share one zero.</param>
/// <param name="Clipped">Samples that the file's format could not hold.</param>
/// <param name="Meters">What it measures, as the engine gave it.</param>
sealed record RenderedFile(string File, string Kind, string Name, double LookAheadMs, long Clipped, Measured Meters);

/// <summary>The report beside the files.</summary>
sealed record RenderReport(
    string Show, double Seconds, string Format, IReadOnlyList<RenderedInput> Inputs, IReadOnlyList<RenderedLoop> Loops, IReadOnlyList<RenderedFile> Files);

/// <summary><c>render SHOW.json --input "SOURCE=FILE" … --out DIR</c>: a show through the very engine that runs it, without a clock.</summary>
static class RenderCommand
{
    private const double MaxSeconds = 24 * 3_600;
    private const int BlocksPerPiece = 256;

    public static int Run(RenderOrder order, TextWriter output, TextWriter errors)
    {
        var opened = new List<FileInlet>();
        var taken = new List<AddressSound>();
        try
        {
            Render(order, opened, taken, output, errors);
            return 0;
        }
        catch (RenderException e)
        {
            foreach (var problem in e.Problems)
            {
                errors.WriteLine(problem);
            }
        }
        catch (Exception e) when (e is IOException or UnauthorizedAccessException)
        {
            errors.WriteLine(e.Message);
        }
        finally
        {
            opened.ForEach(f => f.Dispose());
            taken.ForEach(t => t.Dispose());
        }

        return 1;
    }

    private static void Render(RenderOrder order, List<FileInlet> opened, List<AddressSound> taken, TextWriter output, TextWriter errors)
    {
        var show = ReadShow(order.Show);
        var kind = KindOf(order);
        var files = Open(show.Rig, order, opened, taken);
        var practice = Practice(show.Rig, files);
        var pads = RenderPads.Of(order, show.Rig);
        var (inlets, inputs) = InletsOf(show.Rig, files, practice.State, pads);
        var frames = Length(order, files.Values.Select(f => f.Inlet), pads.End);
        CheckRoom(order, show.Rig, frames);
        Directory.CreateDirectory(order.Folder);
        var plan = EnginePlan.Build(Filed(show.Rig, files), s => inlets[s.Id], null, gear: practice);
        var engine = new MixEngine(plan);
        pads.Prepare(show.Rig, plan);
        var tracks = Tracks(order, show.Rig, engine, kind, frames);
        try
        {
            var watch = Stopwatch.StartNew();
            var total = (frames + tracks.Max(t => t.Latency) + AudioFormat.BlockFrames - 1) / AudioFormat.BlockFrames;
            var told = 0L;
            for (var done = 0L; done < total;)
            {
                pads.GiveUntil((done + BlocksPerPiece) * AudioFormat.BlockFrames, engine);
                for (var piece = Math.Min(BlocksPerPiece, total - done); piece > 0; piece--, done++)
                {
                    engine.ProcessBlock();
                }

                Parallel.ForEach(tracks, t => t.CatchUp());
                if (done * 10 / total > told)
                {
                    told = done * 10 / total;
                    var speed = done * AudioFormat.BlockFrames / (double)AudioFormat.SampleRate / watch.Elapsed.TotalSeconds;
                    errors.WriteLine($"{told * 10} %, {Commands.Figure(speed, "times real time", "0")}");
                }
            }
        }
        finally
        {
            tracks.ForEach(t => t.Dispose());
        }

        var report = new RenderReport(
            show.Name,
            frames / (double)AudioFormat.SampleRate,
            order.Format.ToString().ToLowerInvariant(),
            inputs,
            [.. plan.Loops.Select(l => new RenderedLoop(l.Names, l.GainDecibels, !l.Held.IsEmpty))],
            [.. tracks.Select(t => t.Report())]);
        File.WriteAllText(Path.Combine(order.Folder, "report.json"), JsonSerializer.Serialize(report, Commands.Json) + "\n");
        Print(report, order.Folder, output);
    }

    private static ShowFile ReadShow(string path)
    {
        if (!File.Exists(path))
        {
            throw new RenderException(new RigProblem(path, "There is no such file.", "a show file, as docs/show-format.md describes it"));
        }

        if (new FileInfo(path).Length > ShowFile.MaxBytes)
        {
            throw new RenderException(new RigProblem(path, "The file is too large for a show.", $"at most {ShowFile.MaxBytes} bytes"));
        }

        return ShowFile.Read(File.ReadAllBytes(path), out var problems) ?? throw new RenderException([.. problems]);
    }

    private static SampleKind KindOf(RenderOrder order) => (order.Format, order.Bits) switch
    {
        (_, "") => SampleKind.Floating,
        (SoundFormat.Wav, "32") => SampleKind.Floating,
        (SoundFormat.Wav or SoundFormat.Flac, "24") => SampleKind.Bits24,
        (SoundFormat.Wav or SoundFormat.Flac, "16") => SampleKind.Bits16,
        _ => throw new RenderException(new RigProblem(
            "--bits", $"{order.Format} has no {order.Bits} bits.", "32, 24 or 16 for wav; 24 or 16 for flac; nothing for the others")),
    };

    // SOURCE=FILE; a name may hold an equals sign itself.
    private static Dictionary<SourceId, (string Path, FileInlet Inlet)> Open(Rig rig, RenderOrder order, List<FileInlet> opened, List<AddressSound> taken)
    {
        var files = new Dictionary<SourceId, (string, FileInlet)>();
        foreach (var input in order.Inputs)
        {
            var (source, path) = rig.Sources
                .SelectMany(s => new[] { (Source: s, Start: s.Name + "="), (Source: s, Start: s.Id + "=") })
                .Where(c => input.StartsWith(c.Start, StringComparison.OrdinalIgnoreCase))
                .OrderByDescending(c => c.Start.Length)
                .Select(c => (c.Source, input[c.Start.Length..]))
                .FirstOrDefault();
            if (source is null)
            {
                throw new RenderException(new RigProblem(
                    "--input", $"“{input}” names no source of the show.", "SOURCE=FILE, where SOURCE is one of: " + string.Join(", ", rig.Sources.Select(s => s.Name))));
            }

            if (files.ContainsKey(source.Id) || source.Input is CableInput)
            {
                throw new RenderException(new RigProblem(
                    "--input", source.Input is CableInput ? $"{source.Name} records from a cable of the show." : $"{source.Name} has a file already.", "one file for each source that has an input of its own"));
            }

            try
            {
                if (AddressSound.IsAddress(path))
                {
                    // The address has a key in it, which is nobody's to read in a report.
                    taken.Add(AddressSound.Take(path, order.Seconds ?? AddressSound.UsualSeconds));
                    opened.Add(new FileInlet(taken[^1].Path));
                    files[source.Id] = ($"an address on this computer, {taken[^1].Format}", opened[^1]);
                    continue;
                }

                opened.Add(new FileInlet(path));
                files[source.Id] = (path, opened[^1]);
            }
            catch (SoundFileException e)
            {
                throw new RenderException(new RigProblem($"--input {source.Name}", AddressSound.IsAddress(path) ? e.What : $"{path}: {e.What}", e.Allowed));
            }
        }

        return files;
    }

    // The practice computer plays as when it was new, where the show takes anything from it.
    private static RunningGear Practice(Rig rig, Dictionary<SourceId, (string Path, FileInlet Inlet)> files)
    {
        if (rig.Sources.All(s => files.ContainsKey(s.Id) || s.Input is not (DeviceInput or AppInput or EverythingElseInput)))
        {
            return RunningGear.None;
        }

        var computer = new PracticeComputer(new StandIns());
        var state = PracticeCatalog.Initial();
        computer.Become(state);
        return new RunningGear(state, computer.Sound);
    }

    // A source that a file is given for has its sound from that.
    private static Rig Filed(Rig rig, Dictionary<SourceId, (string Path, FileInlet Inlet)> files) =>
        rig with { Sources = [.. rig.Sources.Select(s => s.Input.IsLinked && files.TryGetValue(s.Id, out var file) ? s with { Input = new BrowserInput("file", "file", Path.GetFileName(file.Path), 0, 1) } : s)] };

    // What has no file is silent.
    private static (Dictionary<SourceId, IInlet> Inlets, IReadOnlyList<RenderedInput> Inputs) InletsOf(
        Rig rig, Dictionary<SourceId, (string Path, FileInlet Inlet)> files, GearState gear, RenderPads pads)
    {
        var inlets = new Dictionary<SourceId, IInlet>();
        var inputs = new List<RenderedInput>();
        foreach (var source in rig.Sources)
        {
            (IInlet Inlet, string From) what = (files.TryGetValue(source.Id, out var file), source.Input) switch
            {
                (true, _) => (file.Inlet, file.Path),
                (_, CableInput cable) => (new SilentInlet(), $"cable {rig.Find(cable.Cable)!.Name}"),
                (_, DeviceInput device) when gear.Find(device.Device) is { } known => (new SilentInlet(), $"practice device {known.Name}"),
                (_, AppInput app) when gear.Find(app.App) is { } known => (new SilentInlet(), $"practice program {known.Name}"),
                (_, PadsInput) => (pads.Inlet(source.Id), "pads"),
                (_, EverythingElseInput) => (new SilentInlet(), "everything else of the practice computer"),
                _ => (new SilentInlet(), "silence"),
            };
            inlets[source.Id] = what.Inlet;
            inputs.Add(new RenderedInput(source.Name, what.From));
        }

        return (inlets, inputs);
    }

    private static long Length(RenderOrder order, IEnumerable<FileInlet> files, long pads)
    {
        if (order.Seconds is { } seconds)
        {
            return seconds is > 0 and <= MaxSeconds
                ? (long)Math.Ceiling(seconds * AudioFormat.SampleRate)
                : throw new RenderException(new RigProblem("--seconds", $"{Commands.Figure(seconds, "s", "0.###")} cannot be rendered.", "more than 0, at most 86400"));
        }

        // What a file states of its length may be anything; what is really in it counts.
        var longest = files.Select(f => f.CountFrames((long)(MaxSeconds * AudioFormat.SampleRate))).Append(pads).Max();
        return longest switch
        {
            0 => throw new RenderException(new RigProblem("--seconds", "How long it should be is not known.", "a number of seconds, cues, or files with sound in them")),
            > (long)(MaxSeconds * AudioFormat.SampleRate) => throw new RenderException(new RigProblem("--input", "A file is longer than a day.", "--seconds, at most 86400, to render a part of it")),
            _ => longest,
        };
    }

    // Rather now than when nothing more goes onto the disk.
    private static void CheckRoom(RenderOrder order, Rig rig, long frames)
    {
        const int mostBytesPerFrame = 2 * sizeof(float);
        var needed = frames * mostBytesPerFrame * (rig.Mixes.Length + (order.Sources ? rig.Sources.Length : 0));
        var there = new DirectoryInfo(order.Folder);
        while (!there.Exists && there.Parent is { } above)
        {
            there = above;
        }

        var free = new DriveInfo(there.FullName).AvailableFreeSpace;
        if (needed > free)
        {
            throw new RenderException(new RigProblem(
                "--out",
                $"The files may take {Commands.Figure(needed / 1e9, "GB", "0.0")}; {Commands.Figure(free / 1e9, "GB", "0.0")} are free for {order.Folder}.",
                "a folder with room, or fewer --seconds"));
        }
    }

    private static List<RenderTrack> Tracks(RenderOrder order, Rig rig, MixEngine engine, SampleKind kind, long frames)
    {
        var names = new HashSet<string>(StringComparer.OrdinalIgnoreCase) { "report" };
        var tracks = new List<RenderTrack>();
        for (var m = 0; m < rig.Mixes.Length; m++)
        {
            tracks.Add(Track("mix", rig.Mixes[m].Name, new MixPoint(rig.Mixes[m].Id)));
        }

        for (var s = 0; order.Sources && s < rig.Sources.Length; s++)
        {
            tracks.Add(Track("source", rig.Sources[s].Name, new SourcePoint(rig.Sources[s].Id)));
        }

        return tracks.Count > 0 ? tracks : throw new RenderException(new RigProblem("mixes", "The show has nothing to render.", "a show with a mix, or --sources"));

        RenderTrack Track(string what, string name, Point point)
        {
            var plain = string.Concat((what == "mix" ? name : $"source {name}").Select(c => Path.GetInvalidFileNameChars().Contains(c) || c == '\\' ? '-' : c));
            var free = plain;
            for (var n = 2; !names.Add(free); n++)
            {
                free = $"{plain} {n}";
            }

            var extension = order.Format.ToString().ToLowerInvariant();
            return new RenderTrack(Path.Combine(order.Folder, $"{free}.{extension}"), what, name, engine.RingOf(point)!, engine.Plan.LatencyOf(point), frames, order.Format, kind);
        }
    }

    private static void Print(RenderReport report, string folder, TextWriter output)
    {
        output.WriteLine($"{report.Show}, {Commands.Figure(report.Seconds, "s", "0.00")}, in {folder}:");
        foreach (var file in report.Files)
        {
            output.WriteLine($"  {file.File}: {Commands.Figure(file.Meters.IntegratedLufs, "LUFS")}, {Commands.Figure(file.Meters.TruePeakDbtp, "dBTP")}"
                + (file.Clipped > 0 ? $", {file.Clipped} samples beyond full scale were held there" : ""));
        }

        foreach (var loop in report.Loops)
        {
            output.WriteLine($"  A loop through {string.Join(", ", loop.Through)}: {Commands.Figure(loop.GainDb, "dB")} with each round{(loop.Held ? "; it was held muted" : "")}.");
        }
    }
}

/// <summary>Something about the order is wrong.</summary>
sealed class RenderException(params RigProblem[] problems) : Exception(string.Join(" ", problems.AsEnumerable()))
{
    public IReadOnlyList<RigProblem> Problems => problems;
}
