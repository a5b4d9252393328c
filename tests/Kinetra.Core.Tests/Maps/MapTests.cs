using System.Collections.Immutable;
using CsCheck;
using Kinetra.Core.Editing;
using Kinetra.Core.Findings;
using Kinetra.Core.Gear;
using Kinetra.Core.Maps;
using Kinetra.Core.Rigs;
using Kinetra.Core.Routing;
using Kinetra.Core.Signal;
using Kinetra.Core.Tests.Findings;
using Kinetra.Core.Tests.Gear;

namespace Kinetra.Core.Tests.Maps;

public class MapTests
{
    private static readonly Gen<(GearState Gear, Rig Rig)> Any = Gen.Select(AnyComputers.State, AnyComputers.Rig);

    // Bare sources and mixes, each source somewhere in each mix: only the drawing is of interest.
    private static readonly Gen<Diagram> AnyDiagram =
        from starts in Gen.Int[1, 14]
        from mixes in Gen.Int[0, 6]
        from ends in Gen.Int[0, 6]
        from sends in Gen.Bool.Array[starts * mixes]
        from onwards in Gen.Int[0, 3].Array[ends * mixes]
        from direct in Gen.Int[0, 5].Array[starts * ends]
        let to = Enumerable.Range(0, ends * mixes).Where(i => onwards[i] == 0).Select(i => new Onward(i % mixes, i / mixes, 1, TrackState.On, ["Cable"])).OrderBy(o => o.Mix).ToImmutableArray()
        select new Diagram(
            [.. Enumerable.Range(0, starts).Select(i => new Start(new($"s{i}"), new SourcePoint(new($"s{i}")), $"Source {i}", "", [new("chain of 1", "")]))],
            [.. Enumerable.Range(0, mixes).Select(i => new Meet(new($"m{i}"), $"Mix {i}", [], []))],
            [.. Enumerable.Range(0, ends).Select(i => new End(new DevicePoint(new($"d{i}"), Side.Out), $"End {i}", false, null))],
            [
                .. Enumerable.Range(0, starts * mixes).Where(i => sends[i]).Select(i => new Branch(i % starts, i / starts, -1, new SourcePoint(new($"s{i % starts}")), -1, 1, TrackState.On, [])),
                .. Enumerable.Range(0, starts * ends).Where(i => direct[i] == 0).Select(i => new Branch(i % starts, -1, i / starts, new SourcePoint(new($"s{i % starts}")), -1, 1, TrackState.On, [])),
            ],
            to,
            [],
            []);

    [Fact]
    public void No_two_tracks_lie_on_one_place_and_each_begins_and_ends_where_it_should() =>
        AnyDiagram.Sample(
            d =>
            {
                var map = Layout.Of(d);
                var lines = Lines(map);
                for (var i = 0; i < lines.Count; i++)
                {
                    for (var j = 0; j < i; j++)
                    {
                        // The same sound may lie on itself, where it has not parted yet.
                        if (lines[i].Start != lines[j].Start || lines[i].Mix != lines[j].Mix)
                        {
                            Overlap(lines[i].From, lines[i].To, lines[j].From, lines[j].To).ShouldBeLessThan(1.5, $"{lines[i]} {lines[j]}");
                        }
                    }
                }

                foreach (var track in map.Tracks)
                {
                    track.Line.Zip(track.Line.Skip(1)).ShouldAllBe(p => p.Second.X >= p.First.X);
                    track.Line[^1].X.ShouldBe(track.End >= 0 ? map.EndX : map.MixX);
                    var (column, extent) = track.End >= 0 ? (track.End, map.Ends) : (track.Mix, map.Mixes);
                    track.Line[^1].Y.ShouldBeInRange(extent[column].Top, extent[column].Bottom);
                    track.Line.ShouldAllBe(p => p.X >= 0 && p.X <= map.Width && p.Y >= 0 && p.Y <= map.Height);
                    if (track.End < 0 || track.Mix < 0)
                    {
                        track.Line[0].Y.ShouldBe(map.Starts[track.Start]);
                        track.Line[0].X.ShouldBeLessThanOrEqualTo(map.Trunks[track.Start]);
                    }
                }

                map.Tracks.Length.ShouldBe(d.Branches.Length + d.Onwards.Sum(o => d.Branches.Count(b => b.Mix == o.Mix)));
                var rows = map.Mixes.Concat(map.Ends.Where((e, i) => !map.Mixes.Any(m => Math.Abs(m.Top - e.Top) <= 12))).OrderBy(e => e.Top).ToList();
                rows.Zip(rows.Skip(1)).ShouldAllBe(p => p.Second.Top - p.First.Bottom >= 12);
            },
            iter: 400);

