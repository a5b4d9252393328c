using System.Collections.Immutable;
using System.Runtime.InteropServices;
using Kinetra.Core.Gear;
using Kinetra.Core.Rigs;
using Kinetra.Core.Signal;

namespace Kinetra.Core.Routing;

/// <summary>One channel of a point at which sound begins: a microphone, what a program plays, a file.</summary>
/// <param name="Point">The point.</param>
/// <param name="Channel">Which of its channels, from 0.</param>
public readonly record struct Origin(Point Point, int Channel);

/// <summary>What of one beginning comes to a listener by the strongest way.</summary>
/// <param name="Origin">Where it begins.</param>
/// <param name="Listener">The listener's last point.</param>
/// <param name="GainDecibels">What it gains on the way, dB: of the power of all the listener's channels together.</param>
/// <param name="DelayFrames">How late it is in the channel in which it is loudest, frames.</param>
/// <param name="Twice">True where it comes to one channel by more ways than one.</param>
public readonly record struct Arrival(Origin Origin, Point Listener, double GainDecibels, int DelayFrames, bool Twice);

/// <summary>The same sound coming to one channel of a point by two ways or more, which part before and do not meet until here.</summary>
/// <param name="Origin">Where it begins.</param>
/// <param name="At">Where they meet.</param>
/// <param name="Ways">The strongest of each that meet, the strongest first; at most <see cref="Spread.MostWays"/>.</param>
public sealed record Meeting(Origin Origin, Point At, ImmutableArray<SoundPath> Ways);

/// <summary>
/// Where every sound goes that begins anywhere: what comes to which listener, and where one comes to a point twice. Worked out in one walk of the
/// links for each beginning, so that it costs beginnings × links however many ways there are.
/// </summary>
/// <remarks>
/// A way is the links that it takes. Of each channel of each point only the strongest way is kept. If a sound comes to a channel by two ways, there
/// is one, there or before, at which two strongest ways of what leads to it differ: where two links meet, they do; where both come by one link
/// from two channels, either these have different strongest ways, or one of them was come to by two ways already. So all that comes
/// twice is found where it meets first.
/// </remarks>
public sealed class Spread
{
    /// <summary>The most ways of a meeting that are listed.</summary>
    public const int MostWays = 4;

    // The most channels of a point.
    private const int Most = 16;

    private readonly Routed _routed;
    private readonly LinkTable _table;
    private readonly bool[] _visited;
    private readonly int[] _from;
    private readonly double[] _gain;
    private readonly int[] _delay;
    private readonly (int Link, int Channel)[] _via;
    private readonly long[] _way;
    private readonly bool[] _meets;
    private readonly bool[] _twice;

    // Of the meeting that is looked at.
    private List<(long Way, double Gain, int Link, int Channel)> _ways = [];
    private List<(long Way, double Gain, int Link, int Channel)> _loudest = [];

    private Spread(Routed routed)
    {
        (_routed, _table) = (routed, new LinkTable(routed));
        var points = routed.Wiring.Points.Length;
        (_visited, _gain, _delay, _via) = (new bool[points], new double[points * Most], new int[points * Most], new (int, int)[points * Most]);
        (_way, _meets, _twice) = (new long[points * Most], new bool[points * Most], new bool[points * Most]);
        _from = [.. routed.Wiring.Ends.Select(e => e.From)];
        Origins = OriginsOf(routed.Wiring);
        Listeners = ListenersOf(routed.Wiring);
        var (arrivals, meetings) = (ImmutableArray.CreateBuilder<Arrival>(), ImmutableArray.CreateBuilder<Meeting>());
        var places = Listeners.Select(routed.Wiring.PlaceOf).ToArray();
        foreach (var origin in Origins)
        {
            Walk(origin, meetings);
            foreach (var place in places)
            {
                if (_visited[place])
                {
                    var channel = Loudest(place).Channel;
                    var power = 0.0;
                    foreach (var g in _gain.AsSpan(place * Most, Most))
                    {
                        power += g * g;
                    }

                    arrivals.Add(new Arrival(origin, routed.Wiring.Points[place], 10 * Math.Log10(power), _delay[(place * Most) + channel], _twice.AsSpan(place * Most, Most).Contains(true)));
                }
            }
        }

        (Arrivals, Meetings) = (arrivals.ToImmutable(), meetings.ToImmutable());
    }

    /// <summary>Where sound begins: each channel of what devices take in, of what programs play by themselves, and of sources that are given samples.</summary>
    public ImmutableArray<Origin> Origins { get; }

