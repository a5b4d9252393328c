using CsCheck;
using Kinetra.Core.Gear;
using Kinetra.Core.Routing;
using Kinetra.Core.Signal;
using Kinetra.Core.Tests.Gear;

namespace Kinetra.Core.Tests.Routing;

public class SpreadTests
{
    // The judge walks every way channel by channel and keeps them all.
    [Fact]
    public void What_comes_to_whom_how_loud_and_whether_twice_is_what_walking_every_way_tells_on_ten_thousand_computers() =>
        Gen.Select(AnyComputers.State, AnyComputers.Rig).Sample(
            (gear, rig) =>
            {
                var routed = Routed.Of(rig, new Computer(new Dictionary<SourceId, int>(), gear));
                var onward = routed.Wiring.Links.Where(l => l.Use == LinkUse.Sound && l.Factor != 0).ToLookup(l => l.From);
                var spread = Spread.Of(routed);
                spread.Origins.ShouldBeUnique();
                var (arrived, met) = (spread.Arrivals.ToLookup(a => (a.Origin, a.Listener)), spread.Meetings.ToLookup(m => m.Origin));
                spread.Arrivals.Length.ShouldBe(arrived.Count);
                var found = 0;
                foreach (var origin in spread.Origins)
                {
                    var walked = new Dictionary<(Point, int), List<Walked>>();
                    Walk(onward, origin.Point, origin.Channel, new Walked("", 1, 0), walked, origin.Point);
                    foreach (var listener in spread.Listeners)
                    {
                        var ways = Enumerable.Range(0, routed.Wiring.ChannelsOf(listener)).Select(c => walked.GetValueOrDefault((listener, c))).OfType<List<Walked>>().ToList();
                        if (ways.Count == 0)
                        {
                            continue;
                        }

                        found++;
                        var arrival = arrived[(origin, listener)].ShouldHaveSingleItem();
                        var all = ways.SelectMany(w => w).ToList();
                        var loudest = ways.Select(c => c.Max(w => w.Gain)).ToList();
                        IsClose(arrival.GainDecibels, Math.Sqrt(loudest.Sum(g => g * g))).ShouldBeTrue();
                        all.Exists(w => w.Delay == arrival.DelayFrames && w.Gain > loudest.Max() * (1 - 1e-9)).ShouldBeTrue();
                        arrival.Twice.ShouldBe(ways.Exists(c => c.Exists(w => w.Links != c[0].Links)));
                    }

                    foreach (var meeting in met[origin])
                    {
                        meeting.Ways.Length.ShouldBeInRange(2, Spread.MostWays);
                        meeting.Ways.Select(w => w.GainDecibels).ShouldBeInOrder(SortDirection.Descending);
                        meeting.Ways.Select(Text).Distinct().Count().ShouldBe(meeting.Ways.Length);
                        var there = Enumerable.Range(0, 16).Select(c => walked.GetValueOrDefault((meeting.At, c))).OfType<List<Walked>>().ToList();
                        there.Exists(c => meeting.Ways.All(w => c.Exists(k => k.Links == Text(w) && k.Delay == w.DelayFrames && IsClose(w.GainDecibels, k.Gain)))).ShouldBeTrue();
                    }
                }

                found.ShouldBe(spread.Arrivals.Length);
            },
            iter: 10_000);

    [Fact]
    public void A_stereo_sound_that_is_folded_comes_once_and_two_that_go_to_different_sides_do_too()
    {
        var device = new DeviceId("d");
        var gear = new GearState
        {
            Devices = [new Device { Id = device, Name = "D", Kind = DeviceKind.Interface, Inputs = [new() { Name = "1", Plugged = Plugged.Line }, new() { Name = "2", Plugged = Plugged.Line }, new() { Name = "3" }], Outputs = 1 }],
        };
        var rig = new Core.Rigs.Rig
        {
            Sources = [Of("left", 0), Of("right", 1)],
            Mixes =
            [
                new()
                {
                    Id = Demo.Viewers,
                    Name = "Viewers",
                    Purpose = Core.Rigs.MixPurpose.Viewers,
                    Sends = [new() { Source = new("left"), Pan = -1 }, new() { Source = new("right"), Pan = 1 }],
                    Destinations = [new() { Id = new("t"), End = new Core.Rigs.DeviceOutput(device), Into = new(0) }],
                },
            ],
        };
        Spread SpreadOf(Core.Rigs.Rig r) => Spread.Of(Routed.Of(r, new Computer(new Dictionary<SourceId, int>(), gear)));
        var once = SpreadOf(rig);
        once.Origins.Length.ShouldBe(2, "nothing is plugged into the third");
        once.Meetings.ShouldBeEmpty();

        // The same microphone on both sides is heard twice only where both sides become one.
        var both = SpreadOf(rig with { Sources = [Of("left", 0), Of("right", 0)] });
        both.Meetings.ShouldHaveSingleItem().At.ShouldBe(new DevicePoint(device, Side.Out));
        both.Arrivals.Single(a => a.Listener == new MixPoint(Demo.Viewers)).Twice.ShouldBeFalse();

        Core.Rigs.Source Of(string id, int channel) => new() { Id = new(id), Name = id, Kind = Core.Rigs.SourceKind.Microphone, Input = new Core.Rigs.DeviceInput(device, channel) };
    }

    private static bool IsClose(double decibels, double gain) => Math.Abs((20 * Math.Log10(gain)) - decibels) < 1e-9;

    private sealed record Walked(string Links, double Gain, int Delay);

    private static string Text(SoundPath way) => string.Concat(way.Links.Select(Text));

    private static string Text(Link link) => $"{link.From}>{link.Via}>{link.To} ";

    private static void Walk(ILookup<Point, Link> onward, Point at, int channel, Walked so, Dictionary<(Point, int), List<Walked>> walked, Point start)
    {
        foreach (var link in onward[at])
        {
            var delays = link.Delays;
            foreach (var cell in link.Map.Cells.Where(c => c.From == channel && c.Gain != 0 && link.To != start))
            {
                var next = new Walked(so.Links + Text(link), so.Gain * Math.Abs(cell.Gain * link.Factor), so.Delay + delays.LookAhead + delays.Set + delays.Buffer + delays.Device);
                if (!walked.TryGetValue((link.To, cell.To), out var ways))
                {
                    walked[(link.To, cell.To)] = ways = [];
                }

                ways.Add(next);
                Walk(onward, link.To, cell.To, next, walked, start);
            }
        }
    }
}
