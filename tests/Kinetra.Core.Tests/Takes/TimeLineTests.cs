using System.Globalization;
using System.Text.Json;
using System.Text.RegularExpressions;
using CsCheck;
using Kinetra.Core.Takes;

namespace Kinetra.Core.Tests.Takes;

/// <summary>Read back by the formats' own words, with none of the code that wrote them.</summary>
public partial class TimeLineTests
{
    private static readonly Gen<string> Words = Gen.String[Gen.Char["aZ9 ,\"'=<>&-+@é\n\r"], 0, 12];

    private static readonly Gen<TimeLine> Takes =
        from frames in Gen.Long[0, 48_000L * 3600 * 10]
        from cut in Gen.Frequency((1, Gen.Const(0L)), (1, Gen.Long[0, 48_000L * 3600]))
        from tracks in Gen.Select(Words, Gen.Int[1, 2]).Array[1, 16]
        from marks in Gen.Select(Gen.Double[0, 1], Words, Gen.Bool).Array[0, 8]
        select new TimeLine(
            "A take",
            frames,
            [.. tracks.Select((t, n) => new TimeLineTrack(t.Item1, $"{n + 1:00} {t.Item1}.wav", t.Item2))],
            [.. marks.Select(m => new TimeLineMark((long)(m.Item1 * frames), m.Item2, m.Item3)).OrderBy(m => m.Frame)],
            cut,
            frames + cut + 48_000);

    [Fact]
    public void An_edit_list_has_each_track_that_there_is_room_for_on_channels_of_its_own_as_long_as_the_take_and_names_the_others() =>
        Gen.Select(Takes, Gen.Int[0, 2].Select(n => TimeLine.Rates[n])).Sample((take, rate) =>
        {
            var lines = EditList.Of(take, rate).Split("\r\n");
            lines[0].ShouldBe("TITLE: A take");
            lines[1].ShouldBe("FCM: NON-DROP FRAME");
            lines[^1].ShouldBe("");
            var taken = new HashSet<int>();
            var files = 0;
            for (var n = 0; n < lines.Length; n++)
            {
                if (Event().Match(lines[n]) is not { Success: true } found)
                {
                    continue;
                }

                List<int> channels = found.Groups["field"].Value.Trim() switch { "A" => [1], "A2" => [2], "AA" => [1, 2], "NONE" => [], var other => throw new InvalidOperationException(other) };
                if (lines[n + 1].StartsWith("AUD", StringComparison.Ordinal))
                {
                    channels.AddRange(lines[++n][3..].Split(' ', StringSplitOptions.RemoveEmptyEntries).Select(c => int.Parse(c, CultureInfo.InvariantCulture)));
                }

                channels.ShouldAllBe(c => taken.Add(c) && c <= 4);
                var track = take.Tracks.Single(t => lines[n + 1] == "* FROM CLIP NAME: " + OneLine(t.FileName));
                channels.Count.ShouldBe(track.Channels);
                files++;
                var (from, to, begin, end) = (At(found, "from", rate), At(found, "to", rate), At(found, "begin", rate), At(found, "end", rate));
                (from, begin).ShouldBe(((long)Math.Floor(take.From / 48_000.0 * rate), 3600 * rate));
                (end - begin).ShouldBe(to - from);
                Math.Abs(((double)(to - from) / rate) - Math.Max(take.Frames / 48_000.0, 1.0 / rate)).ShouldBeLessThan(1.0 / rate);
            }

            (files + lines.Count(l => l.StartsWith("* NOT IN", StringComparison.Ordinal))).ShouldBe(take.Tracks.Length);
            lines.Count(l => l.StartsWith("* LOC: ", StringComparison.Ordinal)).ShouldBe(take.Marks.Length);
        });

    [Fact]
    public void A_table_of_marks_is_read_back_as_it_was_and_computes_nothing() =>
        Takes.Sample(take =>
        {
            var rows = Rows(MarkTable.Of(take, 25));
            rows.Count.ShouldBe(take.Marks.Length + 1);
            foreach (var (row, mark) in rows.Skip(1).Zip(take.Marks))
            {
                double.Parse(row[0], CultureInfo.InvariantCulture).ShouldBe(mark.Frame / 48_000.0, 1e-6);
                row[2].ShouldBe(mark.Frame.ToString(CultureInfo.InvariantCulture));
                row[3].ShouldBe(mark.ByProgram ? "Kinetra" : "a person");
                row[4].TrimStart('\'').ShouldBe(mark.Words.TrimStart('\''));
                (row[4].Length > 0 && "=+-@\r".Contains(row[4][0], StringComparison.Ordinal)).ShouldBeFalse();
            }
        });