    /// <summary>Who may hear: mixes, inputs of programs that run, what devices play.</summary>
    public ImmutableArray<Point> Listeners { get; }

    /// <summary>What comes to whom.</summary>
    public ImmutableArray<Arrival> Arrivals { get; }

    /// <summary>Where the same comes twice.</summary>
    public ImmutableArray<Meeting> Meetings { get; }

    /// <summary>Works it out.</summary>
    public static Spread Of(Routed routed)
    {
        ArgumentNullException.ThrowIfNull(routed);
        return new Spread(routed);
    }

    /// <summary>The strongest way of a sound to a point, or null where nothing of it comes there.</summary>
    public SoundPath? WayTo(Origin origin, Point to)
    {
        ArgumentNullException.ThrowIfNull(to);
        lock (_via)
        {
            Walk(origin, null);
            return _routed.Wiring.PlaceOf(to) is >= 0 and var place && _visited[place] ? PathTo(place, Loudest(place).Channel) : null;
        }
    }

    /// <summary>True for a program that has a sound of its own, beside what it passes on.</summary>
    public static bool HasOwnSound(App app)
    {
        ArgumentNullException.ThrowIfNull(app);
        return app.Kind is not (AppKind.Encoder or AppKind.Recorder or AppKind.Listener);
    }

    private static ImmutableArray<Origin> OriginsOf(Wiring wiring)
    {
        var origins = ImmutableArray.CreateBuilder<Origin>();
        for (var place = 0; place < wiring.Points.Length; place++)
        {
            var point = wiring.Points[place];
            var begins = point switch
            {
                SourcePoint { Tap: Tap.Raw } source => !wiring.Rig.Find(source.Id)!.Input.IsLinked,
                DevicePoint { Side: Side.In } device => wiring.Gear.Find(device.Id) is { Joins.IsEmpty: true },
                AppPoint port => wiring.Gear.Find(port.Id) is { } app && app.Find(port.Port)?.Side == Side.Out && HasOwnSound(app),
                _ => false,
            };
            for (var channel = 0; begins && channel < wiring.Channels[place]; channel++)
            {
                if (point is DevicePoint device && wiring.Gear.Find(device.Id)!.Inputs[channel].Plugged == Plugged.Nothing)
                {
                    continue;
                }

                origins.Add(new Origin(point, channel));
            }
        }

        return origins.ToImmutable();
    }

    private static ImmutableArray<Point> ListenersOf(Wiring wiring) =>
    [
        .. wiring.Points.Where(p => p switch
        {
            MixPoint { Tap: Tap.AfterChain } => true,
            AppPoint port => wiring.Gear.Find(port.Id)?.Find(port.Port)?.Side == Side.In,
            DevicePoint device => device.Side == Side.Out && wiring.Gear.Find(device.Id) is null or { Joins.IsEmpty: true },
            _ => false,
        }),
    ];

    private void Walk(Origin origin, ImmutableArray<Meeting>.Builder? meetings)
    {
        var wiring = _routed.Wiring;
        Array.Clear(_visited);
        var start = wiring.PlaceOf(origin.Point);
        Visit(start);
        var first = (start * Most) + origin.Channel;
        (_gain[first], _delay[first], _via[first], _way[first]) = (1, 0, (-1, 0), 0);
        foreach (var place in _routed.Order.Places)
        {
            if (place == start)
            {
                continue;
            }

            var meets = false;
            foreach (var link in wiring.Shape.Into(place))
            {
                if (_visited[_from[link]] && _table.GainsOf(link) is { Length: > 0 } gains)
                {
                    meets |= Bring(place, link, gains);
                }
            }

            if (meets && meetings is not null)
            {
                meetings.Add(new Meeting(origin, wiring.Points[place], WaysThatMeet(place)));
            }
        }
    }

    private void Visit(int place)
    {
        _visited[place] = true;
        Array.Clear(_gain, place * Most, Most);
        Array.Clear(_meets, place * Most, Most);
        Array.Clear(_twice, place * Most, Most);
    }

    // What a link brings to a point; true where another way was there already.
    private bool Bring(int place, int link, double[] gains)
    {
        var (from, to, channels) = (_from[link] * Most, place * Most, _routed.Wiring.Links[link].Map.From);
        var (meets, delay) = (false, _table.DelayOf(link));
        for (var i = 0; i < gains.Length; i++)
        {
            var (t, f) = (to + (i / channels), from + (i % channels));
            var gain = Math.Abs(gains[i]) * _gain[f];
            if (gain == 0)
            {
                continue;
            }

            if (!_visited[place])
            {
                Visit(place);
            }

            var way = WayOn(_way[f], link);
            _meets[t] |= _gain[t] > 0 && _way[t] != way;
            _twice[t] |= _meets[t] || _twice[f];
            meets |= _meets[t];
            if (gain > _gain[t])
            {
                (_gain[t], _delay[t], _via[t], _way[t]) = (gain, _delay[f] + delay, (link, i % channels), way);
            }
        }

        return meets;
    }

