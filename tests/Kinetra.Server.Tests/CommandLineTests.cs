using System.Diagnostics;
using System.Globalization;
using System.Runtime.InteropServices;
using System.Text.Json.Nodes;
using System.Text.RegularExpressions;
using Kinetra.Core.Editing;
using Kinetra.Core.Processors;
using Kinetra.Core.Rigs;
using Kinetra.Core.Signal;
using Kinetra.Server.CommandLine;

namespace Kinetra.Server.Tests;

/// <summary>measure and render, as a person types them; another program makes and decodes the files.</summary>
public sealed class CommandLineTests : IDisposable
{
    private static readonly string Voices = Path.Combine(Root(), "src", "Kinetra.Gear", "Voices");
    private readonly DirectoryInfo _folder = Directory.CreateTempSubdirectory("kinetra-cli-");

    public void Dispose() => _folder.Delete(recursive: true);

    [Fact]
    public void Measured_loudness_range_and_peaks_are_those_that_another_program_measures()
    {
        // Speech and music, at three rates, one of them stereo and mixed.
        Ffmpeg("-i", Voice("host"), "-i", Voice("guest"), "-filter_complex", "[0]pan=stereo|c0=c0|c1=0.5*c0[a];[1]pan=stereo|c0=0.2*c0|c1=c0[b];[a][b]amix=inputs=2:normalize=0", "-ar", "44100", At("two.wav"));
        foreach (var file in new[] { Voice("host"), Voice("crew"), At("two.wav") })
        {
            var report = Json(["measure", file, "--json"]).AsArray().Single()!;
            var summary = FfmpegSays("-nostats", "-i", file, "-af", "aresample=48000,ebur128=peak=true:dualmono=false", "-f", "null", "-");
            ((double)report["integratedLufs"]!).ShouldBe(Last(summary, @"I:\s+(-?[\d.]+) LUFS"), 0.15, file);
            ((double)report["loudnessRangeLu"]!).ShouldBe(Last(summary, @"LRA:\s+(-?[\d.]+) LU"), 0.2, file);
            ((double)report["truePeakDbtp"]!).ShouldBe(Last(summary, @"Peak:\s+(-?[\d.]+) dBFS"), 0.25, file);
            var statistics = FfmpegSays("-i", file, "-af", "astats=measure_perchannel=none", "-f", "null", "-");
            ((double)report["samplePeakDbfs"]!).ShouldBe(Last(statistics, @"Peak level dB: (-?[\d.]+)"), 0.01, file);
            ((double)report["rmsDbfs"]!).ShouldBe(Last(statistics, @"RMS level dB: (-?[\d.]+)") + 3.01, 0.02, file);
        }
    }

    [Fact]
    public void Every_format_is_measured_and_silence_has_no_loudness()
    {
        string[] files = ["a.wav", "a.aiff", "a.caf", "a.flac", "a.w64", "a.ogg", "a.opus", "a.mp3"];
        foreach (var file in files)
        {
            Ffmpeg("-f", "lavfi", "-i", "sine=440:d=4:r=48000", "-af", "volume=0dB", At(file));
        }

        var reports = Json(["measure", .. files.Select(At), "--json"]).AsArray();
        reports.Select(r => (string)r!["file"]!).ShouldBe(files.Select(At));
        reports.ShouldAllBe(r => Math.Abs((double)r!["rmsDbfs"]! - (double)reports[0]!["rmsDbfs"]!) < 0.5);
        Ffmpeg("-f", "lavfi", "-i", "anullsrc=d=4", At("silence.flac"));
        var silence = Json(["measure", At("silence.flac"), "--json"])[0]!;
        silence.AsObject().ContainsKey("integratedLufs").ShouldBeTrue();
        silence["integratedLufs"].ShouldBeNull();
        silence["truePeakDbtp"].ShouldBeNull();
    }

    [Fact]
    public void In_a_process_of_its_own_the_first_file_measures_what_the_same_file_measures_again()
    {
        Ffmpeg("-f", "lavfi", "-i", "anoisesrc=a=0.2:d=2:seed=3", "-af", "aeval=val(0)+0.1", "-ar", "48000", At("offset.wav"));
        var assembly = typeof(Kinetra.Server.Hosting.ServerOptions).Assembly.Location;
        var start = new ProcessStartInfo("dotnet", [assembly, "measure", At("offset.wav"), At("offset.wav"), "--json"]) { RedirectStandardOutput = true };
        using var process = Process.Start(start)!;
        var reports = JsonNode.Parse(process.StandardOutput.ReadToEnd())!.AsArray();
        process.WaitForExit();
        reports[0]!.ToJsonString().ShouldBe(reports[1]!.ToJsonString());
    }

