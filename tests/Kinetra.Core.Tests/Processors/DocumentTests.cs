using Kinetra.Core.Editing;
using Kinetra.Core.Planning;
using Kinetra.Core.Processors;
using Kinetra.Core.Signal;

namespace Kinetra.Core.Tests.Processors;

public class DocumentTests
{
    [Fact]
    public void The_document_says_of_every_processor_what_its_declaration_says()
    {
        var folder = new DirectoryInfo(AppContext.BaseDirectory);
        while (!File.Exists(Path.Combine(folder!.FullName, "Kinetra.slnx")))
        {
            folder = folder.Parent;
        }

        var document = File.ReadAllText(Path.Combine(folder.FullName, "docs", "signal.md"));
        foreach (var type in ProcessorTypes.All)
        {
            document.ShouldContain($"*For:* {type.Purpose}");
            foreach (var parameter in type.Parameters)
            {
                document.ShouldContain($"| {parameter.Name} | ");
                document.ShouldContain($" | {parameter.Format(parameter.Default)} | {parameter.Meaning} |");
            }
        }

        foreach (var preset in ChainPresets.All)
        {
            document.ShouldContain($"| {preset.Name} | {preset.For} | {preset.Says} |");
        }
    }

    [Fact]
    public void Every_preset_makes_a_valid_chain_and_says_what_it_does()
    {
        ChainPresets.All.Select(p => p.Key).ShouldBeUnique();
        foreach (var preset in ChainPresets.All)
        {
            preset.Says.ShouldEndWith(".");
            Point place = preset.For == "mix" ? new MixPoint(Demo.Viewers) : new SourcePoint(new("a"));
            Demo.Rig("a").Apply(new SetChain(place, preset.Make())).ChainAt(place)!.Value.Length.ShouldBe(preset.Chain.Length);
            preset.Make()[0].Id.ShouldNotBe(preset.Make()[0].Id);
        }
    }
}
