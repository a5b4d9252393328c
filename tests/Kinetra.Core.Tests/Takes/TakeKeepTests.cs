using System.Text.Json;
using CsCheck;
using Kinetra.Core.Editing;
using Kinetra.Core.Engine;
using Kinetra.Core.Rigs;
using Kinetra.Core.Signal;
using Kinetra.Core.Takes;

namespace Kinetra.Core.Tests.Takes;

/// <summary>What a take takes goes on for it, whatever becomes of the show, and nobody else hears it.</summary>
public class TakeKeepTests
{
    [Fact]
    public void Whatever_goes_of_a_show_the_engine_can_play_what_is_kept_and_every_mix_that_stays_is_as_it_would_be_without() =>
        (from rig in AnyRigs.Rig
         from gone in Gen.Int[0, 30].Array[1, 6]
         select (rig, gone)).Sample(
            drawn =>
            {
                var (rig, gone) = drawn;
                Point[] points = [.. rig.Sources.Select(s => new SourcePoint(s.Id)), .. rig.Mixes.Select(m => new MixPoint(m.Id)), .. rig.Cables.Select(c => new CablePoint(c.Id))];
                var (keep, now) = (TakeKeep.Of(rig, points), rig);
                foreach (var g in gone)
                {
                    RigCommand? command = (g % 3) switch
                    {
                        0 when now.Sources.Length > 0 => new RemoveSource(now.Sources[g % now.Sources.Length].Id),
                        1 when now.Mixes.Length > 0 => new RemoveMix(now.Mixes[g % now.Mixes.Length].Id),
                        2 when now.Cables.Length > 0 => new RemoveCable(now.Cables[g % now.Cables.Length].Id),
                        _ => null,
                    };
                    now = command?.Apply(now) is CommandResult.Applied applied ? applied.Rig : now;
                    keep = keep.Remember(now);
                }

                var over = keep.Over(now);
                points.ShouldAllBe(p => over.Has(p));
                RigRules.Check(over with { Tracks = [] }).Where(p => !p.Where.EndsWith(".name", StringComparison.Ordinal)).ShouldBeEmpty();
                foreach (var mix in now.Mixes)
                {
                    // What it had stays; what was added, it does not hear.
                    var kept = over.Find(mix.Id)!;
                    (kept with { Sends = mix.Sends }).ShouldBe(mix);
                    kept.Sends.Take(mix.Sends.Length).ShouldBe(mix.Sends);
                    kept.Sends.Skip(mix.Sends.Length).ShouldAllBe(s => !s.Heard);
                }

                over.Mixes.Skip(now.Mixes.Length).ShouldAllBe(m => m.Destinations.IsEmpty);
            },
            iter: 500);

    [Fact]
    public void Where_nothing_is_gone_the_show_is_the_same_object_and_what_it_changes_is_remembered()
    {
        var rig = Demo.Rig("voice", "music");
        var keep = TakeKeep.Of(rig, [new SourcePoint(new("voice"))]);
        keep.Over(rig).ShouldBeSameAs(rig);
        var turned = rig with { Sources = rig.Sources.SetItem(0, rig.Sources[0] with { Trim = new Gain(-6) }) };
        var gone = turned.Apply(new RemoveSource(new("voice")));
        keep.Remember(turned).Remember(gone).Over(gone).Find(new SourceId("voice"))!.Trim.ShouldBe(new Gain(-6));
    }
}