    [Theory]
    [InlineData("pcm_s16le", "clip.wav")]
    [InlineData("pcm_s24le", "clip.wav")]
    [InlineData("flac", "clip.flac")]
    [InlineData("pcm_f32le", "clip.wav")]
    public void Clips_count_on_both_sides_of_every_formats_own_full_scale(string codec, string file)
    {
        // Five tops and five bottoms of a loud sine, cut off at full scale.
        Ffmpeg("-f", "lavfi", "-i", "aevalsrc='clip(2*sin(2*PI*100*t),-1,1)':s=48000:d=0.05", "-c:a", codec, At(file));
        var report = Json(["measure", At(file), "--json"])[0]!;
        ((long)report["clips"]!).ShouldBe(10);
        ((long)report["flatTops"]!).ShouldBe(0);
    }

    [Fact]
    public void Tops_that_were_cut_off_before_the_sound_was_lowered_are_counted_and_smooth_ones_are_not()
    {
        Ffmpeg("-f", "lavfi", "-i", "aevalsrc='0.5*clip(1.5*sin(2*PI*500*t),-1,1)':s=48000:d=0.05", "-c:a", "pcm_s16le", At("cut.wav"));
        Ffmpeg("-f", "lavfi", "-i", "aevalsrc='0.5*sin(2*PI*20*t)+0.2*sin(2*PI*77*t)':s=48000:d=4", "-c:a", "pcm_s16le", At("smooth.wav"));
        var reports = Json(["measure", At("cut.wav"), At("smooth.wav"), "--json"]).AsArray();
        ((long)reports[0]!["flatTops"]!).ShouldBeInRange(48, 50);
        ((long)reports[0]!["clips"]!).ShouldBe(0);
        ((long)reports[1]!["flatTops"]!).ShouldBe(0);
    }

    [Theory]
    [InlineData("5.1.wav", "5.1")]
    [InlineData("5.1.flac", "5.1")]
    [InlineData("5.1.ogg", "5.1")]
    [InlineData("5.1.opus", "5.1")]
    [InlineData("5.0.wav", "5.0")]
    [InlineData("7.1.wav", "7.1")]
    public void Of_more_channels_each_counts_as_the_place_it_is_heard_from(string file, string layout)
    {
        // Each channel at a level of its own, the loudest that of low frequencies: it must not count.
        var channels = layout == "5.0" ? 5 : layout == "7.1" ? 8 : 6;
        double[] levels = channels == 5 ? [0.05, 0.08, 0.11, 0.2, 0.14] : [0.05, 0.08, 0.11, 0.6, 0.2, 0.14, 0.1, 0.17];
        if (channels == 8)
        {
            // Of channels from behind, that program says another thing than the recommendation.
            (levels[4], levels[5]) = (0, 0);
        }

        var expressions = string.Join("|", Enumerable.Range(0, channels).Select(c => string.Create(CultureInfo.InvariantCulture, $"{levels[c]}*sin(2*PI*{500 + (37 * c)}*t)")));
        Ffmpeg("-f", "lavfi", "-i", $"aevalsrc='{expressions}':s=48000:d=4:c={layout}", At(file));
        var report = Json(["measure", At(file), "--json"])[0]!;
        ((string)report["layout"]!).ShouldBe(layout);
        var summary = FfmpegSays("-nostats", "-i", At(file), "-af", "ebur128", "-f", "null", "-");
        ((double)report["integratedLufs"]!).ShouldBe(Last(summary, @"I:\s+(-?[\d.]+) LUFS"), 0.15);
    }

    [Fact]
    public void Beside_channels_from_the_side_those_from_behind_count_as_those_in_front()
    {
        double Of(int channel)
        {
            var expressions = string.Join("|", Enumerable.Range(0, 8).Select(c => c == channel ? "0.1*sin(2*PI*1000*t)" : "0"));
            Ffmpeg("-f", "lavfi", "-i", $"aevalsrc='{expressions}':s=48000:d=2:c=7.1", At($"{channel}.wav"));
            return (double)Json(["measure", At($"{channel}.wav"), "--json"])[0]!["integratedLufs"]!;
        }

        Of(4).ShouldBe(Of(0), 0.01);
        Of(6).ShouldBe(Of(0) + 1.49, 0.01);
    }

