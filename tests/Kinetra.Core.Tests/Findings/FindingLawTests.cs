using CsCheck;
using Kinetra.Core.Findings;
using Kinetra.Core.Gear;
using Kinetra.Core.Rigs;
using Kinetra.Core.Routing;
using Kinetra.Core.Signal;
using Kinetra.Core.Tests.Gear;

namespace Kinetra.Core.Tests.Findings;

/// <summary>
/// What is found, held both ways against judges that know nothing of how it is found: they go every way by hand, or read who takes what from the show and the
/// computer.
/// </summary>
public class FindingLawTests
{
    private static readonly AppKind[] Kinds = [AppKind.Call, AppKind.Chat, AppKind.Player, AppKind.Encoder];

    // Mixes and sources play into cables that programs hear; a call never passes on what it is sent.
    private static readonly Gen<(GearState Gear, Rig Rig)> Any =
        from gear in AnyComputers.State
        from kinds in Gen.Int[0, 3].Array[4]
        from rig in AnyComputers.Rig
        from sends in Gen.Select(Gen.Int[0, 4], Gen.Int[0, 4]).Array[4]
        from feeds in Gen.Select(Gen.Int[0, AnyComputers.Cables - 1], Gen.Int[-3, 3], Gen.Double[-50, 0], Gen.Int[0, 4]).Array[0, 6]
        select (
            gear with
            {
                Apps = [.. gear.Apps.Select((a, i) => a with { Kind = Kinds[kinds[i]], Passes = Kinds[kinds[i]] is AppKind.Call or AppKind.Chat ? [] : a.Passes })],
            },
            rig with
            {
                Mixes = [.. rig.Mixes.Select(m => m with { Sends = [.. m.Sends.Select((s, i) => s with { Heard = sends[i].Item1 > 0, Muted = sends[i].Item2 == 0 })] })],
                Cables =
                [
                    .. rig.Cables.Select((c, i) => c with
                    {
                        Feeds =
                        [
                            .. feeds.Where(f => f.Item1 == i && f.Item2 < rig.Sources.Length).Select(f => new CableFeed
                            {
                                From = f.Item2 < 0 ? new MixPoint(new("m0")) : new SourcePoint(new($"s{f.Item2}")),
                                Gain = f.Item4 == 4 ? Gain.Off : new(f.Item3),
                                On = f.Item4 > 0,
                            }).DistinctBy(f => f.From),
                        ],
                    }),
                ],
            });

    [Fact]
    public void Whoever_hears_himself_on_a_call_is_found_and_nobody_else_on_ten_thousand_computers()
    {
        var (looked, heard) = (0, 0);
        Any.Sample(
            any =>
            {
                var routed = Routed.Of(any.Rig, new Computer(new Dictionary<SourceId, int>(), any.Gear));
                if (routed.Order.HasLate)
                {
                    // What goes round is the loops' law.
                    return;
                }

                Interlocked.Increment(ref looked);
                var onward = routed.Wiring.Links.Where(l => l.Use == LinkUse.Sound && l.Factor != 0).ToLookup(l => l.From);
                var expected = new List<string>();
                foreach (var app in any.Gear.Apps.Where(a => a.Kind is AppKind.Call or AppKind.Chat))
                {
                    foreach (var (from, to) in from o in app.Ports where o.Side == Side.Out from i in app.Ports where i.Side == Side.In select (new AppPoint(app.Id, o.Id), new AppPoint(app.Id, i.Id)))
                    {
                        // Of the loudest of its channels, what comes to all of the input's.
                        var most = Enumerable.Range(0, routed.Wiring.ChannelsOf(from)).Max(c =>
                        {
                            var there = new Dictionary<(Point, int), Dictionary<string, double>>();
                            WalkAll(onward, from, c, 1, "", there);
                            return (double?)Math.Sqrt(there.Where(t => t.Key.Item1 == to).Sum(t => t.Value.Values.Max() * t.Value.Values.Max()));
                        }) ?? 0;
                        if (Math.Abs((20 * Math.Log10(most)) + 60) < 0.001)
                        {
                            return;
                        }

                        if (most > 0.001)
                        {
                            expected.Add($"self {from} {to}");
                        }
                    }
                }

                Interlocked.Add(ref heard, expected.Count);
                Found(routed, FindingKind.SelfHearing).ShouldBe(expected, ignoreOrder: true);
            },
            iter: 10_000);
        looked.ShouldBeGreaterThan(5_000);
        heard.ShouldBeGreaterThan(20);
    }

