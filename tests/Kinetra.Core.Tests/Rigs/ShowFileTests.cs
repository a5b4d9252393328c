using System.Text;
using System.Text.Json;
using System.Text.Json.Nodes;
using CsCheck;
using Json.Schema;
using Kinetra.Core.Editing;
using Kinetra.Core.Processors;
using Kinetra.Core.Rigs;
using Kinetra.Core.Signal;

namespace Kinetra.Core.Tests.Rigs;

public class ShowFileTests
{
    [Fact]
    public void Whatever_the_show_what_is_written_is_read_as_the_same_show()
    {
        AnyRigs.Rig.Sample(
            rig =>
            {
                var text = new ShowFile("Night watch", rig).Write();
                var read = ShowFile.Read(Encoding.UTF8.GetBytes(text), out var problems);
                problems.ShouldBeEmpty();
                read!.Write().ShouldBe(text);
                JsonSerializer.Serialize(read.Rig, RigJson.Options).ShouldBe(JsonSerializer.Serialize(rig, RigJson.Options));
            },
            iter: 100);
    }

    [Theory]
    [InlineData("format", "\"song\"", "format", "This is not a show file.", "a JSON object whose format is \"kinetra-show\"")]
    [InlineData("version", "\"9\"", "version", "Version \"9\" cannot be read here.", "\"3\"")]
    [InlineData("name", "7", "name", "7 is not understood.", "a text")]
    [InlineData("name", "\" \"", "name", "The name is only spaces.", "1 to 60 characters, not only spaces, no control characters")]
    [InlineData("name", null, "name", "This field is missing.", "a value")]
    [InlineData("colour", "1", "colour", "There is no such field.", "format, version, name, sources, mixes, cables")]
    [InlineData("sources", "{}", "sources", "An object is not understood.", "a list")]
    [InlineData("sources[0]", "null", "sources[0]", "null is not understood.", "an object")]
    [InlineData("sources[0].id", "12", "sources[0].id", "12 is not understood.", "1 to 40 characters of a–z, 0–9 and -")]
    [InlineData("sources[0].id", "\"A B\"", "sources[0].id", "\"A B\" cannot be used.", "1 to 40 characters of a–z, 0–9 and -")]
    [InlineData("sources[0].id", null, "sources[0].id", "This field is missing.", "a value")]
    [InlineData("sources[0].gain", "1", "sources[0].gain", "There is no such field.", "id, name, kind, input, trim, inverted, fold, syncDelay, chain, look")]
    [InlineData("sources[0].kind", "\"Kazoo\"", "sources[0].kind", "\"Kazoo\" is not understood.", "\"Microphone\", \"Instrument\"")]
    [InlineData("sources[0].trim", "\"loud\"", "sources[0].trim", "\"loud\" is not understood.", "a number of dB from -120 to 12, or \"off\"")]
    [InlineData("sources[0].trim", "13", "sources[0].trim", "13 dB is out of range.", "a number of dB from -120 to 12, or \"off\"")]
    [InlineData("sources[0].input", "\"mic\"", "sources[0].input", "\"mic\" is not understood.", "an object with a type")]
    [InlineData("sources[0].input.type", "\"wire\"", "sources[0].input.type", "\"wire\" is not understood.", "\"soundFile\", \"browser\", \"cable\", \"device\", \"app\", \"everythingElse\"")]
    [InlineData("sources[0].input.type", null, "sources[0].input.type", "null is not understood.", "\"soundFile\"")]
    [InlineData("sources[0].input.sort", "1", "sources[0].input.sort", "There is no such field.", "type, client, device, label, left, right")]
    [InlineData("sources[1].input.cable", "\"none\"", "sources[1].input.cable", "There is no such cable.", "a cable of the show")]
    [InlineData("sources[1].input.left", "1.5", "sources[1].input.left", "1.5 is not understood.", "a whole number")]
    [InlineData("sources[1].input.left", "2", "sources[1].input.left", "These channels cannot be picked.", "one or two different channels from 0 to 1")]
    [InlineData("sources[1].input.right", "true", "sources[1].input.right", "true is not understood.", "a whole number or nothing")]
    [InlineData("sources[0].look.color", "12", "sources[0].look", "Unknown colour or shape.", "whole numbers from 0 to 11")]
    [InlineData("sources[0].chain[0].type", "\"magic\"", "sources[0].chain[0].type", "\"magic\" is not understood.", "\"lowCut\", \"gate\"")]
    [InlineData("sources[0].chain[0].values.depth", "3", "sources[0].chain[0].values.depth", "There is no such field.", "threshold, hysteresis")]
    [InlineData("sources[0].chain[0].values.threshold", "\"low\"", "sources[0].chain[0].values.threshold", "\"low\" is not understood.", "a number")]
    [InlineData("sources[0].chain[0].values.threshold", "-500", "sources[0].chain[0].values.threshold", "", "")]
    [InlineData("sources[0].chain[0].keys[0]", "\"source/nobody\"", "sources[0].chain[0].keys[0]", "There is nothing of that id to listen to.", "a source or a mix of the show, before or after its chain")]
    [InlineData("sources[0].chain[0].keys[0]", "\"source\"", "sources[0].chain[0].keys[0]", "\"source\" cannot be used.", "source/ID or mix/ID")]
    [InlineData("sources[0].chain[0].keys[0]", "\"cable/wire\"", "sources[0].chain[0].keys[0]", "\"cable/wire\" cannot be used.", "source/ID or mix/ID, both also with /before")]
    [InlineData("mixes[0].purpose", "3", "mixes[0].purpose", "3 is not understood.", "\"MyEars\", \"Viewers\"")]
    [InlineData("mixes[0].targetLufs", "0", "mixes[0].targetLufs", "0 LUFS is out of range.", "a number from -40 to -6 LUFS")]
    [InlineData("mixes[0].sends[0].source", "\"nobody\"", "mixes[0].sends[0].source", "There is no source “nobody”.", "the id of a source of this file")]
    [InlineData("mixes[0].sends[1].source", "\"a\"", "mixes[0].sends[1].source", "“a” is sent already.", "each source once")]
    [InlineData("mixes[0].sends[0].heard", "\"yes\"", "mixes[0].sends[0].heard", "\"yes\" is not understood.", "true or false")]
    [InlineData("mixes[0].sends[0].pan", "2", "mixes[0].sends[0].pan", "2 is out of range.", "a number from -1 (left) to 1 (right)")]
    [InlineData("mixes[0].sends[0].tap", "\"Middle\"", "mixes[0].sends[0].tap", "\"Middle\" is not understood.", "\"AfterChain\", \"BeforeChain\"")]
    [InlineData("cables[0].channels", "17", "cables[0].channels", "A cable of 17 channels is not possible.", "a whole number from 1 to 16")]
    [InlineData("cables[0].bufferFrames", "-1", "cables[0].bufferFrames", "A buffer of -1 frames is not possible.", "a whole number from 0 to 4096")]
    [InlineData("cables[0].feeds[0].from", "{}", "cables[0].feeds[0].from", "An object is not understood.", "source/ID or mix/ID, both also with /before, or cable/ID")]
    [InlineData("cables[0].feeds[0].from", "\"mix/nobody\"", "cables[0].feeds[0].from", "There is nothing of that id that could play.", "one source, one mix or one cable of the show")]
    [InlineData("cables[0].feeds[0].from", "\"send/a/b\"", "cables[0].feeds[0].from", "\"send/a/b\" cannot be used.", "source/ID or mix/ID, both also with /before, or cable/ID")]
    [InlineData("sources[0].chain[1].values.shape1", "1", "sources[0].chain[1].values.shape1", "1 is not understood.", "\"Off\", \"Peak\", \"LowShelf\"")]
    [InlineData("sources[0].chain[1].values.shape1", "\"Low shelf\"", "sources[0].chain[1].values.shape1", "\"Low shelf\" is not understood.", "\"Off\", \"Peak\", \"LowShelf\"")]
    [InlineData("mixes[0].sends[1].ducker", "{\"id\":\"d\",\"type\":\"gate\"}", "mixes[0].sends[1].ducker.type", "\"gate\" is not understood.", "\"ducker\"")]
    [InlineData("cables[0].feeds[0].from", null, "cables[0].feeds[0].from", "This field is missing.", "a value")]
    [InlineData("cables[0].feeds[0].into.left", "5", "cables[0].feeds[0].into", "These channels cannot be filled.", "one or two different channels from 0 to 1")]
    [InlineData("cables[0].name", "\"\"", "cables[0].name", "The name is empty.", "1 to 60 characters")]
    public void What_is_wrong_is_said_with_the_path_of_the_field_and_what_is_allowed(string path, string? value, string where, string what, string allowed)
    {
        var file = JsonNode.Parse(new ShowFile("Night watch", Show()).Write())!;
        Put(file, path, value);
        ShowFile.Read(Encoding.UTF8.GetBytes(file.ToJsonString()), out var problems).ShouldBeNull();
        var problem = problems.FirstOrDefault(p => p.Where == where).ShouldNotBeNull(string.Join(" ", problems));
        problem.What.ShouldStartWith(what);
        problem.Allowed.ShouldStartWith(allowed);
        problem.What.ShouldNotBeEmpty();
        problem.Allowed.ShouldNotBeEmpty();
    }