    [Theory]
    [InlineData(44_100)]
    [InlineData(32_000)]
    [InlineData(96_000)]
    [InlineData(22_050)]
    [InlineData(11_025)]
    public void Sound_that_fills_the_band_of_another_rate_is_measured_whole(int rate)
    {
        Ffmpeg("-f", "lavfi", "-i", $"anoisesrc=a=0.3:d=6:seed=5:r={rate}", "-c:a", "pcm_f32le", At("full.wav"));
        var report = Json(["measure", At("full.wav"), "--json"])[0]!;
        var summary = FfmpegSays("-nostats", "-i", At("full.wav"), "-af", "ebur128", "-f", "null", "-");

        // That program measures at 48 kHz, converted with a filter of its own.
        ((double)report["integratedLufs"]!).ShouldBe(Last(summary, @"I:\s+(-?[\d.]+) LUFS"), rate == 96_000 ? 3.5 : 0.25);
        ((double)report["seconds"]!).ShouldBe(6, 1e-3);
    }

    [Fact]
    public void A_file_that_lies_about_its_length_is_rendered_as_long_as_it_really_is()
    {
        Ffmpeg("-f", "lavfi", "-i", "sine=d=1:r=48000", "-ac", "1", At("lies.flac"));
        var bytes = File.ReadAllBytes(At("lies.flac"));

        // STREAMINFO: the last 36 bits before the checksum are the number of samples.
        (bytes[21], bytes[22], bytes[23], bytes[24], bytes[25]) = ((byte)(bytes[21] | 0x0F), 0xFF, 0xFF, 0xFF, 0xFF);
        File.WriteAllBytes(At("lies.flac"), bytes);
        var show = Show(rig => rig);
        Run(["render", show, "--input", $"One={At("lies.flac")}", "--out", At("out")]).Exit.ShouldBe(0);
        var report = JsonNode.Parse(File.ReadAllText(Path.Combine(At("out"), "report.json")))!;
        ((double)report["seconds"]!).ShouldBe(1, 1e-3);
    }

    [Fact]
    public void A_number_is_understood_whole_or_refused()
    {
        var (exit, _, errors) = Run(["render", Show(rig => rig), "--seconds", "0,5", "--out", At("out")]);
        exit.ShouldNotBe(0);
        errors.ShouldContain("“0,5” is not a number");
    }

    [Fact]
    public void What_cannot_be_measured_is_named_and_the_rest_is_measured_all_the_same()
    {
        File.WriteAllText(At("letter.txt"), "No sound in here.");
        Ffmpeg("-f", "lavfi", "-i", "sine=d=1", At("tone.wav"));
        var (exit, output, errors) = Run(["measure", At("letter.txt"), At("tone.wav"), At("nothing.wav"), "--json"]);
        exit.ShouldBe(1);
        JsonNode.Parse(output)!.AsArray().Count.ShouldBe(1);
        errors.ShouldContain("letter.txt: This is not a sound file that can be read");
        errors.ShouldContain("nothing.wav: There is no such file.");
        Run(["measure"]).Exit.ShouldNotBe(0);
        Run(["measure", At("tone.wav")]).Output.ShouldContain("LUFS");
    }

    [Fact]
    public void A_render_writes_what_each_listener_hears_and_all_files_share_one_zero()
    {
        // A click in both sources at the same time; one is 5 ms late by look-ahead, and the mix's limiter adds its own.
        Ffmpeg("-f", "lavfi", "-i", "aevalsrc='0.5*eq(n,4800)':s=48000:d=1", At("click.wav"));
        var show = Show(rig => Apply(
            rig,
            new AddProcessor(new SourcePoint(new("one")), Processor.Of(Gate.Type, ("range", 0), ("lookAhead", 5))),
            new AddProcessor(new MixPoint(new("out")), Processor.Of(Limiter.Type)),
            new SetSend(new("out"), new("two"), new Gain(-6))));
        var (exit, output, errors) = Run(["render", show, "--input", $"One={At("click.wav")}", "--input", $"two={At("click.wav")}", "--out", At("made"), "--sources"]);
        (exit, errors.Contains("100 %", StringComparison.Ordinal)).ShouldBe((0, true), errors);
        output.ShouldContain("Out.wav");
        var mix = Decode(At("made/Out.wav"));
        mix.Length.ShouldBe(2 * 48_000);
        Loudest(mix, 2).ShouldBe(4_800);
        ((double)mix[2 * 4_800]).ShouldBe(0.5 * (1 + Math.Pow(10, -6 / 20.0)), 1e-4);
        Loudest(Decode(At("made/source One.wav")), 1).ShouldBe(4_800);
        Loudest(Decode(At("made/source Two.wav")), 1).ShouldBe(4_800);
        var report = JsonNode.Parse(File.ReadAllText(At("made/report.json")))!;
        report["files"]!.AsArray().Select(f => (string)f!["file"]!).ShouldBe(["Out.wav", "source One.wav", "source Two.wav"]);
        ((double)report["files"]![1]!["lookAheadMs"]!).ShouldBe(5);
        ((double)report["files"]![0]!["meters"]!["samplePeakDbfs"]!).ShouldBe(20 * Math.Log10(mix.Max()), 0.01);
    }