    [Fact]
    public void Chapters_follow_one_another_to_the_end_and_their_words_end_no_cue() =>
        Takes.Sample(take =>
        {
            var cues = MarkCues.Of(take).Split("\n\n");
            cues[0].TrimEnd('\n').ShouldBe("WEBVTT");
            cues.Length.ShouldBe(take.Marks.Length + 1);
            for (var n = 1; n < cues.Length; n++)
            {
                var lines = cues[n].TrimEnd('\n').Split('\n');
                lines.Length.ShouldBe(2);
                var times = lines[0].Split(" --> ").Select(t => TimeSpan.ParseExact(t, [@"hh\:mm\:ss\.fff"], CultureInfo.InvariantCulture).TotalSeconds).ToList();
                times[0].ShouldBe(take.Marks[n - 1].Frame / 48_000.0, 0.0011);
                times[1].ShouldBeGreaterThan(times[0]);
                times[1].ShouldBe(n < take.Marks.Length ? take.Marks[n].Frame / 48_000.0 : take.Frames / 48_000.0, 0.0021);
                lines[1].ShouldNotContain("-->");
                lines[1].ShouldNotContain("<");
            }
        });

    [Fact]
    public void A_time_line_has_what_is_kept_of_every_file_from_one_zero_and_every_mark_at_its_frame() =>
        Takes.Sample(take =>
        {
            using var document = JsonDocument.Parse(OpenTimeline.Of(take));
            var tracks = document.RootElement.GetProperty("tracks");
            foreach (var (track, file) in tracks.GetProperty("children").EnumerateArray().Zip(take.Tracks))
            {
                track.GetProperty("kind").GetString().ShouldBe("Audio");
                var clip = track.GetProperty("children").EnumerateArray().Single();
                var range = clip.GetProperty("source_range");
                Value(range, "start_time").ShouldBe(take.From);
                Value(range, "duration").ShouldBe(take.Frames);
                var media = clip.GetProperty("media_references").GetProperty(clip.GetProperty("active_media_reference_key").GetString()!);
                Value(media.GetProperty("available_range"), "duration").ShouldBe(take.FileFrames!.Value);
                Uri.UnescapeDataString(media.GetProperty("target_url").GetString()!).ShouldBe(file.FileName);
            }

            tracks.GetProperty("children").GetArrayLength().ShouldBe(take.Tracks.Length);
            tracks.GetProperty("markers").EnumerateArray().Select(m => Value(m.GetProperty("marked_range"), "start_time")).ShouldBe(take.Marks.Select(m => (double)m.Frame));
        });

    [Theory]
    [InlineData(0, 25, "00:00:00:00")]
    [InlineData(47_999, 25, "00:00:00:24")]
    [InlineData(48_000, 24, "00:00:01:00")]
    [InlineData((48_000L * 3_599) + 46_400, 30, "00:59:59:29")]
    [InlineData(48_000L * 36_061, 30, "10:01:01:00")]
    public void A_time_code_counts_whole_frames_of_picture(long frame, int rate, string code) => TimeLine.TimeCode(frame, rate).ShouldBe(code);

    [GeneratedRegex(@"^\d{3}  AX       (?<field>.{5}) C        (?<from>\d\d:\d\d:\d\d:\d\d) (?<to>\d\d:\d\d:\d\d:\d\d) (?<begin>\d\d:\d\d:\d\d:\d\d) (?<end>\d\d:\d\d:\d\d:\d\d)$")]
    private static partial Regex Event();

    private static double Value(JsonElement range, string which) => range.GetProperty(which).GetProperty("value").GetDouble();

    private static string OneLine(string text) => text.Replace('\n', ' ').Replace('\r', ' ').TrimEnd();

    private static long At(Match found, string group, int rate)
    {
        var parts = found.Groups[group].Value.Split(':').Select(p => long.Parse(p, CultureInfo.InvariantCulture)).ToArray();
        return (((((parts[0] * 60) + parts[1]) * 60) + parts[2]) * rate) + parts[3];
    }

    // RFC 4180, letter by letter.
    private static List<List<string>> Rows(string text)
    {
        List<List<string>> rows = [];
        List<string> row = [];
        var (field, quoted) = ("", false);
        for (var n = 0; n < text.Length; n++)
        {
            var c = text[n];
            if (quoted && c == '"' && n + 1 < text.Length && text[n + 1] == '"')
            {
                field += c;
                n++;
            }
            else if (c == '"')
            {
                quoted = !quoted;
            }
            else if (!quoted && c == ',')
            {
                row.Add(field);
                field = "";
            }
            else if (!quoted && c == '\r' && text[n + 1] == '\n')
            {
                row.Add(field);
                rows.Add(row);
                (row, field, n) = ([], "", n + 1);
            }
            else
            {
                field += c;
            }
        }

        return rows;
    }
}
