using System.Text;
using System.Text.Json.Nodes;
using Kinetra.Core.Editing;
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

    [Theory]
    [InlineData("The Lamp Room")]
    [InlineData("Tide Tables")]
    public void A_demo_show_of_before_there_was_a_computer_sounds_as_the_one_of_today(string name)
    {
        var today = DemoShows.All.Single(s => s.Name == name);
        var file = JsonNode.Parse(new ShowFile(name, today.Rig).Write())!;
        file["version"] = "1";
        file.AsObject().Remove("wishes");
        foreach (var source in file["sources"]!.AsArray())
        {
            // As they were named then: by the stand-in, which had the source's own id.
            source!["input"] = new JsonObject { ["type"] = "standIn", ["device"] = (string)source["id"]! };
            foreach (var field in new[] { "inverted", "fold", "syncDelay" })
            {
                source.AsObject().Remove(field);
            }
        }

        foreach (var mix in file["mixes"]!.AsArray())
        {
            mix!.AsObject().Remove("destinations");
        }

        var read = ShowFile.Read(Encoding.UTF8.GetBytes(file.ToJsonString()), out var problems).ShouldNotBeNull(string.Join(" ", problems));
        read.Rig.Sources.Select(s => s.Input).ShouldBe(today.Rig.Sources.Select(s => s.Input));
    }
}