    [Fact]
    public void A_list_of_cues_is_rehearsed_with_hands_at_given_seconds_and_what_it_lacks_is_told()
    {
        Directory.CreateDirectory(At("sounds/more"));
        Ffmpeg("-f", "lavfi", "-i", "aevalsrc='0.5*eq(n,4800)':s=48000:d=0.2", At("sounds/more/click.wav"));
        var address = Convert.ToHexStringLower(System.Security.Cryptography.SHA256.HashData(File.ReadAllBytes(At("sounds/more/click.wav"))));
        var pad = new Pad { Id = new("click"), Name = "Click", Sound = address, Source = new("pads"), End = 200 };
        var show = Show(rig => Apply(
            rig,
            new AddSource(new Source { Id = new("pads"), Name = "Pads", Kind = SourceKind.Pads, Input = new PadsInput() }),
            new AddPadSet(new PadSet { Id = new("set"), Name = "Set", Pads = [pad] }),
            new AddCue(new Cue { Id = new("one"), Name = "One", Acts = [new PlayPad(pad.Id)] }),
            new AddCue(new Cue { Id = new("two"), Name = "Two", Acts = [new PlayPad(pad.Id)], Begin = CueBegin.AfterPrevious, Wait = 500 })));
        var (exit, _, errors) = Run(["render", show, "--cues", "0.5", "--sounds", At("sounds"), "--out", At("made")]);
        exit.ShouldBe(0, errors);
        var mix = Decode(At("made/Out.wav"));
        var loud = Enumerable.Range(0, mix.Length / 2).Where(n => Math.Abs(mix[2 * n]) > 0.01).ToList();
        loud.ShouldBe([24_000 + 4_800, 24_000 + 9_600 + 24_000 + 4_800]);

        Run(["render", show, "--cues", "0.5, 0.2", "--out", At("no")]).Errors.ShouldContain("rise");
        Run(["render", show, "--cues", "soon", "--out", At("no")]).Errors.ShouldContain("“soon” is no time");
        Run(["render", show, "--cues", "1", "--out", At("no")]).Errors.ShouldContain("--sounds");
        File.Delete(At("sounds/more/click.wav"));
        Run(["render", show, "--cues", "1", "--sounds", At("sounds"), "--out", At("no")]).Errors.ShouldContain("Click");
        Directory.Exists(At("no")).ShouldBeFalse();
    }

    [Fact]
    public void Levels_that_cues_recall_are_rendered_and_need_no_sounds()
    {
        var show = Show(rig => Apply(
            rig,
            new AddCue(new Cue { Id = new("down"), Name = "Down", Acts = [new RecallLevels([.. rig.Mixes.SelectMany(m => m.Sends.Select(s => new CueLevel(m.Id, s.Source, Gain.Off)))], 500)] }),
            new AddCue(new Cue { Id = new("up"), Name = "Up", Begin = CueBegin.AfterPrevious, Wait = 500, Acts = [new TurnMusic(rig.Sources[0].Id, false)] })));
        var (exit, _, errors) = Run(["render", show, "--input", $"One={Voice("host")}", "--cues", "1", "--seconds", "3", "--out", At("made")]);
        exit.ShouldBe(0, errors);
        var mix = Decode(At("made/Out.wav"));
        mix[..96_000].Max().ShouldBeGreaterThan(0.01f);
        Array.TrueForAll(mix[((72_000 + 1_024) * 2)..], x => x == 0).ShouldBeTrue();
    }