    [Fact]
    public void Wrong_types_wrong_references_and_what_the_rules_forbid_are_told_in_one_round()
    {
        var file = JsonNode.Parse(new ShowFile("Night watch", Show()).Write())!;
        Put(file, "name", "\" \"");
        Put(file, "sources[0].trim", "\"loud\"");
        Put(file, "sources[0].chain[0].type", "\"magic\"");
        Put(file, "sources[0].chain[1].values.frequency1", "1");
        Put(file, "sources[1].kind", "7");
        Put(file, "mixes[0].sends[0].source", "\"nobody\"");
        Put(file, "mixes[0].sends[1].pan", "2");
        Put(file, "mixes[1].purpose", null);
        Put(file, "mixes[1].surplus", "1");
        Put(file, "cables[0].channels", "17");
        Put(file, "cables[0].feeds[0]", "{}");
        ShowFile.Read(Encoding.UTF8.GetBytes(file.ToJsonString()), out var problems).ShouldBeNull();
        problems.Select(p => p.Where).Order(StringComparer.Ordinal).ShouldBe(
        [
            "cables[0].channels", "cables[0].feeds[0].from", "mixes[0].sends[0].source", "mixes[0].sends[1].pan", "mixes[1].purpose", "mixes[1].surplus", "name",
            "sources[0].chain[0].type", "sources[0].chain[1].values.frequency1", "sources[0].trim", "sources[1].kind",
        ]);
    }

