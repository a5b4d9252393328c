using CsCheck;
using Kinetra.Core.Rigs;
using Kinetra.Core.Routing;
using Kinetra.Core.Signal;
using Kinetra.Core.Tests.Engine;

namespace Kinetra.Core.Tests.Routing;

/// <summary>What holds of every loop, however it came about.</summary>
public class LoopLawTests
{
    // Each has at least one circle, through a cable, its source and a mix; others come as they come.
    private static readonly Gen<Rig> Looped =
        from rig in AnyRigs.Rig
        from level in Gen.Double[-10, 6]
        from buffer in Gen.Int[0, 400]
        let cable = new Cable { Id = new("round"), Name = "Round", Channels = 2, BufferFrames = buffer, Feeds = [new CableFeed { From = new MixPoint(rig.Mixes[0].Id) }] }
        let source = new Source { Id = new("comes-back"), Name = "Comes back", Kind = SourceKind.App, Input = new CableInput(cable.Id, 0, 1) }
        select rig with
        {
            Sources = [.. rig.Sources.Select(s => s with { Input = s.Input is CableInput input ? input with { LoopAllowed = false } : s.Input }), source],
            Mixes =
            [
                .. rig.Mixes.Select((m, i) => m with
                {
                    Gain = i == 0 ? Gain.Unity : m.Gain,
                    Chain = i == 0 ? [] : m.Chain,
                    Sends = m.Sends.Add(new Send { Source = source.Id, Gain = new(level), Heard = i == 0 }),
                }),
            ],
            Cables = [.. rig.Cables.Select(c => c with { Feeds = [.. c.Feeds.Select(f => f with { LoopAllowed = false })] }), cable],
        };

    [Fact]
    public void Loops_are_found_and_build_up_or_do_not_in_whatever_order_what_makes_them_was_made() =>
        Gen.Select(Looped, Gen.Int).Sample(
            (rig, seed) =>
            {
                var random = new Random(seed);
                var other = rig with
                {
                    Sources = [.. rig.Sources.OrderBy(_ => random.Next())],
                    Mixes = [.. rig.Mixes.OrderBy(_ => random.Next()).Select(m => m with { Sends = [.. m.Sends.OrderBy(_ => random.Next())] })],
                    Cables = [.. rig.Cables.OrderBy(_ => random.Next()).Select(c => c with { Feeds = [.. c.Feeds.OrderBy(_ => random.Next())] })],
                };
                var (loops, others) = (Of(rig), Of(other));
                others.Select(l => l.Points).ShouldBe(loops.Select(l => l.Points));

                // How much a round gains is told by what closes it, and what does depends on the order where a circle is closed more than once.
                foreach (var (one, two) in loops.Zip(others).Where(l => Math.Abs(l.First.Gain) > 0.01))
                {
                    (two.Gain > 0).ShouldBe(one.Gain > 0, $"{one.Points}: {one.Gain} and {two.Gain}");
                }
            },
            iter: 400);

    [Fact]
    public void However_a_circle_would_build_up_what_is_heard_stays_bounded_until_somebody_lets_it()
    {
        var building = 0;
        Looped.Sample(
            rig =>
            {
                const int blocks = 280;
                const int frames = blocks * AudioFormat.BlockFrames;
                var sounds = rig.Sources.Where(s => s.Input is not CableInput).Select((s, i) => (s.Id.Value, Sound: Signals.Noise(i, frames, 0.05))).ToDictionary(s => s.Value, s => (IInlet)new ArrayInlet(s.Sound));
                var bench = new Bench(rig, sounds).Run(blocks);
                var isBuilding = bench.Engine.Plan.Loops.Any(l => l.GainDecibels >= 0);
                building += isBuilding ? 1 : 0;
                foreach (var mix in rig.Mixes)
                {
                    var heard = bench.Left(mix.Id);
                    var (before, after) = (Most(heard.AsSpan(0, heard.Length / 2)), Most(heard.AsSpan(heard.Length / 2)));

                    // Noise is never twice the same; what goes round at less than half of itself is all there after ten rounds.
                    after.ShouldBeLessThanOrEqualTo((before * 2) + 1e-6, $"{mix.Name}: {string.Join("; ", bench.Engine.Plan.Loops.Select(l => $"{l.GainDecibels:0.0} dB, {l.Held.Length} held"))}");
                }
            },
            iter: 60,
            threads: 1);
        building.ShouldBeGreaterThan(5);

        static double Most(ReadOnlySpan<float> samples)
        {
            var most = 0.0;
            foreach (var x in samples)
            {
                most = Math.Max(most, Math.Abs(x));
            }

            return most;
        }
    }

    private static List<(string Points, double Gain)> Of(Rig rig) =>
        [.. Routed.Of(rig, Computer.Unknown).Loops.All.Select(l => (string.Join(' ', l.Points.Select(p => p.ToString()).Order(StringComparer.Ordinal)), l.GainDecibels)).OrderBy(l => l.Item1, StringComparer.Ordinal)];
}