    [Fact]
    public void A_sound_that_comes_twice_anywhere_is_found_and_where_none_does_nothing_is_on_ten_thousand_computers()
    {
        var (twice, once) = (0, 0);
        Any.Sample(
            any =>
            {
                var routed = Routed.Of(any.Rig, new Computer(new Dictionary<SourceId, int>(), any.Gear));
                if (routed.Order.HasLate)
                {
                    return;
                }

                var onward = routed.Wiring.Links.Where(l => l.Use == LinkUse.Sound && l.Factor != 0).ToLookup(l => l.From);
                var situation = new Situation(routed, []);
                var found = Examination.Of(situation).Where(f => f.Kind is FindingKind.Twice or FindingKind.RawBeside).ToList();
                var isAnywhere = false;
                foreach (var origin in situation.Spread.Origins)
                {
                    // By how much the second way is softer, at the channel of all where that is least.
                    var ways = new Dictionary<(Point, int), Dictionary<string, double>>();
                    WalkAll(onward, origin.Point, origin.Channel, 1, "", ways);
                    var seconds = ways.Values.Where(w => w.Count > 1).Select(w => w.Values.OrderDescending().ElementAt(1) / w.Values.Max()).ToList();
                    isAnywhere |= seconds.Count > 0;
                    if (seconds.Count > 0 && seconds.Max() > 0.01)
                    {
                        Interlocked.Increment(ref twice);
                        // It is called by a source that wants it, whether or not that one gets it.
                        var sources = any.Rig.Sources.Where(s => s.Input switch
                        {
                            DeviceInput input => origin.Point == new DevicePoint(input.Device, Side.In),
                            AppInput input => origin.Point is AppPoint port && port.Id == input.App,
                            _ => origin.Point is SourcePoint own && own.Id == s.Id,
                        }).Select(s => (Point)new SourcePoint(s.Id));
                        found.ShouldContain(f => f.Places.Any(p => p == origin.Point || sources.Contains(p)), origin.ToString());
                    }
                }

                if (!isAnywhere)
                {
                    Interlocked.Increment(ref once);
                    found.ShouldBeEmpty();
                }
            },
            iter: 10_000);
        twice.ShouldBeGreaterThan(150);
        once.ShouldBeGreaterThan(1_000);
    }

    [Fact]
    public void What_nobody_hears_is_found_and_nothing_else_on_ten_thousand_computers() => Any.Sample(
        any =>
        {
            var (gear, rig) = any;
            var routed = Routed.Of(rig, new Computer(new Dictionary<SourceId, int>(), gear));
            var feeds = rig.Cables.SelectMany(c => c.Feeds).Where(f => f.On).ToList();
            bool Sounds(CableFeed f) => f.Gain != Gain.Off;
            Found(routed, FindingKind.SourceUnheard).ShouldBe(
                rig.Sources.Where(s => !rig.Mixes.Any(m => m.Sends.Any(d => d.Source == s.Id && d.Heard && !d.Muted && d.Gain != Gain.Off)) && !feeds.Exists(f => Sounds(f) && f.From == new SourcePoint(s.Id)))
                    .Select(s => $"unheard {s.Id}"),
                ignoreOrder: true);
            Found(routed, FindingKind.MixNowhere).ShouldBe(
                rig.Mixes.Where(m => !feeds.Exists(f => f.From == new MixPoint(m.Id)) && !m.Destinations.Any(d => d.On && d.Into.Left < gear.Find(((DeviceOutput)d.End).Device)!.Outputs))
                    .Select(m => $"nowhere {m.Id}"),
                ignoreOrder: true);

            // Whatever its fader; a program that a source takes plays elsewhere only where that says so.
            var playing = from app in gear.Apps
                          where app.IsRunning
                          from port in app.Ports
                          where port.Side == Side.Out && port.Choice is ChosenEnd
                          where !rig.Sources.Any(s => s.Input is AppInput { StillPlays: false } tap && tap.App == app.Id && (tap.Port is null || tap.Port == port.Id))
                          select ((ChosenEnd)port.Choice).End;
            var hearing = from app in gear.Apps
                          where app.IsRunning
                          from port in app.Ports
                          where port.Side == Side.In && port.Choice is ChosenEnd
                          select ((ChosenEnd)port.Choice).End;
            Found(routed, FindingKind.CableUnheard).ShouldBe(
                rig.Cables.Select(c => (Cable: c, At: new CablePoint(c.Id)))
                    .Where(c => (playing.Contains(c.At) || c.Cable.Feeds.Any(f => f.On && Sounds(f))) && !hearing.Contains(c.At)
                        && !rig.Sources.Any(s => s.Input is CableInput input && input.Cable == c.Cable.Id) && !feeds.Exists(f => f.From == c.At))
                    .Select(c => $"unheard {c.At}"),
                ignoreOrder: true);
        },
        iter: 10_000);

