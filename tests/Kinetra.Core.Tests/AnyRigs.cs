using System.Collections.Immutable;
using CsCheck;
using Kinetra.Core.Processors;
using Kinetra.Core.Rigs;
using Kinetra.Core.Signal;

namespace Kinetra.Core.Tests;

/// <summary>Rigs of all sorts, valid ones: sources, mixes and cables, with chains of what a plain engine knows.</summary>
static class AnyRigs
{
    private static readonly Gen<Gain> AnyGain = Gen.OneOf(Gen.Const(Gain.Off), Gen.Double[-30, 6].Select(d => new Gain(d)));
    private static readonly Gen<Tap> AnyTap = Pick(Tap.AfterChain, Tap.BeforeChain);

    private static readonly Gen<Processor> AnyProcessor =
        from kind in Gen.Int[0, 4]
        from a in Gen.Double[0, 1]
        from bypassed in Pick(false, false, false, true)
        select (kind switch
        {
            0 => Processor.Of(Utility.Type, ("gain", (a * 20) - 14)),
            1 => Processor.Of(Equaliser.Type, ("gain1", 8 - (a * 16)), ("frequency1", 60 + (a * 400)), ("q1", 0.5 + (a * 2))),
            2 => Processor.Of(Equaliser.Type, ("gain1", (a * 20) - 10), ("gain4", 6 - (a * 12)), ("q4", 0.4 + (3 * a))),
            3 => Processor.Of(Delay.Type, ("time", Math.Round(a * 20))),

            // It never lowers anything, but looks ahead.
            _ => Processor.Of(Gate.Type, ("range", 0), ("lookAhead", Math.Round(a * 10))),
        }) with
        { Bypassed = bypassed };

    private static readonly Gen<ImmutableArray<Processor>> AnyChain = AnyProcessor.Array[0, 3].Select(p => p.ToImmutableArray());

    private static readonly Gen<Rig> Drawn =
        from sources in Gen.Int[1, 5]
        from cables in Gen.Int[0, 3]
        from mixes in Gen.Int[1, 3]
        from made in (
            from input in Gen.Int[-3, 2]
            from left in Gen.Int[0, 5]
            from other in Gen.Int[1, 5]
            from stereo in Gen.Bool
            from trim in Gen.Double[-12, 6]
            from chain in AnyChain
            from allowed in Gen.Bool
            select (input, left, other, stereo, trim, chain, allowed)).Array[sources]
        from blends in (
            from gain in Gen.Double[-12, 6]
            from chain in AnyChain
            from sends in (
                from level in AnyGain
                from pan in Gen.Double[-1, 1]
                from heard in Pick(true, true, false)
                from muted in Pick(true, false, false)
                from tap in AnyTap
                select (level, pan, heard, muted, tap)).Array[sources]
            select (gain, chain, sends)).Array[mixes]
        from wires in (
            from channels in Gen.Int[2, 6]
            from buffer in Pick(0, 0, 100, 700)
            from feeds in (
                from what in Gen.Int[0, 2]
                from which in Gen.Int[0, 4]
                from level in AnyGain
                from stereo in Gen.Bool
                from left in Gen.Int[0, 5]
                from other in Gen.Int[1, 5]
                from tap in AnyTap
                from allowed in Gen.Bool
                select (what, which, level, stereo, left, other, tap, allowed)).Array[0, 4]
            select (channels, buffer, feeds)).Array[cables]
        select new Rig
        {
            Sources =
            [
                .. made.Select((s, i) => new Source
                {
                    Id = new($"s{i}"),
                    Name = $"Source {i}",
                    Kind = SourceKind.App,
                    Input = s.input >= 0 && s.input < cables ? new CableInput(new($"c{s.input}"), s.left % wires[s.input].channels, s.stereo ? Other(s.left, s.other, wires[s.input].channels) : null, s.allowed) : Demo.Given($"s{i}"),
                    Trim = new(s.trim),
                    Chain = s.chain,
                }),
            ],
            Mixes =
            [
                .. blends.Select((m, i) => new Mix
                {
                    Id = new($"m{i}"),
                    Name = $"Mix {i}",
                    Purpose = MixPurpose.Other,
                    Gain = new(m.gain),
                    Chain = m.chain,
                    Sends = [.. m.sends.Select((s, j) => new Send { Source = new($"s{j}"), Gain = s.level, Pan = s.pan, Heard = s.heard, Muted = s.muted, Tap = s.tap })],
                }),
            ],
            Cables =
            [
                .. wires.Select((c, i) => new Cable
                {
                    Id = new($"c{i}"),
                    Name = $"Cable {i}",
                    Channels = c.channels,
                    BufferFrames = c.buffer,
                    Feeds =
                    [
                        .. c.feeds.Select(f => new CableFeed
                        {
                            From = f.what switch
                            {
                                0 => new SourcePoint(new($"s{f.which % sources}"), f.tap),
                                1 => new MixPoint(new($"m{f.which % mixes}"), f.tap),
                                _ => new CablePoint(new($"c{f.which % cables}")),
                            },
                            Gain = f.level,
                            Into = new(f.left % c.channels, f.what < 2 && f.stereo ? Other(f.left, f.other, c.channels) : null),
                            LoopAllowed = f.allowed,
                        }).DistinctBy(f => f.From),
                    ],
                }),
            ],
        };