    [Fact]
    public void Tracks_of_one_mix_cross_each_other_nowhere() =>
        AnyDiagram.Sample(
            d =>
            {
                var map = Layout.Of(d);
                foreach (var mix in Enumerable.Range(0, d.Mixes.Length))
                {
                    // Before they part from their sources they may be crossed: a source's own level stretch is everybody's.
                    var slants = map.Tracks.Where(t => t.Mix == mix && t.End < 0 && t.Line.Length == 3).ToList();
                    foreach (var one in slants)
                    {
                        foreach (var other in slants.Where(o => o.Start < one.Start && (o.Line[1].Y > o.Line[0].Y) == (one.Line[1].Y > one.Line[0].Y)))
                        {
                            Crosses(one.Line[0], one.Line[1], other.Line[0], other.Line[1]).ShouldBeFalse();
                            Crosses(one.Line[0], one.Line[1], other.Line[1], other.Line[2]).ShouldBeFalse();
                            Crosses(one.Line[1], one.Line[2], other.Line[0], other.Line[1]).ShouldBeFalse();
                        }
                    }
                }
            },
            iter: 400);

    [Fact]
    public void The_same_is_drawn_the_same_and_what_is_sent_into_one_mix_leaves_starts_mixes_ends_and_nearly_all_other_tracks_where_they_were() =>
        Gen.Select(AnyDiagram, Gen.Int[0, 1_000]).Sample(
            x =>
            {
                var d = x.Item1;
                var map = Layout.Of(d);
                Layout.Of(d with { Starts = [.. d.Starts] }).Tracks.Select(t => string.Join(' ', t.Line)).ShouldBe(map.Tracks.Select(t => string.Join(' ', t.Line)));
                if (d.Branches.Where(b => b.Mix >= 0).ToList() is not { Count: > 0 } sends)
                {
                    return;
                }

                var gone = sends[x.Item2 % sends.Count];
                var then = Layout.Of(d with { Branches = d.Branches.Remove(gone) });
                then.Starts.ShouldBe(map.Starts);
                then.Mixes.Zip(map.Mixes).ShouldAllBe(m => Math.Abs(m.First.Top - m.Second.Top) <= 12);
                var before = map.Tracks.ToDictionary(t => (t.Start, t.Mix, t.End), t => t.Line);
                var moved = then.Tracks.Count(t => t.Mix != gone.Mix && before[(t.Start, t.Mix, t.End)].Zip(t.Line).Any(p => Math.Abs(p.First.Y - p.Second.Y) > 12));
                moved.ShouldBeLessThanOrEqualTo(then.Tracks.Count(t => t.End >= 0 && d.Onwards.Any(o => o.Mix == gone.Mix && o.End == t.End)));
            },
            iter: 400);

    [Fact]
    public void Whoever_a_source_comes_to_has_a_track_that_flows_and_nobody_else_has() =>
        Any.Sample(
            x =>
            {
                var s = new Situation(Routed.Of(x.Rig, new Computer(new Dictionary<SourceId, int>(), x.Gear)), []);
                var d = Diagram.Of(s);
                foreach (var (source, i) in x.Rig.Sources.Select((o, i) => (o, i)))
                {
                    var drawn = d.Branches.Where(b => b.Start == i && b.State == TrackState.On)
                        .SelectMany(b => b.Mix < 0 ? [d.Ends[b.End].Point] : d.Onwards.Where(o => o.Mix == b.Mix && o.State == TrackState.On).Select(o => d.Ends[o.End].Point).Append(new MixPoint(d.Mixes[b.Mix].Id)))
                        .ToHashSet();
                    drawn.RemoveWhere(p => p is CablePoint);
                    drawn.ShouldBe(Walking.From(source, s.Routed.Wiring), ignoreOrder: true, $"{source.Name}, {source.Input}");
                }

                d.Ends.Select(e => e.Point).ShouldBeUnique();
                Outline.Of(d).ShouldAllBe(o => o.Title.Length > 0 && o.Lines.Length > 0);
                Layout.Of(d).Tracks.Length.ShouldBeGreaterThanOrEqualTo(d.Branches.Length);
            },
            iter: 1_500);