    [Theory]
    [InlineData("wav", "", "pcm_f32le")]
    [InlineData("wav", "24", "pcm_s24le")]
    [InlineData("wav", "16", "pcm_s16le")]
    [InlineData("flac", "", "flac")]
    [InlineData("ogg", "", "vorbis")]
    [InlineData("opus", "", "opus")]
    [InlineData("mp3", "", "mp3")]
    public void Each_format_holds_the_same_mix(string format, string bits, string codec)
    {
        var show = Show(rig => rig);
        string[] kind = bits.Length > 0 ? ["--bits", bits] : [];
        Run(["render", show, "--input", $"One={Voice("host")}", "--out", At("made"), "--format", format, "--seconds", "6", .. kind]).Exit.ShouldBe(0);
        var file = At($"made/Out.{format}");
        Start("ffprobe", ["-v", "error", "-show_streams", file]).Output.ShouldContain($"codec_name={codec}");
        var said = (double)JsonNode.Parse(File.ReadAllText(At("made/report.json")))!["files"]![0]!["meters"]!["integratedLufs"]!;
        Last(FfmpegSays("-nostats", "-i", file, "-af", "ebur128", "-f", "null", "-"), @"I:\s+(-?[\d.]+) LUFS").ShouldBe(said, 0.2);
    }

    [Fact]
    public void The_same_order_gives_the_same_files_to_the_byte()
    {
        var show = Path.Combine(Root(), "docs", "examples", "the-lamp-room.show.json");
        foreach (var made in new[] { "first", "second" })
        {
            Run(["render", show, "--input", $"Host mic={Voice("host")}", "--out", At(made), "--seconds", "3", "--bits", "16"]).Exit.ShouldBe(0);
        }

        foreach (var file in Directory.GetFiles(At("first")))
        {
            File.ReadAllBytes(file).ShouldBe(File.ReadAllBytes(Path.Combine(At("second"), Path.GetFileName(file))), file);
        }
    }

    [Fact]
    public void A_loop_is_reported_and_what_is_held_stays_silent()
    {
        var show = Show(rig => Apply(
            rig,
            new AddCable(new Cable { Id = new("wire"), Name = "Wire", Feeds = [new CableFeed { From = new MixPoint(new MixId("out")) }] }),
            new SetSource(new("two"), Input: new CableInput(new("wire"), 0, 1))));
        var (exit, output, _) = Run(["render", show, "--input", $"One={Voice("host")}", "--out", At("made"), "--seconds", "2"]);
        exit.ShouldBe(0);
        output.ShouldContain("A loop through");
        output.ShouldContain("held muted");
    }

    [Theory]
    [InlineData("", "--out")]
    [InlineData("--out OUT", "How long it should be is not known.")]
    [InlineData("--out OUT --seconds 0", "cannot be rendered")]
    [InlineData("--out OUT --seconds 1 --input Three=x.wav", "names no source of the show")]
    [InlineData("--out OUT --seconds 1 --input One=nowhere.wav", "There is no such file.")]
    [InlineData("--out OUT --seconds 1 --format mp3 --bits 16", "has no 16 bits")]
    [InlineData("--out OUT --seconds 1 --format cassette", "cassette")]
    [InlineData("--out /proc/nowhere --seconds 1", "/proc/nowhere")]
    public void An_order_that_cannot_be_carried_out_is_refused_with_words_and_nothing_is_written(string rest, string says)
    {
        var words = rest.Replace("OUT", At("made"), StringComparison.Ordinal).Split(' ', StringSplitOptions.RemoveEmptyEntries);
        var (exit, _, errors) = Run(["render", Show(rig => rig), .. words]);
        exit.ShouldNotBe(0);
        errors.ShouldContain(says);
        Directory.Exists(At("made")).ShouldBeFalse();
    }

    [Fact]
    public void What_would_not_fit_onto_the_disk_is_refused_before_it_is_begun()
    {
        // A day of eighty tracks: 2.7 TB.
        Assert.SkipUnless(new DriveInfo(_folder.FullName).AvailableFreeSpace < 2_600_000_000_000, "This disk is too large to be filled.");
        var sources = Enumerable.Range(3, 62).Select(n => (RigCommand)new AddSource(new Source { Id = new($"s{n}"), Name = $"S{n}", Kind = SourceKind.App, Input = new DeviceInput(new("none"), 0) }));
        var mixes = Enumerable.Range(2, 15).Select(n => (RigCommand)new AddMix(new Mix { Id = new($"m{n}"), Name = $"M{n}", Purpose = MixPurpose.Other }));
        var (exit, _, errors) = Run(["render", Show(rig => Apply(rig, [.. sources, .. mixes])), "--out", At("made"), "--sources", "--seconds", "86400"]);
        exit.ShouldNotBe(0);
        errors.ShouldContain("GB are free for");
        Directory.Exists(At("made")).ShouldBeFalse();
    }