    [Fact]
    public void Of_a_list_that_is_too_long_only_so_much_is_looked_at_as_may_be_there()
    {
        var file = JsonNode.Parse(new ShowFile("Night watch", Show()).Write())!;
        var mixes = file["mixes"]!.AsArray();
        while (mixes.Count < 1_000)
        {
            mixes.Add(new JsonObject { ["id"] = "A B", ["sends"] = new JsonArray([.. Enumerable.Range(0, 100).Select(_ => new JsonObject { ["source"] = "nobody" })]) });
        }

        ShowFile.Read(Encoding.UTF8.GetBytes(file.ToJsonString()), out var problems).ShouldBeNull();
        problems.ShouldContain(new RigProblem("mixes", "There are 1000 in this list.", "at most 16"));
        problems.ShouldContain(new RigProblem("mixes[15].sends", "There are 100 in this list.", "at most 64"));
        problems.ShouldAllBe(p => !p.Where.StartsWith("mixes[16]"));
    }

    [Fact]
    public void What_may_be_right_once_an_id_is_mended_is_not_told()
    {
        var file = JsonNode.Parse(new ShowFile("Night watch", Show()).Write())!;
        Put(file, "sources[0].id", "\"A B\"");
        ShowFile.Read(Encoding.UTF8.GetBytes(file.ToJsonString()), out var problems).ShouldBeNull();
        problems.ShouldHaveSingleItem().Where.ShouldBe("sources[0].id");
    }

    [Fact]
    public void A_send_is_named_by_its_place_in_the_file()
    {
        var file = JsonNode.Parse(new ShowFile("Night watch", Show()).Write())!;
        var sends = file["mixes"]![0]!["sends"]!.AsArray();
        file["mixes"]![0]!["sends"] = new JsonArray([.. sends.Reverse().Select(s => s!.DeepClone())]);
        Put(file, "mixes[0].sends[0].gain", "13");
        ShowFile.Read(Encoding.UTF8.GetBytes(file.ToJsonString()), out var problems).ShouldBeNull();
        problems.ShouldHaveSingleItem().Where.ShouldBe("mixes[0].sends[0].gain");
    }

