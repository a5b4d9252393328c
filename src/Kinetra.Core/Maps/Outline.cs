using System.Collections.Immutable;
using System.Globalization;
using Kinetra.Core.Signal;

namespace Kinetra.Core.Maps;

/// <summary>A part of the outline of a map: what one listener hears, or what goes past all mixes.</summary>
/// <param name="Title">Who it is about.</param>
/// <param name="Lines">What is so, each a line.</param>
public sealed record OutlineSection(string Title, ImmutableArray<string> Lines);

/// <summary>A map in words, for who does not see it and for copying: the same things, in the same order.</summary>
public static class Outline
{
    /// <summary>A section for each mix, one for what goes past all mixes, one for what goes round.</summary>
    public static ImmutableArray<OutlineSection> Of(Diagram diagram)
    {
        ArgumentNullException.ThrowIfNull(diagram);
        var sections = ImmutableArray.CreateBuilder<OutlineSection>();
        var d = diagram;
        for (var m = 0; m < d.Mixes.Length; m++)
        {
            var lines = ImmutableArray.CreateBuilder<string>();
            var branches = d.Branches.Where(b => b.Mix == m).ToList();
            lines.AddRange(branches.Select(b => $"hears {Named(d.Starts[b.Start])}{Words(b.State)}"));
            if (branches.Count == 0)
            {
                lines.Add("hears nothing");
            }

            var waits = d.Mixes[m].Waits.Select(w => d.Starts[w].Name).ToList();
            if (waits.Count > 0)
            {
                lines.Add($"in its dock: {string.Join(", ", waits)}");
            }

            var onward = d.Onwards.Where(o => o.Mix == m).ToList();
            lines.AddRange(onward.Select(o => d.Ends[o.End].IsOpen
                ? $"goes into {d.Ends[o.End].Name}, which nobody hears{Words(o.State)}"
                : $"goes to {d.Ends[o.End].Name}{By(o.Cables)}{Words(o.State)}{Late(d.Ends[o.End])}"));
            if (onward.Count == 0)
            {
                lines.Add("goes nowhere");
            }

            lines.AddRange(TwinsAt(new MixPoint(d.Mixes[m].Id), d));
            sections.Add(new OutlineSection(d.Mixes[m].Name, lines.ToImmutable()));
        }

        var past = d.Branches.Where(b => b.Mix < 0).Select(b => d.Ends[b.End].IsOpen
            ? $"{d.Starts[b.Start].Name} goes into {d.Ends[b.End].Name}, which nobody hears{Words(b.State)}"
            : $"{d.Starts[b.Start].Name} goes to {d.Ends[b.End].Name}{By(b.Cables)}{Words(b.State)}").ToImmutableArray();
        if (!past.IsEmpty)
        {
            sections.Add(new OutlineSection("Past all mixes", past));
        }

        var ends = d.Ends.Select(e => (e.Name, Lines: TwinsAt(e.Point, d).ToImmutableArray())).Where(e => !e.Lines.IsEmpty);
        sections.AddRange(ends.Select(e => new OutlineSection(e.Name, e.Lines)));
        if (!d.Rings.IsEmpty)
        {
            sections.Add(new OutlineSection("Goes round", [.. d.Rings.Select(r => $"{string.Join(", ", r.Through)}: {Decibels(r.GainDecibels)} each time{(r.IsHeld ? ", held" : "")}")]));
        }

        return sections.ToImmutable();
    }

    private static IEnumerable<string> TwinsAt(Point at, Diagram d) => d.Twins.Where(t => t.At == at).Select(t =>
    {
        var what = t.One == t.Other ? $"{d.Starts[t.One].Name} comes twice, by {MixName(t.OneMix, d)} and {MixName(t.OtherMix, d)}" : $"{d.Starts[t.One].Name} and {d.Starts[t.Other].Name} bring the same sound";
        return string.Create(CultureInfo.InvariantCulture, $"{what}, {t.Milliseconds:0.#} ms apart, {Decibels(t.LevelDecibels)}");
    });

    private static string MixName(int mix, Diagram d) => mix < 0 ? "itself" : d.Mixes[mix].Name;

    private static string Named(Start start)
    {
        var passes = string.Join(", ", start.Ticks.Select(t => t.What.Length == 0 ? t.Name : $"{t.Name} {t.What}").Prepend(start.From).Where(x => x.Length > 0));
        return passes.Length == 0 ? start.Name : $"{start.Name} ({passes})";
    }

    private static string By(ImmutableArray<string> cables) => cables.IsEmpty ? "" : $" by {string.Join(", ", cables)}";

    private static string Late(End end) => end.LatestMilliseconds is { } late && late >= 0.05 ? string.Create(CultureInfo.InvariantCulture, $", up to {late:0.0} ms late there") : "";

    private static string Words(TrackState state) => state switch { TrackState.Muted => ", muted", TrackState.Held => ", cut: it would close a circle", _ => "" };

    private static string Decibels(double value) => string.Create(CultureInfo.InvariantCulture, $"{(value < -0.05 ? "−" : value > 0.05 ? "+" : "")}{Math.Abs(value):0.0} dB");
}
