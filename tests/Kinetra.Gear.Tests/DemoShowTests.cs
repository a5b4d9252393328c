using Kinetra.Core.Engine;
using Kinetra.Core.Metering;
using Kinetra.Core.Rigs;

namespace Kinetra.Gear.Tests;

public class DemoShowTests(MadeStandIns made) : IClassFixture<MadeStandIns>
{
    [Fact]
    public void In_two_minutes_of_the_demo_no_mix_clips_and_each_is_about_as_loud_as_its_listener_should_get_it()
    {
        var rig = LampRoom.Rig();
        var engine = new MixEngine(EnginePlan.Build(rig, _ => new SilentInlet(), null, gear: Practice.Running(made.All)));
        var peaks = rig.Mixes.ToDictionary(m => m.Id, _ => double.NegativeInfinity);
        var loudness = rig.Mixes.ToDictionary(m => m.Id, _ => new List<double>());
        var values = new float[engine.Plan.Meters.Layout.Length];
        const int seconds = 120;
        for (var second = 0; second < seconds; second++)
        {
            for (var block = 0; block < 188; block++)
            {
                engine.ProcessBlock();
            }

            engine.Plan.Meters.Read(values);
            for (var m = 0; m < rig.Mixes.Length; m++)
            {
                var at = (rig.Sources.Length * MeterLayout.SourceValues) + (m * MeterLayout.MixValues);
                peaks[rig.Mixes[m].Id] = Math.Max(peaks[rig.Mixes[m].Id], values[at + 1]);
                loudness[rig.Mixes[m].Id].Add(Level.ToKWeighted(values[at + 4]));
            }
        }

        foreach (var mix in rig.Mixes)
        {
            peaks[mix.Id].ShouldBeLessThan(-1, mix.Name);
            Level.FromKWeighted(loudness[mix.Id].Average()).ShouldBe(mix.TargetLufs, 2, mix.Name);
        }
    }
}