    /// <summary>A promise of each kind that a rig can have, with figures drawn.</summary>
    public static Gen<Promise> PromiseFor(Rig rig) =>
        from kind in Gen.Int[0, rig.Streams.IsEmpty ? 9 : 10]
        from source in Gen.Int[0, rig.Sources.Length - 1]
        from other in Gen.Int[0, rig.Sources.Length - 1]
        from mix in Gen.Int[0, rig.Mixes.Length - 1]
        from figure in Gen.Double[1, 20]
        from place in Gen.Int[0, 2]
        let about = rig.Sources[source].Id
        let at = rig.Mixes[mix].Id
        let listener = place switch { 0 => new AppPoint(new("program"), "in"), 1 => new DevicePoint(new("device"), Side.Out), _ => (Point)new MixPoint(at) }
        select (Promise)(kind switch
        {
            0 => new Reaches(default, about, listener),
            1 => new NeverReaches(default, about, listener),
            2 => new HeardOnce(default, listener, other == source ? null : about),
            3 => new NeverHearsHimself(default, about),
            4 => new SpeechOverBed(default, at, figure, about, other == source ? null : rig.Sources[other].Id),
            5 => new LoudnessInRange(default, at, -figure - 10, -10),
            6 => new TruePeakUnder(default, at, -figure),
            7 => new OwnTrack(default, about),
            8 => new InStep(default, about, listener, figure * 100, figure),
            10 => new StaysOnAir(default, rig.Streams[other % rig.Streams.Length].Id),
            _ => new DefaultStays(default, (Role)(source % 4), rig.Cables.IsEmpty ? new DevicePoint(new("device"), Side.In) : new CablePoint(rig.Cables[0].Id)),
        });

    /// <summary>A planned track that a rig can have.</summary>
    public static Gen<PlannedTrack> TrackFor(Rig rig) =>
        from what in Gen.Int[0, 4]
        from which in Gen.Int[0, 15]
        from width in Gen.Int[0, 2]
        from form in Gen.Int[-1, 5]
        from flags in Gen.Bool.Array[2]
        let takes = what switch
        {
            0 => new MixPoint(rig.Mixes[which % rig.Mixes.Length].Id),
            1 when !rig.Cables.IsEmpty => new CablePoint(rig.Cables[which % rig.Cables.Length].Id),
            2 => new AppPoint(new("program"), "in"),
            _ => (Point)new SourcePoint(rig.Sources[which % rig.Sources.Length].Id, what == 3 ? Tap.BeforeChain : Tap.AfterChain),
        }
        select new PlannedTrack(default, "Track", takes, (TrackWidth)width, flags[0], form < 0 ? null : (TakeForm)form, flags[1] ? "file" : null);

    /// <summary>A stream of a rig's mix, without an id of its own.</summary>
    public static Gen<Broadcast> StreamFor(Rig rig) =>
        from which in Gen.Int[0, 15]
        from kind in Gen.Int[0, 2]
        from form in Gen.Int[0, AirForms.All.Length - 1]
        from channels in Gen.Int[1, 2]
        from rate in Gen.Int[0, 4]
        from kilobits in Gen.Int[0, 1_000]
        from gain in Gen.Double[-120, 12]
        from flags in Gen.Bool.Array[4]
        let chosen = AirForms.All[form]
        let hertz = AirForms.RatesOf(chosen)[rate % AirForms.RatesOf(chosen).Length]
        let allowed = AirForms.KilobitsOf(chosen, hertz, channels)
        select new Broadcast(
            default,
            "Stream",
            rig.Mixes[which % rig.Mixes.Length].Id,
            new AirServer((ServerKind)kind, flags[0] ? "radio.example" : "::1", 1 + (kilobits * 65), kind == 2 ? flags[1] ? "2" : "" : "/live", flags[1] ? "somebody" : "source", flags[2]),
            chosen,
            channels,
            allowed.Only is { } only ? only[kilobits % only.Length] : allowed.Least + (kilobits % (allowed.Most - allowed.Least + 1)),
            hertz,
            flags[3] ? "Evening" : "",
            flags[2] ? "Words and music" : "",
            flags[1],
            flags[3] ? new AppId("record-shelf") : null)
        { Gain = flags[0] ? Gain.Off : new(gain) };

    /// <summary>Draws them.</summary>
    public static Gen<Rig> Rig =>
        from rig in Drawn.Select(Unique)
        from accepted in Gen.Int[0, 3]
        from tracks in TrackFor(rig).Array[0, 5]
        from form in Gen.Int[0, 5]
        from streams in StreamFor(rig).Array[0, 3]
        let streamed = rig with { Streams = [.. streams.Select((s, i) => s with { Id = new($"a{i}"), Name = $"{s.Name} {i}" })] }
        from promises in PromiseFor(streamed).Array[0, 6]
        select streamed with
        {
            Tracks = [.. tracks.Select((t, i) => t with { Id = new($"t{i}"), Name = $"{t.Name} {i}", FileName = t.FileName is null ? null : $"{t.FileName} {i}" })],
            Recording = new((TakeForm)form, form * 3 % 10),
            Promises = [.. promises.Distinct().Select((p, i) => p with { Id = new($"p{i}") })],
            Accepted = [.. Enumerable.Range(0, accepted).Select(i => new Acceptance($"twice source/s{i} mix/m0", $"Serious: · comes twice, {i} ms apart."))],
        };

    // Another channel than the first.
    private static int Other(int left, int other, int channels) => ((left % channels) + 1 + (other % (channels - 1))) % channels;

    private static Gen<T> Pick<T>(params T[] values) => Gen.Int[0, values.Length - 1].Select(i => values[i]);

    // A generator that gives one value again gives one processor again; ids are its own.
    private static Rig Unique(Rig rig)
    {
        var next = 0;
        ImmutableArray<Processor> Fresh(ImmutableArray<Processor> chain) => [.. chain.Select(p => p with { Id = new($"p{next++}") })];
        return rig with
        {
            Sources = [.. rig.Sources.Select(s => s with { Chain = Fresh(s.Chain) })],
            Mixes = [.. rig.Mixes.Select(m => m with { Chain = Fresh(m.Chain) })],
        };
    }
}
