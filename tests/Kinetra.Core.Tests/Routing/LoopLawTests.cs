using CsCheck;
using Kinetra.Core.Findings;
using Kinetra.Core.Rigs;
using Kinetra.Core.Routing;
using Kinetra.Core.Signal;
using Kinetra.Core.Tests.Engine;
using MathNet.Numerics.LinearAlgebra;

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
    public void Loops_are_found_with_their_gain_in_whatever_order_what_makes_them_was_made() =>
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
                foreach (var (one, two) in loops.Zip(others))
                {
                    two.Gain.ShouldBe(one.Gain, 0.001, one.Points);
                }

                // What was accepted stays so.
                Keys(other).ShouldBe(Keys(rig));
            },
            iter: 400);

    [Fact]
    public void A_loops_gain_is_what_comes_back_where_it_is_opened_the_most_while_it_dies_away_the_least_once_it_builds_up()
    {
        const int cables = 4;
        var (dying, building) = (0, 0);
        Gen.Select(Gen.Int[-28, 4], Gen.Bool).Array[cables * cables].Sample(
            feeds =>
            {
                // Each cable into each other, as it comes.
                var ways = new double[cables, cables];
                for (var i = 0; i < feeds.Length; i++)
                {
                    ways[i / cables, i % cables] = feeds[i].Item2 && i / cables != i % cables ? Math.Pow(10, feeds[i].Item1 / 20.0) : 0;
                }

                var rig = Demo.Rig("app") with
                {
                    Cables =
                    [
                        .. Enumerable.Range(0, cables).Select(to => new Cable
                        {
                            Id = new($"c{to}"),
                            Name = $"c{to}",
                            Channels = 1,
                            Feeds =
                            [
                                .. Enumerable.Range(0, cables).Where(from => ways[to, from] > 0)
                                    .Select(from => new CableFeed { From = new CablePoint(new($"c{from}")), Gain = new(feeds[(to * cables) + from].Item1), Into = new(0, null) }),
                            ],
                        }),
                    ],
                };
                var loops = Of(rig);
                if (loops.Count != 1)
                {
                    return;
                }

                // Of what is on the circle alone.
                var on = Enumerable.Range(0, cables).Where(c => loops[0].Points.Split(' ').Contains(new CablePoint(new($"c{c}")).ToString())).ToArray();
                var back = on.Select(c => ComesBack(ways, on, c)).ToArray();
                if (Array.Exists(back, b => b is double.NaN))
                {
                    return;
                }

                if (Array.TrueForAll(back, b => b is < 0.98))
                {
                    dying++;
                    loops[0].Gain.ShouldBe(Signals.Db(back.Max()!.Value), 0.001);
                }
                else if (Array.Exists(back, b => b is > 1.02))
                {
                    building++;
                    loops[0].Gain.ShouldBe(Signals.Db(back.Min()!.Value), 0.001);
                }
                else if (Array.TrueForAll(back, b => b is null))
                {
                    loops[0].Gain.ShouldBeGreaterThan(0);
                }
            },
            iter: 3_000,
            threads: 1);
        dying.ShouldBeGreaterThan(50);
        building.ShouldBeGreaterThan(50);

        // Walked: what leaves a cable goes on round all others until nothing is left. Null where that grows by itself.
        static double? ComesBack(double[,] ways, int[] on, int opened)
        {
            var (under, back) = (on.ToDictionary(c => c, c => ways[c, opened]), 0.0);
            for (var step = 0; step < 20_000; step++)
            {
                back += under[opened];
                under = on.ToDictionary(to => to, to => on.Where(from => from != opened).Sum(from => ways[to, from] * under[from]));
                if (under.Values.Max() < 1e-12)
                {
                    return back;
                }

                if (under.Values.Max() > 1e6)
                {
                    return null;
                }
            }

            // Too close to tell.
            return double.NaN;
        }
    }

    [Fact]
    public void By_the_inverse_of_its_gain_one_point_of_a_loop_may_become_louder_or_has_to_become_softer_and_no_other_point_less_of_it()
    {
        var (dying, building, hopeless) = (0, 0, 0);
        Gen.Select(Gen.Int[1, 3].Array[2, 4], Gen.Double[0, 3].Array[144], Gen.Double[-1.5, 0.7]).Sample(
            (sizes, falls, all) =>
            {
                int[] starts = [0, .. sizes.Select((_, i) => sizes.Take(i + 1).Sum())];
                var size = starts[^1];
                var ways = Matrix<double>.Build.Dense(size, size, (r, c) => Math.Pow(10, all - falls[(r * 12) + c]));
                var gain = new ReturnGain(starts).Of([.. ways.ToRowMajorArray()], 0);
                var radius = Radius(ways);
                if (Math.Abs(radius - 1) < 1e-3)
                {
                    return;
                }

                // As it is with each point at another level.
                List<double> At(double factor) => [.. sizes.Select((_, p) => Radius(Matrix<double>.Build.Dense(size, size, (r, c) => ways[r, c] * (r >= starts[p] && r < starts[p + 1] ? factor : 1))))];
                if (gain is not { } returned)
                {
                    hopeless++;
                    radius.ShouldBeGreaterThan(1);
                    At(0).Min().ShouldBeGreaterThanOrEqualTo(1 - 1e-9);
                }
                else if (radius < 1)
                {
                    dying++;
                    At(1 / returned).Max().ShouldBe(1, 1e-6);
                }
                else
                {
                    building++;
                    At(1 / returned).Min().ShouldBe(1, 1e-6);
                }
            },
            iter: 3_000,
            threads: 1);
        Math.Min(dying, Math.Min(building, hopeless)).ShouldBeGreaterThan(50, $"{dying}, {building}, {hopeless}");

        static double Radius(Matrix<double> of) => of.Evd().EigenValues.Max(e => e.Magnitude);
    }

    [Fact]
    public void Where_no_point_alone_would_end_a_loop_it_gains_what_all_its_links_do_as_often_as_its_shortest_round_has_links()
    {
        // Each of three into both others, as loud as it comes: twice as much with each link, and two links are a round.
        var rig = Demo.Rig("app") with
        {
            Cables =
            [
                .. Enumerable.Range(0, 3).Select(to => new Cable
                {
                    Id = new($"c{to}"),
                    Name = $"c{to}",
                    Channels = 1,
                    Feeds = [.. Enumerable.Range(0, 3).Where(from => from != to).Select(from => new CableFeed { From = new CablePoint(new($"c{from}")), Into = new(0, null) })],
                }),
            ],
        };
        Of(rig).ShouldHaveSingleItem().Gain.ShouldBe(Signals.Db(4), 1e-4);
    }

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

    private static List<string> Keys(Rig rig) =>
        [.. Examination.Of(new Situation(Routed.Of(rig, Computer.Unknown), [])).Where(f => f.Kind == FindingKind.Loop).Select(f => f.Key).Order(StringComparer.Ordinal)];

    private static List<(string Points, double Gain)> Of(Rig rig) =>
        [.. Routed.Of(rig, Computer.Unknown).Loops.All.Select(l => (string.Join(' ', l.Points.Select(p => p.ToString()).Order(StringComparer.Ordinal)), l.GainDecibels)).OrderBy(l => l.Item1, StringComparer.Ordinal)];
}