    [Fact]
    public void Choices_are_words_in_a_file_and_no_two_of_a_parameter_are_the_same()
    {
        foreach (var parameter in ProcessorTypes.All.SelectMany(t => t.Parameters))
        {
            parameter.Words.Length.ShouldBe(parameter.Choices.Length);
            parameter.Words.ShouldAllBe(w => System.Text.RegularExpressions.Regex.IsMatch(w, "^([A-Z][A-Za-z]*|[0-9]+(Hz|dB/oct))$"));
            parameter.Words.ShouldBeUnique();
        }

        var written = JsonNode.Parse(new ShowFile("Night watch", Show()).Write())!;
        ((string?)written["sources"]![0]!["chain"]![1]!["values"]!["shape1"]).ShouldBe("Notch");
        ShowFile.Read(Encoding.UTF8.GetBytes(written.ToJsonString()), out _)!.Rig.Sources[0].Chain[1].Values["shape1"].ShouldBe(4);
    }

    [Theory]
    [InlineData("format", "\"song\"")]
    [InlineData("version", "\"9\"")]
    [InlineData("name", "\"\"")]
    [InlineData("surplus", "1")]
    [InlineData("sources[0].name", "\"aaaaaaaaaaaaaaaaaaaaaaaaaaaaaaaaaaaaaaaaaaaaaaaaaaaaaaaaaaaaaaaaaaaaaaaaaaaaaaaaa\"")]
    [InlineData("sources[0].trim", "13")]
    [InlineData("sources[0].trim", "\"loud\"")]
    [InlineData("sources[0].input.device", "\"\"")]
    [InlineData("sources[0].input", "{\"type\":\"soundFile\",\"sound\":\"abc\",\"loop\":true}")]
    [InlineData("sources[0].input", "{\"type\":\"browser\",\"client\":\"c\",\"device\":\"d\",\"label\":\"l\",\"left\":8}")]
    [InlineData("sources[1].input.left", "16")]
    [InlineData("sources[0].look.color", "12")]
    [InlineData("sources[0].look.icon", "\"Kazoo\"")]
    [InlineData("sources[0].chain[0].type", "\"magic\"")]
    [InlineData("sources[0].chain[0].values.depth", "3")]
    [InlineData("sources[0].chain[0].values.threshold", "-500")]
    [InlineData("sources[0].chain[0].keys[0]", "\"cable/wire\"")]
    [InlineData("sources[0].chain[1].keys", "[\"source/a\"]")]
    [InlineData("sources[0].chain[1].values.shape1", "9")]
    [InlineData("mixes[0].targetLufs", "0")]
    [InlineData("mixes[0].purpose", "null")]
    [InlineData("mixes[0].sends[0].pan", "-1.01")]
    [InlineData("mixes[0].sends[0].tap", "\"Raw\"")]
    [InlineData("mixes[0].sends[0].gain", "-121")]
    [InlineData("mixes[0].sends[1].ducker", "{\"id\":\"d\",\"type\":\"gate\"}")]
    [InlineData("cables[0].channels", "17")]
    [InlineData("cables[0].channels", "0")]
    [InlineData("cables[0].bufferFrames", "4097")]
    [InlineData("cables[0].feeds[0].from", "\"send/a/b\"")]
    [InlineData("cables[0].feeds[0].into.left", "16")]
    public void The_schema_alone_refuses_what_no_other_field_is_needed_for(string path, string value)
    {
        var schema = JsonSchema.FromText(File.ReadAllText(Path.Combine(Docs(), "show.schema.json")));
        var file = JsonNode.Parse(new ShowFile("Night watch", Show()).Write())!;
        schema.Evaluate(file).IsValid.ShouldBeTrue();
        Put(file, path, value);
        schema.Evaluate(file).IsValid.ShouldBeFalse();
    }

    [Fact]
    public void Whatever_the_show_what_is_written_fits_the_schema()
    {
        var schema = JsonSchema.FromText(File.ReadAllText(Path.Combine(Docs(), "show.schema.json")));
        AnyRigs.Rig.Sample(rig => schema.Evaluate(JsonNode.Parse(new ShowFile("Night watch", rig).Write())).IsValid.ShouldBeTrue(), iter: 40);
    }

    [Theory]
    [InlineData("", "This is not JSON")]
    [InlineData("{", "This is not JSON")]
    [InlineData("{} {}", "This is not JSON")]
    [InlineData("""{"format":"kinetra-show","format":"kinetra-show"}""", "This field stands twice.")]
    [InlineData("[]", "This is not a show file.")]
    [InlineData("null", "This is not a show file.")]
    public void What_is_no_show_file_at_all_is_refused(string text, string what)
    {
        ShowFile.Read(Encoding.UTF8.GetBytes(text), out var problems).ShouldBeNull();
        problems.Single().What.ShouldStartWith(what);
        problems.Single().Where.ShouldNotBeEmpty();
    }