    [Fact]
    public void Whatever_a_sound_can_go_round_in_is_found_as_a_loop_and_nothing_else_on_ten_thousand_shows()
    {
        var loops = 0;
        AnyRigs.Rig.Sample(
            rig =>
            {
                var routed = Routed.Of(rig, Computer.Unknown);

                // Channel by channel, whom each comes to; what is held would flow.
                var onward = (from link in routed.Wiring.Links
                              where link.Use == LinkUse.Sound && (link.Factor != 0 || link.State == LinkState.Held)
                              from cell in link.Map.Cells
                              where cell.Gain != 0
                              select (From: (link.From, cell.From), To: (link.To, cell.To))).Distinct().ToLookup(w => w.From, w => w.To);
                var reach = onward.ToDictionary(w => w.Key, w => Reached(w.Key));
                var round = reach.Where(r => r.Value.Contains(r.Key)).Select(r => r.Key.Item1).ToHashSet();
                var found = routed.Loops.All;
                found.SelectMany(l => l.Points).ToHashSet().SetEquals(round).ShouldBeTrue();
                Found(routed, FindingKind.Loop).Count.ShouldBe(found.Length);
                Interlocked.Add(ref loops, found.Length);

                HashSet<(Point, int)> Reached((Point, int) start)
                {
                    var (seen, open) = (new HashSet<(Point, int)>(), new Stack<(Point, int)>([start]));
                    while (open.TryPop(out var at))
                    {
                        foreach (var next in onward[at])
                        {
                            if (seen.Add(next))
                            {
                                open.Push(next);
                            }
                        }
                    }

                    return seen;
                }
            },
            iter: 10_000);
        loops.ShouldBeGreaterThan(500);
    }

    private static List<string> Found(Routed routed, FindingKind kind) => [.. Examination.Of(new Situation(routed, [])).Where(f => f.Kind == kind).Select(f => f.Key)];

    // Every way, each gone to its end: how loud it comes to each channel, by each row of links.
    private static void WalkAll(ILookup<Point, Link> onward, Point at, int channel, double gain, string row, Dictionary<(Point, int), Dictionary<string, double>> there)
    {
        foreach (var link in onward[at])
        {
            foreach (var cell in link.Map.Cells.Where(c => c.From == channel && c.Gain != 0))
            {
                var (next, longer) = (gain * Math.Abs(cell.Gain * link.Factor), $"{row} {link.Via ?? link.From} {link.To}");
                if (!there.TryGetValue((link.To, cell.To), out var ways))
                {
                    there[(link.To, cell.To)] = ways = [];
                }

                ways[longer] = Math.Max(next, ways.GetValueOrDefault(longer));
                WalkAll(onward, link.To, cell.To, next, longer, there);
            }
        }
    }
}