    // A way's name after one more link (SplitMix64's finisher: G. Steele, D. Lea, C. Flood, 2014): of two ways the same only where they are one.
    private static long WayOn(long way, int link)
    {
        var mixed = ((ulong)way + ((ulong)(link + 1) * 0x9E3779B97F4A7C15)) ^ ((ulong)way >> 29);
        mixed = (mixed ^ (mixed >> 30)) * 0xBF58476D1CE4E5B9;
        mixed = (mixed ^ (mixed >> 27)) * 0x94D049BB133111EB;
        return (long)(mixed ^ (mixed >> 31));
    }

    private (double Gain, int Channel) Loudest(int place)
    {
        var (gain, channel) = (0.0, 0);
        for (var c = 0; c < _routed.Wiring.Channels[place]; c++)
        {
            if (_gain[(place * Most) + c] > gain)
            {
                (gain, channel) = (_gain[(place * Most) + c], c);
            }
        }

        return (gain, channel);
    }

    // Of the channel in which the second is the strongest.
    private ImmutableArray<SoundPath> WaysThatMeet(int place)
    {
        _loudest.Clear();
        for (var t = 0; t < _routed.Wiring.Channels[place]; t++)
        {
            if (_meets[(place * Most) + t])
            {
                FindWaysInto(place, t);
                if (_loudest.Count == 0 || _ways[1].Gain > _loudest[1].Gain)
                {
                    (_loudest, _ways) = (_ways, _loudest);
                }
            }
        }

        var listed = new SoundPath[Math.Min(_loudest.Count, MostWays)];
        for (var i = 0; i < listed.Length; i++)
        {
            var (_, gain, link, channel) = _loudest[i];
            listed[i] = PathTo(_from[link], channel, gain, link);
        }

        return ImmutableCollectionsMarshal.AsImmutableArray(listed);
    }

    // The strongest way through each that differs, the strongest first.
    private void FindWaysInto(int place, int t)
    {
        var ways = _ways;
        ways.Clear();
        foreach (var link in _routed.Wiring.Shape.Into(place))
        {
            if (!_visited[_from[link]] || _table.GainsOf(link) is not { Length: > 0 } gains)
            {
                continue;
            }

            var channels = _routed.Wiring.Links[link].Map.From;
            for (var c = 0; c < channels; c++)
            {
                var f = (_from[link] * Most) + c;
                var gain = Math.Abs(gains[(t * channels) + c]) * _gain[f];
                if (gain == 0)
                {
                    continue;
                }

                var way = WayOn(_way[f], link);
                var known = 0;
                while (known < ways.Count && ways[known].Way != way)
                {
                    known++;
                }

                if (known == ways.Count)
                {
                    ways.Add((way, gain, link, c));
                }
                else if (gain > ways[known].Gain)
                {
                    ways[known] = (way, gain, link, c);
                }
                else
                {
                    continue;
                }

                // To where it belongs.
                for (; known > 0 && ways[known].Gain > ways[known - 1].Gain; known--)
                {
                    (ways[known], ways[known - 1]) = (ways[known - 1], ways[known]);
                }
            }
        }
    }

    // The strongest way to a channel of a point, and then perhaps one link more.
    private SoundPath PathTo(int place, int channel, double? gain = null, int? last = null)
    {
        var end = (place * Most) + channel;
        var count = last is null ? 0 : 1;
        for (var at = end; _via[at].Link >= 0; at = (_from[_via[at].Link] * Most) + _via[at].Channel)
        {
            count++;
        }

        var links = new Link[count];
        if (last is { } final)
        {
            links[--count] = _routed.Wiring.Links[final];
        }

        for (var at = end; count > 0; at = (_from[_via[at].Link] * Most) + _via[at].Channel)
        {
            links[--count] = _routed.Wiring.Links[_via[at].Link];
        }

        return new SoundPath(ImmutableCollectionsMarshal.AsImmutableArray(links), 20 * Math.Log10(gain ?? _gain[end]), _delay[end] + (last is { } more ? _table.DelayOf(more) : 0));
    }
}
