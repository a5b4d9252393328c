using System.Text.Json.Nodes;
using System.Text.Json.Serialization;
using Kinetra.Core.Editing;
using Kinetra.Core.Rigs;

namespace Kinetra.Data.Tests;

/// <summary>The samples are documents as they were stored by each version. They are never changed; a new form gets a folder of its own.</summary>
public class StoredJsonTests
{
    // What was stored before versions were kept is of the first form.
    public static TheoryData<string, int> Forms => new() { { "v1", 0 }, { "v1", 1 }, { "v2", 2 }, { "v3", 3 }, { "v4", 4 }, { "v5", 5 } };

    [Theory]
    [MemberData(nameof(Forms))]
    public void A_rig_that_was_stored_by_any_version_is_read_and_valid(string folder, int version)
    {
        var rig = StoredJson.Read<Rig>(Sample(folder, "rig").ToJsonString(), version, "The sample");
        RigRules.Check(rig).ShouldBeEmpty();
        rig.Sources.Select(s => s.Input.GetType()).Distinct().Count().ShouldBe(folder switch { "v1" => 4, "v4" or "v5" => 7, _ => 6 });
    }

    [Theory]
    [MemberData(nameof(Forms))]
    public void Every_command_that_was_stored_by_any_version_is_read(string folder, int version)
    {
        var commands = Sample(folder, "commands").AsArray().Select(c => StoredJson.Read<RigCommand>(c!.ToJsonString(), version, "The sample")).ToList();
        var known = typeof(RigCommand).GetCustomAttributes(typeof(JsonDerivedTypeAttribute), false).Cast<JsonDerivedTypeAttribute>().Select(a => a.DerivedType);

        // Each version knew all that the one before it did, and what is new is in the newest samples.
        commands.Select(c => c.GetType()).Distinct().Count().ShouldBe(folder switch { "v1" => 21, "v2" => 27, "v3" => 30, _ => known.Count() });
        known.ShouldBe(Sample($"v{StoredJson.Version}", "commands").AsArray().Select(c => StoredJson.Read<RigCommand>(c!.ToJsonString(), StoredJson.Version, "").GetType()).Distinct(), ignoreOrder: true);
    }

    [Fact]
    public void What_is_written_now_has_the_form_of_the_newest_samples_or_the_version_must_rise()
    {
        var folder = $"v{StoredJson.Version}";
        var rig = Sample(folder, "rig");
        JsonNode.DeepEquals(rig, JsonNode.Parse(StoredJson.Write(StoredJson.Read<Rig>(rig.ToJsonString(), StoredJson.Version, "")))).ShouldBeTrue();
        foreach (var command in Sample(folder, "commands").AsArray())
        {
            var written = StoredJson.Write(StoredJson.Read<RigCommand>(command!.ToJsonString(), StoredJson.Version, ""));
            JsonNode.DeepEquals(command, JsonNode.Parse(written)).ShouldBeTrue($"{command}\n{written}");
        }
    }

    [Fact]
    public void A_member_that_nobody_knows_is_passed_over()
    {
        var rig = Sample("v1", "rig");
        rig["future"] = 1;
        rig["sources"]![0]!["glow"] = "warm";
        StoredJson.Read<Rig>(rig.ToJsonString(), 1, "").Sources.Length.ShouldBe(4);
    }

    [Theory]
    [InlineData("{}", 99, "newer")]
    [InlineData("{}", -1, "newer")]
    [InlineData("null", 1, "empty")]
    [InlineData("[]", 1, "understood")]
    [InlineData("{\"sources\":7}", 1, "understood")]
    [InlineData("nonsense", 0, "understood")]
    public void What_cannot_be_read_is_said_to_be_so(string json, int version, string word) =>
        Should.Throw<InvalidDataException>(() => StoredJson.Read<Rig>(json, version, "The show")).Message.ShouldContain(word);

    private static JsonNode Sample(string folder, string name) =>
        JsonNode.Parse(File.ReadAllText(Path.Combine(AppContext.BaseDirectory, "samples", folder, name + ".json")))!;
}