    [Fact]
    public void A_file_of_the_draft_before_is_read_as_the_same_show()
    {
        var written = new ShowFile("Night watch", Show());
        var draft = JsonNode.Parse(written.Write())!;
        draft["version"] = "draft-1";
        draft["cables"]![0]!["feeds"]![0]!["from"] = JsonNode.Parse("""{"mix":"m","tap":"BeforeChain"}""");
        draft["sources"]![0]!["chain"]![0]!["keys"] = JsonNode.Parse("""[{"source":"b","tap":"AfterChain"}]""");
        draft["mixes"]![0]!["id"] = "m";
        draft["sources"]![0]!["chain"]![1]!["values"]!["shape1"] = 3;
        var read = ShowFile.Read(Encoding.UTF8.GetBytes(draft.ToJsonString()), out var problems).ShouldNotBeNull(string.Join(" ", problems));
        read.Rig.Cables[0].Feeds[0].From.ShouldBe(new MixPoint(new("m"), Tap.BeforeChain));
        read.Rig.Sources[0].Chain[0].Keys.ShouldBe([new SourcePoint(new("b"))]);
        read.Rig.Sources[0].Chain[1].Values["shape1"].ShouldBe(3);
    }

    [Fact]
    public void What_was_stored_before_points_had_one_name_is_read()
    {
        RigCommand Read(string json) => JsonSerializer.Deserialize<RigCommand>(json, RigJson.Options)!;
        Read("""{"type":"removeCableFeed","cable":"wire","from":{"source":"a","tap":"BeforeChain"}}""")
            .ShouldBe(new RemoveCableFeed(new("wire"), new SourcePoint(new("a"), Tap.BeforeChain)));
        Read("""{"type":"removeProcessor","place":{"source":"a","mix":"m"},"id":"p"}""").ShouldBe(new RemoveProcessor(new SendPoint(new("m"), new("a")), new("p")));
        Read("""{"type":"removeProcessor","place":{"mix":"m"},"id":"p"}""").ShouldBe(new RemoveProcessor(new MixPoint(new("m")), new("p")));
        Should.Throw<JsonException>(() => Read("""{"type":"removeProcessor","place":{},"id":"p"}""")).Message.ShouldContain("A point is source/ID");
    }

    [Fact]
    public void A_points_text_is_read_as_the_same_point_and_nothing_else_is_one()
    {
        foreach (var point in new Point[] { new SourcePoint(new("a")), new SourcePoint(new("a"), Tap.Raw), new MixPoint(new("m-1"), Tap.BeforeChain), new CablePoint(new("c")), new SendPoint(new("m"), new("a")) })
        {
            Point.Parse(point.ToString()).ShouldBe(point);
            System.Text.RegularExpressions.Regex.IsMatch(point.ToString(), Point.Pattern).ShouldBeTrue();
        }

        foreach (var text in new[] { null, "", "source", "source/", "source/A", "source/a/after", "cable/a/raw", "send/a", "mix/a/raw/raw", $"mix/{new string('a', 41)}" })
        {
            Point.Parse(text).ShouldBeNull();
            System.Text.RegularExpressions.Regex.IsMatch(text ?? "", Point.Pattern).ShouldBeFalse();
        }
    }

    [Fact]
    public void Where_a_file_is_no_text_no_JSON_or_says_a_thing_twice_is_told()
    {
        RigProblem Problem(ReadOnlySpan<byte> file)
        {
            ShowFile.Read(file, out var problems).ShouldBeNull();
            return problems.ShouldHaveSingleItem();
        }

        Problem([(byte)'{', (byte)'"', 0xC3, 0x28, (byte)'"', (byte)'}']).What.ShouldBe("This is no text: byte 3 does not belong there.");
        Problem("{\n  \"format\": ,\n}"u8).What.ShouldBe("This is not JSON from line 2, column 13 on.");
        Problem("{} {}"u8).What.ShouldStartWith("This is not JSON from line 1");
        var twice = Problem("""{"format":"kinetra-show","sources":[{"id":"a"},{"id":"b","look":{"color":1,"shape":2,"color":3}}]}"""u8);
        twice.Where.ShouldBe("sources[1].look.color");
        twice.What.ShouldBe("This field stands twice.");
    }

    [Fact]
    public void A_file_beyond_the_largest_is_refused_before_it_is_read()
    {
        ShowFile.Read(new byte[ShowFile.MaxBytes + 1], out var problems).ShouldBeNull();
        problems.Single().Allowed.ShouldBe("at most 4194304");
    }

