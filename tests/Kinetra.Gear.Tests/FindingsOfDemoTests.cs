using Kinetra.Core.Editing;
using Kinetra.Core.Findings;
using Kinetra.Core.Routing;
using Kinetra.Core.Signal;
using Kinetra.Gear.Practice;

namespace Kinetra.Gear.Tests;

public class FindingsOfDemoTests
{
    [Theory]
    [InlineData(LampRoom.Name)]
    [InlineData(TideTables.Name)]
    public void Print(string name)
    {
        var rig = DemoShows.All.Single(s => s.Name == name).Rig;
        foreach (var gear in new[] { PracticeCatalog.Initial(), Practice.Wished(PracticeCatalog.Initial(), rig.Wishes, rig) })
        {
            var situation = new Situation(Routed.Of(rig, new Computer(new Dictionary<SourceId, int>(), gear)), Fulfilment.Of(rig.Wishes, gear, CablesNow.Of(rig), default));
            foreach (var f in Examination.Of(situation))
            {
                Console.WriteLine($"{f.Harm} {f.Kind}: {f.Sentence} [{string.Join(", ", f.Places)}]");
                foreach (var x in f.Fixes) Console.WriteLine($"     - {x.Label}");
            }
            Console.WriteLine("----");
        }
    }
}
