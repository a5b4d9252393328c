using System.Text;
using System.Text.Json.Nodes;
using Kinetra.Core.Editing;
using Kinetra.Core.Engine;
using Kinetra.Core.Gear;
using Kinetra.Core.Metering;
using Kinetra.Core.Rigs;
using Kinetra.Core.Routing;
using Kinetra.Core.Signal;
using Kinetra.Gear.Practice;

namespace Kinetra.Gear.Tests;

public class DemoShowTests(MadeStandIns made) : IClassFixture<MadeStandIns>
{
    [Theory]
    [InlineData("The Lamp Room", 120)]
    [InlineData("Tide Tables", 60)]
    public void As_it_comes_no_mix_clips_and_each_is_about_as_loud_as_its_listener_should_get_it(string name, int seconds)
    {
        var rig = DemoShows.All.Single(s => s.Name == name).Rig;
        var engine = new MixEngine(EnginePlan.Build(rig, _ => new SilentInlet(), null, gear: Practice.Running(made.All, rig.Wishes, rig)));
        var peaks = rig.Mixes.ToDictionary(m => m.Id, _ => double.NegativeInfinity);
        var loudness = rig.Mixes.ToDictionary(m => m.Id, _ => new List<double>());
        var values = new float[engine.Plan.Meters.Layout.Length];
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
            peaks[mix.Id].ShouldBeLessThan(-0.9, mix.Name);
            Level.FromKWeighted(loudness[mix.Id].Average()).ShouldBe(mix.TargetLufs, 2, mix.Name);
        }
    }

    [Fact]
    public void As_it_comes_the_guest_is_sent_his_mix_the_encoder_hears_viewers_and_the_headset_the_makers_ears_and_nothing_else()
    {
        var rig = LampRoom.Rig();
        var (mic, main, headset) = (new AppPoint(PracticeCatalog.Call, "mic"), new AppPoint(PracticeCatalog.Encoder, "main"), new DevicePoint(PracticeCatalog.Headset, Side.Out));
        var running = Practice.Running(made.All, rig.Wishes, rig);
        var routed = Routed.Of(rig, new Computer(new Dictionary<SourceId, int>(), running.State));
        routed.Loops.All.ShouldBeEmpty();
        string[] Into(Point point) => [.. routed.Wiring.Links.Where(l => l.To == point && l.Use == LinkUse.Sound && l.Factor > 0).Select(l => l.From.ToString())];
        Into(mic).ShouldBe(["cable/to-guest"]);
        Into(main).ShouldBe(["cable/to-encoder"]);
        Into(headset).ShouldBe(["mix/my-ears"]);
        var bench = new PracticeBench(made.All, rig, g => Practice.Wished(g, rig.Wishes, rig), mic, main, headset).Run(20);
        foreach (var point in new Point[] { mic, main, headset })
        {
            Math.Sqrt(bench.Left(point).Average(x => (double)x * x)).ShouldBeGreaterThan(0.01, point.ToString());
        }
    }

    [Fact]
    public void Music_makes_room_for_voices_where_viewers_hear_it_and_not_in_the_makers_ears()
    {
        // The music alone is heard; the voices still key. Beside it the same without anything that makes room.
        var (viewers, ears) = (new MixPoint(new("viewers")), new MixPoint(new("my-ears")));
        var alone = Only("record-shelf", LampRoom.Rig());
        var plain = alone with { Mixes = [.. alone.Mixes.Select(m => m with { Sends = [.. m.Sends.Select(s => s with { Ducker = null })] })] };
        float[] Heard(Rig rig, Point point) => new PracticeBench(made.All, rig, g => Practice.Wished(g, rig.Wishes, rig), point).Run(20).Left(point);
        static double Rms(float[] samples, int window) => Math.Sqrt(samples.Skip(window * 4_800).Take(4_800).Average(x => (double)x * x));
        var (ducked, loud) = (Heard(alone, viewers), Heard(plain, viewers));
        var lowered = Enumerable.Range(0, 200).Where(w => Rms(loud, w) > 1e-3).Select(w => 20 * Math.Log10(Rms(ducked, w) / Rms(loud, w))).ToList();
        lowered.Min().ShouldBe(-9, 0.3);
        lowered.Max().ShouldBeGreaterThan(-3);
        Heard(alone, ears).ShouldBe(Heard(plain, ears));
    }

    private static Rig Only(string source, Rig rig) =>
        rig with { Mixes = [.. rig.Mixes.Select(m => m with { Sends = [.. m.Sends.Select(s => s with { Heard = s.Source.Value == source })], Chain = [] })] };

    [Theory]
    [InlineData("the-lamp-room")]
    [InlineData("tide-tables")]
    public void A_show_of_before_there_was_a_computer_takes_from_it_what_its_stand_ins_were(string show)
    {
        var text = File.ReadAllBytes(Path.Combine(AppContext.BaseDirectory, "shows", $"{show}.show.json"));
        var today = ShowFile.Read(text, out _)!;
        var file = JsonNode.Parse(text)!;
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
