using System.Text.RegularExpressions;
using System.Xml.Linq;

namespace Kinetra.Core.Tests;

public class ArchitectureTests
{
    private static readonly Dictionary<string, string[]> Allowed = new()
    {
        ["Kinetra.Core"] = [],
        ["Kinetra.Media"] = ["Kinetra.Core"],
        ["Kinetra.Gear"] = ["Kinetra.Core", "Kinetra.Media"],
        ["Kinetra.Gear.Station"] = [],
        ["Kinetra.Data"] = ["Kinetra.Core"],
        ["Kinetra.Server"] = ["Kinetra.Core", "Kinetra.Media", "Kinetra.Gear", "Kinetra.Gear.Station", "Kinetra.Data"],
    };

    [Fact]
    public void Every_project_points_inward_only()
    {
        var projects = Directory.GetDirectories(Path.Combine(Root(), "src")).Select(Path.GetFileName).OfType<string>();
        projects.ShouldBe(Allowed.Keys, ignoreOrder: true);
        foreach (var project in Allowed.Keys)
        {
            References(project, "ProjectReference").Select(Path.GetFileNameWithoutExtension).ShouldBeSubsetOf(Allowed[project]);
        }
    }

    [Fact]
    public void The_core_depends_on_nothing_but_the_runtime_and_its_tensors()
    {
        References("Kinetra.Core", "PackageReference").ShouldBe(["System.Numerics.Tensors"]);
        var outside = typeof(Kinetra.Core.Rigs.Rig).Assembly.GetReferencedAssemblies().Select(a => a.Name!)
            .Where(n => n.Contains("AspNetCore", StringComparison.Ordinal) || n.Contains("EntityFramework", StringComparison.Ordinal)
                || n.StartsWith("System.Net", StringComparison.Ordinal) || n.StartsWith("System.IO", StringComparison.Ordinal));
        outside.ShouldBeEmpty();
    }

    // From the bottom up: a room may use what stands before it in its own list, and nothing else.
    private static readonly Dictionary<string, string[]> Rooms = new()
    {
        ["Signal"] = [],
        ["Dsp"] = ["Signal"],
        ["Clocks"] = ["Signal", "Dsp"],
        ["Metering"] = ["Signal", "Dsp"],
        ["Processors"] = ["Signal", "Dsp"],
        ["Rigs"] = ["Signal", "Processors"],
        ["Gear"] = ["Signal", "Rigs"],
        ["Routing"] = ["Signal", "Dsp", "Processors", "Rigs", "Gear"],
        ["Planning"] = ["Signal", "Processors", "Rigs"],
        ["Editing"] = ["Signal", "Processors", "Rigs", "Gear", "Routing", "Planning"],

        ["Findings"] = ["Signal", "Rigs", "Gear", "Routing", "Editing"],
        ["Cards"] = ["Signal", "Rigs", "Gear", "Routing", "Editing", "Findings"],
        ["Maps"] = ["Signal", "Rigs", "Gear", "Routing", "Editing", "Findings"],

        ["Takes"] = ["Signal", "Metering", "Processors", "Rigs", "Editing", "Promises"],

        ["Pads"] = ["Signal", "Dsp", "Metering", "Rigs", "Engine"],

        // Both look at what the engine computes.
        ["Voice"] = ["Signal", "Dsp", "Metering", "Processors", "Rigs", "Planning", "Engine"],
        ["Promises"] = ["Signal", "Dsp", "Processors", "Rigs", "Gear", "Routing", "Editing", "Findings", "Engine"],

        // What can be done by hand, and what is held.
        ["Hands"] = ["Signal", "Rigs", "Gear", "Routing", "Editing", "Findings", "Promises"],

        // Its rehearsal edits a show, and so knows how that is done.
        ["Engine"] = ["Signal", "Dsp", "Metering", "Processors", "Rigs", "Gear", "Routing", "Planning", "Editing"],
    };

    [Fact]
    public void Every_room_of_the_core_uses_only_rooms_below_it()
    {
        Directory.GetDirectories(Core()).Select(Path.GetFileName).Except(["bin", "obj"]).ShouldBe(Rooms.Keys, ignoreOrder: true);
        foreach (var (room, allowed) in Rooms)
        {
            foreach (var file in Directory.GetFiles(Path.Combine(Core(), room), "*.cs", SearchOption.AllDirectories))
            {
                var source = File.ReadAllText(file);
                source.ShouldContain($"namespace Kinetra.Core.{room};", Case.Sensitive, file);
                Used(source).Where(r => r != room).ShouldBeSubsetOf(allowed, file);
            }
        }
    }

    [Fact]
    public void The_rooms_are_in_no_circle()
    {
        var done = new HashSet<string>();
        while (done.Count < Rooms.Count)
        {
            Rooms.Count(r => !done.Contains(r.Key) && r.Value.All(done.Contains) && done.Add(r.Key)).ShouldBeGreaterThan(0);
        }
    }

    [Theory]
    [InlineData("using Kinetra.Core.Engine;", "Engine")]
    [InlineData("using static Kinetra.Core.Dsp.Fade;", "Dsp")]
    [InlineData("var x = Engine.AudioFormat.SampleRate;", "Engine")]
    [InlineData("Kinetra.Core.Rigs.Rig rig;", "Rigs")]
    public void A_room_that_is_used_is_seen(string source, string room) => Used(source).ShouldContain(room);

    // What a source names, in usings and in full; constants too, of which the compiled code knows nothing. Comments do not count.
    private static HashSet<string> Used(string source)
    {
        var code = Regex.Replace(source, @"//[^\n]*|""(\\.|[^""\\])*""", "");
        var rooms = string.Join('|', Rooms.Keys);
        return
        [
            .. Regex.Matches(code, $@"\bKinetra\.Core\.({rooms})\b").Select(m => m.Groups[1].Value),
            .. Regex.Matches(code, $@"(?<![\w.)\]>?])({rooms})\.[A-Z]").Select(m => m.Groups[1].Value),
        ];
    }

    private static string Core() => Path.Combine(Root(), "src", "Kinetra.Core");

    private static IEnumerable<string> References(string project, string kind) =>
        XDocument.Load(Path.Combine(Root(), "src", project, project + ".csproj")).Descendants(kind)
            .Select(r => r.Attribute("Include")!.Value);

    private static string Root()
    {
        var folder = new DirectoryInfo(AppContext.BaseDirectory);
        while (!File.Exists(Path.Combine(folder.FullName, "Kinetra.slnx")))
        {
            folder = folder.Parent!;
        }

        return folder.FullName;
    }
}
