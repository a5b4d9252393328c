using System.Xml.Linq;

namespace Kinetra.Core.Tests;

public class ArchitectureTests
{
    private static readonly Dictionary<string, string[]> Allowed = new()
    {
        ["Kinetra.Core"] = [],
        ["Kinetra.Media"] = ["Kinetra.Core"],
        ["Kinetra.Gear"] = ["Kinetra.Core", "Kinetra.Media"],
        ["Kinetra.Data"] = ["Kinetra.Core"],
        ["Kinetra.Server"] = ["Kinetra.Core", "Kinetra.Media", "Kinetra.Gear", "Kinetra.Data"],
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

    [Fact]
    public void Inside_the_core_the_signal_path_knows_nothing_above_it()
    {
        var core = NetArchTest.Rules.Types.InAssembly(typeof(Kinetra.Core.Rigs.Rig).Assembly);
        Ok(core.That().ResideInNamespace("Kinetra.Core.Dsp").ShouldNot().HaveDependencyOnAny(
            "Kinetra.Core.Rigs", "Kinetra.Core.Metering", "Kinetra.Core.Planning"));
        Ok(core.That().ResideInNamespace("Kinetra.Core.Metering").ShouldNot().HaveDependencyOnAny(
            "Kinetra.Core.Rigs", "Kinetra.Core.Engine", "Kinetra.Core.Planning"));
        Ok(core.That().ResideInNamespace("Kinetra.Core.Rigs").ShouldNot().HaveDependencyOnAny(
            "Kinetra.Core.Engine", "Kinetra.Core.Dsp", "Kinetra.Core.Metering"));
    }

    private static void Ok(NetArchTest.Rules.ConditionList rule)
    {
        var result = rule.GetResult();
        (result.FailingTypeNames ?? []).ShouldBeEmpty();
    }

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