    [Fact]
    public void No_source_comes_to_an_end_later_than_is_said_there_and_none_where_nothing_is_said() =>
        Any.Sample(
            x =>
            {
                var s = new Situation(Routed.Of(x.Rig, new Computer(new Dictionary<SourceId, int>(), x.Gear)), []);
                foreach (var end in Diagram.Of(s).Ends.Where(e => e.Point is AppPoint or DevicePoint))
                {
                    // What takes something that there is: a cable or a catch-all may have nothing to give.
                    foreach (var way in x.Rig.Sources.Where(o => o.Input is AppInput or DeviceInput && s.Routed.Wiring.Links.Any(l => l.To == new SourcePoint(o.Id, Tap.Raw))).Select(o => Trace.Of(s, o.Id, end.Point).Ways).Where(w => !w.IsEmpty).Select(w => w[0]))
                    {
                        end.LatestMilliseconds.ShouldNotBeNull().ShouldBeGreaterThanOrEqualTo((way.DelayFrames * 1000.0 / AudioFormat.SampleRate) - 0.001, $"{end.Name}");
                    }
                }
            },
            iter: 200);

    [Fact]
    public void How_much_of_a_mix_goes_on_is_what_its_destination_says()
    {
        var gear = new GearState { Devices = [new Device { Id = new("d"), Name = "Headset", Kind = DeviceKind.Headset, Outputs = 2 }] };
        var rig = new Rig
        {
            Sources = [Demo.Source("a")],
            Mixes = [Demo.Mix(Demo.Ears, "My ears", MixPurpose.MyEars, "a") with { Destinations = [new Destination { Id = new("x"), End = new DeviceOutput(new("d")), Gain = new(-20) }] }],
        };
        var diagram = Diagram.Of(new Situation(Routed.Of(rig, new Computer(new Dictionary<SourceId, int>(), gear)), []));
        diagram.Onwards.ShouldHaveSingleItem().Gain.ShouldBe(0.1, 1e-9);
        diagram.Ends.ShouldHaveSingleItem().LatestMilliseconds.ShouldBe(0);
    }

    private sealed record Piece(int Start, int Mix, Spot From, Spot To);

    // A source's own stretch is one, whoever it is for; the tracks of a mix to its ends have its own in common.
    private static List<Piece> Lines(Layout map)
    {
        var lines = map.Starts.Select((y, i) => new Piece(i, -2, new(0, y), new(map.Trunks[i], y))).ToList();
        lines.AddRange(map.Tracks.SelectMany(t => t.Line.Zip(t.Line.Skip(1)).Select(p => new Piece(t.Start, t.End >= 0 && t.Mix < 0 ? 100 + t.End : t.Mix, p.First, p.Second))).Where(p => p.From != p.To));
        return lines;
    }

    // How far two stretches lie on one another: parallel, and less than two pixels apart.
    private static double Overlap(Spot a, Spot b, Spot c, Spot d)
    {
        var (ux, uy) = (b.X - a.X, b.Y - a.Y);
        var length = Math.Sqrt((ux * ux) + (uy * uy));
        var (vx, vy) = (d.X - c.X, d.Y - c.Y);
        if (length < 0.5 || Math.Abs((ux * vy) - (uy * vx)) > 1e-6 * length * Math.Sqrt((vx * vx) + (vy * vy)))
        {
            return 0;
        }

        (ux, uy) = (ux / length, uy / length);
        var apart = Math.Abs(((c.X - a.X) * uy) - ((c.Y - a.Y) * ux));
        if (apart >= 2)
        {
            return 0;
        }

        var (from, to) = (((c.X - a.X) * ux) + ((c.Y - a.Y) * uy), ((d.X - a.X) * ux) + ((d.Y - a.Y) * uy));
        return Math.Min(length, Math.Max(from, to)) - Math.Max(0, Math.Min(from, to));
    }

    private static bool Crosses(Spot a, Spot b, Spot c, Spot d)
    {
        static double Side(Spot p, Spot q, Spot r) => ((q.X - p.X) * (r.Y - p.Y)) - ((q.Y - p.Y) * (r.X - p.X));
        return Side(a, b, c) * Side(a, b, d) < -1e-6 && Side(c, d, a) * Side(c, d, b) < -1e-6;
    }
}