    [Fact]
    public void Sends_may_stand_in_any_order_and_a_source_that_is_not_named_waits_in_the_dock()
    {
        var file = JsonNode.Parse(new ShowFile("Night watch", Show()).Write())!;
        var sends = file["mixes"]![0]!["sends"]!.AsArray();
        var first = sends[0]!.DeepClone();
        sends.Clear();
        sends.Add(new JsonObject { ["source"] = "b" });
        sends.Add(first);
        file["mixes"]![1]!.AsObject().Remove("sends");
        var read = ShowFile.Read(Encoding.UTF8.GetBytes(file.ToJsonString()), out _)!;
        read.Rig.Mixes[0].Sends.Select(s => s.Source.Value).ShouldBe(["a", "b"]);
        read.Rig.Mixes[1].Sends.ShouldAllBe(s => !s.Heard);
    }

    [Fact]
    public void However_a_file_is_spoilt_it_is_read_or_refused_with_words()
    {
        var text = Encoding.UTF8.GetBytes(new ShowFile("Night watch", Show()).Write());
        var values = new[] { "null", "1e999", "-0", "\"\"", "[]", "{}", "true", "\"off\"", "[[1]]", "9007199254740993" };
        Gen.Select(Gen.Int[0, text.Length - 1], Gen.Byte, Gen.Int[0, values.Length - 1], Gen.Bool).Sample(
            (at, octet, which, whole) =>
            {
                byte[] spoilt = whole ? [.. text[..at], .. Encoding.UTF8.GetBytes(values[which]), .. text[at..]] : [.. text[..at], octet, .. text[(at + 1)..]];
                var read = ShowFile.Read(spoilt, out var problems);
                (read is null).ShouldBe(!problems.IsEmpty);
                problems.ShouldAllBe(p => p.What.Length > 0 && p.Allowed.Length > 0);
            },
            iter: 3_000);
    }

    [Fact]
    public void The_schema_that_ships_is_the_one_that_files_are_checked_by_and_the_examples_fit_it()
    {
        var docs = Docs();
        JsonNode.DeepEquals(JsonNode.Parse(File.ReadAllText(Path.Combine(docs, "show.schema.json"))), ShowFileSchema.Node).ShouldBeTrue("run ./kinetra curves");
        foreach (var example in Directory.GetFiles(Path.Combine(docs, "examples"), "*.show.json"))
        {
            var read = ShowFile.Read(File.ReadAllBytes(example), out var problems);
            problems.ShouldBeEmpty(example);
            read!.Write().ShouldBe(File.ReadAllText(example));
        }
    }

    private static string Docs()
    {
        var folder = new DirectoryInfo(AppContext.BaseDirectory);
        while (!File.Exists(Path.Combine(folder!.FullName, "Kinetra.slnx")))
        {
            folder = folder.Parent;
        }

        return Path.Combine(folder.FullName, "docs");
    }

    private static Rig Show()
    {
        var rig = Demo.Rig("a", "b").Apply(new AddCable(new Cable { Id = new("wire"), Name = "Wire", Feeds = [new CableFeed { From = new SourcePoint(new("a")) }] }));
        return rig
            .Apply(new SetSource(new("b"), Input: new CableInput(new("wire"), 0, 1)))
            .Apply(new AddProcessor(new SourcePoint(new("a")), Processor.Of(Gate.Type) with { Keys = [new SourcePoint(new("a"), Tap.BeforeChain)] }))
            .Apply(new AddProcessor(new SourcePoint(new("a")), Processor.Of(Equaliser.Type, ("shape1", 4)), 1));
    }

    // Puts a value where a path leads; null takes the field away.
    private static void Put(JsonNode file, string path, string? value)
    {
        var parts = path.Replace("[", ".[", StringComparison.Ordinal).Split('.');
        var at = file;
        foreach (var part in parts[..^1])
        {
            at = part.StartsWith('[') ? at[int.Parse(part.Trim('[', ']'), System.Globalization.CultureInfo.InvariantCulture)]! : at[part]!;
        }

        var node = value is null ? null : JsonNode.Parse(value);
        switch (at)
        {
            case JsonArray list:
                list[int.Parse(parts[^1].Trim('[', ']'), System.Globalization.CultureInfo.InvariantCulture)] = node;
                break;
            case JsonObject fields when value is null:
                fields.Remove(parts[^1]);
                break;
            default:
                at[parts[^1]] = node;
                break;
        }
    }
}