    [Fact]
    public void A_show_file_that_is_wrong_is_refused_field_by_field()
    {
        File.WriteAllText(At("wrong.json"), """{"format":"kinetra-show","version":"draft-1","name":"x","sources":[{"id":"a","name":"A","kind":"Kazoo"}]}""");
        var (exit, _, errors) = Run(["render", At("wrong.json"), "--out", At("made"), "--seconds", "1"]);
        exit.ShouldBe(1);
        errors.ShouldContain("sources[0].kind: \"Kazoo\" is not understood.");
        errors.ShouldContain("sources[0].input: This field is missing.");
        Run(["render", At("none.json"), "--out", At("made")]).Errors.ShouldContain("There is no such file.");
    }

    private static Rig Apply(Rig rig, params RigCommand[] commands) =>
        commands.Aggregate(rig, (r, c) => c.Apply(r) is CommandResult.Applied applied ? applied.Rig : throw new InvalidOperationException($"{c}"));

    private static (int Exit, string Output, string Errors) Run(string[] arguments)
    {
        var (output, errors) = (new StringWriter(CultureInfo.InvariantCulture), new StringWriter(CultureInfo.InvariantCulture));
        return (Commands.Run(arguments, output, errors), output.ToString(), errors.ToString());
    }

    private static JsonNode Json(string[] arguments)
    {
        var (exit, output, errors) = Run(arguments);
        exit.ShouldBe(0, errors);
        return JsonNode.Parse(output)!;
    }

    private static string Voice(string name) => Path.Combine(Voices, $"{name}.flac");

    private static string Root()
    {
        var folder = new DirectoryInfo(AppContext.BaseDirectory);
        while (!File.Exists(Path.Combine(folder!.FullName, "Kinetra.slnx")))
        {
            folder = folder.Parent;
        }

        return folder.FullName;
    }

    private static void Ffmpeg(params string[] arguments)
    {
        var (exit, _, errors) = Start("ffmpeg", ["-v", "error", "-y", .. arguments]);
        exit.ShouldBe(0, errors);
    }

    private static string FfmpegSays(params string[] arguments) => Start("ffmpeg", ["-hide_banner", .. arguments]).Errors;

    private static (int Exit, string Output, string Errors) Start(string program, string[] arguments)
    {
        using var process = Process.Start(new ProcessStartInfo(program, arguments) { RedirectStandardOutput = true, RedirectStandardError = true })!;
        var errors = process.StandardError.ReadToEndAsync();
        var output = process.StandardOutput.ReadToEnd();
        process.WaitForExit();
        return (process.ExitCode, output, errors.Result);
    }

    // Interleaved samples, by another program.
    private float[] Decode(string file)
    {
        Ffmpeg("-i", file, "-f", "f32le", At("decoded.raw"));
        return MemoryMarshal.Cast<byte, float>(File.ReadAllBytes(At("decoded.raw"))).ToArray();
    }

    private static int Loudest(float[] interleaved, int channels) => Array.IndexOf(interleaved, interleaved.Max()) / channels;

    private static double Last(string text, string pattern) =>
        double.Parse(Regex.Matches(text, pattern).Last().Groups[1].Value, CultureInfo.InvariantCulture);

    private string At(string name) => Path.Combine(_folder.FullName, name);

    // Two sources and one mix, unity throughout.
    private string Show(Func<Rig, Rig> change)
    {
        var rig = Apply(
            Rig.Empty,
            new AddSource(new Source { Id = new("one"), Name = "One", Kind = SourceKind.App, Input = new DeviceInput(new("none"), 0) }),
            new AddSource(new Source { Id = new("two"), Name = "Two", Kind = SourceKind.App, Input = new DeviceInput(new("none"), 0) }),
            new AddMix(new Mix { Id = new("out"), Name = "Out", Purpose = MixPurpose.Other, Sends = [Unity("one"), Unity("two")] }));
        File.WriteAllText(At("show.json"), new ShowFile("Night watch", change(rig)).Write());
        return At("show.json");

        // Mono at a side's full gain: −3 dB at the centre is not wanted here.
        static Send Unity(string source) => new() { Source = new(source), Pan = -1 };
    }
}
