using System.Collections.Immutable;
using System.Text.Json.Serialization;
using Kinetra.Core.Findings;
using Kinetra.Core.Rigs;
using Kinetra.Core.Signal;

namespace Kinetra.Core.Maps;

/// <summary>How sound goes along a track.</summary>
[JsonConverter(typeof(JsonStringEnumConverter<TrackState>))]
public enum TrackState
{
    /// <summary>It does.</summary>
    On,

    /// <summary>Silenced for now, in its place.</summary>
    Muted,

    /// <summary>Cut: it would close a circle, and is held until that is settled.</summary>
    Held,
}

/// <summary>Something that a track passes.</summary>
/// <param name="Name">What it is called.</param>
/// <param name="What">What it does to the sound, in a word or two; empty: it only passes it on.</param>
public sealed record Tick(string Name, string What);

/// <summary>Where a track begins: a source, or a sound that reaches somebody past all sources.</summary>
/// <param name="Source">The source; null: it is none.</param>
/// <param name="Point">Its point: a source as it leaves its chain, what a program plays, what a device takes in.</param>
/// <param name="Name">What it is called.</param>
/// <param name="From">Where it comes from, in words.</param>
/// <param name="Ticks">What it passes before it parts to its listeners, in order.</param>
public sealed record Start(SourceId? Source, Point Point, string Name, string From, ImmutableArray<Tick> Ticks);

/// <summary>A mix: where the tracks of its sources come together.</summary>
/// <param name="Id">Which.</param>
/// <param name="Name">What it is called.</param>
/// <param name="Ticks">What all of it passes then.</param>
/// <param name="Waits">The starts whose sources wait in its dock, in the show's order.</param>
public sealed record Meet(MixId Id, string Name, ImmutableArray<Tick> Ticks, ImmutableArray<int> Waits);

/// <summary>Where tracks end: what a device plays, what a program hears, a source that takes it again, a cable that nobody hears.</summary>
/// <param name="Point">Its point.</param>
/// <param name="Name">What it is called.</param>
/// <param name="IsOpen">True where nobody is there: it goes nowhere.</param>
/// <param name="LatestMilliseconds">How late the latest of all sounds comes there, by the strongest way of each; null: none comes.</param>
public sealed record End(Point Point, string Name, bool IsOpen, double? LatestMilliseconds);

/// <summary>A way from a start to a mix, or past all mixes to an end.</summary>
/// <param name="Start">Which start.</param>
/// <param name="Mix">Which mix; −1: none.</param>
/// <param name="End">Past all mixes, which end; −1: to a mix.</param>
/// <param name="From">The point whose sound goes along it: of a start, not always the one that it is named after.</param>
/// <param name="Channel">Which of its channels; −1: all.</param>
/// <param name="Gain">The factor from there to the end, ≥ 0; to a mix 1, since a send has a meter of its own.</param>
/// <param name="State">How sound goes along it.</param>
/// <param name="Cables">The cables that it passes.</param>
public sealed record Branch(int Start, int Mix, int End, Point From, int Channel, double Gain, TrackState State, ImmutableArray<string> Cables);

/// <summary>A way of all of a mix to an end.</summary>
/// <param name="Mix">Which mix.</param>
/// <param name="End">Which end.</param>
/// <param name="Gain">The factor from what the mix gives to the end, ≥ 0.</param>
/// <param name="State">How sound goes along it.</param>
/// <param name="Cables">The cables that it passes.</param>
public sealed record Onward(int Mix, int End, double Gain, TrackState State, ImmutableArray<string> Cables);

/// <summary>What of a track comes twice to one place.</summary>
/// <param name="At">Where both meet: a mix or an end.</param>
/// <param name="One">The start of the one.</param>
/// <param name="OneMix">The mix through which it comes to an end; −1: none.</param>
/// <param name="Other">The start of the other; the same, where it comes by two mixes.</param>
/// <param name="OtherMix">The mix of the other; −1: none.</param>
/// <param name="Milliseconds">By how much they are apart.</param>
/// <param name="LevelDecibels">By how much the softer one is softer, ≤ 0.</param>
public sealed record Twin(Point At, int One, int OneMix, int Other, int OtherMix, double Milliseconds, double LevelDecibels);

/// <summary>A loop, at the place where it is seen best.</summary>
/// <param name="At">A mix, an end or a start.</param>
/// <param name="GainDecibels">How much louder it comes back each time, dB.</param>
/// <param name="IsHeld">True where what closes it is held.</param>
/// <param name="Through">What it goes through, by name.</param>
public sealed record Ring(Point At, double GainDecibels, bool IsHeld, ImmutableArray<string> Through);

/// <summary>What a map of all paths shows, without saying where: the same links that the engine runs, followed from starts by mixes to ends. Pure.</summary>
/// <param name="Starts">On the left: the show's sources in its order, then what reaches somebody past them.</param>
/// <param name="Mixes">In the show's order.</param>
/// <param name="Ends">On the right, as they are come to first.</param>
/// <param name="Branches">From starts.</param>
/// <param name="Onwards">From mixes.</param>
/// <param name="Twins">What comes twice.</param>
/// <param name="Rings">What goes round.</param>
public sealed record Diagram(
    ImmutableArray<Start> Starts,
    ImmutableArray<Meet> Mixes,
    ImmutableArray<End> Ends,
    ImmutableArray<Branch> Branches,
    ImmutableArray<Onward> Onwards,
    ImmutableArray<Twin> Twins,
    ImmutableArray<Ring> Rings)
{
    /// <summary>What of a show and a computer is drawn.</summary>
    public static Diagram Of(Situation s)
    {
        ArgumentNullException.ThrowIfNull(s);
        return new Survey(s).Diagram();
    }
}
